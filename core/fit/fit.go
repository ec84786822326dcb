// Package fit holds a record against a rulebook: what is missing before a
// directory can take it, and the exact values to give.
package fit

import (
	"fmt"
	"strings"
	"unicode/utf8"

	"uvent/core/category"
	"uvent/core/compare"
	"uvent/core/hours"
	"uvent/core/link"
	"uvent/core/record"
	"uvent/core/rulebook"
)

// Missing says what keeps a directory from taking a record: facts it requires
// that are not said, and those that break its limits.
func Missing(r record.Record, book rulebook.Rulebook) []string {
	var out []string
	if why := book.MayList(r); why != "" {
		return []string{why}
	}
	for _, l := range compare.Facts(r, book, nil) {
		rule, taken := book.Takes(l.Fact)
		switch {
		case !taken:
		case rule.Required && l.Record == "":
			out = append(out, fmt.Sprintf("The record has no %s, and %s asks for it.", strings.ToLower(l.Title), book.Name))
		case rule.MostCharacters > 0 && utf8.RuneCountInString(l.Record) > rule.MostCharacters:
			out = append(out, fmt.Sprintf("The %s has %d characters; %s takes %d.", strings.ToLower(l.Title), utf8.RuneCountInString(l.Record), book.Name, rule.MostCharacters))
		}
	}
	if r.Category != "" && book.Categories.Map[r.Category] == "" {
		out = append(out, fmt.Sprintf("%s has no category for %s.", book.Name, category.Name(r.Category)))
	}
	return out
}

// Values are what a directory is given.
type Values struct {
	Name       string
	Street     string // with the unit
	Locality   string
	Region     string
	PostalCode string
	Country    string
	HideStreet bool
	Phone      string // E.164
	Website    string
	Category   string // the directory's own name for it
	Hours      string // opening_hours
	Pin        *record.Pin
}

// Compose makes the values for a directory from a record: what the rulebook
// takes, and nothing else.
func Compose(r record.Record, book rulebook.Rulebook) Values {
	v := Values{
		Name: r.Name, Street: r.Address.Street, Locality: r.Address.Locality, Region: r.Address.Region,
		PostalCode: r.Address.PostalCode, Country: r.Address.Country, HideStreet: book.HidesAddress(r),
		Category: book.Categories.Map[r.Category], Pin: r.Pin,
	}
	if r.Address.Unit != "" {
		v.Street += ", " + r.Address.Unit
	}
	if _, ok := book.Takes("phone"); ok {
		v.Phone = r.MainPhone()
	}
	if rule, ok := book.Takes("website"); ok {
		v.Website = link.Tagged(r.Website, book.ID, r.Tags)
		if rule.MostCharacters > 0 && utf8.RuneCountInString(v.Website) > rule.MostCharacters {
			v.Website = r.Website // tags are the first thing to go
		}
	}
	if _, ok := book.Takes("hours"); ok {
		v.Hours = given(r.Hours, book)
	}
	return v
}

// given is what a directory is given of opening hours: the usual week brought into
// what it can express, and all that is said besides as it is.
func given(text string, book rulebook.Rulebook) string {
	schedule, _, err := hours.Parse(text)
	if err != nil || text == "" {
		return text
	}
	f := Hours(schedule.Week(), book)
	if f.Same() {
		return text
	}
	return schedule.WithWeek(f.Week).String()
}
