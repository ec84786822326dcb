package hours

import (
	"math/rand/v2"
	"testing"
	"time"

	"uvent/core/fact/calendar"
)

var pacific = func() *time.Location {
	zone, err := time.LoadLocation("America/Los_Angeles")
	if err != nil {
		panic(err)
	}
	return zone
}()

func at(t *testing.T, s string) time.Time {
	t.Helper()
	v, err := time.Parse(time.RFC3339, s)
	if err != nil {
		t.Fatal(err)
	}
	return v
}

func local(t *testing.T, text string) *Local {
	t.Helper()
	s, _, err := Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	return s.In(pacific, calendar.HolidaysOf("US", "WA"))
}

// The nights: clocks go from 02:00 to 03:00 on 8 March 2026 and from 02:00
// back to 01:00 on 1 November 2026.
func TestOpenAndNextChange(t *testing.T) {
	for _, c := range []struct {
		text, at string
		open     bool
		next     string // empty: never
	}{
		{"24/7", "2026-11-24T09:12:00-08:00", true, ""},
		{"off", "2026-11-24T09:12:00-08:00", false, ""},
		{`"by appointment"`, "2026-11-24T09:12:00-08:00", false, ""},
		{"Tu-Fr 09:00-12:00,13:00-18:00", "2026-11-24T09:12:00-08:00", true, "2026-11-24T12:00:00-08:00"},
		{"Tu-Fr 09:00-12:00,13:00-18:00", "2026-11-24T12:00:00-08:00", false, "2026-11-24T13:00:00-08:00"},
		{"Tu-Fr 09:00-12:00,13:00-18:00", "2026-11-24T11:59:59-08:00", true, "2026-11-24T12:00:00-08:00"},
		{"Tu-Fr 09:00-12:00,13:00-18:00", "2026-11-27T18:00:00-08:00", false, "2026-12-01T09:00:00-08:00"},
		{"Tu-Fr 09:00-18:00", "2026-11-24T17:12:00Z", true, "2026-11-24T18:00:00-08:00"},
		// a holiday, its eve, and the day after, which Washington keeps too
		{"Mo-Fr 09:00-17:00; PH off", "2026-11-25T20:00:00-08:00", false, "2026-11-30T09:00:00-08:00"},
		{"Mo-Fr 09:00-17:00; PH 10:00-12:00", "2026-11-26T10:30:00-08:00", true, "2026-11-26T12:00:00-08:00"},
		{"PH 10:00-12:00", "2026-11-27T12:00:00-08:00", false, "2026-12-25T10:00:00-08:00"},
		{"Mo-Fr 09:00-17:00; 2026 Nov 27 10:00-16:00", "2026-11-27T09:30:00-08:00", false, "2026-11-27T10:00:00-08:00"},
		{"24/7; Dec 25 off", "2026-11-24T09:00:00-08:00", true, "2026-12-25T00:00:00-08:00"},
		{"24/7; Dec 25 off", "2026-12-25T09:00:00-08:00", false, "2026-12-26T00:00:00-08:00"},
		{"24/7; 2026 Dec 25 off", "2027-01-01T09:00:00-08:00", true, ""},
		{"Feb 29 10:00-12:00", "2028-03-01T00:00:00-08:00", false, "2032-02-29T10:00:00-08:00"},
		// past midnight: the sitting belongs to the date it starts on
		{"Fr 22:00-02:00", "2026-11-28T01:59:00-08:00", true, "2026-11-28T02:00:00-08:00"},
		{"Fr 22:00-02:00; Sa off", "2026-11-28T01:00:00-08:00", true, "2026-11-28T02:00:00-08:00"},
		{"Fr 22:00-02:00", "2026-11-27T01:00:00-08:00", false, "2026-11-27T22:00:00-08:00"},
		{"Su 22:00-26:00", "2026-11-30T01:00:00-08:00", true, "2026-11-30T02:00:00-08:00"},
		{"Sa 10:00-36:00", "2026-11-29T11:00:00-08:00", true, "2026-11-29T12:00:00-08:00"},
		{"Su 20:00-24:00; Mo 00:00-06:00", "2026-11-29T23:00:00-08:00", true, "2026-11-30T06:00:00-08:00"},
		{"Mo-Su 00:00-12:00,12:00-24:00", "2026-11-29T23:00:00-08:00", true, ""},
		// spring: an hour is skipped
		{"Sa 22:00-03:00", "2026-03-08T01:59:59-08:00", true, "2026-03-08T03:00:00-07:00"},
		{"Sa 22:00-02:30", "2026-03-08T01:00:00-08:00", true, "2026-03-08T03:00:00-07:00"},
		{"Su 02:30-06:00", "2026-03-08T01:00:00-08:00", false, "2026-03-08T03:00:00-07:00"},
		{"Su 02:30-06:00", "2026-03-08T03:10:00-07:00", true, "2026-03-08T06:00:00-07:00"},
		{"Su 02:10-02:50", "2026-03-08T01:00:00-08:00", false, "2026-03-15T02:10:00-07:00"},
		{"Su 00:00-06:00", "2026-03-07T23:00:00-08:00", false, "2026-03-08T00:00:00-08:00"},
		{"Su 09:00-17:00", "2026-03-08T00:30:00-08:00", false, "2026-03-08T09:00:00-07:00"},
		{"Mo 09:00-17:00", "2026-03-07T09:00:00-08:00", false, "2026-03-09T09:00:00-07:00"},
		// autumn: an hour comes twice
		{"Sa 22:00-03:00", "2026-11-01T01:30:00-08:00", true, "2026-11-01T03:00:00-08:00"},
		{"Sa 22:00-03:00", "2026-11-01T01:30:00-07:00", true, "2026-11-01T03:00:00-08:00"},
		{"Sa 22:00-01:30", "2026-11-01T01:29:00-07:00", true, "2026-11-01T01:30:00-07:00"},
		{"Sa 22:00-01:30", "2026-11-01T01:10:00-08:00", false, "2026-11-07T22:00:00-08:00"},
		{"Su 01:30-06:00", "2026-11-01T01:10:00-07:00", false, "2026-11-01T01:30:00-07:00"},
		{"Su 01:30-06:00", "2026-11-01T01:10:00-08:00", true, "2026-11-01T06:00:00-08:00"},
		{"Su 02:00-06:00", "2026-11-01T01:59:00-08:00", false, "2026-11-01T02:00:00-08:00"},
		{"Su 09:00-17:00", "2026-10-31T20:00:00-07:00", false, "2026-11-01T09:00:00-08:00"},
	} {
		l, when := local(t, c.text), at(t, c.at)
		if got := l.Open(when); got != c.open {
			t.Errorf("%s at %s: open is %v, want %v", c.text, c.at, got, c.open)
		}
		next, ok := l.Next(when)
		if ok != (c.next != "") || ok && next.Format(time.RFC3339) != c.next {
			t.Errorf("%s after %s: next change %v (%v), want %q", c.text, c.at, next.Format(time.RFC3339), ok, c.next)
		}
	}
}

