package compare

import (
	"strings"
	"testing"
	"uvent/core/record/sighting"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

var today = calendar.Date{Year: 2026, Month: 11, Day: 24}

func book(t *testing.T) rulebook.Rulebook {
	t.Helper()
	b, err := rulebooks.Read("fernlook")
	if err != nil {
		t.Fatal(err)
	}
	return b
}

var tern = address.Address{Street: "18 Tern Street", Locality: "Minnow Bay", Region: "WA", PostalCode: "98990", Country: "US"}

func ours() record.Record {
	return record.Record{
		Name: "Spokeshave Cycle Works", Kind: record.Premises, Address: tern, Phones: []record.Phone{{E164: "+13605550142"}, {E164: "+13605550150"}},
		Email: "shop@spokeshave.example", Website: "https://spokeshave.example/minnow-bay", Category: "bicycle_repair",
		Hours: "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00",
	}
}

func TestEachFact(t *testing.T) {
	short := tern
	short.Street = "18 Tern St"
	suite := tern
	suite.Unit = "Suite B"
	moved := tern
	moved.Street = "2 Old Quay"
	for _, c := range []struct {
		fact string
		seen sighting.Sighting
		mark Mark
		says string
	}{
		{"name", sighting.Sighting{Name: "Spokeshave Cycle Works"}, Equal, ""},
		{"name", sighting.Sighting{Name: "SPOKESHAVE cycle works"}, Alike, ""},
		{"name", sighting.Sighting{Name: "Spokeshave Bikes"}, Unequal, "on the sign"},
		{"name", sighting.Sighting{}, Missing, "Missing"},
		{"address", sighting.Sighting{Address: tern}, Equal, ""},
		{"address", sighting.Sighting{Address: short}, Alike, ""},
		{"address", sighting.Sighting{Address: moved}, Unequal, "another place"},
		{"address", sighting.Sighting{Address: suite}, Unequal, "not all of the address"},
		{"address", sighting.Sighting{Address: address.Address{Locality: "Minnow Bay"}}, Missing, "street is missing"},
		{"phone", sighting.Sighting{Phone: "(360) 555-0142"}, Equal, ""},
		{"phone", sighting.Sighting{Phone: "(360) 555-0124"}, Unequal, "swapped"},
		{"phone", sighting.Sighting{Phone: "(360) 555-0150"}, Unequal, "not the main one"},
		{"phone", sighting.Sighting{Phone: "(360) 555-0199"}, Unequal, "somebody else"},
		{"email", sighting.Sighting{Email: "shop@spokeshave.example"}, NotTaken, "Not taken"},
		{"website", sighting.Sighting{Website: "https://spokeshave.example/minnow-bay"}, Equal, ""},
		{"website", sighting.Sighting{Website: "https://www.spokeshave.example/minnow-bay/?utm_source=fernlook"}, Alike, ""},
		{"website", sighting.Sighting{Website: "https://spokeshave.example/"}, Unequal, "another page"},
		{"category", sighting.Sighting{Category: "Bike repair service"}, Alike, ""},
		{"category", sighting.Sighting{Category: "Bicycle repair"}, Equal, ""},
		{"category", sighting.Sighting{Category: "Bakery"}, Unequal, "another kind"},
		{"hours", sighting.Sighting{Hours: "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00"}, Equal, ""},
		{"hours", sighting.Sighting{Hours: "Sa 09:00-16:00; Tu-Fr 09:00-12:00,13:00-18:00"}, Equal, ""},
		{"hours", sighting.Sighting{Hours: `Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00 "or later"`}, Alike, ""},
		{"hours", sighting.Sighting{Hours: "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00; 2026 Dec 24 off"}, Equal, ""}, // which the special dates tell
		{"special_dates", sighting.Sighting{Hours: "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00; 2026 Dec 24 off"}, Unequal, "Wrong on 1 day of the next twelve months: Thu 24 Dec."},
		{"special_dates", sighting.Sighting{Hours: "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00; 2026 Dec 21 off"}, Alike, ""}, // a Monday
		{"hours", sighting.Sighting{Hours: "Tu-Fr 09:00-18:00; Sa 09:00-16:00"}, Unequal, "4 hours a week shown open while shut."},
		{"hours", sighting.Sighting{Hours: "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-14:30"}, Unequal, "1 h 30 min a week shown shut while open."},
		{"hours", sighting.Sighting{Hours: "ask inside"}, Unequal, "cannot be read"},
		{"hours", sighting.Sighting{}, Missing, "Missing"},
	} {
		for _, l := range Facts(ours(), book(t), &c.seen, today) {
			if l.Fact == c.fact && (l.Mark != c.mark || !strings.Contains(l.Says, c.says)) {
				t.Errorf("%s %+v: %q %q, want %q %q", c.fact, c.seen, l.Mark, l.Says, c.mark, c.says)
			}
		}
	}
}

func lineOf(lines []Line, fact string) Line {
	for _, l := range lines {
		if l.Fact == fact {
			return l
		}
	}
	return Line{}
}

func TestHiddenStreet(t *testing.T) {
	r := ours()
	r.Kind = record.GoesToCustomers
	for want, seen := range map[Mark]address.Address{Unequal: tern, Equal: {Locality: "Minnow Bay", Region: "WA"}} {
		if l := lineOf(Facts(r, book(t), &sighting.Sighting{Address: seen}, today), "address"); l.Mark != want {
			t.Errorf("%v: %+v, want %q", seen, l, want)
		}
	}
}

func TestNothingSeenOrSaid(t *testing.T) {
	for _, l := range Facts(ours(), book(t), nil, today) {
		if l.Mark != "" && l.Mark != NotTaken || l.Mark == "" && l.Why == "" || basic[l.Fact] && l.Fact != "email" && l.Fact != "special_dates" && l.Record == "" {
			t.Errorf("never looked: %+v", l)
		}
	}
	for _, l := range Facts(record.Record{}, book(t), &sighting.Sighting{Name: "X"}, today) {
		if l.Fact == "name" && l.Mark != Unequal || l.Fact == "phone" && l.Mark != "" {
			t.Errorf("the record is empty: %+v", l)
		}
	}
}

// A link that shows the tags which we gave is the same; other tags are nothing, and
// another page is something.
func TestTaggedLinks(t *testing.T) {
	r := ours()
	r.Tags = record.Tags{On: true, Medium: "listing", Campaign: "bay"}
	book := rulebook.Rulebook{ID: "pierbook", Facts: []rulebook.Fact{{Fact: "website"}}}
	for seen, want := range map[string]Mark{
		"https://spokeshave.example/minnow-bay?utm_source=pierbook&utm_medium=listing&utm_campaign=bay": Equal, "https://spokeshave.example/minnow-bay": Equal,
		"https://spokeshave.example/minnow-bay?utm_source=elsewhere": Alike, "https://spokeshave.example/quillcote": Unequal,
	} {
		if l := lineOf(Facts(r, book, &sighting.Sighting{Website: seen}, today), "website"); l.Mark != want {
			t.Errorf("%s is %q, want %q", seen, l.Mark, want)
		}
	}
}
