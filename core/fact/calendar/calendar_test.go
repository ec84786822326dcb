package calendar

import (
	"math/rand/v2"
	"testing"
	"time"
)

func zone(t *testing.T, name string) *time.Location {
	t.Helper()
	z, err := time.LoadLocation(name)
	if err != nil {
		t.Fatal(err)
	}
	return z
}

func day(t *testing.T, s string) Date {
	t.Helper()
	d, err := ParseDate(s)
	if err != nil {
		t.Fatal(err)
	}
	return d
}

func TestHolidays(t *testing.T) {
	for _, c := range []struct {
		country, region, date string
		itself, business      bool
	}{
		{"US", "WA", "2026-11-26", true, false},
		{"US", "WA", "2026-11-27", true, false},
		{"US", "", "2026-11-27", false, true},
		{"US", "WA", "2026-10-12", false, true},
		{"US", "", "2026-10-12", true, false},
		{"US", "", "2026-07-04", true, false},
		{"US", "", "2026-07-03", false, false}, // observed
		{"US", "", "2027-12-31", false, false}, // New Year's Day 2028 is a Saturday
		{"CA", "BC", "2026-10-12", true, false},
		{"CA", "BC", "2026-11-11", true, false},
		{"CA", "BC", "2026-11-26", false, true},
		{"CA", "BC", "2026-02-16", true, false},
		{"CA", "BC", "2026-05-18", true, false},
		{"CA", "BC", "2026-08-03", true, false},
		{"CA", "BC", "2026-04-06", false, true},
		{"ca", "bc", "2026-12-25", true, false},
		{"IS", "", "2026-07-14", false, true},
	} {
		h, d := HolidaysOf(c.country, c.region), day(t, c.date)
		if h.On(d) != c.itself || h.Business(d) != c.business {
			t.Errorf("%s in %s %s: holiday %v, business day %v; want %v, %v", c.date, c.country, c.region, h.On(d), h.Business(d), c.itself, c.business)
		}
	}
	if Known("IS") || !Known("us") {
		t.Error("which countries are known is told wrongly")
	}
	if (Holidays{}).On(day(t, "2026-12-25")) {
		t.Error("the zero value has a holiday")
	}
	for _, h := range HolidaysOf("US", "WA").In(2026) {
		if h.Name == "Native American Heritage Day" && h.Date != day(t, "2026-11-27") {
			t.Errorf("it is on %s", h.Date)
		}
	}
}

func TestWindow(t *testing.T) {
	pacific := zone(t, "America/Los_Angeles")
	for _, c := range []struct {
		rule             Rule
		cutOff           int
		from             string
		earliest, latest string
	}{
		{Rule{6, 12, BusinessDays}, 0, "2026-11-24T09:12:00-08:00", "2026-12-03", "2026-12-11"},
		{Rule{1, 1, BusinessDays}, 0, "2026-11-25T09:12:00-08:00", "2026-11-27", "2026-11-27"},
		{Rule{0, 30, Days}, 0, "2026-11-24T09:12:00-08:00", "2026-11-24", "2026-12-24"},
		{Rule{0, 0, BusinessDays}, 0, "2026-11-28T12:00:00-08:00", "2026-11-30", "2026-11-30"},
		{Rule{1, 2, BusinessDays}, 0, "2026-11-28T12:00:00-08:00", "2026-11-30", "2026-12-01"},
		{Rule{1, 2, BusinessDays}, 16, "2026-11-23T15:59:00-08:00", "2026-11-24", "2026-11-25"},
		{Rule{1, 2, BusinessDays}, 16, "2026-11-23T16:00:00-08:00", "2026-11-25", "2026-11-27"},
		{Rule{1, 2, BusinessDays}, 16, "2026-11-20T17:00:00-08:00", "2026-11-24", "2026-11-25"},
		{Rule{1, 2, BusinessDays}, 16, "2026-11-21T17:00:00-08:00", "2026-11-23", "2026-11-24"},
		{Rule{1, 1, Days}, 0, "2026-11-25T03:00:00Z", "2026-11-25", "2026-11-25"}, // still the 24th there
		{Rule{3, 3, BusinessDays}, 0, "2026-12-23T09:00:00-08:00", "2026-12-29", "2026-12-29"},
		{Rule{1, 1, BusinessDays}, 0, "2027-12-30T09:00:00-08:00", "2028-01-03", "2028-01-03"},
	} {
		from, err := time.Parse(time.RFC3339, c.from)
		if err != nil {
			t.Fatal(err)
		}
		place := Place{Zone: pacific, Holidays: HolidaysOf("US", ""), CutOffHour: c.cutOff}
		w := place.Window(c.rule, from)
		if w.Earliest != day(t, c.earliest) || w.Latest != day(t, c.latest) {
			t.Errorf("%+v from %s: %s to %s, want %s to %s", c.rule, c.from, w.Earliest, w.Latest, c.earliest, c.latest)
		}
		for at, want := range map[time.Time]State{
			w.Earliest.In(pacific).Add(-time.Second): Before, w.Earliest.In(pacific): Due,
			place.EndOf(w).Add(-time.Second): Due, place.EndOf(w): Late,
		} {
			if got := place.State(w, at); got != want {
				t.Errorf("%+v from %s, at %s: %s, want %s", c.rule, c.from, at, got, want)
			}
		}
	}
}