// The quick way through the week and the long way over dates must agree, at
// every quarter of an hour of both nights and at random.
func TestTheQuickWayAgreesWithTheLongWay(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	starts := []time.Time{at(t, "2026-03-06T00:00:00-08:00"), at(t, "2026-10-30T00:00:00-07:00"), at(t, "2026-06-15T00:00:00-07:00")}
	for range 60 {
		s := Schedule{}.WithWeek(randomWeek(r))
		quick, long := s.In(pacific, calendar.Holidays{}), s.In(pacific, calendar.Holidays{})
		long.flips = nil
		for _, start := range starts {
			for i := range 5 * 96 {
				when := start.Add(time.Duration(i)*15*time.Minute + time.Duration(r.IntN(900))*time.Second)
				if quick.Open(when) != long.Open(when) {
					t.Fatalf("%s at %s: %v the quick way", s, when, quick.Open(when))
				}
				if i%12 > 0 {
					continue
				}
				a, oka := quick.Next(when)
				b, okb := long.Next(when)
				if oka != okb || !a.Equal(b) {
					t.Fatalf("%s after %s: %v the quick way, %v the long way", s, when, a, b)
				}
				if oka && quick.Open(a) == quick.Open(when) {
					t.Fatalf("%s: nothing changes at %s", s, a)
				}
			}
		}
	}
}

