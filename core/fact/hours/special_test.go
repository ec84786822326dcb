package hours

import (
	"math/rand/v2"
	"testing"

	"uvent/core/fact/calendar"
)

func parsed(t *testing.T, text string) Schedule {
	t.Helper()
	s, _, err := Parse(text)
	if err != nil {
		t.Fatalf("%s: %v", text, err)
	}
	return s
}

func date(t *testing.T, s string) calendar.Date {
	t.Helper()
	d, err := calendar.ParseDate(s)
	if err != nil {
		t.Fatal(err)
	}
	return d
}

func TestSpecialDates(t *testing.T) {
	short := []Sitting{{600, 960}}
	for _, c := range []struct {
		before, from, to string
		sittings         []Sitting
		after            string
	}{
		{"Mo-Fr 09:00-17:00", "2026-11-26", "2026-11-26", nil, "Mo-Fr 09:00-17:00; 2026 Nov 26 off"},
		{"Mo-Fr 09:00-17:00; PH off", "2026-11-27", "2026-11-27", short, "Mo-Fr 09:00-17:00; PH off; 2026 Nov 27 10:00-16:00"},
		{"Mo-Fr 09:00-17:00; 2026 Dec 24-26 off", "2026-11-27", "2026-11-27", short, "Mo-Fr 09:00-17:00; 2026 Nov 27 10:00-16:00; 2026 Dec 24-26 off"},
		{"Mo-Fr 09:00-17:00; 2026 Dec 24-26 off", "2026-12-25", "2026-12-25", short, "Mo-Fr 09:00-17:00; 2026 Dec 24,2026 Dec 26 off; 2026 Dec 25 10:00-16:00"},
		{"Mo-Fr 09:00-17:00; 2026 Dec 24-26 off", "2026-12-20", "2026-12-31", short, "Mo-Fr 09:00-17:00; 2026 Dec 20-31 10:00-16:00"},
		{"Mo-Fr 09:00-17:00; 2026 Dec 24 off", "2026-12-24", "2027-01-02", nil, "Mo-Fr 09:00-17:00; 2026 Dec 24-2027 Jan 02 off"},
		{"Mo-Fr 08:00-12:00, We 14:00-18:00", "2026-11-26", "2026-11-26", nil, "Mo-Fr 08:00-12:00, We 14:00-18:00; 2026 Nov 26 off"},
		{"Jun-Aug 08:00-20:00; Dec 25 off", "2026-12-25", "2026-12-25", short, "Jun-Aug 08:00-20:00; Dec 25 off; 2026 Dec 25 10:00-16:00"},
	} {
		got := parsed(t, c.before).WithSpecial(Special{From: date(t, c.from), To: date(t, c.to), Sittings: c.sittings})
		if got.String() != c.after {
			t.Errorf("%s with %s to %s is %q, want %q", c.before, c.from, c.to, got, c.after)
		}
		if back := parsed(t, got.String()); back.String() != got.String() {
			t.Errorf("%s reads back as %s", got, back)
		}
	}
	s := parsed(t, "Mo-Fr 09:00-17:00; 2026 Nov 26 off; 2026 Dec 24-26 10:00-14:00; Dec 31 off")
	if list := s.Specials(); len(list) != 2 || list[0].From != date(t, "2026-11-26") || len(list[0].Sittings) != 0 || list[1].To != date(t, "2026-12-26") {
		t.Errorf("%+v", list)
	}
	if out := s.WithoutSpecial(
		date(t, "2026-12-25"),
		date(t, "2026-12-25"),
	); out.String() != "Mo-Fr 09:00-17:00; 2026 Nov 26 off; 2026 Dec 24,2026 Dec 26 10:00-14:00; Dec 31 off" {
		t.Errorf("%s", out)
	}
}

// Whatever was said before, special dates hold on just their days, and taking
// them out again leaves what was said of no date by name.
func TestSpecialDatesHoldOnTheirDaysAlone(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 11))
	begin := date(t, "2026-11-01")
	day := func() calendar.Date { return begin.Add(r.IntN(120)) }
	for range 2000 {
		s := parsed(t, []string{"Mo-Fr 09:00-17:00", "24/7", "Mo-Fr 08:00-12:00, We 14:00-18:00; PH off", "Fr,Sa 18:00-02:00; Dec 24 off"}[r.IntN(4)])
		for range r.IntN(4) {
			from := day()
			s = s.WithSpecial(Special{From: from, To: from.Add(r.IntN(5)), Sittings: [][]Sitting{nil, {{600, 720}}}[r.IntN(2)]})
		}
		from := day()
		sp := Special{From: from, To: from.Add(r.IntN(6)), Sittings: []Sitting{{660, 900}, {960, 1560}}}
		with := s.WithSpecial(sp)
		if again := with.WithSpecial(sp); again.String() != with.String() {
			t.Fatalf("twice: %s, then %s", with, again)
		}
		for d := begin.Add(-3); d.Before(begin.Add(130)); d = d.Add(1) {
			got, want := with.On(d, calendar.Holidays{}), s.On(d, calendar.Holidays{})
			if sp.covers(d) {
				want = sp.Sittings
			}
			if SittingsWords(got) != SittingsWords(want) {
				t.Fatalf("%s\nwith %s to %s on %s: %s, want %s\n%s", s, sp.From, sp.To, d, SittingsWords(got), SittingsWords(want), with)
			}
		}
		none := with.WithoutSpecial(begin.Add(-10), begin.Add(200))
		if len(none.Specials()) != 0 {
			t.Fatalf("%s still names dates", none)
		}
	}
}

func TestHolidaysStandUndecided(t *testing.T) {
	washington := calendar.HolidaysOf("US", "WA")
	from := date(t, "2026-11-24")
	list := parsed(t, "Tu-Sa 09:00-18:00; 2026 Nov 26 off").Holidays(from, washington)
	if len(list) < 10 || list[0].Name != "Thanksgiving Day" || !list[0].Decided || len(list[0].Sittings) != 0 {
		t.Fatalf("%+v", list)
	}
	if next := list[1]; next.Date != date(t, "2026-11-27") || next.Decided || SittingsWords(next.Sittings) != "9–18" {
		t.Errorf("the day after is %+v", next)
	}
	for _, h := range parsed(t, "Tu-Sa 09:00-18:00; PH off").Holidays(from, washington) {
		if !h.Decided || len(h.Sittings) != 0 {
			t.Errorf("PH off leaves %+v", h)
		}
	}
	if last := list[len(list)-1].Date; !last.Before(date(t, "2027-11-24")) {
		t.Errorf("the list runs to %s", last)
	}
	if list := parsed(t, "24/7").Holidays(from, calendar.Holidays{}); list != nil {
		t.Errorf("a country that is not known has %+v", list)
	}
}
