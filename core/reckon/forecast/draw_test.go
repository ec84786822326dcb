package forecast

import (
	"maps"
	"math"
	"reflect"
	"slices"
	"testing"
	"time"

	"uvent/core/fact/calendar"
)

// drawn is how often a step that begins now ends on which day from today, in parts of all.
func drawn(t *testing.T, at time.Time, s Step) map[int]float64 {
	t.Helper()
	const draws = 20000
	listings := make([]Listing, draws)
	for i := range listings {
		listings[i] = Listing{Weight: 1, Steps: []Step{s}}
	}
	out, before := map[int]float64{}, 0.0
	for i, d := range Run(at, listings, 1, 11).Days {
		if d.Likely > before {
			out[i] = d.Likely - before
		}
		before = d.Likely
	}
	return out
}

// A wait ends when its window and its chance say, and as often.
func TestWhenAWaitEnds(t *testing.T) {
	ago := func(days int) time.Time { return now.AddDate(0, 0, -days) }
	evening := time.Date(2026, time.November, 24, 18, 0, 0, 0, pacific)
	silent := func(s Step) Step { s.Silent = true; return s }
	half := Step{Rule: days(4, 4), Place: here, Chance: 0.5}
	late := silent(Step{Rule: days(4, 8), Place: here, Chance: 0.8, Began: ago(6)})
	for _, c := range []struct {
		name string
		now  time.Time
		step Step
		want map[int]float64
		most int // the last day on which it may end; 0: of want
	}{
		// Thursday and Friday are free: what falls on them, or on the weekend, comes on Monday, or
		// when its window ends.
		{"days", now, Step{Rule: days(1, 3), Place: here}, map[int]float64{1: 1. / 3, 3: 2. / 3}, 0},
		{"business days", now, Step{Rule: post(1, 3), Place: here}, map[int]float64{1: 1. / 7, 6: 5. / 7, 7: 1. / 7}, 0},
		{"asked in the evening", evening, Step{Rule: post(1, 1), Place: here}, map[int]float64{6: 1}, 0},
		{"under way", now, Step{Rule: days(2, 4), Place: here, Began: ago(3)}, map[int]float64{0: 0.5, 1: 0.5}, 0},
		{"its last day", now, Step{Rule: days(2, 4), Place: here, Began: ago(4)}, map[int]float64{0: 1}, 0},
		{"late, and any day now", now, Step{Rule: days(2, 4), Place: here, Began: ago(5)}, map[int]float64{1: 0.2, 2: 0.2, 3: 0.2, 4: 0.2, 5: 0.2}, 0},
		{"at once", now, Step{}, map[int]float64{0: 1}, 0},
		{"now and then", now, Step{Rule: days(6, 6), Place: here, Maybe: 0.25}, map[int]float64{0: 0.75, 6: 0.25}, 0},
		// A no is heard on the day on which a yes would be; silence is known only a day later.
		{"a no", now, half, map[int]float64{4: 0.5, 8: 0.25, 12: 0.125}, 4 * mostTries},
		{"silence", now, silent(half), map[int]float64{4: 0.5, 9: 0.25, 14: 0.125}, 5 * mostTries},
		// Three of its five days are left: 0.8 × 3/5 against 0.2 that it is lost.
		{"not come so far", now, late, map[int]float64{0: 0.2353, 1: 0.2353, 2: 0.2353}, 60},
		{"never", now, Step{Rule: days(200, 200), Place: here, Chance: 1e-9}, map[int]float64{mostDays: 1}, 0},
	} {
		got := drawn(t, c.now, c.step)
		for day, share := range c.want {
			if math.Abs(got[day]-share) > 0.015 {
				t.Errorf("%s: on day %d %.3f of all, want %.3f", c.name, day, got[day], share)
			}
		}
		most := slices.Max(slices.Collect(maps.Keys(c.want)))
		if last := slices.Max(slices.Collect(maps.Keys(got))); last > max(most, c.most) || c.most == 0 && len(got) != len(c.want) {
			t.Errorf("%s: %v, want %v, the last on day %d", c.name, got, c.want, max(most, c.most))
		}
	}
}

