// Package forecast says when listings will be public: the waits that are left to each
// are drawn by chance, many times over, from the windows of the rulebooks and from what
// is known of how often a try comes to something.
package forecast

import (
	"cmp"
	"math/rand/v2"
	"slices"
	"time"

	"uvent/core/fact/calendar"
)

// Step is one wait on the way of a listing.
type Step struct {
	Name   string         // what is waited for, as a phrase: the postcard
	Rule   calendar.Rule  // none: it is done at once
	Place  calendar.Place // whose calendar counts
	Began  time.Time      // of a wait that is under way; zero: it begins when the one before it is done
	Chance float64        // that a try comes to something; 0: it surely does
	Silent bool           // a try that fails is noticed only when its window has passed
	Maybe  float64        // how likely it is that the wait comes at all; 0: it does
	Shared string         // others wait for the same thing, by this key: it happens once
}

// Listing is one whose way to the public is forecast.
type Listing struct {
	Weight float64
	Needs  []Step // all of these, side by side, before the rest
	Steps  []Step // one after another
}

// Day is the share of the weight that is public by the end of a day, 0 to 1: in one run
// of ten it is less than Low, in half of them less than Likely, in nine of ten less than
// High.
type Day struct {
	Date              calendar.Date
	Low, Likely, High float64
}

// Span is when something happens: by Likely in half of the runs, by Sure in nine of ten.
type Span struct{ Likely, Sure calendar.Date }

// Hold is a step that holds back the last listing.
type Hold struct {
	Name    string
	Listing int     // the index of the listing that it belongs to, or of the first that shares it
	Waiting int     // how many listings wait for it
	Share   float64 // of the runs in which the last listing waits for it longest
}

// Forecast is what comes of many runs.
type Forecast struct {
	Half     Span // half of the weight
	All      Span
	Days     []Day // from today until all is public in nine runs of ten
	Listings []Span
	Holds    []Hold // the weightiest first
}

// mostTries is how often a step that comes to nothing is tried again; and mostDays how
// far ahead is looked.
const (
	mostTries = 8
	mostDays  = 540
)

// Run draws the ways of listings, from now on. The same seed draws the same.
func Run(now time.Time, listings []Listing, runs int, seed uint64) Forecast {
	f := Forecast{Listings: make([]Span, len(listings))}
	if len(listings) == 0 || runs == 0 {
		return f
	}
	w := world{Rand: rand.New(rand.NewPCG(seed, 0x5eed)), now: now, plans: map[*Step]*plan{}, today: calendar.DateOf(now.In(zoneOf(listings))).Number()}
	total := 0.0
	for _, l := range listings {
		total += l.Weight
	}
	ends := make([][]int32, len(listings)) // by listing and run: days from today
	for i := range ends {
		ends[i] = make([]int32, runs)
	}
	half, all := make([]int, runs), make([]int, runs)
	public := make([][]float64, runs) // by run: weight by day
	held := map[[2]int]int{}          // listing and step (needs first) to runs
	for run := range runs {
		w.shared = map[string]int{}
		public[run] = make([]float64, mostDays+1)
		last, lastStep := -1, [2]int{}
		for i := range listings {
			end, longest := w.way(&listings[i])
			end = min(end, mostDays)
			ends[i][run] = int32(end)
			public[run][end] += listings[i].Weight
			if end > last {
				last, lastStep = end, [2]int{i, longest}
			}
		}
		all[run] = last
		held[lastStep]++
		sum := 0.0
		for day, weight := range public[run] {
			if sum += weight; sum*2 >= total {
				half[run] = day
				break
			}
		}
	}
	at := func(days []int) Span { return Span{w.date(quantile(days, 0.5)), w.date(quantile(days, 0.9))} }
	f.Half, f.All = at(half), at(all)
	for i := range listings {
		days := make([]int, runs)
		for run, d := range ends[i] {
			days[run] = int(d)
		}
		f.Listings[i] = at(days)
	}
	f.Days = w.curve(public, total, quantile(all, 0.9))
	f.Holds = holds(listings, held, runs)
	return f
}

// curve is the share that is public day by day.
func (w *world) curve(public [][]float64, total float64, until int) (out []Day) {
	sums := make([]float64, len(public))
	for day := 0; day <= min(until+3, mostDays); day++ {
		shares := make([]float64, len(public))
		for run := range public {
			sums[run] += public[run][day]
			shares[run] = sums[run] / total
		}
		slices.Sort(shares)
		of := func(q float64) float64 { return shares[min(len(shares)-1, int(q*float64(len(shares))))] }
		out = append(out, Day{w.date(day), of(0.1), of(0.5), of(0.9)})
	}
	return out
}

func holds(listings []Listing, held map[[2]int]int, runs int) (out []Hold) {
	type known struct {
		name, shared string
		listing      int // of what is not shared
	}
	at := map[known]int{}
	for key, n := range held {
		l := listings[key[0]]
		all := slices.Concat(l.Needs, l.Steps)
		if key[1] >= len(all) {
			continue // it takes no time at all
		}
		s := all[key[1]]
		k := known{name: s.Name, shared: s.Shared}
		if s.Shared == "" {
			k.listing = key[0]
		}
		i, have := at[k]
		if !have {
			i = len(out)
			at[k] = i
			out = append(out, Hold{Name: s.Name, Listing: key[0], Waiting: 1})
			if s.Shared != "" {
				out[i].Waiting = 0
				for _, o := range listings {
					if slices.ContainsFunc(o.Needs, func(x Step) bool { return x.Shared == s.Shared }) {
						out[i].Waiting++
					}
				}
			}
		}
		out[i].Listing = min(out[i].Listing, key[0])
		out[i].Share += float64(n) / float64(runs)
	}
	slices.SortFunc(out, func(a, b Hold) int {
		return cmp.Or(cmp.Compare(b.Share, a.Share), a.Listing-b.Listing, cmp.Compare(a.Name, b.Name))
	})
	return out
}

// quantile is the least number that a share of the numbers do not pass.
func quantile(of []int, share float64) int {
	sorted := slices.Clone(of)
	slices.Sort(sorted)
	return sorted[min(len(sorted)-1, int(share*float64(len(sorted))))]
}

func zoneOf(listings []Listing) *time.Location {
	for _, l := range listings {
		for _, s := range slices.Concat(l.Needs, l.Steps) {
			if s.Place.Zone != nil {
				return s.Place.Zone
			}
		}
	}
	return time.UTC
}
