package looking

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"uvent/core/listing/shown"
)

// The world in which schedules are tried is that of the seeded year of the stand-ins: others make five changes a year on a page,
// on average, of three facts that matter. Rates are log-normal with a spread of 1.5 in all: a part of it is the directory's,
// for each fact, and a part the place's, which the public changes often or leaves alone. A directory's weight is that of one
// that ships; there are as many looks a day as look at every page once a week.
const (
	changesAYear = 5
	spread       = 1.5
	spreadPlaces = 1.0 // of that, between places; the rest between directories and facts
)

var (
	weights = []float64{100, 72, 61, 54, 45, 40, 38, 36, 31, 30, 22, 18, 17, 14, 9}
	costs   = []float64{0.5, 0.3, 0.2} // of hours, phone and website
)

type world struct {
	r     *rand.Rand
	of    []int       // the directory of each page
	rates [][]float64 // a day, by page and fact
	cost  [][]float64
	due   [][]float64    // when each fact changes next
	fate  [][]*rand.Rand // of each fact: it changes at the same times whoever looks when
}

func newWorld(pages int, seed uint64) *world {
	w := &world{r: rand.New(rand.NewPCG(seed, 14))}
	between := make([][]float64, len(weights)) // of directories and facts
	for d := range between {
		for range costs {
			between[d] = append(between[d], w.r.NormFloat64()*math.Sqrt(spread*spread-spreadPlaces*spreadPlaces))
		}
	}
	for range pages {
		var rates, cost, due []float64
		var fate []*rand.Rand
		d := w.r.IntN(len(weights))
		weight, place := weights[d], w.r.NormFloat64()*spreadPlaces
		w.of = append(w.of, d)
		for f, c := range costs {
			// The mean of a log-normal lies above its median by the exponential of half its variance.
			rate := math.Exp(between[d][f]+place-spread*spread/2) * changesAYear / 365 / float64(len(costs))
			rates, cost = append(rates, rate), append(cost, c*weight)
			own := rand.New(rand.NewPCG(w.r.Uint64(), 1))
			due, fate = append(due, own.ExpFloat64()/rate), append(fate, own)
		}
		w.rates, w.cost, w.due, w.fate = append(w.rates, rates), append(w.cost, cost), append(w.due, due), append(w.fate, fate)
	}
	return w
}

// look is a look at a page at a time: which facts were seen changed, and what the wrong days since cost. What is seen wrong
// is put right.
func (w *world) look(page int, at float64) (changed []bool, lost float64) {
	for f := range w.due[page] {
		seen := false
		for w.due[page][f] <= at {
			if !seen {
				lost += w.cost[page][f] * (at - w.due[page][f])
			}
			seen = true
			w.due[page][f] += w.fate[page][f].ExpFloat64() / w.rates[page][f]
		}
		changed = append(changed, seen)
	}
	return changed, lost
}

// run looks for some days, with as many looks a day as there are weeks' pages, by a plan of intervals that is made anew every
// week; and says what wrong days cost from a day on.
func (w *world) run(days int, from float64, plan func(day int, seen [][]shown.Seen) []float64) (lost float64, looks int) {
	pages := len(w.rates)
	last, next := make([]float64, pages), make([]float64, pages)
	seen := make([][]shown.Seen, pages)
	for i := range next {
		seen[i] = make([]shown.Seen, len(costs))
		next[i] = 7 * w.r.Float64()
	}
	var intervals []float64
	budget := 0.0
	for day := range days {
		if day%7 == 0 {
			intervals = plan(day, seen)
			for i := range next {
				if day > 0 {
					next[i] = last[i] + intervals[i]
				}
			}
		}
		budget += float64(pages) / 7
		for budget >= 1 {
			// The one that is most overdue, by its own interval; never before it is due on the day.
			best, most := -1, 0.0
			for i := range next {
				if over := (float64(day+1) - next[i]) / max(intervals[i], 0.1); next[i] < float64(day+1) && (best < 0 || over > most) {
					best, most = i, over
				}
			}
			if best < 0 {
				break
			}
			at := max(next[best], float64(day))
			changed, cost := w.look(best, at)
			for f, c := range changed {
				seen[best][f] = seen[best][f].With(at-last[best], c)
			}
			if at >= from {
				lost += cost
				looks++
			}
			last[best], next[best] = at, at+intervals[best]
			budget--
		}
		budget = min(budget, float64(pages)/7)
	}
	for i := range last { // what was not seen by the end is lost up to it
		_, cost := w.look(i, float64(days))
		lost += cost
	}
	return lost, looks
}