// What holds back the last listing is what took it longest, needs first.
func TestWhatHoldsItBack(t *testing.T) {
	step := func(name string, n int) Step { return Step{Name: name, Rule: days(n, n), Place: here} }
	for _, c := range []struct {
		needs, steps []Step
		held         string
		ends         int
	}{
		{[]Step{step("a photo", 2), step("a number", 5)}, []Step{step("a card", 3)}, "a number", 8},
		{[]Step{step("a photo", 5), step("a number", 5)}, []Step{step("a card", 5)}, "a photo", 10},
		{[]Step{step("a photo", 2)}, []Step{step("a card", 3), step("its showing", 4)}, "its showing", 9},
		{nil, []Step{step("a card", 4), step("its showing", 4)}, "a card", 8},
	} {
		f := Run(now, []Listing{{Weight: 1, Needs: c.needs, Steps: c.steps}}, 1, 1)
		if len(f.Holds) != 1 || f.Holds[0].Name != c.held || f.Holds[0].Share != 1 || f.All.Sure != today.Add(c.ends) {
			t.Errorf("%+v, want %s and day %d", f, c.held, c.ends)
		}
	}
	// Of two that end on one day the first; and half of the weight is there with the first of two.
	f := Run(now, []Listing{{Weight: 1, Steps: []Step{step("the first", 9)}}, {Weight: 1, Steps: []Step{step("the second", 9)}}}, 1, 1)
	if f.Holds[0].Name != "the first" || f.Holds[0].Listing != 0 {
		t.Errorf("%+v", f.Holds)
	}
	f = Run(now, []Listing{{Weight: 1, Steps: []Step{step("a", 2)}}, {Weight: 1, Steps: []Step{step("b", 9)}}}, 1, 1)
	if f.Half.Likely != today.Add(2) || f.All.Likely != today.Add(9) || len(f.Days) != 9+3+1 || f.Days[12].Date != today.Add(12) {
		t.Errorf("%+v", f)
	}
	if f.Days[1].Likely != 0 || f.Days[2].Likely != 0.5 || f.Days[8].High != 0.5 || f.Days[9].Low != 1 {
		t.Errorf("%+v", f.Days)
	}
	// What is done for one is done for the other, not sooner than it gets there.
	shared := step("a stamp", 3)
	shared.Shared = "stamp"
	f = Run(now, []Listing{{Weight: 1, Steps: []Step{shared}}, {Weight: 1, Steps: []Step{step("a card", 5), shared}}}, 1, 1)
	if f.Listings[0].Sure != today.Add(3) || f.Listings[1].Sure != today.Add(5) {
		t.Errorf("%+v", f.Listings)
	}
}

func TestHoldsAreAddedUp(t *testing.T) {
	shared, own := Step{Name: "a number", Shared: "number"}, Step{Name: "a card"}
	listings := []Listing{{Needs: []Step{shared}, Steps: []Step{own}}, {Needs: []Step{shared}, Steps: []Step{own}}, {Steps: []Step{own}}}
	got := holds(listings, map[[2]int]int{{1, 0}: 3, {0, 0}: 1, {0, 1}: 4, {1, 1}: 2, {2, 0}: 2, {1, 2}: 5}, 16)
	want := []Hold{
		{"a card", 0, 1, 4. / 16}, {"a number", 0, 2, 4. / 16}, {"a card", 1, 1, 2. / 16}, {"a card", 2, 1, 2. / 16},
	}
	if !reflect.DeepEqual(got, want) {
		t.Errorf("%+v, want %+v", got, want)
	}
	for _, c := range []struct {
		share float64
		want  int
	}{{0, 1}, {0.5, 6}, {0.9, 10}, {1, 10}} {
		if got := quantile([]int{10, 9, 8, 7, 6, 5, 4, 3, 2, 1}, c.share); got != c.want {
			t.Errorf("%v of ten: %d, want %d", c.share, got, c.want)
		}
	}
}

// Where the days are counted is told by the first step that says; else it is UTC.
func TestWhereDaysAreCounted(t *testing.T) {
	elsewhere := calendar.Place{Zone: time.FixedZone("far", 14*3600)}
	if got := zoneOf([]Listing{{Steps: []Step{{}, {Place: elsewhere}}}, {Steps: []Step{{Place: here}}}}); got != elsewhere.Zone {
		t.Errorf("%v", got)
	}
	if got := zoneOf([]Listing{{Steps: []Step{{}}}}); got != time.UTC {
		t.Errorf("%v", got)
	}
}
