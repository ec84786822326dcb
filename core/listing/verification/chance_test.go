package verification

import (
	"math"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// The chance begins at the rulebook's word and goes where our own tries lead.
func TestChanceLearns(t *testing.T) {
	m := rulebook.Method{Chance: 0.6}
	for _, c := range []struct {
		past Past
		want float64
	}{{Past{}, 0.6}, {Past{Won: 1}, 3.4 / 5}, {Past{Lost: 1}, 2.4 / 5}, {Past{Won: 40}, 42.4 / 44}, {Past{Lost: 400}, 2.4 / 404}} {
		if got := Chance(m, c.past); math.Abs(got-c.want) > 1e-12 {
			t.Errorf("%+v: %v, want %v", c.past, got, c.want)
		}
	}
	if got := Chance(rulebook.Method{}, Past{}); got != unknownChance {
		t.Errorf("%v where nothing is known", got)
	}
	// Each success raises it and each failure lowers it, and it stays within 0 and 1.
	for won := range 20 {
		for lost := range 20 {
			p := Chance(m, Past{won, lost})
			if p <= 0 || p >= 1 || Chance(m, Past{won + 1, lost}) <= p || Chance(m, Past{won, lost + 1}) >= p {
				t.Fatalf("%d won, %d lost: %v", won, lost, p)
			}
		}
	}
}

// What is likely to be done first comes first, though another is quicker when it works.
func TestWaysAreOrderedByWhatIsLikelySooner(t *testing.T) {
	book := rulebook.Rulebook{Name: "Pierbook", Calendar: rulebook.Calendar{Country: "US", Zone: "America/Los_Angeles"}, Methods: []rulebook.Method{
		{Method: rulebook.StaffSay, Chance: 0.2, Window: calendar.Rule{Min: 2, Max: 4, Unit: calendar.Days}},
		{Method: rulebook.Postcard, Chance: 0.9, Window: calendar.Rule{Min: 4, Max: 6, Unit: calendar.Days}},
	}}
	r := record.Record{Kind: record.Premises, Address: address.Address{Street: "18 Tern Street", Locality: "Minnow Bay"}}
	ways := func(past map[rulebook.MethodName]Past) []Way {
		return Ways(Question{Book: book, Record: r, State: Start(), Now: start, Past: past})
	}
	first := ways(nil)
	if first[0].Method != rulebook.Postcard || math.Abs(first[0].Days-first[1].Days) < 5 ||
		!strings.Contains(first[1].Why, "about 3 days, and works about once in 5 (none made yet)") {
		t.Errorf("%+v", first)
	}
	learnt := ways(map[rulebook.MethodName]Past{rulebook.StaffSay: {Won: 9, Lost: 0}, rulebook.Postcard: {Won: 1, Lost: 8}})
	if learnt[0].Method != rulebook.StaffSay || !strings.Contains(learnt[1].Why, "1 of 9 of ours worked") {
		t.Errorf("%+v", learnt)
	}
}
