package e2e

import (
	"reflect"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"

	"uvent/e2e/rig"
)

func TestCategoriesAttributesAndWords(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.do(s.Open(s.at("/record/l/"+at.Location.String()+"#categories")), s.See("Loan bicycle during a repair"), s.NotSee("Outdoor seating"))
	// A further category brings attributes of its own.
	s.do(s.Type("Add another category", "espresso"), s.See("Café"), s.Key(kb.Enter), s.See("Outdoor seating"))
	s.do(s.Press("yes", "Takes reservations"), s.See("asks for a booking link"), s.Press("no", "Delivery"), s.See("2 of"))

	s.do(s.Press("Words"), s.Type("Tagline", "Wheels, mended"), s.See("14 of 120 characters"))
	s.do(
		s.Type("Description", "We mend the the wheel. Call (360) 555-0142!"),
		s.See("“the” stands twice."),
		s.See("A phone number in the words is refused"),
		s.See("reads as shouting"),
	)
	s.do(s.Type("Description", "We mend wheels."), s.NotSee("stands twice"), s.Type("Keywords", "wheel truing"+kb.Enter+"old steel"+kb.Enter), s.See("old steel"))
	// What is too long for a directory says where it would be cut.
	s.do(s.Type("Short description", strings.Repeat("We mend wheels by the ferry, and gladly. ", 5)), s.See("≠ Fernlook, summary: 45 over its 160"))
	// Spelling, by a dictionary that ships; names are let pass, and one press mends a word.
	s.do(s.Type("Story", "Dov mends bicycels on Tern Street, and old steel framez."), s.See("bicycels It is in no dictionary; perhaps"), s.Press("bicycles"))
	s.do(s.Until(holds("Dov mends bicycles on Tern Street, and old steel framez.")), s.NotSee("Tern It is"), s.NotSee("bicycels"))
	s.do(s.Press("Identity"), s.Type("Opened", "last May"), s.Press("Words"), s.Press("Save record"), s.See(`"last May" is not a date; write it as 2026-12-31.`))
	s.do(
		s.Type("Opened", "1987-05"),
		s.Press("Save record"),
		s.See("The record is saved."),
		s.See("The summary is cut from 204 characters to 122, after “the ferry, and gladly.”."),
	)
	l, err := s.rig.Desk.Ledger.Location(t.Context(), at.Location)
	s.do(err)
	r := l.Record
	if !reflect.DeepEqual(r.Others, []string{"cafe"}) || !reflect.DeepEqual(r.Attributes, map[string]bool{"reservations": true, "delivery": false}) ||
		r.Words.Tagline != "Wheels, mended" || r.Words.Medium != "We mend wheels." || !reflect.DeepEqual(r.Words.Keywords, []string{"wheel truing", "old steel"}) || r.Opened != "1987-05" {
		t.Errorf("saved as %+v", r)
	}
}
