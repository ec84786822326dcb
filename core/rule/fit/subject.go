// Package fit holds a record against a rulebook: whether a directory may list it,
// what is missing or broken, how complete the listing can be, and the exact values to
// give. All of it is computed from the record, its photos and the rulebook alone.
package fit

import (
	"cmp"
	"strings"
	"time"
	"unicode/utf8"

	"uvent/core/fact/calendar"
	"uvent/core/fact/contact"
	"uvent/core/fact/hours"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
)

// Subject is a location, read once to be held against many rulebooks.
type Subject struct {
	Record record.Record
	Photos []Photo       // in their order
	Today  calendar.Date // at the location

	phone    string // the main one, as people write it there
	schedule hours.Schedule
	week     hours.Week
	readable bool // the hours could be read
	holidays calendar.Holidays
	reduced  map[able]shown

	own    map[string][]Own    // values of its listings' own, by directory
	as     map[string]*Subject // On, by directory
	truth  *Subject            // the location as its record has it, where this is as a directory is told of it
	chosen map[string][]string // photos by field, where a directory is given others than the first that fit
}

// recorded is the location as its record has it.
func (s *Subject) recorded() *Subject {
	if s.truth != nil {
		return s.truth
	}
	return s
}

// Read prepares a location, as it is at a moment.
func Read(r record.Record, photos []Photo, now time.Time) *Subject {
	s := &Subject{
		Record: r, Photos: photos, Today: r.Today(now), holidays: calendar.HolidaysOf(r.Address.Country, r.Address.Region), reduced: map[able]shown{},
		phone: contact.National(r.MainPhone()),
	}
	if r.Hours != "" {
		schedule, _, err := hours.Parse(r.Hours)
		s.schedule, s.readable = schedule, err == nil
		s.week = schedule.Week()
	}
	return s
}

// Until is the first moment at which something else may be true of what is held: a special date is
// past, or comes near enough to count.
func (s *Subject) Until() time.Time {
	out := s.Today.Add(compare.DaysAhead)
	soonest := func(d calendar.Date) {
		if s.Today.Before(d) && d.Before(out) {
			out = d
		}
	}
	for _, d := range s.schedule.Specials() {
		soonest(d.From.Add(1 - compare.DaysAhead))
		soonest(d.From.Add(1))
		soonest(d.To.Add(1))
	}
	if s.schedule.Recurs() { // dates of every year come near, too
		soonest(s.Today.Add(30))
	}
	zone, known := s.Record.Location()
	if !known {
		zone = time.UTC
	}
	return out.In(zone)
}

// fact is how one of rulebook.Keys is read from a location.
type fact struct {
	from string // where in the record it stands
	// said counts how much is said: 0 for nothing.
	said func(s *Subject) int
	// parts are the texts that a limit on characters is about; nil where none is.
	parts func(s *Subject) []string
	list  bool // some of the parts can go without the others
	prose bool // it can be shortened
}

func one(from string, of func(r *record.Record) string) fact {
	return fact{from: from, said: func(s *Subject) int { return min(1, len(of(&s.Record))) }, parts: func(s *Subject) []string { return []string{of(&s.Record)} }}
}

func prosaic(from string, of func(r *record.Record) string) fact {
	f := one(from, of)
	f.prose = true
	return f
}

func many(from string, of func(s *Subject) []string) fact {
	return fact{from: from, said: func(s *Subject) int { return len(of(s)) }, parts: of, list: true}
}

