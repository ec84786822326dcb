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
	near   bool // at a number on the same street that a slip could have made of the other
	line   bool // by the same phone
	slip   bool // by a phone that a slip could have made of the other
	page   bool // on another page of the same site
	trade  bool // by a like name, of another trade
}

// mostMoved is the score that a description at another address can have at most: it may
// be a former one, and somebody has to look.
const mostMoved = 0.89

// prior is what is thought before anything is compared: of those that a search finds,
// fewer than half are the one that is meant.
const prior = -1.0

// another weighs together what shows another business where each fact alone does not. At another address
// with a page of its own on one site, a place is another branch of a firm, and the line that they share says
// little; so does one that is nearly the same. Two of a like name and of other trades, a few doors apart, are neighbours, and neither number is a
// slip.
func another(all []evidence) {
	has := func(is func(evidence) bool) *evidence {
		if i := slices.IndexFunc(all, is); i >= 0 {
			return &all[i]
		}
		return nil
	}
	place := has(func(e evidence) bool { return e.moved })
	page := has(func(e evidence) bool { return e.page })
	if place != nil && page != nil {
		page.weight, page.reason = -2, page.reason+" It may be another branch of the same firm."
		if line := has(func(e evidence) bool { return e.line }); line != nil {
			line.weight, line.reason = 0.5, line.reason+" Branches of one firm may share it."
		}
	}
	if slip := has(func(e evidence) bool { return e.slip }); place != nil && slip != nil {
		slip.weight = -0.3 // the lines of branches follow one another
	}
	name := has(func(e evidence) bool { return e.trade })
	if near := has(func(e evidence) bool { return e.near }); near != nil && name != nil {
		near.weight, near.moved = -0.6, true
		name.weight = min(name.weight, -1.2)
		name.reason += " They are of other trades."
	}
}

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
	another(all)
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
