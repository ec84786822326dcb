package boards

import (
	"cmp"
	"context"
	"slices"

	"uvent/core/listing/verification"
	"uvent/core/record/match"
	"uvent/desk/ledger"
)

// Undecided is a listing that was searched for and is neither claimed nor created yet.
type Undecided struct {
	Cell
	Best    *verification.Candidate // the likeliest that was found; nil for none
	Others  int                     // that may be it as well
	Missing int                     // how many facts keep one from being created
}

// ToDecide lists a scope's searches that somebody has to decide on, those with the
// likeliest finds first.
func (d *Desk) ToDecide(ctx context.Context, s ledger.Scope) ([]Undecided, error) {
	cells, err := d.cells(ctx, s, func(_ string, begun, _ bool) bool { return begun })
	if err != nil {
		return nil, err
	}
	out := []Undecided{}
	for _, c := range cells {
		if c.NotFor != "" || c.State.Control != verification.NoControl || c.State.SearchedAt == nil || c.State.Busy != "" || c.Book.Connector.URL == "" {
			continue
		}
		u := Undecided{Cell: c, Missing: c.Fit.Blocks}
		for i := range c.State.Candidates {
			k := &c.State.Candidates[i]
			switch {
			case u.Best == nil:
				u.Best = k
			case k.Verdict == match.SameBusiness || k.Verdict == match.Probably:
				u.Others++
			}
		}
		out = append(out, u)
	}
	score := func(u Undecided) float64 {
		if u.Best == nil {
			return 0
		}
		return u.Best.Score
	}
	slices.SortStableFunc(out, func(a, b Undecided) int {
		return cmp.Or(cmp.Compare(score(b), score(a)), b.Book.Weight-a.Book.Weight)
	})
	return out, nil
}
