package boards

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
	"uvent/desk/records"
)

// Danger is what is likely to be set off on one directory.
type Danger struct {
	Book   *rulebook.Rulebook
	Risks  []risk.Risk
	Worst  rulebook.SetsOff
	Chance float64
}

// Risks lists what in a location's record is a risk, by directory, the most dangerous
// first; of directories on which it is wanted or begun.
func (d *Desk) Risks(ctx context.Context, location uuid.UUID) ([]Danger, error) {
	l, err := d.ledger.Location(ctx, location)
	if err != nil {
		return nil, err
	}
	s, err := records.RiskSubject(ctx, d.store.Reading(ctx), l)
	if err != nil {
		return nil, err
	}
	var out []Danger
	books := d.shelf.Books()
	for i := range books {
		b := &books[i]
		if b.MayList(l.Record) != "" {
			continue
		}
		x := Danger{Book: b, Risks: risk.Find(b, s)}
		if x.Worst, x.Chance = risk.Expect(x.Risks); len(x.Risks) > 0 {
			out = append(out, x)
		}
	}
	slices.SortStableFunc(out, func(a, b Danger) int {
		return int(1000*b.Chance*float64(b.Book.Weight)) - int(1000*a.Chance*float64(a.Book.Weight))
	})
	return out, nil
}
