// Package match tells whether two descriptions are of the same business.
package match

import (
	"cmp"
	"math"
	"slices"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

// Business is what is known of a business; empty means not known.
type Business struct {
	Name      string
	LegalName string
	Former    []string
	Before    []address.Address // where it was
	Address   address.Address
	Phones    []string // E.164
	Website   string
	Pin       *record.Pin
}

// Of describes a location's record.
func Of(r record.Record) Business {
	b := Business{Name: r.Name, LegalName: r.LegalName, Former: r.FormerNames, Address: r.Address, Website: r.Website, Pin: r.Pin}
	for _, p := range r.Phones {
		b.Phones = append(b.Phones, p.E164)
	}
	return b
}

// Verdict is what a score comes to.
type Verdict string

const (
	SameBusiness Verdict = "same"
	Probably     Verdict = "probably"
	Unlikely     Verdict = "unlikely"
	Different    Verdict = "different"
)

// Result is how alike two descriptions are.
type Result struct {
	Score   float64 // 0 to 1: how likely it is that both are one business at one place
	Verdict Verdict
	Reasons []string // sentences that a person can check, weightiest first
}

// evidence is what one fact says of whether two descriptions are of one business: the
// logarithm of how much likelier it is seen when they are, above 0 for and below 0 against.
type evidence struct {
	weight float64
	reason string
	moved  bool // it is at another address
}

// mostMoved is the score that a description at another address can have at most: it may
// be a former one, and somebody has to look.
const mostMoved = 0.89

// prior is what is thought before anything is compared: of those that a search finds,
// fewer than half are the one that is meant.
const prior = -1.0

// Compare holds ours against a candidate, theirs. What either side does not
// say counts neither for nor against.
func Compare(ours, theirs Business) Result {
	var all []evidence
	w := weigher(ours, theirs)
	name, named := names(ours, theirs, w)
	if named {
		all = append(all, name)
	}
	for _, judge := range []func(a, b Business) (evidence, bool){places, phones, sites, positions} {
		if e, known := judge(ours, theirs); known {
			all = append(all, e)
		}
	}
	if len(all) == 0 {
		return Result{Verdict: Different, Reasons: []string{"Nothing is known of both that could be compared."}}
	}
	sum := prior
	for _, e := range all {
		sum += e.weight
	}
	slices.SortStableFunc(all, func(a, b evidence) int { return cmp.Compare(math.Abs(b.weight), math.Abs(a.weight)) })
	out := Result{Score: math.Round(100/(1+math.Exp(-sum))) / 100}
	for _, e := range all {
		out.Reasons = append(out.Reasons, e.reason)
		if e.moved {
			out.Score = min(out.Score, mostMoved)
		}
	}
	switch {
	case out.Score >= 0.9:
		out.Verdict = SameBusiness
	case out.Score >= 0.5:
		out.Verdict = Probably
	case out.Score >= 0.03:
		out.Verdict = Unlikely
	default:
		out.Verdict = Different
	}
	return out
}
