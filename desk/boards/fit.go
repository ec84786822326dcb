package boards

import (
	"context"

	"uvent/core/rule/fit"
	"uvent/desk/ledger"
	"uvent/desk/records"
)

// FitView is one location held against one rulebook.
type FitView struct {
	Location ledger.Location
	Fit      fit.Fit
	Values   fit.Values // what the directory would be given; none where it cannot list the location
}

// FitOf holds a location against a directory's rulebook, with the values to give.
func (d *Desk) FitOf(ctx context.Context, at ledger.Place) (v FitView, err error) {
	book, err := d.shelf.Book(at.Directory)
	if err != nil {
		return v, err
	}
	if v.Location, err = d.ledger.Location(ctx, at.Location); err != nil {
		return v, err
	}
	s, err := records.FitSubject(ctx, d.store.Queries, v.Location, d.clock.Now())
	if err != nil {
		return v, err
	}
	if v.Fit = fit.Of(s, &book); v.Fit.Not == "" {
		v.Values, err = d.listings.Values(ctx, s, v.Fit, &book, at)
	}
	return v, err
}