func TestStretchForACall(t *testing.T) {
	l := local(t, "Mo-Fr 09:00-12:00,13:00-13:05,14:00-18:00")
	for _, c := range []struct {
		at       string
		minutes  int
		from, to string
	}{
		{"2026-11-24T09:12:00-08:00", 10, "2026-11-24T09:12:00-08:00", "2026-11-24T12:00:00-08:00"},
		{"2026-11-24T11:55:00-08:00", 10, "2026-11-24T14:00:00-08:00", "2026-11-24T18:00:00-08:00"},
		{"2026-11-24T11:50:00-08:00", 10, "2026-11-24T11:50:00-08:00", "2026-11-24T12:00:00-08:00"},
		{"2026-11-27T17:55:00-08:00", 10, "2026-11-30T09:00:00-08:00", "2026-11-30T12:00:00-08:00"},
	} {
		from, to, ok := l.Stretch(at(t, c.at), c.minutes)
		if !ok || !from.Equal(at(t, c.from)) || !to.Equal(at(t, c.to)) {
			t.Errorf("%s: %v to %v (%v), want %s to %s", c.at, from, to, ok, c.from, c.to)
		}
	}
	if _, _, ok := local(t, "Mo 09:00-09:05").Stretch(at(t, "2026-11-24T09:12:00-08:00"), 10); ok {
		t.Error("five minutes were enough for ten")
	}
	if _, _, ok := local(t, "24/7").Stretch(at(t, "2026-11-24T09:12:00-08:00"), 10); !ok {
		t.Error("round the clock has no time for a call")
	}
}

func TestMinutes(t *testing.T) {
	for text, want := range map[string]int{
		"24/7":                           WeekMinutes,
		"off":                            0,
		"Tu-Fr 09:00-12:00,13:00-18:00":  4 * 8 * 60,
		"Su 22:00-02:00; Mo 01:00-03:00": 5 * 60,
		"Mo-Su 00:00-24:00; We off":      6 * DayMinutes,
		"Mo 18:00-24:00; Tu 00:00-02:00": 8 * 60,
		"Mo-Fr 09:00-17:00; Dec off":     5 * 8 * 60,
	} {
		s, _, err := Parse(text)
		if err != nil {
			t.Fatal(err)
		}
		if got := s.Week().Minutes(); got != want {
			t.Errorf("%s: %d minutes a week, want %d", text, got, want)
		}
	}
	l := local(t, "Sa 22:00-06:00")
	for _, c := range []struct {
		from, to string
		want     int
	}{
		{"2026-03-02T00:00:00-08:00", "2026-03-09T00:00:00-07:00", 7 * 60}, // an hour is skipped
		{"2026-10-26T00:00:00-07:00", "2026-11-02T00:00:00-08:00", 9 * 60}, // an hour comes twice
		{"2026-11-16T00:00:00-08:00", "2026-11-23T00:00:00-08:00", 8 * 60},
		{"2026-11-16T00:00:00-08:00", "2026-12-21T00:00:00-08:00", 5 * 8 * 60},
	} {
		if got := l.OpenMinutes(at(t, c.from), at(t, c.to)); got != c.want {
			t.Errorf("%s to %s: %d minutes, want %d", c.from, c.to, got, c.want)
		}
	}
}

