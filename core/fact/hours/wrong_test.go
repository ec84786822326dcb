package hours

import (
	"fmt"
	"testing"
	"time"

	"uvent/core/fact/calendar"
)

// What a page has wrong on dates of their own, besides what it has wrong every week.
func TestWrongDates(t *testing.T) {
	day := func(m time.Month, d int) calendar.Date { return calendar.Date{Year: 2026, Month: m, Day: d} }
	from := day(time.November, 20)
	us := calendar.HolidaysOf("US", "WA")
	for _, c := range []struct {
		shown, truth string
		want         string
	}{
		{"Mo-Fr 09:00-18:00", "Mo-Fr 09:00-18:00", "[]"},
		{"Mo-Fr 09:00-18:00", "Mo-Fr 09:00-12:00,13:00-18:00", "[]"}, // counted by the week
		{"Mo-Fr 09:00-18:00", "Mo-Fr 09:00-18:00; 2026 Nov 26 off", "[2026-11-26]"},
		{"Mo-Fr 09:00-18:00; 2026 Nov 26 off", "Mo-Fr 09:00-12:00,13:00-18:00; 2026 Nov 26 off", "[]"},
		{"Mo-Fr 09:00-18:00", "Mo-Fr 09:00-12:00,13:00-18:00; 2026 Nov 26 off", "[2026-11-26]"},
		{"Mo-Fr 09:00-18:00", "Mo-Fr 09:00-18:00; 2026 Nov 28 off", "[]"}, // shut on Saturdays anyway
		{"Mo-Fr 09:00-18:00", "Mo-Fr 09:00-18:00; PH off", "[2026-11-26 2026-11-27 2026-12-25 2027-01-01]"},
		{"Mo-Fr 09:00-18:00; 2026 Nov 26 off; 2026 Nov 27 off; 2026 Dec 25 off; 2027 Jan 01 off", "Mo-Fr 09:00-18:00; PH off", "[]"},
		{"Fr 22:00-24:00; Sa 00:00-03:00", "Fr 22:00-27:00", "[]"},
		{"Fr,Sa 22:00-27:00", "Fr,Sa 22:00-27:00; 2026 Nov 27 off", "[2026-11-27]"}, // the night belongs to the day on which it begins
		{"Fr 20:00-26:00; Sa 10:00-12:00", "Fr 20:00-26:00; Sa 10:00-12:00; 2026 Nov 27-2026 Nov 28 off", "[2026-11-27 2026-11-28]"},
		{"Fr 22:00-24:00; Sa 00:00-03:00; 2026 Nov 27 off", "Fr 22:00-27:00; 2026 Nov 27 off", "[2026-11-28]"}, // the night's end still shows
	} {
		shown, _, err := Parse(c.shown)
		if err != nil {
			t.Fatal(err)
		}
		truth, _, err := Parse(c.truth)
		if err != nil {
			t.Fatal(err)
		}
		if got := fmt.Sprint(WrongDates(shown, truth, from, 45, us)); got != c.want {
			t.Errorf("%s beside %s is wrong on %s, want %s", c.shown, c.truth, got, c.want)
		}
	}
}

// A schedule's usual part says of each weekday what it says, and nothing of dates.
func TestUsual(t *testing.T) {
	for text, want := range map[string]string{
		"Mo-Fr 09:00-18:00; PH off; 2026 Nov 26 off; Jun-Aug Sa 10:00-14:00": "Mo-Fr 09:00-18:00",
		"Mo-Fr,PH 09:00-18:00":                "Mo-Fr 09:00-18:00",
		`Mo 09:00-12:00; Tu "by appointment"`: `Mo 09:00-12:00; Tu "by appointment"`,
		"24/7; Dec 25 off":                    "24/7",
	} {
		s, _, err := Parse(text)
		if err != nil {
			t.Fatal(err)
		}
		if got := s.Usual().String(); got != want {
			t.Errorf("%s: %s, want %s", text, got, want)
		}
	}
}

func TestASpecialDateIsReduced(t *testing.T) {
	s := Special{Sittings: []Sitting{{540, 720}, {780, 1080}, {1320, 1560}}}
	got := s.Reduce(Ability{SittingsPerDay: 2}).Sittings
	if fmt.Sprint(got) != "[09:00-18:00 22:00-24:00]" || s.Sittings[2].End != 1560 {
		t.Errorf("%v, of %v", got, s.Sittings)
	}
}
