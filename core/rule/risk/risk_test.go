package risk_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

func book(t *testing.T, id string) *rulebook.Rulebook {
	t.Helper()
	b, err := rulebooks.Read(id)
	if err != nil {
		t.Fatal(err)
	}
	return &b
}

// sound is a record that nothing speaks against.
func sound() record.Record {
	return record.Record{
		Name:     "Spokeshave Cycle Works",
		Kind:     record.Premises,
		Category: "bicycle_repair",
		Hours:    "Mo-Fr 09:00-18:00",
		Website:  "https://www.spokeshave.example/quillcote",
		Address:  address.Address{Street: "63 Mill Lane", Unit: "Suite B", Locality: "Quillcote", Region: "WA", PostalCode: "98992", Country: "US"},
		Words:    record.Words{Long: "We mend bicycles of every kind by the water, and lend you another while you wait for yours to be done."},
	}
}

func TestEachRisk(t *testing.T) {
	b := book(t, "fernlook")
	for _, c := range []struct {
		cause  string // empty: none
		change func(s *risk.Subject)
		says   string
	}{
		{"", func(*risk.Subject) {}, ""},
		{"extra_words", func(s *risk.Subject) { s.Record.Name = "Spokeshave, Best Bicycles" }, "says “Best”"},
		{"extra_words", func(s *risk.Subject) { s.Record.Name = "Spokeshave | Bicycles" }, "says “|”"},
		{"", func(s *risk.Subject) { s.Record.Name = "Bestway Bicycles" }, ""},
		{"town_in_name", func(s *risk.Subject) { s.Record.Name = "Spokeshave Cycle Works Quillcote" }, "has the town in it"},
		{"", func(s *risk.Subject) { s.Record.Name = "Quillcotes" }, ""},
		{"", func(s *risk.Subject) {
			s.Record.Name, s.Record.LegalName = "Quillcote Cycle Works", "Quillcote Cycle Works Ltd."
		}, ""},
		{"name_and_address", func(s *risk.Subject) { s.Changed = []string{"name", "address"} }, "at once"},
		{"name_and_address", func(s *risk.Subject) { s.Changed, s.Before = []string{"name"}, []string{"address"} }, "at once"},
		{"", func(s *risk.Subject) { s.Changed = []string{"name"} }, ""},
		{"second_edit", func(s *risk.Subject) { s.Changed, s.Before = []string{"hours"}, []string{"phone"} }, "not settled yet"},
		{"shared_address", func(s *risk.Subject) { s.Adjacent = []string{"Nettlewick Yarns"} }, "Nettlewick Yarns has the same address"},
		{"post_office_box", func(s *risk.Subject) { s.Record.Address.Street = "P.O. Box 41" }, "“P.O. Box 41 Suite B” is a post-office box"},
		{"post_office_box", func(s *risk.Subject) { s.Record.Address.Unit = "PMB 7" }, "mailing agent"},
		{"", func(s *risk.Subject) { s.Record.Address.Street = "4 Boxwood Street" }, ""},
		{"shared_phone", func(s *risk.Subject) { s.Phones = []string{"Quay Wash, Fennick"} }, "also that of Quay Wash"},
		{"far_category", func(s *risk.Subject) { s.Record.Category = "yarn_shop" }, "“Yarn shop”"},
		{"round_the_clock", func(s *risk.Subject) { s.Record.Hours = "24/7" }, "round the clock"},
		{"other_domain", func(s *risk.Subject) {
			s.Sites, s.Record.Website = []string{"spokeshave.example"}, "https://pages.example/spokeshave"
		}, "on pages.example"},
		{"", func(s *risk.Subject) { s.Sites = []string{"spokeshave.example"} }, ""},
	} {
		s := risk.Subject{Record: sound()}
		c.change(&s)
		got := risk.Find(b, s)
		i := slices.IndexFunc(got, func(r risk.Risk) bool { return r.Cause == c.cause })
		switch {
		case c.cause == "" && len(got) > 0:
			t.Errorf("nothing speaks against %q, but %+v", s.Record.Name, got)
		case c.cause != "" && (i < 0 || !strings.Contains(got[i].Says, c.says) || got[i].Mend == ""):
			t.Errorf("%s is not found: %+v", c.cause, got)
		}
	}
	// A location that only goes to its customers, where the street cannot be hidden.
	s := risk.Subject{Record: sound()}
	s.Record.Kind = record.GoesToCustomers
	open := *b
	open.Listing.HideAddress = nil
	if got := risk.Find(&open, s); len(got) != 1 || got[0].Cause != "street_shown" {
		t.Errorf("%+v", got)
	}
	if got := risk.Find(b, s); len(got) != 0 {
		t.Errorf("where it is hidden: %+v", got)
	}
	// What stands in the record counts for a change only where that touches it.
	s = risk.Subject{Record: sound(), Changed: []string{"phone"}}
	s.Record.Name = "Best Bicycles"
	if got := risk.Find(b, s); len(got) != 0 {
		t.Errorf("when the phone is changed: %+v", got)
	}
}

