package paper

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/language"
	"uvent/core/record/record"
)

// Said is what is known of a paper.
type Said struct {
	Kind   string
	Text   string // lines as they stand
	Issued string // a date: 2026-10-31; empty: not said
	Until  string
}

// Finding is one thing in which a paper agrees with a record or does not.
type Finding struct {
	Fact   string // name, address, unit, date or kind
	Good   bool
	Record string // what the record says
	Line   int    // of the text, from 0, where the paper says it; -1: nowhere
	Paper  string // that line
	Says   string // in a sentence, with what to do
	Mend   string // what the record would have to say to agree; empty where it cannot be mended there
	Held   bool   // of a date: it is that until which it held
}

// ToOwner says it to whoever sent the paper, who knows of no record, in a language. Of another address or none, or another
// name, what they can do themselves is said; what is only ours to do is not.
func (f Finding) ToOwner(in language.Language) string {
	with := []any{"paper", cmp.Or(f.Mend, f.Paper), "record", cmp.Or(f.Record, in.Say("minded.unit"))}
	key := f.Fact
	switch {
	case f.Fact == "unit":
		key = "unit." + f.unit()
	case f.Line < 0 && (f.Fact == "name" || f.Fact == "address"):
		key += ".none"
	case f.Fact == "date" && f.Held:
		key = "held"
	}
	return in.Say("minded."+key, with...)
}

// Claim is what whoever sent the paper may say against it: that the record is wrong. Empty where they cannot.
func (f Finding) Claim(in language.Language) string {
	with := []any{"paper", f.Mend, "record", cmp.Or(f.Record, in.Say("minded.unit"))}
	switch {
	case f.Good || f.Mend == "":
		return ""
	case f.Fact == "unit":
		return in.Say("claim.unit."+f.unit(), with...)
	case f.Fact == "name":
		return in.Say("claim.name")
	}
	return ""
}

// unit is how a paper's unit differs from the record's.
func (f Finding) unit() string {
	switch {
	case f.Mend == "–":
		return "lacking"
	case f.Record == "":
		return "more"
	}
	return "other"
}

// billMonths is how old a bill may be.
const billMonths = 3

// Against compares a paper with a record, before somebody else does: the name, trading
// or legal; the address with its unit; the date; and what kind it is. A paper of which no
// text can be read says only that.
func Against(p Said, r record.Record, now time.Time) []Finding {
	if strings.TrimSpace(p.Text) == "" {
		return []Finding{{Fact: "text", Line: -1, Says: "No text can be read in it; it is a picture. Compare the name, the address and the date yourself."}}
	}
	lines := strings.Split(p.Text, "\n")
	out := []Finding{named(lines, r)}
	if ShowsAddress(p.Kind) {
		out = append(out, placed(lines, r)...)
	}
	out = append(out, dated(p, lines, now)...)
	if guess := Guess(p.Text); guess != "other" && p.Kind != "other" && guess != p.Kind {
		out = append(
			out,
			Finding{
				Fact:   "kind",
				Line:   -1,
				Record: Title(p.Kind),
				Says:   fmt.Sprintf("It reads like a paper of another kind, %s. Say what it is, or send another.", strings.ToLower(Title(guess))),
			},
		)
	}
	return out
}

// Faults are the findings that are not good.
func Faults(all []Finding) []Finding {
	return slices.DeleteFunc(slices.Clone(all), func(f Finding) bool { return f.Good })
}

// ShowsAddress reports whether a paper of a kind is one on which an address counts.
func ShowsAddress(kind string) bool { return kind != "licence" && kind != "registration" }

func named(lines []string, r record.Record) Finding {
	for _, n := range []struct{ name, what string }{{r.LegalName, "legal name"}, {r.Name, "trading name"}} {
		if n.name == "" {
			continue
		}
		if i := lineWith(lines, bareName(n.name)); i >= 0 {
			return Finding{Fact: "name", Good: true, Record: n.name, Line: i, Paper: lines[i], Says: fmt.Sprintf("It shows the %s.", n.what)}
		}
	}
	f := Finding{
		Fact:   "name",
		Record: r.Name,
		Line:   nearest(lines, r.Name+" "+r.LegalName),
		Says:   "It shows neither the trading name nor the legal name. Send a paper in the business’s name.",
	}
	if f.Line >= 0 {
		f.Paper = lines[f.Line]
		f.Mend = f.Paper
		f.Says = fmt.Sprintf("It is made out to “%s”. Put that into the record as the legal name, if it is; or send a paper in the business’s name.", f.Paper)
	}
	return f
}

// legalForms are left off a name that is looked for.
var legalForms = []string{"llc", "inc", "ltd", "pllc", "corp", "co", "plc", "lp", "llp"}

func bareName(name string) string {
	words := strings.Fields(address.Fold(name))
	if n := len(words); n > 1 && slices.Contains(legalForms, words[n-1]) {
		words = words[:n-1]
	}
	return strings.Join(words, " ")
}

// lineWith is the first line that holds some words in their order; -1 for none.
func lineWith(lines []string, words string) int {
	return slices.IndexFunc(lines, func(l string) bool {
		return words != "" && strings.Contains(" "+address.Fold(l)+" ", " "+words+" ")
	})
}

// nearest is the line that shares most words of four letters or more with a text; -1
// where none shares any.
func nearest(lines []string, text string) int {
	best, at := 0, -1
	want := strings.Fields(address.Fold(text))
	for i, l := range lines {
		n := 0
		for _, w := range strings.Fields(address.Fold(l)) {
			if len(w) >= 4 && slices.Contains(want, w) {
				n++
			}
		}
		if n > best {
			best, at = n, i
		}
	}
	return at
}

