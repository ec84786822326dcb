package fit

import (
	"testing"

	"uvent/core/fact/hours"
	"uvent/core/rule/rulebook"
)

func TestHours(t *testing.T) {
	for _, c := range []struct {
		text string
		able rulebook.Hours
		says string
	}{
		{"Tu-Fr 09:00-12:00,13:00-18:00", rulebook.Hours{SittingsPerDay: 2}, "Takes it as it is."},
		{"Tu-Fr 09:00-12:00,13:00-18:00", rulebook.Hours{SittingsPerDay: 1, PastMidnight: true}, "Takes one sitting a day: 4 hours a week shown open while shut."},
		{"Fr-Sa 18:00-02:00", rulebook.Hours{SittingsPerDay: 1}, "Takes one sitting a day, none past midnight: 2 hours a week shown shut while open."},
		{"Mo 08:00-10:00,10:30-12:00,14:00-18:00", rulebook.Hours{SittingsPerDay: 2, PastMidnight: true}, "Takes 2 sittings a day: 30 min a week shown open while shut."},
		{"24/7", rulebook.Hours{SittingsPerDay: 1}, "Takes it as it is."},
	} {
		s, _, err := hours.Parse(c.text)
		if err != nil {
			t.Fatal(err)
		}
		if got := Hours(s.Week(), rulebook.Rulebook{Hours: c.able}); got.Says != c.says || got.Same() != (c.says == "Takes it as it is.") {
			t.Errorf("%s: %q", c.text, got.Says)
		}
	}
}
