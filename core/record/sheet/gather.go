package sheet

import (
	"fmt"
	"hash/fnv"
	"maps"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"uvent/core/fact/address"
	"uvent/core/record/table"
)

// cell is what a row says of one fact.
type cell struct {
	text    string
	said    string // what the file says, where that is another text
	columns []int  // that it comes from
	byHand  bool   // somebody says so, whatever the file says
}

// Edits are what somebody says of cells, by the facts' keys.
type Edits struct {
	Cells map[int]map[string]string    // of one line; empty: the cell is left out
	Mends map[string]map[string]string // of all cells that say a text; the empty one: of those that say nothing
}

// edit lets what somebody says stand for what the file says.
func (c cells) edit(e Edits, line int) {
	put := func(key, text string) {
		was := c[key]
		if was.byHand && was.text == text {
			return
		}
		c[key] = cell{text: text, said: was.original(), columns: was.columns, byHand: true}
		if text == "" {
			delete(c, key)
		}
	}
	for key, is := range c {
		if to, ok := e.Mends[key][is.original()]; ok && !is.byHand {
			put(key, to)
		}
	}
	for key, mends := range e.Mends {
		if to := mends[""]; to != "" && c[key].text == "" {
			put(key, to)
		}
	}
	for key, text := range e.Cells[line] {
		put(key, text)
	}
}

// original is what the file says.
func (c cell) original() string {
	if c.said != "" {
		return c.said
	}
	return c.text
}

// cells are what a row says, by the facts' keys.
type cells map[string]cell

func isLetter(r rune) bool { return unicode.IsLetter(r) }

// gather puts together what several columns say of one fact, and takes apart what one says of several.
func (r Reader) gather(row table.Row, country string) cells {
	out := cells{}
	for i, key := range r.columns {
		if key == "" || i >= len(row.Cells) {
			continue
		}
		if text := table.Clean(row.Cells[i]); text != "" {
			out[key] = cell{text: text, columns: []int{i}}
		}
	}
	out.edit(r.edits, row.Line)
	out.pin()
	out.address(country)
	out.street(country)
	out.phones()
	r.week(out)
	out.edit(r.edits, row.Line)
	return out
}

// fill says a fact that no column of its own says.
func (c cells) fill(key, text string, of cell) {
	if text != "" && c[key].text == "" {
		c[key] = cell{text: text, said: of.original(), columns: of.columns}
	}
}

func (c cells) pin() {
	if both := c[pinKey]; both.text != "" {
		if m := twoNums.FindStringSubmatch(both.text); m != nil {
			c.fill("latitude", m[1], both)
			c.fill("longitude", m[2], both)
		} else {
			c.fill("latitude", both.text, both)
		}
		delete(c, pinKey)
	}
}

// address takes a whole address apart; and a street's cell that holds one, or a town's with its region and
// postal code.
func (c cells) address(country string) {
	if code, ok := address.Country(c["country"].text); ok {
		country = code
	}
	whole, ok := c[wholeAddress], false
	var a address.Address
	switch {
	case whole.text != "":
		delete(c, wholeAddress)
		if a, ok = address.Read(whole.text, country); !ok {
			c.fill("street", whole.text, whole)
			return
		}
	case c["street"].text != "" && c["locality"].text == "" && c[townLine].text == "":
		if whole = c["street"]; strings.ContainsAny(whole.text, ",;\n|") {
			if a, ok = address.Read(whole.text, country); ok {
				delete(c, "street")
			}
		}
	case c[townLine].text != "":
		whole = c[townLine]
		delete(c, townLine)
		if a, ok = address.Read("-, "+whole.text, country); !ok {
			a, ok = address.Read("-\n"+whole.text, country)
		}
		if a.Street = ""; !ok {
			c.fill("locality", whole.text, whole)
		}
	case c["locality"].text != "" && (c["region"].text == "" || c["postal_code"].text == ""):
		whole = c["locality"] // Minnow Bay, WA 98990
		if a, ok = address.Read("-, "+whole.text, country); ok && a.Street == "-" && a.Locality != whole.text && (a.Region != "" || a.PostalCode != "") {
			delete(c, "locality")
			a.Street = ""
		} else {
			ok = false
		}
	}
	if !ok {
		return
	}
	c.fill("street", a.Street, whole)
	c.fill("unit", a.Unit, whole)
	c.fill("locality", a.Locality, whole)
	c.fill("region", a.Region, whole)
	c.fill("postal_code", a.PostalCode, whole)
	c.fill("country", a.Country, whole)
}

// street joins it with its number, in the order of the country.
func (c cells) street(country string) {
	number := c[houseNumber]
	if delete(c, houseNumber); number.text == "" {
		return
	}
	s := c["street"]
	if code, ok := address.Country(c["country"].text); ok {
		country = code
	}
	switch {
	case s.text == "":
		s.text = number.text
	case slices.Contains(strings.Fields(s.text), number.text): // it has it already
		return
	case address.NumberFirst(country):
		s.text = number.text + " " + s.text
	default:
		s.text += " " + number.text
	}
	s.columns = append(slices.Clone(s.columns), number.columns...)
	c["street"] = s
}

// apart stands between two phones in one cell.
var apart = regexp.MustCompile(`(?i)\s*(?:[,;|\n]|\s/\s|/\s*\+|\bor\b|\band\b|\boder\b|\bund\b|\bou\b|\bet\b|\by\b|&)\s*`)

// phones deals several numbers in one cell out to the phones that no column says.
func (c cells) phones() {
	keys := []string{"phone", "phone_2", "phone_3"}
	for _, key := range keys {
		whole := c[key]
		parts := slices.DeleteFunc(apart.Split(whole.text, -1), func(p string) bool { return len(justDigits(p)) < 6 })
		if len(parts) < 2 {
			continue
		}
		c[key] = cell{text: parts[0], said: whole.text, columns: whole.columns}
		for _, p := range parts[1:] {
			for _, k := range keys {
				if c[k].text == "" {
					c[k] = cell{text: p, said: whole.text, columns: whole.columns}
					break
				}
			}
		}
	}
}

func justDigits(s string) string {
	return strings.Map(func(r rune) rune {
		if r < '0' || r > '9' {
			return -1
		}
		return r
	}, s)
}

// week joins the hours of the days, one to a column.
func (r Reader) week(c cells) {
	var lines []string
	all := cell{}
	for _, day := range weekdays {
		one := c[day]
		if delete(c, day); one.text == "" {
			continue
		}
		lines = append(lines, strings.ToUpper(day[:1])+day[1:]+": "+one.text)
		all.columns = append(all.columns, one.columns...)
	}
	if len(lines) > 0 && c["opening_hours"].text == "" {
		all.text = strings.Join(lines, "\n")
		c["opening_hours"] = all
	}
}

// Print tells rows apart that Apply reads differently: it is the same for the same line that says the same, by
// its columns and edits and the country of those that tell none. base is whatever tells the records apart that
// the row is laid over.
func (r Reader) Print(row table.Row, base string) uint64 {
	c := r.gather(row, r.country)
	h := fnv.New64a()
	fmt.Fprint(h, row.Line, "\x00", base, "\x00", r.country, "\x00", len(row.Cells))
	for _, key := range slices.Sorted(maps.Keys(c)) {
		fmt.Fprint(h, "\x00", key, "\x00", c[key].text, "\x00", c[key].said, c[key].columns, c[key].byHand)
	}
	return h.Sum64()
}
