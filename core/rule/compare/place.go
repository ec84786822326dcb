package compare

import (
	"fmt"
	"slices"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/fact/contact"
	"uvent/core/fact/geo"
	"uvent/core/record/link"
	"uvent/core/record/match"
	"uvent/core/record/record"
)

func place(i in) Line {
	ours, s := i.record.Address, i.seen
	if !i.book.ShowsStreet(i.record) {
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
	if s.Address.Line() == "" || ours.Line() == "" {
		return l
	}
	c := address.Compare(ours, s.Address)
	whole := c.Whole(ours, s.Address)
	if !i.book.ShowsStreet(i.record) {
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
			l.Says, l.Wrong = "The street agrees, but not all of the address; post and papers may be refused.", 0.1
		}
	case address.NotSaid:
		l.Mark, l.Says, l.Wrong = Missing, "The street is missing there.", 1
	}
	return l
}

// Distances between the pin and the one that is shown, in metres: up to the first it is the same, up to the second
// nobody is led astray, and from the third on everybody is.
const (
	samePin  = 5
	nearPin  = 60
	wrongPin = 400
)

func pin(i in) Line {
	ours, theirs := i.record.Pin, i.seen.Pin
	l := Line{}
	if ours != nil {
		l.Record = fmt.Sprintf("%.4f, %.4f", ours.Latitude, ours.Longitude)
	}
	if theirs == nil {
		return l
	}
	l.Seen = fmt.Sprintf("%.4f, %.4f", theirs.Latitude, theirs.Longitude)
	if ours == nil {
		return l
	}
	metres := geo.Metres(geo.Point{Longitude: ours.Longitude, Latitude: ours.Latitude}, geo.Point{Longitude: theirs.Longitude, Latitude: theirs.Latitude})
	switch {
	case metres <= samePin:
		l.Mark = Equal
	case metres <= nearPin:
		l.Mark, l.Says = Alike, fmt.Sprintf("%.0f m from it.", metres)
	default:
		far := fmt.Sprintf("%.0f m", metres)
		if metres >= 1000 {
			far = fmt.Sprintf("%.1f km", metres/1000)
		}
		l.Mark, l.Says, l.Wrong = Unequal, "People are led "+far+" away.", min(1, metres/wrongPin)
	}
	return l
}

// stateWords are what a location's state is called.
var stateWords = map[record.StateKind]string{
	record.Open: "open", record.OpeningSoon: "opening soon", record.ClosedForATime: "closed for a time", record.ClosedForGood: "closed for good",
	record.Moved: "moved",
}

// state compares whether the location does business; a page that says nothing of it says that it does.
func state(i in) Line {
	ours, theirs := i.record.State.Kind, i.seen.State
	if ours == "" {
		ours = record.Open
	}
	l := Line{Record: stateWords[ours], Seen: stateWords[theirs]}
	if l.Seen == "" {
		l.Seen = stateWords[record.Open]
	}
	shut := func(k record.StateKind) bool { return k != record.Open && k != "" }
	switch {
	case l.Record == l.Seen:
		l.Mark = Equal
	case shut(ours) && shut(theirs):
		l.Mark, l.Says, l.Wrong = Unequal, fmt.Sprintf("It says %s; it is %s.", l.Seen, l.Record), 0.3
	case shut(theirs):
		l.Mark, l.Says = Unequal, fmt.Sprintf("It says %s; nobody comes.", l.Seen)
	case ours == record.OpeningSoon:
		l.Mark, l.Says, l.Wrong = Unequal, "It shows as open, and is not yet.", 0.5
	default:
		l.Mark, l.Says = Unequal, fmt.Sprintf("It shows as open; it is %s.", l.Record)
	}
	return l
}

func phone(i in) Line {
	r := i.record
	main := r.MainPhone()
	l := Line{Record: contact.National(main)}
	if i.seen.Phone == "" {
		return l
	}
	read := contact.ReadPhone(i.seen.Phone, r.Address.Country)
	l.Seen = i.seen.Phone
	if read.Valid {
		l.Seen = read.National
	}
	switch {
	case main == "":
	case read.E164 == main:
		l.Mark = Equal
	default:
		l.Mark, l.Says = Unequal, phoneSays(r, read.E164)
		if slices.ContainsFunc(r.Phones, func(p record.Phone) bool { return p.E164 == read.E164 }) {
			l.Wrong = 0.3
		}
	}
	return l
}

func phoneSays(r record.Record, seen string) string {
	for _, p := range r.Phones {
		if p.E164 == seen {
			return "It is another of the location’s phones, not the main one."
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

func otherPhones(i in) Line {
	var ours []string
	for n, p := range i.record.Phones {
		if n > 0 {
			ours = append(ours, contact.National(p.E164))
		}
	}
	var theirs []string
	for _, p := range i.seen.OtherPhones {
		if read := contact.ReadPhone(p, i.record.Address.Country); read.Valid {
			p = read.National
		}
		theirs = append(theirs, p)
	}
	return listed(ours, theirs, i.rule.Most, func(s string) string { return s })
}

func email(i in) Line {
	ours, theirs := i.record.Email, i.seen.Email
	l := Line{Record: ours, Seen: theirs, Mark: textual(ours, theirs, strings.ToLower(ours), strings.ToLower(theirs))}
	if l.Mark == Unequal {
		l.Says = "Mail to that address reaches somebody else, or nobody."
	}
	return l
}

// leads compares a web address: campaign tags and ways of writing it are nothing.
func leads(key string, of func(record.Record) string) func(in) Line {
	return func(i in) Line {
		ours, theirs := of(i.record), i.seen.Links[key]
		if key == "website" {
			theirs = i.seen.Website
		}
		l := Line{Record: ours, Seen: theirs}
		switch {
		case theirs == "" || ours == "":
		case ours == theirs, link.Tagged(ours, i.book.ID, i.record.Tags) == theirs:
			l.Mark = Equal
		case match.SameSite(ours, theirs):
			l.Mark = Alike
		default:
			l.Mark, l.Says = Unequal, "Visitors land on another page."
		}
		return l
	}
}