// facts are how all of rulebook.Keys are read.
var facts = map[string]fact{
	"name":         one("Identity, trading name", func(r *record.Record) string { return r.Name }),
	"legal_name":   one("Identity, legal name", func(r *record.Record) string { return r.LegalName }),
	"former_names": many("Identity, former names", func(s *Subject) []string { return s.Record.FormerNames }),
	"registration": one("Identity, registration number", func(r *record.Record) string { return r.Company.Registration }),
	"opened":       one("Identity, opening date", func(r *record.Record) string { return r.Opened }),
	"store_code":   one("Identity, store code", func(r *record.Record) string { return r.StoreCode }),
	"company_size": one("Identity, company size", func(r *record.Record) string { return r.Company.Size }),
	"company_kind": one("Identity, kind of company", func(r *record.Record) string { return r.Company.Kind }),
	"industry":     one("Identity, industry", func(r *record.Record) string { return r.Company.Industry }),
	"founded":      one("Identity, founded", func(r *record.Record) string { return r.Company.Founded }),
	"address": {from: "Contact, address", said: func(s *Subject) int {
		if a := s.Record.Address; a.Street == "" || a.Locality == "" {
			return 0
		}
		return 1
	}},
	"directions": prosaic("Contact, directions", func(r *record.Record) string { return r.Directions }),
	"parking":    prosaic("Contact, parking", func(r *record.Record) string { return r.Parking }),
	"pin": {from: "Contact, pin", said: func(s *Subject) int {
		if s.Record.Pin == nil {
			return 0
		}
		return 1
	}},
	"phone": one("Contact, main phone", func(r *record.Record) string { return r.MainPhone() }),
	"other_phones": many("Contact, other phones", func(s *Subject) []string {
		var out []string
		for i, p := range s.Record.Phones {
			if i > 0 {
				out = append(out, p.E164)
			}
		}
		return out
	}),
	"email":         one("Contact, email", func(r *record.Record) string { return r.Email }),
	"website":       one("Contact, website", func(r *record.Record) string { return r.Website }),
	"category":      {from: "Categories, main category", said: func(s *Subject) int { return min(1, len(s.Record.Category)) }},
	"attributes":    {from: "Categories, attributes", said: func(s *Subject) int { return len(s.Record.Attributes) }},
	"hours":         {from: "Hours, the usual week", said: func(s *Subject) int { return min(1, len(s.Record.Hours)) }},
	"special_dates": {from: "Hours, special dates", said: func(s *Subject) int { return len(s.schedule.Rules) }},
	"keywords":      many("Words, keywords", func(s *Subject) []string { return s.Record.Words.Keywords }),
	"specialities":  many("Words, specialities", func(s *Subject) []string { return s.Record.Words.Specialities }),
	"booking":       one("Links, booking", func(r *record.Record) string { return r.Links.Booking }),
	"ordering":      one("Links, ordering", func(r *record.Record) string { return r.Links.Ordering }),
	"quote":         one("Links, quote", func(r *record.Record) string { return r.Links.Quote }),
	"menu":          one("Links, menu", func(r *record.Record) string { return r.Links.Menu }),
	"gift_card":     one("Links, gift card", func(r *record.Record) string { return r.Links.GiftCard }),
	"app":           one("Links, app", func(r *record.Record) string { return r.Links.App }),
	"button": {from: "Links, and ways to reach it", said: func(s *Subject) int {
		for _, to := range buttons {
			if to(&s.Record) != "" {
				return 1
			}
		}
		return 0
	}},
	"socials": many("Links, social profiles", func(s *Subject) []string {
		var out []string
		for _, p := range s.Record.Socials {
			if p.Show {
				out = append(out, p.URL)
			}
		}
		return out
	}),
	"videos": many("Links, films", func(s *Subject) []string { return s.Record.Videos }),
	"offerings": many("Offerings", func(s *Subject) []string {
		var out []string
		for _, section := range s.Record.Offerings {
			for _, i := range section.Items {
				out = append(out, i.Name)
			}
		}
		return out
	}),
	"payments": many("Offerings, ways to pay", func(s *Subject) []string { return s.Record.Payments }),
	"team": many("Offerings, team", func(s *Subject) []string {
		var out []string
		for _, m := range s.Record.Team {
			out = append(out, strings.Trim(m.Name+", "+m.Role, ", "))
		}
		return out
	}),
	"licence": many("Papers, licences", func(s *Subject) []string {
		var out []string
		for _, l := range s.Record.Licences {
			if l.Number != "" {
				out = append(out, l.Number)
			}
		}
		return out
	}),
}

// buttons are where a directory's button leads, by what the button says; one that is not
// named leads nowhere that the record knows.
var buttons = map[string]func(r *record.Record) string{
	"visit":   func(r *record.Record) string { return r.Website },
	"call":    func(r *record.Record) string { return r.MainPhone() },
	"contact": func(r *record.Record) string { return cmp.Or(r.Email, r.MainPhone()) },
	"write":   func(r *record.Record) string { return r.Email },
	"book":    func(r *record.Record) string { return r.Links.Booking },
	"order":   func(r *record.Record) string { return r.Links.Ordering },
	"quote":   func(r *record.Record) string { return r.Links.Quote },
	"directions": func(r *record.Record) string {
		if r.Kind == record.GoesToCustomers {
			return ""
		}
		return r.Address.Street
	},
}

// Leads is where a directory's button leads by what a record says; empty where it leads
// nowhere that the record knows.
func Leads(button string, r *record.Record) string {
	if to := buttons[button]; to != nil {
		return to(r)
	}
	return ""
}

// words are a record's own words by what rulebooks call them.
func (s *Subject) words(text string) string { return *s.text(text) }

func (s *Subject) text(which string) *string {
	w := &s.Record.Words
	switch which {
	case "tagline":
		return &w.Tagline
	case "short":
		return &w.Short
	case "medium":
		return &w.Medium
	case "long":
		return &w.Long
	}
	return &w.Story
}

// applies reports whether a fact is one that such a location can have.
func (s *Subject) applies(key string, book *rulebook.Rulebook) bool {
	switch key {
	case "directions", "parking":
		return s.Record.Kind != record.GoesToCustomers
	case "pin":
		return book.GivesStreet(s.Record)
	case rulebook.AreasKey:
		return s.Record.Kind != record.Premises
	case "other_phones", "former_names", "store_code":
		return s.any(key) || required(key, book)
	}
	return true
}

// any reports whether the record says something under a key.
func (s *Subject) any(key string) bool { return facts[key].said(s) > 0 }

func required(key string, book *rulebook.Rulebook) bool {
	f, _ := book.Takes(key)
	return f.Required
}

// chars counts the characters of a text, as the limits of rulebooks do.
func chars(s string) int { return utf8.RuneCountInString(s) }