var numberFirst = regexp.MustCompile(`^\d+[A-Za-z]? \p{L}`)

// placed compares the address and its unit.
func placed(lines []string, r record.Record) []Finding {
	number, street, unit := address.Parts(r.Address)
	if r.Address.Unit != "" {
		_, _, unit = address.Parts(address.Address{Street: "1 x, " + r.Address.Unit})
	}
	f := Finding{Fact: "address", Record: r.Address.Line(), Line: -1}
	for i, l := range lines {
		n, s, u := address.Parts(address.Address{Street: l})
		if n != number || street == "" || s != street && !strings.HasPrefix(s, street+" ") {
			continue
		}
		f.Good, f.Line, f.Paper, f.Says = true, i, l, "It shows the address."
		of := Finding{Fact: "unit", Line: i, Paper: l, Record: r.Address.Unit}
		switch {
		case u == unit:
			of.Good = true
			return []Finding{f}
		case unit == "":
			of.Mend = unitOf(l)
			of.Says = fmt.Sprintf("It names %s, and the record names no unit. Put it into the record, or send a paper without it.", of.Mend)
		case u == "":
			of.Says = fmt.Sprintf("The record names %s, and the paper does not. Send a paper with it, or take it out of the record.", unitSaid(r))
			of.Mend = "–"
		default:
			of.Mend = unitOf(l)
			of.Says = fmt.Sprintf("It names %s, and the record %s. One of the two is wrong.", of.Mend, unitSaid(r))
		}
		return []Finding{f, of}
	}
	if f.Line = slices.IndexFunc(lines, func(l string) bool { return numberFirst.MatchString(l) }); f.Line >= 0 {
		f.Paper = lines[f.Line]
		f.Says = fmt.Sprintf("It shows another address, “%s”. Send a paper with %s.", f.Paper, r.Address.Street)
	} else {
		f.Says = fmt.Sprintf("It shows no address. Send a paper with %s.", r.Address.Street)
	}
	return []Finding{f}
}

func unitSaid(r record.Record) string {
	if r.Address.Unit != "" {
		return r.Address.Unit
	}
	return unitOf(r.Address.Street)
}

var unitPattern = regexp.MustCompile(`(?i)\b(suite|ste\.?|unit|apt\.?|apartment|floor|room|bldg\.?|building) ?#? ?[\w-]+|# ?[\w-]+`)

// unitOf is the unit that a line names, as it stands there.
func unitOf(line string) string { return unitPattern.FindString(line) }

// dated says whether a paper is of the time.
func dated(p Said, lines []string, now time.Time) []Finding {
	issued, month, at := p.Issued, false, -1
	if issued == "" {
		issued, month, at = dateIn(lines)
	}
	bill := p.Kind == "utility_bill" || p.Kind == "phone_bill"
	f := Finding{Fact: "date", Line: at}
	if at >= 0 {
		f.Paper = lines[at]
	}
	day, err := time.Parse(time.DateOnly, issued)
	switch until, bad := time.Parse(time.DateOnly, p.Until); {
	case bad == nil && until.AddDate(0, 0, 1).Before(now):
		f.Held = true
		f.Says = fmt.Sprintf("It held until %s. Send one that holds.", until.Format("2 January 2006"))
	case !bill:
		return nil
	case err != nil:
		f.Says = "No date can be read in it, and a bill must not be older than three months. Say when it was issued."
	case day.AddDate(0, billMonths, 1).Before(now):
		f.Says = fmt.Sprintf("It is of %s; a bill must not be older than three months. Send a newer one.", day.Format("2 January 2006"))
	case day.After(now.AddDate(0, 0, 1)) && !(month && day.Before(now.AddDate(0, 1, 0))):
		f.Says = fmt.Sprintf("It is of %s, which is still to come. Look at the date.", day.Format("2 January 2006"))
	default:
		f.Good, f.Says = true, "It is not older than three months."
	}
	return []Finding{f}
}

var (
	writtenDate = regexp.MustCompile(`\b(\d{1,2}) (January|February|March|April|May|June|July|August|September|October|November|December) (\d{4})\b`)
	monthFirst  = regexp.MustCompile(`\b(January|February|March|April|May|June|July|August|September|October|November|December) (\d{1,2}), (\d{4})\b`)
	monthAlone  = regexp.MustCompile(`\b(January|February|March|April|May|June|July|August|September|October|November|December) (\d{4})\b`)
	plainDate   = regexp.MustCompile(`\b\d{4}-\d{2}-\d{2}\b`)
)

// dateIn is the first date in a text, and its line. A month alone is its last day.
func dateIn(lines []string) (date string, month bool, at int) {
	for i, l := range lines {
		if d := plainDate.FindString(l); d != "" {
			return d, false, i
		}
		for _, form := range []struct {
			re     *regexp.Regexp
			layout string
			month  bool
		}{{writtenDate, "2 January 2006", false}, {monthFirst, "January 2, 2006", false}, {monthAlone, "January 2006", true}} {
			t, err := time.Parse(form.layout, form.re.FindString(l))
			if err != nil {
				continue
			}
			if form.month {
				t = t.AddDate(0, 1, -1)
			}
			return t.Format(time.DateOnly), form.month, i
		}
	}
	return "", false, -1
}
