package forecast

import (
	"math"
	"reflect"
	"testing"
	"time"

	"uvent/core/fact/calendar"
)

var (
	pacific = func() *time.Location {
		zone, err := time.LoadLocation("America/Los_Angeles")
		if err != nil {
			panic(err)
		}
		return zone
	}()
	here  = calendar.Place{Zone: pacific, Holidays: calendar.HolidaysOf("US", "WA"), CutOffHour: 17}
	now   = time.Date(2026, time.November, 24, 9, 12, 0, 0, pacific)
	today = calendar.Date{Year: 2026, Month: time.November, Day: 24}
)

func days(from, to int) calendar.Rule { return calendar.Rule{Min: from, Max: to, Unit: calendar.Days} }

func post(from, to int) calendar.Rule {
	return calendar.Rule{Min: from, Max: to, Unit: calendar.BusinessDays}
}

func TestWhatIsCertainIsToldExactly(t *testing.T) {
	// Three business days from Tuesday, over Thanksgiving and the Friday after it.
	f := Run(now, []Listing{{Weight: 100, Steps: []Step{{Name: "a card", Rule: post(3, 3), Place: here}}}}, 50, 1)
	if want := (calendar.Date{Year: 2026, Month: time.December, Day: 1}); f.All.Likely != want || f.All.Sure != want || f.Half.Likely != want {
		t.Errorf("%+v, want %v", f, want)
	}
	// One after another, and what is under way counts from when it began.
	f = Run(
		now,
		[]Listing{{Weight: 1, Steps: []Step{{Name: "a", Rule: days(5, 5), Place: here, Began: now.AddDate(0, 0, -2)}, {Name: "b", Rule: days(4, 4), Place: here}}}},
		50,
		1,
	)
	if want := today.Add(7); f.All.Sure != want || f.Listings[0].Likely != want {
		t.Errorf("%+v, want %v", f.All, want)
	}
	// Side by side, and what is shared happens once.
	number := Step{Name: "the number", Rule: days(3, 30), Place: here, Shared: "number"}
	f = Run(now, []Listing{{Weight: 1, Needs: []Step{number, {Name: "a photo", Rule: days(2, 2), Place: here}}}, {Weight: 1, Needs: []Step{number}}}, 400, 1)
	if f.Listings[0] != f.Listings[1] || len(f.Holds) != 1 || f.Holds[0].Waiting != 2 || f.Holds[0].Name != "the number" || f.Holds[0].Share != 1 {
		t.Errorf("%+v", f)
	}
	if f := Run(now, nil, 100, 1); len(f.Days) != 0 {
		t.Errorf("%+v of nothing", f)
	}
}

func TestLaws(t *testing.T) {
	listings := []Listing{
		{Weight: 100, Steps: []Step{{Name: "post", Rule: post(6, 12), Place: here, Chance: 0.8, Silent: true}, {Name: "showing", Rule: post(1, 3), Place: here}}},
		{
			Weight: 54,
			Steps:  []Step{{Name: "review", Rule: post(2, 8), Place: here, Chance: 0.5}, {Name: "a second look", Rule: post(2, 6), Place: here, Maybe: 0.25}},
		},
		{Weight: 72, Steps: []Step{{Name: "showing", Rule: post(1, 9), Place: here, Began: now.AddDate(0, 0, -4)}}},
		{Weight: 9},
	}
	f := Run(now, listings, 2000, 7)
	if !reflect.DeepEqual(f, Run(now, listings, 2000, 7)) {
		t.Error("the same seed draws another forecast")
	}
	for i, d := range f.Days {
		if d.Low > d.Likely || d.Likely > d.High || d.High > 1+1e-9 || i > 0 && (d.Low < f.Days[i-1].Low || d.High < f.Days[i-1].High) || d.Date != today.Add(i) {
			t.Fatalf("day %d: %+v after %+v", i, d, f.Days[max(0, i-1)])
		}
	}
	if first := f.Days[0]; math.Abs(first.Low-9.0/235) > 1e-9 {
		t.Errorf("what waits for nothing is public today: %+v", first)
	}
	if last := f.Days[len(f.Days)-1]; last.Likely < 1-1e-9 {
		t.Errorf("%+v on the last day", last)
	}
	share := 0.0
	for i, h := range f.Holds {
		share += h.Share
		if i > 0 && h.Share > f.Holds[i-1].Share {
			t.Error("the weightiest hold is not first")
		}
	}
	if share > 1+1e-9 || f.Half.Likely.Compare(f.All.Likely) > 0 || f.All.Likely.Compare(f.All.Sure) > 0 {
		t.Errorf("%v, %+v, %+v", share, f.Half, f.All)
	}
	// A chance that is less makes nothing sooner; more weight elsewhere changes no date.
	worse := []Listing{listings[0]}
	worse[0].Steps = append([]Step{}, listings[0].Steps...)
	worse[0].Steps[0].Chance = 0.4
	if a, b := Run(now, listings[:1], 2000, 7), Run(now, worse, 2000, 7); b.All.Sure.Before(a.All.Sure) || !a.All.Sure.Before(b.All.Sure) {
		t.Errorf("%v with a good chance, %v with a bad one", a.All, b.All)
	}
}

// What has not come yet is the likelier to be lost, and once its window has passed it is.
func TestWhatIsLateIsLost(t *testing.T) {
	of := func(since int) Span {
		return Run(
			now,
			[]Listing{{Weight: 1, Steps: []Step{{Name: "post", Rule: days(4, 8), Place: here, Chance: 0.8, Silent: true, Began: now.AddDate(0, 0, -since)}}}},
			4000,
			3,
		).All
	}
	if s := of(9); s.Likely.Before(today.Add(4)) {
		t.Errorf("a card whose window has passed comes on %v all the same", s.Likely)
	}
	if s := of(7); s.Likely.Before(today.Add(1)) || today.Add(12).Before(s.Likely) {
		t.Errorf("a card on its last but one day: %+v", s)
	}
	if s := of(0); s.Likely != today.Add(6) && s.Likely != today.Add(7) {
		t.Errorf("a fresh card: %+v", s)
	}
}

func BenchmarkRun(b *testing.B) {
	var listings []Listing
	for range 150 {
		listings = append(
			listings,
			Listing{
				Weight: 40,
				Steps:  []Step{{Name: "post", Rule: post(6, 12), Place: here, Chance: 0.8, Silent: true}, {Name: "showing", Rule: post(1, 3), Place: here}},
			},
		)
	}
	for b.Loop() {
		Run(now, listings, 2000, 1)
	}
}