func TestTheWorst(t *testing.T) {
	of := func(off rulebook.SetsOff, weight float64) risk.Risk {
		return risk.Risk{Risk: rulebook.Risk{SetsOff: off, Weight: weight}}
	}
	worst, chance := risk.Expect([]risk.Risk{of(rulebook.OffReview, 0.9), of(rulebook.OffSuspension, 0.5), of(rulebook.OffSuspension, 0.5)})
	if worst != rulebook.OffSuspension || chance != 0.75 {
		t.Errorf("%s, %v", worst, chance)
	}
	if worst, chance = risk.Expect(nil); worst != "" || chance != 0 {
		t.Errorf("of nothing: %s, %v", worst, chance)
	}
}

// However much is changed: everything is changed once, name and address never together,
// and each step waits for the one before.
func TestTheGentlestOrder(t *testing.T) {
	all, err := rulebooks.All()
	if err != nil {
		t.Fatal(err)
	}
	r := rand.New(rand.NewPCG(1, 2))
	keys := []string{"name", "address", "phone", "website", "category", "hours", "text.long", "email", "pin"}
	for range 2000 {
		b := &all[r.IntN(len(all))]
		r.Shuffle(len(keys), func(i, j int) { keys[i], keys[j] = keys[j], keys[i] })
		changed := slices.Clone(keys[:r.IntN(len(keys)+1)])
		var settling *rulebook.Edit
		if r.IntN(2) == 0 {
			settling = &rulebook.Edit{Window: calendar.Rule{Min: 1, Max: 5, Unit: "days"}}
		}
		steps := risk.Order(b, changed, settling)
		var got []string
		for i, s := range steps {
			got = append(got, s.Facts...)
			if slices.Contains(s.Facts, "name") && slices.Contains(s.Facts, "address") {
				t.Fatalf("%s: name and address together: %+v", b.ID, steps)
			}
			if i == 0 && s.After != settling || i > 0 && (s.After != nil) != (steps[i-1].Meets.SetsOff != "") {
				t.Fatalf("%s: step %d waits for something else: %+v", b.ID, i, steps)
			}
		}
		slices.Sort(got)
		slices.Sort(changed)
		if !slices.Equal(got, changed) {
			t.Fatalf("%s: %v of %v", b.ID, got, changed)
		}
	}
}

func TestSuspects(t *testing.T) {
	b := book(t, "fernlook")
	at := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	both := risk.Edit{At: at.AddDate(0, 0, -3), By: "Tobias Finch", Changed: []string{"name", "address"}, Looked: true}
	extra := sound()
	extra.Name = "Best Bicycles"
	for _, c := range []struct {
		name   string
		record record.Record
		edits  []risk.Edit
		notice string
		first  string
		says   string
	}{
		{"nothing", sound(), nil, "It does not follow our guidelines.", "", ""},
		{"name and address", sound(), []risk.Edit{both}, "", "name_and_address", "sent together by Tobias Finch on Sat 21 Nov"},
		{"long ago", sound(), []risk.Edit{{At: at.AddDate(0, 0, -31), Changed: both.Changed}}, "", "", ""},
		{"after it", sound(), []risk.Edit{{At: at.AddDate(0, 0, 1), Changed: both.Changed}}, "", "", ""},
		{"the notice decides", extra, []risk.Edit{both}, "It does not follow our rules for names.", "extra_words", "“rules for names”"},
		{"the notice alone", sound(), nil, "The hours could not be confirmed.", "round_the_clock", "Nothing in the record"},
		{"a second change", sound(), []risk.Edit{{At: at.AddDate(0, 0, -4), Changed: []string{"phone"}, Looked: true}, {At: at.AddDate(0, 0, -2), By: "Ines Roake", Changed: []string{"hours"}}}, "", "second_edit", "On Sun 22 Nov Ines Roake sent another change"},
		{"the first had settled", sound(), []risk.Edit{{At: at.AddDate(0, 0, -4), Changed: []string{"phone"}, Looked: true, Settled: at.AddDate(0, 0, -3)}, {At: at.AddDate(0, 0, -2), Changed: []string{"hours"}}}, "", "", ""},
		{"who touched it", extra, []risk.Edit{{At: at.AddDate(0, 0, -2), By: "Ines Roake", Changed: []string{"name"}}}, "", "extra_words", "Name was sent by Ines Roake on Sun 22 Nov."},
	} {
		got, unnamed := risk.Suspects(b, risk.Subject{Record: c.record}, c.edits, c.notice, at)
		sum := unnamed
		for _, x := range got {
			sum += x.Share
		}
		if math.Abs(sum-1) > 0.01 {
			t.Errorf("%s: the shares add up to %v", c.name, sum)
		}
		if c.first == "" {
			if len(got) > 0 {
				t.Errorf("%s: %+v", c.name, got)
			}
			continue
		}
		if len(got) == 0 || got[0].Cause != c.first || !strings.Contains(strings.Join(got[0].Evidence, " "), c.says) {
			t.Errorf("%s: %+v", c.name, got)
		}
	}
}