// saved is the share of wrong days, at their cost, that a schedule saves against weekly looks: one that learns, and one that
// knows the rates. The first quarter of the time is for learning, for all alike.
func saved(pages, days int, seed uint64) (learning, knowing float64, looks [3]int) {
	var cost [3]float64
	for n, plan := range []func(w *world) func(int, [][]shown.Seen) []float64{
		func(*world) func(int, [][]shown.Seen) []float64 {
			return func(int, [][]shown.Seen) []float64 { return slices.Repeat([]float64{7}, pages) }
		},
		func(w *world) func(int, [][]shown.Seen) []float64 {
			return func(_ int, seen [][]shown.Seen) []float64 {
				list := make([]Page, pages)
				for f := range costs {
					all := make([][]shown.Seen, len(weights))
					for i, d := range w.of {
						all[d] = append(all[d], seen[i][f])
					}
					thought := make([]Belief, len(weights))
					for d := range thought {
						thought[d] = Learned(1.0/120, all[d])
					}
					for i, d := range w.of {
						list[i].Facts = append(list[i].Facts, Fact{Belief: thought[d].After(seen[i][f]), Cost: w.cost[i][f]})
					}
				}
				return Intervals(list, float64(pages)/7)
			}
		},
		func(w *world) func(int, [][]shown.Seen) []float64 {
			list := make([]Page, pages)
			for i := range list {
				for f := range costs {
					list[i].Facts = append(list[i].Facts, Fact{Belief: known(w.rates[i][f]), Cost: w.cost[i][f]})
				}
			}
			known := Intervals(list, float64(pages)/7)
			return func(int, [][]shown.Seen) []float64 { return known }
		},
	} {
		w := newWorld(pages, seed)
		cost[n], looks[n] = w.run(days, float64(days)/4, plan(w))
	}
	return 1 - cost[1]/cost[0], 1 - cost[2]/cost[0], looks
}

// known is the belief of who knows a rate.
func known(r float64) (b Belief) {
	at := math.Log(min(max(r, rarest), quickest)/rarest) / math.Log(quickest/rarest) * (rates - 1)
	low := min(int(at), rates-2)
	b[low], b[low+1] = 1-(at-float64(low)), at-float64(low)
	return b
}

// printSaved says what is saved on average over worlds that are drawn from the first seeds.
func printSaved(t *testing.T, worlds, pages, days int) (mean float64) {
	t.Helper()
	knows := 0.0
	for seed := range uint64(worlds) {
		learning, knowing, looks := saved(pages, days, seed+1)
		fmt.Printf(
			"looks at %d pages for %d days, world %d: the schedule saves %.1f %% of wrong days against weekly looks, knowing the rates would save %.1f %%; %d, %d and %d looks\n",
			pages,
			days,
			seed+1,
			100*learning,
			100*knowing,
			looks[0],
			looks[1],
			looks[2],
		)
		for n := range 2 {
			if looks[n+1] > looks[0]+pages/7+1 {
				t.Errorf("world %d: %d looks, more than the %d of every week", seed+1, looks[n+1], looks[0])
			}
		}
		mean, knows = mean+learning/float64(worlds), knows+knowing/float64(worlds)
	}
	fmt.Printf("looks: the schedule saves %.1f %% of wrong days on average; knowing the rates would save %.1f %%\n", 100*mean, 100*knows)
	return mean
}

// The schedule saves wrong days against weekly looks, with no more looks; how many is proved in many worlds.
func TestTheScheduleSavesWrongDays(t *testing.T) {
	if mean := printSaved(t, 2, 200, 500); mean < 0.2 {
		t.Errorf("it saves only %.1f %%", 100*mean)
	}
}