func TestWindowLaws(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	place := Place{Zone: zone(t, "America/Los_Angeles"), Holidays: HolidaysOf("US", "WA")}
	start := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	for range 2000 {
		from := start.Add(time.Duration(r.IntN(3*365*24*60)) * time.Minute)
		rule := Rule{Min: r.IntN(10), Unit: BusinessDays}
		rule.Max = rule.Min + r.IntN(10)
		w := place.Window(rule, from)
		if !place.Holidays.Business(w.Earliest) || !place.Holidays.Business(w.Latest) || w.Latest.Before(w.Earliest) {
			t.Fatalf("%+v from %s: %+v", rule, from, w)
		}
		business := 0
		for d := DateOf(from.In(place.Zone)).Add(1); !w.Latest.Before(d); d = d.Add(1) {
			if place.Holidays.Business(d) {
				business++
			}
		}
		if rule.Max > 0 && business != rule.Max {
			t.Fatalf("%+v from %s counts %d business days until %s", rule, from, business, w.Latest)
		}
		if later := place.Window(rule, from.Add(24*time.Hour)); later.Earliest.Before(w.Earliest) {
			t.Fatalf("a day later the window opens earlier: %+v, then %+v", w, later)
		}
	}
}

func TestRuleCheck(t *testing.T) {
	for _, bad := range []Rule{{1, 2, ""}, {1, 2, "weeks"}, {-1, 2, Days}, {3, 2, Days}, {0, 5000, Days}} {
		if bad.Check() == nil {
			t.Errorf("%+v passes", bad)
		}
	}
	if err := (Rule{6, 12, BusinessDays}).Check(); err != nil {
		t.Error(err)
	}
}

func TestAt(t *testing.T) {
	pacific := zone(t, "America/Los_Angeles")
	for _, c := range []struct {
		date   string
		minute int
		want   string
	}{
		{"2026-11-24", 552, "2026-11-24T09:12:00-08:00"},
		{"2026-03-08", 119, "2026-03-08T01:59:00-08:00"},
		{"2026-03-08", 120, "2026-03-08T03:00:00-07:00"},
		{"2026-03-08", 150, "2026-03-08T03:00:00-07:00"},
		{"2026-03-08", 180, "2026-03-08T03:00:00-07:00"},
		{"2026-03-07", 24*60 + 150, "2026-03-08T03:00:00-07:00"},
		{"2026-11-01", 60, "2026-11-01T01:00:00-07:00"},
		{"2026-11-01", 119, "2026-11-01T01:59:00-07:00"},
		{"2026-11-01", 120, "2026-11-01T02:00:00-08:00"},
		{"2026-10-31", 48 * 60, "2026-11-02T00:00:00-08:00"},
	} {
		if got := day(t, c.date).At(c.minute, pacific).Format(time.RFC3339); got != c.want {
			t.Errorf("%s, minute %d: %s, want %s", c.date, c.minute, got, c.want)
		}
	}
	// In São Paulo midnight itself was skipped on 4 November 2018.
	if got := day(t, "2018-11-04").In(zone(t, "America/Sao_Paulo")).Format(time.RFC3339); got != "2018-11-04T01:00:00-02:00" {
		t.Errorf("a skipped midnight is %s", got)
	}
}

func TestDates(t *testing.T) {
	for _, s := range []string{"2026-02-30", "26-1-1", "", "2026-11-24T00:00:00Z"} {
		if d, err := ParseDate(s); err == nil {
			t.Errorf("%q is read as %s", s, d)
		}
	}
	for n := -100000; n < 100000; n += 137 {
		if d := DateNumber(n); d.Number() != n || d.Add(1).Number() != n+1 || !d.Before(d.Add(1)) {
			t.Fatalf("day %d is %s, whose number is %d", n, d, d.Number())
		}
	}
}

// Each country that has a list has public holidays, and its regions those of their own.
func TestPublicHolidaysOfManyCountries(t *testing.T) {
	if n := len(Countries()); n < 30 {
		t.Errorf("%d countries", n)
	}
	for _, c := range Countries() {
		if !Known(c) || KnownIn(c, "") && len(HolidaysOf(c, "").In(2027)) < 5 {
			t.Errorf("%s has %v", c, HolidaysOf(c, "").In(2027))
		}
	}
	for _, c := range []struct {
		country, region string
		date            Date
		is              bool
	}{
		{"DE", "", Date{2027, 10, 3}, true}, {"DE", "BY", Date{2027, 1, 6}, true}, {"DE", "HH", Date{2027, 1, 6}, false}, {"GB", "", Date{2027, 12, 27}, false},
		{"FR", "", Date{2027, 7, 14}, true}, {"AU", "NSW", Date{2027, 1, 26}, true}, {"JP", "", Date{2027, 2, 11}, true}, {"US", "WA", Date{2027, 10, 11}, false}, {"IS", "", Date{2027, 6, 17}, false},
	} {
		if got := HolidaysOf(c.country, c.region).On(c.date); got != c.is {
			t.Errorf("%s-%s %v: %v", c.country, c.region, c.date, got)
		}
	}
	if Known("IS") || KnownIn("AU", "") || !KnownIn("AU", "NSW") || !KnownIn("DE", "BY") {
		t.Error("what is known is not told")
	}
}
