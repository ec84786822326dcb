package looking

import (
	"math"
	"sort"

	"uvent/core/listing/shown"
)

// Fact is one that a page shows.
type Fact struct {
	Key   string
	Title string
	Belief
	Seen shown.Seen
	Cost float64 // what a day on which it shows wrong costs: people a day
}

// Page is one of a directory.
type Page struct {
	Facts []Fact
}

// Bounds of the time between two looks at a page, in days: nobody is looked at more often than twice a day, and nobody is
// left alone for longer than four weeks.
const (
	Soonest = 0.5
	Latest  = 28
)

// steps are the intervals that are tried, in days, evenly on a log scale.
const steps = 24

var step = func() (out [steps]float64) {
	for i := range out {
		out[i] = Soonest * math.Exp(float64(i)/(steps-1)*math.Log(Latest/Soonest))
	}
	return out
}()

// gains are those of a look after each step at a fact of each rate.
var gains = func() (out [steps][rates]float64) {
	for i, days := range step {
		for n, r := range rate {
			out[i][n] = spared(r, days)
		}
	}
	return out
}()

// worth is what looking at a page gains after each of the steps.
func (p Page) worth() (out [steps]float64) {
	for _, f := range p.Facts {
		for i := range out {
			sum := 0.0
			for n, likely := range f.Belief {
				sum += likely * gains[i][n]
			}
			out[i] += f.Cost * sum
		}
	}
	return out
}

// after is the interval at which looking gains so much, in days.
func after(worth *[steps]float64, threshold float64) float64 {
	i := sort.Search(steps, func(i int) bool { return worth[i] >= threshold })
	switch i {
	case 0:
		return Soonest
	case steps:
		return Latest
	}
	low, high := worth[i-1], worth[i]
	part := 1.0
	if high > low {
		part = (threshold - low) / (high - low)
	}
	return step[i-1] * math.Pow(step[i]/step[i-1], part)
}

// Intervals are the days between two looks at each page of a directory, by which the wrong days that are to be expected,
// each at its cost, are fewest for so many looks a day. Where the budget does not even reach for the latest look at each,
// all are looked at alike, as often as it does.
func Intervals(pages []Page, looksADay float64) []float64 {
	out := make([]float64, len(pages))
	if len(pages) == 0 {
		return out
	}
	if floor := float64(len(pages)) / Latest; looksADay <= floor {
		for i := range out {
			out[i] = float64(len(pages)) / max(looksADay, 1e-9)
		}
		return out
	}
	worths := make([][steps]float64, len(pages))
	high := 0.0
	for i, p := range pages {
		worths[i] = p.worth()
		high = max(high, worths[i][steps-1])
	}
	looks := func(threshold float64) (sum float64) {
		for i := range worths {
			sum += 1 / after(&worths[i], threshold)
		}
		return sum
	}
	low := high * 1e-12
	for range 50 { // the more a look has to gain, the fewer there are
		mid := math.Sqrt(low * max(high, 1e-300))
		if looks(mid) > looksADay {
			low = mid
		} else {
			high = mid
		}
	}
	for i := range worths {
		out[i] = after(&worths[i], high)
	}
	return out
}

// Wrong is how many wrong days a day are to be expected of a page that is looked at so often, at their cost.
func (p Page) Wrong(interval float64) (out float64) {
	for _, f := range p.Facts {
		for i, likely := range f.Belief {
			out += f.Cost * likely * wrong(rate[i], interval)
		}
	}
	return out
}

// wrong is the part of the time for which a fact shows wrong before it is seen, at a known rate.
func wrong(rate, interval float64) float64 {
	x := rate * interval
	if x < 1e-4 {
		return x / 2
	}
	return 1 + math.Expm1(-x)/x
}

// Why is the fact for which a page is looked at as often as it is: the one whose looks gain most.
func (p Page) Why(interval float64) (f Fact, found bool) {
	best := 0.0
	for _, one := range p.Facts {
		if g := one.Cost * one.gain(interval); g > best {
			best, f, found = g, one, true
		}
	}
	return f, found
}