// What is known of a fact follows what was seen of it.
func TestWhatLooksTell(t *testing.T) {
	prior := Prior(1.0/200, Spread)
	if m := prior.Median(); m < 1.0/260 || m > 1.0/150 {
		t.Errorf("the prior's median is one change in %.0f days", 1/m)
	}
	var quiet, busy shown.Seen
	for range 60 {
		quiet, busy = quiet.With(7, false), busy.With(3, true)
	}
	if r := prior.After(quiet).Rate(); r > prior.Rate()/2 {
		t.Errorf("after 420 quiet days it is thought to change %v times a day", r)
	}
	if r := prior.After(busy).Rate(); r < 0.3 {
		t.Errorf("after %d changes in three days each it is thought to change %v times a day", len(busy.Changed), r)
	}
	if len(busy.Changed) != shown.MostChanged || (shown.Seen{}).With(0, true).Changed != nil {
		t.Errorf("%+v", busy)
	}
	// Looks at uneven distances that see half of the changes tell the rate all the same.
	r := rand.New(rand.NewPCG(3, 14))
	const truth = 0.1
	var seen shown.Seen
	for range 400 {
		days := 1 + 19*r.Float64()
		seen = seen.With(days, r.Float64() < -math.Expm1(-truth*days))
	}
	if got := prior.After(seen).Rate(); got < truth/2 || got > truth*2 {
		t.Errorf("one change in ten days is thought to be %v a day", got)
	}
	var many []shown.Seen
	for range 50 {
		many = append(many, quiet)
	}
	if learned := Learned(1.0/50, many); learned.Rate() >= Prior(1.0/50, Spread).Rate() {
		t.Errorf("quiet pages teach nothing of the others: %v", learned.Rate())
	}
	if Learned(1.0/50, nil).Rate() <= 0 {
		t.Error("without looks nothing is thought")
	}
}

// A budget is kept, more of it is never worse, and what matters more or changes more is looked at more often.
func TestIntervals(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 14))
	for range 40 {
		var pages []Page
		for range 1 + r.IntN(60) {
			var p Page
			for range 1 + r.IntN(4) {
				p.Facts = append(p.Facts, Fact{Belief: Prior(math.Exp(r.NormFloat64()-5), Spread), Cost: 10 * r.Float64()})
			}
			pages = append(pages, p)
		}
		budget := float64(len(pages)) * (0.01 + r.Float64())
		looks, wrong, wrongMore := 0.0, 0.0, 0.0
		more := Intervals(pages, budget*1.5)
		for i, days := range Intervals(pages, budget) {
			looks += 1 / days
			wrong += pages[i].Wrong(days)
			wrongMore += pages[i].Wrong(more[i])
		}
		if looks > budget*1.01 || wrongMore > wrong*1.0001 {
			t.Fatalf("%v looks a day of %v; wrong %v, with more looks %v", looks, budget, wrong, wrongMore)
		}
	}
	calm, dear, busy := Page{
		[]Fact{{Belief: Prior(1.0/400, 1), Cost: 1}},
	}, Page{
		[]Fact{{Belief: Prior(1.0/400, 1), Cost: 9}},
	}, Page{
		[]Fact{{Key: "hours", Belief: Prior(1.0/20, 1), Cost: 1}},
	}
	got := Intervals([]Page{calm, dear, busy}, 0.3)
	if got[1] >= got[0] || got[2] >= got[0] {
		t.Errorf("%v", got)
	}
	if f, found := busy.Why(got[2]); !found || f.Key != "hours" {
		t.Errorf("it is looked at because of %+v", f)
	}
	if got := Intervals([]Page{calm, calm}, 0.02); got[0] != 100 {
		t.Errorf("with next to no looks: %v", got)
	}
	if len(Intervals(nil, 1)) != 0 {
		t.Error("no pages have intervals")
	}
}

func BenchmarkIntervals(b *testing.B) {
	w := newWorld(5000, 1)
	list := make([]Page, 5000)
	for i := range list {
		for f := range costs {
			list[i].Facts = append(list[i].Facts, Fact{Belief: Prior(1.0/400, Spread), Cost: w.cost[i][f]})
		}
	}
	for b.Loop() {
		Intervals(list, 5000.0/7)
	}
}
