// Package looking says when to look at public pages, so that as little as possible shows wrong for as few days as possible
// within what a directory may be looked at: rule R14. How often a fact changes is learned from looks at uneven distances,
// which see that it changed and never how often (Cho and Garcia-Molina, Estimating Frequency of Change, 2003); looks go where
// looking now gains most (Azar, Horvitz, Lubetzky, Peres and Shahaf, Tractable near-optimal policies for crawling, 2018).
package looking

import (
	"math"

	"uvent/core/listing/shown"
)

// Rates of change that are thought possible, in changes a day: from one in fifty years to four a day, evenly on a log scale.
const (
	rates    = 32
	rarest   = 1.0 / 20_000
	quickest = 4
)

var rate = func() (out [rates]float64) {
	for i := range out {
		out[i] = rarest * math.Pow(quickest/rarest, float64(i)/(rates-1))
	}
	return out
}()

// Belief is how likely each rate is; the parts sum to 1.
type Belief [rates]float64

// Prior is what is thought of a fact that nobody has looked at: rates are log-normal about a median, in changes a day.
func Prior(median, sigma float64) (b Belief) {
	for i, r := range rate {
		z := (math.Log(r) - math.Log(median)) / sigma
		b[i] = math.Exp(-z * z / 2)
	}
	return b.normal()
}

// After is what is thought once something was seen.
func (b Belief) After(s shown.Seen) Belief {
	for i, r := range rate {
		like := math.Log(max(b[i], 1e-300)) - r*s.Quiet
		for _, days := range s.Changed {
			like += math.Log(-math.Expm1(-r * days))
		}
		b[i] = like
	}
	most := math.Inf(-1)
	for _, l := range b {
		most = max(most, l)
	}
	for i := range b {
		b[i] = math.Exp(b[i] - most)
	}
	return b.normal()
}

func (b Belief) normal() Belief {
	sum := 0.0
	for _, p := range b {
		sum += p
	}
	for i := range b {
		b[i] /= sum
	}
	return b
}

// Rate is the expected number of changes a day.
func (b Belief) Rate() (out float64) {
	for i, p := range b {
		out += p * rate[i]
	}
	return out
}

// Median is the rate that is as likely too high as too low.
func (b Belief) Median() float64 {
	sum := 0.0
	for i, p := range b {
		if sum += p; sum >= 0.5 {
			return rate[i]
		}
	}
	return rate[rates-1]
}

// gain is what looking is worth so many days after the last look, in wrong days of the fact that are spared: by how much
// those to come grow less for each look more.
func (b Belief) gain(days float64) (out float64) {
	for i, p := range b {
		out += p * spared(rate[i], days)
	}
	return out
}

// spared is the gain of a look at a fact whose rate is known.
func spared(rate, days float64) float64 {
	x := rate * days
	if x < 1e-4 {
		return x * days / 2
	}
	return (1 - math.Exp(-x)*(1+x)) / rate
}

// Spread is by how much the rates of one fact on a directory's pages differ, of their logarithms: the public changes some
// places often and leaves most alone.
const Spread = 1.1

// doubt is how many changes a prior stands for beside those that were seen.
const doubt = 5

// Learned is what is thought of a fact on a page that nobody has looked at yet: that it changes so many times a day on
// average, as looks at others of the directory have shown, or as was thought before there were many.
func Learned(before float64, all []shown.Seen) Belief {
	changes, days := float64(doubt), doubt/before
	for _, s := range all {
		days += s.Quiet
		for _, d := range s.Changed {
			changes++
			days += d / 2 // it changed somewhere between
		}
	}
	return Prior(changes/days*math.Exp(-Spread*Spread/2), Spread) // the median lies below the mean
}
