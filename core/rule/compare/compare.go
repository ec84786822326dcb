// Package compare holds a record against what a directory shows, fact by fact.
package compare

import (
	"fmt"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/fact/category"
	"uvent/core/fact/contact"
	"uvent/core/fact/hours"
	"uvent/core/record/link"
	"uvent/core/record/match"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// DaysAhead is how far ahead the dates are looked at on which other hours hold: twelve months.
const DaysAhead = 365

// Sighting is what a directory's public page showed. Empty means not shown.
type Sighting struct {
	Name     string          `json:"name"`
	Address  address.Address `json:"address"`
	Phone    string          `json:"phone"`
	Email    string          `json:"email"`
	Website  string          `json:"website"`
	Category string          `json:"category"`
	Hours    string          `json:"hours"` // opening_hours
}

// Mark is how a fact compares.
type Mark string

const (
	Equal    Mark = "=" // same
	Alike    Mark = "≈" // same once spelled out
	Unequal  Mark = "≠" // different
	Missing  Mark = "∅" // missing there
	NotTaken Mark = "·" // not taken there
)

// Line is one fact of the record beside what was seen.
type Line struct {
	Fact   string // its key
	Title  string
	Record string // as people write it; empty when the record does not say
	Seen   string // empty when not shown
	Mark   Mark   // empty when there is nothing to compare: no sighting, or the record does not say
	Says   string // the consequence, in words
}

// facts are the comparisons, in the order in which they are shown.
var facts = []struct {
	key, title string
	compare    func(r record.Record, book rulebook.Rulebook, s Sighting, today calendar.Date) Line
}{
	{"name", "Name", name}, {"address", "Address", place}, {"phone", "Phone", phone}, {"email", "Email", email},
	{"website", "Website", website}, {"category", "Category", kind}, {"hours", "Hours", times},
}

// Facts compares every fact of a record, as it is on a date at the location, with a sighting, or
// only lays out the record when there is none.
func Facts(r record.Record, book rulebook.Rulebook, seen *Sighting, today calendar.Date) []Line {
	var out []Line
	for _, f := range facts {
		var s Sighting
		if seen != nil {
			s = *seen
		}
		l := f.compare(r, book, s, today)
		l.Fact, l.Title = f.key, f.title
		_, taken := book.Takes(f.key)
		switch {
		case !taken:
			l.Mark, l.Says = NotTaken, "Not taken here."
		case seen == nil || l.Record == "" && l.Seen == "":
			l.Mark, l.Says = "", ""
		case l.Record == "":
			l.Mark, l.Says = Unequal, "The record says nothing of this."
		case l.Seen == "" && l.Mark == "":
			l.Mark = Missing
			if l.Says == "" {
				l.Says = "Missing there."
			}
		}
		out = append(out, l)
	}
	return out
}

// textual compares two texts, and then their folded forms.
func textual(a, b, foldedA, foldedB string) Mark {
	switch {
	case b == "":
		return ""
	case a == b:
		return Equal
	case foldedA == foldedB:
		return Alike
	}
	return Unequal
}

func name(r record.Record, _ rulebook.Rulebook, s Sighting, _ calendar.Date) Line {
	l := Line{Record: r.Name, Seen: s.Name, Mark: textual(r.Name, s.Name, address.Fold(r.Name), address.Fold(s.Name))}
	if l.Mark == Unequal {
		l.Says = "People who look for the name on the sign may not find it."
	}
	return l
}

func place(r record.Record, book rulebook.Rulebook, s Sighting, _ calendar.Date) Line {
	ours := r.Address
	if !book.ShowsStreet(r) {
		ours.Street, ours.Unit, ours.PostalCode = "", "", ""
		if s.Address.Street != "" {
			return Line{
				Record: ours.Line() + " (street hidden)",
				Seen:   s.Address.Line(),
				Mark:   Unequal,
				Says:   "The street address shows, though nobody is to come there.",
			}
		}
	}
	l := Line{Record: ours.Line(), Seen: s.Address.Line()}
	if s.Address.Line() == "" {
		return l
	}
	c := address.Compare(ours, s.Address)
	whole := c.Whole(ours, s.Address)
	if !book.ShowsStreet(r) {
		whole = c.Locality
	}
	switch whole {
	case address.Exact:
		l.Mark = Equal
	case address.Spelled:
		l.Mark = Alike
	case address.Different:
		l.Mark, l.Says = Unequal, "People are sent to another place."
		if c.Street != address.Different && c.Locality != address.Different {
			l.Says = "The street agrees, but not all of the address; post and papers may be refused."
		}
	case address.NotSaid:
		l.Mark, l.Says = Missing, "The street is missing there."
	}
	return l
}

func phone(r record.Record, _ rulebook.Rulebook, s Sighting, _ calendar.Date) Line {
	main := r.MainPhone()
	l := Line{Record: contact.National(main)}
	if s.Phone == "" {
		return l
	}
	read := contact.ReadPhone(s.Phone, r.Address.Country)
	l.Seen = s.Phone
	if read.Valid {
		l.Seen = read.National
	}
	switch {
	case main == "":
	case read.E164 == main:
		l.Mark = Equal
	default:
		l.Mark, l.Says = Unequal, phoneSays(r, read.E164)
	}
	return l
}

func phoneSays(r record.Record, seen string) string {
	for _, p := range r.Phones {
		if p.E164 == seen {
			return "It is another of the location's phones, not the main one."
		}
	}
	if main := r.MainPhone(); len(main) == len(seen) {
		var at []int
		for i := range main {
			if main[i] != seen[i] {
				at = append(at, i)
			}
		}
		if len(at) == 2 && main[at[0]] == seen[at[1]] && main[at[1]] == seen[at[0]] {
			return "Two digits are swapped. Calls to that number reach somebody else."
		}
	}
	return "Calls to that number reach somebody else, or nobody."
}

func email(r record.Record, _ rulebook.Rulebook, s Sighting, _ calendar.Date) Line {
	return Line{Record: r.Email, Seen: s.Email, Mark: textual(r.Email, s.Email, strings.ToLower(r.Email), strings.ToLower(s.Email))}
}

func website(r record.Record, book rulebook.Rulebook, s Sighting, _ calendar.Date) Line {
	l := Line{Record: r.Website, Seen: s.Website}
	switch {
	case s.Website == "":
	case r.Website == s.Website, link.Tagged(r.Website, book.ID, r.Tags) == s.Website:
		l.Mark = Equal
	case match.SameSite(r.Website, s.Website):
		l.Mark = Alike
	default:
		l.Mark, l.Says = Unequal, "Visitors land on another page."
	}
	return l
}

func kind(r record.Record, book rulebook.Rulebook, s Sighting, _ calendar.Date) Line {
	l := Line{Seen: s.Category}
	if r.Category != "" {
		l.Record = category.Name(r.Category)
	}
	theirs := book.Categories.Category(r.Category)
	given := theirs.Theirs != "" && strings.EqualFold(s.Category, theirs.Theirs)
	switch {
	case s.Category == "":
	case strings.EqualFold(s.Category, l.Record):
		l.Mark = Equal
	case given && theirs.Exact:
		l.Mark = Alike
	case given && theirs.Fallback:
		l.Mark, l.Says = Alike, fmt.Sprintf("%s has no category for this one; it stands under the one for all others.", book.Name)
	case given:
		l.Mark, l.Says = Unequal, fmt.Sprintf("%s has no category for this one; it is found under the nearest.", book.Name)
	default:
		l.Mark, l.Says = Unequal, "It is found under another kind of business."
	}
	return l
}

func times(r record.Record, _ rulebook.Rulebook, s Sighting, today calendar.Date) Line {
	ours, _, errOurs := hours.Parse(r.Hours)
	theirs, _, errTheirs := hours.Parse(s.Hours)
	l := Line{}
	if r.Hours != "" && errOurs == nil {
		l.Record = ours.Words()
	}
	if s.Hours == "" {
		return l
	}
	if errTheirs != nil {
		l.Seen, l.Mark, l.Says = s.Hours, Unequal, "What it shows cannot be read as opening hours."
		return l
	}
	l.Seen = theirs.Words()
	if l.Record == "" {
		return l
	}
	d := hours.Compare(theirs.Week(), ours.Week())
	dates := hours.WrongDates(theirs, ours, today, DaysAhead, calendar.HolidaysOf(r.Address.Country, r.Address.Region))
	switch week := d.OpenWhileShut + d.ShutWhileOpen; {
	case week > 0 && dates != nil:
		l.Mark, l.Says = Unequal, HoursCost(d)+" "+DatesCost(dates, today)
	case week > 0:
		l.Mark, l.Says = Unequal, HoursCost(d)
	case dates != nil:
		l.Mark, l.Says = Unequal, DatesCost(dates, today)
	case ours.Ahead(today).String() == theirs.Ahead(today).String():
		l.Mark = Equal
	default:
		l.Mark = Alike
	}
	return l
}

// HoursCost says in a sentence what a week that is shown wrong costs.
func HoursCost(d hours.Difference) string {
	var parts []string
	if d.OpenWhileShut > 0 {
		parts = append(parts, span(d.OpenWhileShut)+" a week shown open while shut")
	}
	if d.ShutWhileOpen > 0 {
		parts = append(parts, span(d.ShutWhileOpen)+" a week shown shut while open")
	}
	return strings.Join(parts, ", ") + "."
}

// DatesCost says in a sentence on which dates a page shows other hours than hold.
func DatesCost(dates []calendar.Date, today calendar.Date) string {
	const named = 3
	words := make([]string, 0, named+1)
	for _, d := range dates[:min(named, len(dates))] {
		words = append(words, d.Words(today))
	}
	if more := len(dates) - named; more > 0 {
		words = append(words, fmt.Sprintf("and %d more", more))
	}
	days := fmt.Sprintf("%d days", len(dates))
	if len(dates) == 1 {
		days = "1 day"
	}
	return fmt.Sprintf("Wrong on %s of the next twelve months: %s.", days, strings.Join(words, ", "))
}

func span(minutes int) string {
	h, m := minutes/60, minutes%60
	switch {
	case h == 0:
		return fmt.Sprintf("%d min", m)
	case m > 0:
		return fmt.Sprintf("%d h %d min", h, m)
	case h == 1:
		return "1 hour"
	}
	return fmt.Sprintf("%d hours", h)
}