func TestCompare(t *testing.T) {
	week := func(text string) Week {
		s, _, err := Parse(text)
		if err != nil {
			t.Fatal(err)
		}
		return s.Week()
	}
	d := Compare(week("Tu-Fr 09:00-18:00; Sa 09:00-16:00"), week("Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00"))
	if d.OpenWhileShut != 240 || d.ShutWhileOpen != 0 || d.Shown[1][0] != (Sitting{720, 780}) {
		t.Errorf("a lost lunch break: %+v, want 240 minutes open while shut, Tuesday 12–13", d)
	}
	d = Compare(week("Fr 22:00-24:00"), week("Fr 22:00-02:00"))
	if d.ShutWhileOpen != 120 || len(d.Hidden[4]) != 0 || d.Hidden[5][0] != (Sitting{0, 120}) {
		t.Errorf("a sitting cut at midnight: %+v, want 120 minutes shut while open, on Saturday", d)
	}
	r := rand.New(rand.NewPCG(5, 6))
	for range 500 {
		a, b := randomWeek(r), randomWeek(r)
		d, back := Compare(a, b), Compare(b, a)
		if d.OpenWhileShut != back.ShutWhileOpen || d.ShutWhileOpen != back.OpenWhileShut {
			t.Fatalf("%v and %v differ by %+v one way and %+v the other", a, b, d, back)
		}
		if a.Minutes()-b.Minutes() != d.OpenWhileShut-d.ShutWhileOpen {
			t.Fatalf("%v against %v: %+v does not add up", a, b, d)
		}
		if same := Compare(a, a); same.OpenWhileShut+same.ShutWhileOpen != 0 {
			t.Fatalf("%v differs from itself by %+v", a, same)
		}
	}
}

func TestWords(t *testing.T) {
	for text, want := range map[string]string{
		"Tu-Fr 09:00-12:00,13:00-18:30; Sa 09:00-16:00": "Tue–Fri 9–12, 13–18:30; Sat 9–16",
		"24/7":                          "round the clock",
		"Mo-Su 08:00-22:00; PH off":     "every day 8–22; public holidays closed",
		"Fr,Sa 22:00-02:00":             "Fri, Sat 22–2",
		`2026 Dec 24 off "stocktaking"`: "Thu 24 Dec 2026 closed stocktaking",
		`Su "by appointment"`:           "Sun by appointment",
	} {
		s, _, err := Parse(text)
		if err != nil {
			t.Fatal(err)
		}
		if got := s.Words(); got != want {
			t.Errorf("%s: %q, want %q", text, got, want)
		}
	}
}

func BenchmarkParse(b *testing.B) {
	b.ReportAllocs()
	for b.Loop() {
		if _, _, err := Parse("Tu-Fr 09:00-12:00,13:00-18:00; Th 09:00-12:00,13:00-20:00; Sa 09:00-16:00"); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkOpen(b *testing.B) { benchmarkAsk(b, func(l *Local, t time.Time) { l.Open(t) }) }

func BenchmarkNextChange(b *testing.B) { benchmarkAsk(b, func(l *Local, t time.Time) { l.Next(t) }) }

func benchmarkAsk(b *testing.B, ask func(*Local, time.Time)) {
	for name, text := range map[string]string{
		"week":  "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00",
		"dates": "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00; PH off; 2026 Dec 24-26 off",
	} {
		b.Run(name, func(b *testing.B) {
			s, _, err := Parse(text)
			if err != nil {
				b.Fatal(err)
			}
			l := s.In(pacific, calendar.HolidaysOf("US", "WA"))
			start := time.Date(2026, 11, 24, 9, 12, 0, 0, pacific)
			b.ReportAllocs()
			for i := 0; b.Loop(); i++ {
				ask(l, start.Add(time.Duration(i%4096)*7*time.Minute))
			}
		})
	}
}
