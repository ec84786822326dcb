package fit

import (
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
)

// What a directory shows of hours, and what that costs.
func TestHours(t *testing.T) {
	one, late := rulebook.Hours{SittingsPerDay: 1}, rulebook.Hours{SittingsPerDay: 2, PastMidnight: true}
	plain, dated, single := []rulebook.Fact{
		{Fact: "hours"},
	}, []rulebook.Fact{
		{Fact: "hours"},
		{Fact: "special_dates"},
	}, []rulebook.Fact{
		{Fact: "hours"},
		{Fact: "special_dates", Most: 1},
	}
	for _, c := range []struct {
		text  string
		able  rulebook.Hours
		facts []rulebook.Fact
		mark  compare.Mark
		says  string
		given string
	}{
		{"Tu-Fr 09:00-12:00,13:00-18:00", late, plain, "=", "", "Tu-Fr 09:00-12:00,13:00-18:00"},
		{"Tu-Fr 09:00-12:00,13:00-18:00", one, plain, "≠", "Takes one sitting a day, none past midnight: 4 hours a week shown open while shut.", "Tu-Fr 09:00-18:00"},
		{"Fr-Sa 18:00-02:00", one, plain, "≠", "Takes one sitting a day, none past midnight: 2 hours a week shown shut while open.", "Fr,Sa 18:00-24:00; Su 00:00-02:00"},
		{"24/7", one, plain, "=", "", "24/7"},
		{"Mo-Fr 09:00-18:00; 2026 Nov 26 off", late, dated, "=", "", "Mo-Fr 09:00-18:00; 2026 Nov 26 off"},
		{
			"Mo-Fr 09:00-18:00; 2026 Nov 26 off",
			late,
			plain,
			"≠",
			"Wrong on 1 day of the next twelve months: Thu 26 Nov.",
			"Mo-Fr 09:00-18:00",
		},
		{
			"Mo-Fr 09:00-18:00; 2026 Nov 26 off; 2027 Jan 04 10:00-12:00",
			late,
			single,
			"≠",
			"Wrong on 1 day of the next twelve months: Mon 4 Jan 2027.",
			"Mo-Fr 09:00-18:00; 2026 Nov 26 off",
		},
		{"Mo-Fr 09:00-18:00; 2026 Nov 26 off; 2027 Jan 04 10:00-12:00", rulebook.Hours{FreeText: true}, plain, "=", "", "Mo-Fr 09:00-18:00; 2026 Nov 26 off; 2027 Jan 04 10:00-12:00"},
		{"Mo-Fr 09:00-18:00; 2026 Nov 02 off", late, plain, "=", "", "Mo-Fr 09:00-18:00"}, // past
		{
			"Mo-Fr 09:00-18:00; Jul-Aug off",
			late,
			dated,
			"≠",
			"Wrong on 44 days of the next twelve months: Thu 1 Jul 2027, Fri 2 Jul 2027, Mon 5 Jul 2027, and 41 more.",
			"Mo-Fr 09:00-18:00",
		},
		// By their rule, public holidays go as dates until the end of next year; on others it is shut anyway.
		{"Fr 09:00-18:00; PH off", late, dated, "=", "", "Fr 09:00-18:00; 2026 Nov 27 off; 2026 Dec 25 off; 2027 Jan 01 off; 2027 Nov 26 off"},
		{
			"Fr 09:00-18:00; PH off",
			late,
			plain,
			"≠",
			"Wrong on 3 days of the next twelve months: Fri 27 Nov, Fri 25 Dec, Fri 1 Jan 2027.",
			"Fr 09:00-18:00",
		},
		{"Mo-Fr 09:00-12:00,13:00-18:00; 2026 Nov 26 10:00-11:00,12:00-13:00", rulebook.Hours{SittingsPerDay: 1, PastMidnight: true}, dated, "≠", "Thu 26 Nov.", "Mo-Fr 09:00-18:00; 2026 Nov 26 10:00-13:00"},
	} {
		s := Read(record.Record{Hours: c.text, Address: address.Address{Country: "US", Region: "WA"}}, nil, now)
		i, _ := s.Hours(&rulebook.Rulebook{ID: "pierbook", Weight: 50, Hours: c.able, Facts: c.facts})
		if given := i.Value.Data["hours"]; i.Mark != c.mark || !strings.Contains(i.Says, c.says) || (c.says == "") != (i.Says == "") || given != c.given {
			t.Errorf("%s: %s %q, given %q", c.text, i.Mark, i.Says, given)
		}
		if (i.Mark == compare.Unequal) != (i.Cost.People > 0) || (i.Mark == compare.Unequal) != (i.Cost.OpenWhileShut+i.Cost.ShutWhileOpen+len(i.Cost.Days) > 0) {
			t.Errorf("%s: %s, at a cost of %+v", c.text, i.Mark, i.Cost)
		}
	}
}
