package boards

import (
	"context"
	"time"

	"uvent/core/rule/fit"
	"uvent/core/rule/page"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/store/db"
)

// FitView is one location held against one rulebook.
type FitView struct {
	Location ledger.Location
	Fit      fit.Fit
	Values   fit.Values // what the directory would be given; none where it cannot list the location
}

// Preview is what the public would see of a location on a directory, beside what it sees there now.
type Preview struct {
	Not    string // why the location cannot be listed; empty when it can, and all else is told only then
	Would  page.Page
	Unseen []page.Unseen // what the directory is given and the public does not see
	Is     *page.Page    // nil while nobody has seen its page
	SeenAt *time.Time
}

// Preview lays out what the public would see of a location on a directory.
func (d *Desk) Preview(ctx context.Context, at ledger.Place) (p Preview, err error) {
	book, _, s, err := d.records.SubjectAt(ctx, at)
	if err != nil {
		return p, err
	}
	row, err := d.store.Reading(ctx).Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: at.Directory})
	if problem.IgnoreNoRows(err) != nil {
		return p, err
	}
	f := fit.Of(s, &book)
	p.Not = f.Not
	p.Would, p.Unseen = page.Would(s, f, &book, row.State.Sighting)
	if seen := row.State.Sighting; seen != nil {
		is := page.Is(s, &book, *seen)
		p.Is, p.SeenAt = &is, row.State.SeenAt
	}
	return p, nil
}

// FitOf holds a location against a directory's rulebook, with the values to give.
func (d *Desk) FitOf(ctx context.Context, at ledger.Place) (v FitView, err error) {
	book, l, s, err := d.records.SubjectAt(ctx, at)
	if err != nil {
		return v, err
	}
	v.Location = l
	if v.Fit = fit.Of(s, &book); v.Fit.Not == "" {
		v.Values, err = d.listings.Values(ctx, s, v.Fit, &book, at)
	}
	return v, err
}
