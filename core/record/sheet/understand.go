package sheet

import (
	"regexp"
	"strings"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/category"
	"uvent/core/fact/contact"
	"uvent/core/fact/hours"
	"uvent/core/fact/hours/said"
)

// Reading is a cell that was read as something else than it says.
type Reading struct {
	Line   int    `json:"line"`
	Column string `json:"column"` // its name in the file
	Key    string `json:"key"`    // of the fact
	From   string `json:"from"`
	To     string `json:"to"`   // as people say it: the country's name, the week in words
	Sure   bool   `json:"sure"` // false: it could be meant otherwise
	Lost   string `json:"lost"` // of what it says, that has no place; empty: nothing
}

// understood is what a cell is read as. says is what is wrong with it, where it cannot be read.
type understood struct {
	text string
	told string // as people say it, where that is something else
	sure bool
	says string
	lost string // of what it says, that has no place
}

func plainly(text string) understood { return understood{text: text, sure: true} }

// understand reads a cell as people write such a fact. country is that of the row's address.
func understand(key, cell, country string) understood {
	if m := broken.FindString(cell); m != "" {
		return understood{says: "the spreadsheet shows an error there, " + m}
	}
	if strings.HasPrefix(cell, "=") && formula.MatchString(cell) {
		return understood{says: "it is a formula; what it comes to is not in the file. Save the values"}
	}
	switch {
	case key == "country" || key == "mailing_country":
		if code, ok := address.Country(cell); ok {
			return understood{text: code, told: address.CountryName(code), sure: true}
		}
	case key == "region" || key == "mailing_region":
		if code, ok := address.Region(country, cell); ok {
			return plainly(code)
		}
	case key == "website" || strings.HasSuffix(key, "_link"):
		return plainly(schemed(cell))
	case strings.HasPrefix(key, "phone") && !strings.HasSuffix(key, "_can"):
		return phone(cell, country)
	case key == "opening_hours":
		return week(cell, country)
	case key == "category":
		return kindOf(cell)
	case key == "latitude" || key == "longitude":
		if !strings.Contains(cell, ".") && strings.Count(cell, ",") == 1 {
			return plainly(strings.Replace(cell, ",", ".", 1))
		}
	case key == "opened" || key == "closed_until":
		return day(cell, country)
	}
	return plainly(cell)
}

var (
	broken  = regexp.MustCompile(`^#(N/A|REF!|VALUE!|NAME\?|DIV/0!|NULL!|NUM!)$`)
	formula = regexp.MustCompile(`^=\+?[A-Z$]+\d*[(:!$+\-*/&]`)
)

var host = regexp.MustCompile(`^(?i)[a-z0-9][a-z0-9.-]*\.[a-z]{2,}(:\d+)?(/\S*)?$`)

// schemed is a web address with its scheme.
func schemed(cell string) string {
	if host.MatchString(cell) {
		return "https://" + cell
	}
	return cell
}

var (
	rounded   = regexp.MustCompile(`^\d([.,]\d+)?[eE]\+?\d+$`)
	extension = regexp.MustCompile(`(?i)[\s,;]*(ext\.?|extension|x|durchwahl|poste|dw)\s*\.?:?\s*\d{1,5}$`)
)

// phone reads a number, without the extension, which no directory takes.
func phone(cell, country string) understood {
	if rounded.MatchString(cell) {
		return understood{says: "the spreadsheet rounded it, and its last digits are gone; format the column as text and type it anew"}
	}
	lost, without := "", ""
	if at := extension.FindStringIndex(cell); at != nil && at[0] > 5 {
		lost, without = strings.TrimSpace(cell[at[0]:]), ", without its extension"
		cell = strings.TrimSpace(cell[:at[0]])
	}
	if e164, reason := contact.E164(cell, country); reason == "" {
		return understood{text: e164, told: e164 + without, sure: true, lost: lost}
	}
	return plainly(cell)
}

// week reads opening hours, also as people write them.
func week(cell, country string) understood {
	if _, _, err := hours.Parse(cell); err == nil {
		return plainly(cell)
	}
	r := said.Read(cell, said.In{Country: country})
	switch {
	case !r.Read:
		return understood{says: "no hours can be read in it; write them as Mon-Fri 9:00-17:00"}
	case len(r.Left) == 1 && r.Left[0].Besides:
		left, runes := r.Left[0], []rune(cell)
		rest := said.Read(string(runes[:left.From])+string(runes[left.To:]), said.In{Country: country})
		return understood{text: r.Schedule.String(), told: r.Schedule.Words() + ", without “" + left.Text + "”", sure: rest.Sure, lost: left.Text}
	case len(r.Left) > 0:
		return understood{says: "“" + r.Left[0].Text + "” in it cannot be read as hours: " + r.Left[0].Says}
	}
	return understood{text: r.Schedule.String(), told: r.Schedule.Words(), sure: r.Sure}
}

// kindOf finds a category by its name, by the trade's name elsewhere, or the nearest one.
func kindOf(cell string) understood {
	if found, ok := category.Nearest(cell); ok {
		return understood{text: found.Name, sure: found.Sure}
	}
	return plainly(cell)
}

// day reads a date in digits. Where the month may be the day, the country tells.
func day(cell, country string) understood {
	layouts := []string{"2.1.2006", "2006/1/2", "2/1/2006", "2-1-2006", "2 January 2006", "January 2, 2006", "2 Jan 2006", "Jan 2, 2006"}
	if country == "US" {
		layouts[2] = "1/2/2006"
	}
	for i, layout := range layouts {
		if t, err := time.Parse(layout, cell); err == nil {
			return understood{text: t.Format("2006-01-02"), sure: i != 2 || country != "" || t.Day() > 12}
		}
	}
	return plainly(cell)
}

// country is the country that a row's address is in, by its code: as it says, or as its postal code or its
// region and the phones tell.
func (c cells) country() string {
	if said := c["country"].text; said != "" {
		code, _ := address.Country(said)
		return code
	}
	if a, ok := address.Read("-, -, "+strings.TrimSpace(c["region"].text+" "+c["postal_code"].text), ""); ok && a.PostalCode != "" {
		return a.Country
	}
	for _, key := range []string{"phone", "phone_2", "phone_3"} {
		if p := c[key].text; strings.HasPrefix(p, "+") {
			if code := contact.Country(p); code != "" {
				return code
			}
		}
	}
	return ""
}
