package differences

import (
	"slices"
	"testing"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/rule/rulebook"
)

// The last day to send is counted back in the directory's own business days: in another country another.
func TestTheLastDayToSend(t *testing.T) {
	christmas := calendar.Date{Year: 2026, Month: time.December, Day: 25}
	b := rulebook.Rulebook{Edits: []rulebook.Edit{{Facts: []string{"special_dates"}, Window: calendar.Rule{Min: 1, Max: 3, Unit: calendar.BusinessDays}}}}
	for _, c := range []struct {
		country, region, zone string
		date                  calendar.Date
		want                  string
	}{
		{"US", "WA", "America/Los_Angeles", christmas, "2026-12-21"},
		{"CA", "BC", "America/Vancouver", christmas, "2026-12-21"},
		{"US", "WA", "America/Los_Angeles", calendar.Date{Year: 2026, Month: 12, Day: 1}, "2026-11-23"}, // Thanksgiving and the day after are none
		{"CA", "BC", "America/Vancouver", calendar.Date{Year: 2026, Month: 12, Day: 1}, "2026-11-25"},
		{"US", "WA", "America/Los_Angeles", calendar.Date{Year: 2026, Month: 7, Day: 6}, "2026-06-29"},
		{"CA", "BC", "America/Vancouver", calendar.Date{Year: 2026, Month: 7, Day: 6}, "2026-06-29"}, // Canada Day
	} {
		b.Calendar = rulebook.Calendar{Country: c.country, Region: c.region, Zone: c.zone}
		if got, ok := LastDay(&b, "special_dates", c.date); !ok || got.String() != c.want {
			t.Errorf("%s before %s: %s, %v, want %s", c.country, c.date, got, ok, c.want)
		}
	}
	b.Edits[0].Window = calendar.Rule{Min: 200, Max: 300, Unit: calendar.Days}
	if got, ok := LastDay(&b, "special_dates", christmas); ok {
		t.Errorf("with 300 days it is %s", got)
	}
}

// Whatever is sent on the last day shows in time, and a day later it may not.
func TestTheLastDayIsTheLast(t *testing.T) {
	for i, b := range books(t) {
		for n := range 60 {
			date := calendar.Date{Year: 2026, Month: time.November, Day: 20}.Add(n + i)
			last, ok := LastDay(&b, "special_dates", date)
			if !ok {
				t.Fatalf("%s has no last day", b.ID)
			}
			zone := b.Calendar.Place().Zone
			at := func(d calendar.Date) calendar.Date { return Mended(&b, "special_dates", d.At(noon, zone)).Latest }
			if !at(last).Before(date) ||
				slices.ContainsFunc([]calendar.Date{last.Add(1)}, func(d calendar.Date) bool { return at(d).Before(date) }) && last.Add(1).Before(date) {
				t.Errorf("%s: sent on %s it shows by %s, a day later by %s; wanted before %s", b.ID, last, at(last), at(last.Add(1)), date)
			}
		}
	}
}
