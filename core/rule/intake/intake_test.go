package intake

import (
	"slices"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

var now = time.Date(2026, 11, 24, 17, 12, 0, 0, time.UTC) // Tuesday, 09:12 Pacific

func subject(t *testing.T) (Subject, []rulebook.Rulebook) {
	t.Helper()
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		t.Fatal(err)
	}
	full := Subject{
		Now:  now,
		Held: Held{map[string]int{"logo": 1, "cover": 1, "exterior": 1, "interior": 1}, map[string]int{"utility_bill": 1}},
		Record: record.Record{
			Name:      "Spokeshave",
			LegalName: "Spokeshave LLC",
			Kind:      record.Both,
			Address:   address.Address{Street: "18 Tern Street", Locality: "Minnow Bay", Region: "WA", Country: "US"},
			Mailing:   record.Mailing{Contact: "Dov Marsh"},
			Pin:       &record.Pin{},
			Phones:    []record.Phone{{E164: "+13605550142", Text: true}},
			Website:   "https://spokeshave.example",
			Email:     "a@spokeshave.example",
			Category:  "bicycle_repair",
			Hours:     "Tu-Fr 09:00-18:00; 2026 Nov 26-27 off; 2026 Dec 25 off; 2027 Jan 1 off",
			Area:      record.Area{Towns: []record.Town{{Name: "Quillcote"}}},
			Words:     record.Words{Medium: "We mend.", Keywords: []string{"wheels"}},
			Payments:  []string{"cash"},
			Offerings: []record.Section{{Title: "Repairs"}},
			Licences:  []record.Licence{{Name: "Trade"}},
			Company:   record.Company{Registration: "604 117 220"},
		},
	}
	return full, []rulebook.Rulebook{book}
}

func ids(list []Want) (out []string) {
	for _, w := range list {
		out = append(out, w.ID)
	}
	return out
}

func TestEachThingIsMissedByItself(t *testing.T) {
	full, books := subject(t)
	if list := Missing(full, books); len(list) != 0 {
		t.Fatalf("of a full record, it misses %q", ids(list))
	}
	for id, spoil := range map[string]func(*Subject){
		"name": func(s *Subject) { s.Record.Name = "" }, "address": func(s *Subject) { s.Record.Address.Street = "" }, "category": func(s *Subject) { s.Record.Category = "" },
		"registration": func(s *Subject) { s.Record.Company.Registration = "" }, "licence": func(s *Subject) { s.Record.Licences = nil }, "utility_bill": func(s *Subject) { s.Held.Papers = nil },
		"legal_name": func(s *Subject) { s.Record.LegalName = "" }, "phone": func(s *Subject) { s.Record.Phones = nil }, "text_phone": func(s *Subject) { s.Record.Phones = []record.Phone{{Voice: true}} },
		"website": func(s *Subject) { s.Record.Website = "" }, "domain_email": func(s *Subject) { s.Record.Email = "a@tidemail.example" }, "envelope": func(s *Subject) { s.Record.Mailing.Contact = "" },
		"hours": func(s *Subject) { s.Record.Hours = "" }, "holidays": func(s *Subject) { s.Record.Hours = "Tu-Fr 09:00-18:00" }, "pin": func(s *Subject) { s.Record.Pin = nil },
		"area": func(s *Subject) { s.Record.Area.Towns = nil }, "description": func(s *Subject) { s.Record.Words.Medium = "" }, "keywords": func(s *Subject) { s.Record.Words.Keywords = nil },
		"logo": func(s *Subject) { s.Held.Photos = map[string]int{"cover": 1, "exterior": 1, "interior": 1} }, "payments": func(s *Subject) { s.Record.Payments = nil }, "offerings": func(s *Subject) { s.Record.Offerings = nil },
	} {
		s := full
		spoil(&s)
		if list := Missing(s, books); len(list) != 1 || list[0].ID != id || list[0].Ask == "" || list[0].Part == "" {
			t.Errorf("without %s, it misses %q", id, ids(list))
		}
	}
	// Nothing is asked of a kind of location that has no use for it.
	s := full
	s.Record.Kind, s.Record.Area.Towns = record.Premises, nil
	if list := Missing(s, books); len(list) != 0 {
		t.Errorf("premises miss %q", ids(list))
	}
	s.Record.Kind, s.Held.Photos, s.Record.Area = record.GoesToCustomers, map[string]int{"logo": 1, "cover": 1}, full.Record.Area
	if list := Missing(s, books); len(list) != 0 {
		t.Errorf("who goes to customers misses %q", ids(list))
	}
	s = full
	s.Record.Licences, s.Held.Papers = nil, map[string]int{"licence": 1, "phone_bill": 1}
	if list := Missing(s, books); len(list) != 0 {
		t.Errorf("with a licence as a paper, it misses %q", ids(list))
	}
}

func TestWhatBlocksComesFirstThenWhatTakesLong(t *testing.T) {
	s, books := subject(t)
	s.Record.Category, s.Record.Company.Registration, s.Record.Payments, s.Record.Licences = "", "", nil, nil
	list := Missing(s, books)
	if !slices.Equal(ids(list), []string{"category", "registration", "licence", "payments"}) || !slices.Equal(list[0].Blocks, []string{"Fernlook"}) ||
		list[1].Blocks != nil {
		t.Fatalf("%+v", list)
	}
	// Thirty days from Tuesday 24 November; five business days, of which Thanksgiving and the day after are none in WA.
	if r := list[1]; r.By != (calendar.Date{Year: 2026, Month: 12, Day: 24}) || r.Fee != (calendar.Date{Year: 2026, Month: 12, Day: 3}) {
		t.Errorf("the number can be had by %v, for a fee by %v", r.By, r.Fee)
	}
	if list[3].By != (calendar.Date{}) {
		t.Errorf("a word takes until %v", list[3].By)
	}
	subject, body := Letter("Dov Marsh", "Ines Roake", "Spokeshave", "Minnow Bay", list)
	for _, want := range []string{"Hello Dov,", "1. In a few words", "Without it we cannot begin on Fernlook.", "4. How can customers pay?", "Ines Roake\n"} {
		if !strings.Contains(body, want) {
			t.Errorf("the letter has no %q:\n%s", want, body)
		}
	}
	if subject != "What we still need for Spokeshave, Minnow Bay" {
		t.Errorf("its subject is %q", subject)
	}
}
