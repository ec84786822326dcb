package boards

import (
	"context"

	"github.com/google/uuid"

	"uvent/core/rule/fit"
	"uvent/desk/ledger"
	"uvent/desk/records"
	"uvent/desk/shelf"
)

// Tried is a rulebook's text, tried on a location.
type Tried struct {
	shelf.Checked
	Trial *Trial // nil where there are problems, or no location was named
}

// Trial is a location held against a rulebook that is being written, and against the
// one in force.
type Trial struct {
	Location ledger.Location
	Fit      fit.Fit
	Values   fit.Values
	Before   *fit.Fit // by the rulebook in force; nil where there is none
}

// CheckRulebook checks a text as a rulebook and tries it on a location.
func (d *Desk) CheckRulebook(ctx context.Context, text string, location *uuid.UUID) (c Tried, err error) {
	if c.Checked, err = d.shelf.Check(ctx, text); err != nil || c.Problems != nil || location == nil {
		return c, err
	}
	l, err := d.ledger.Location(ctx, *location)
	if err != nil {
		return c, err
	}
	s, err := records.FitSubject(ctx, d.store.Reading(ctx), l, d.clock.Now())
	if err != nil {
		return c, err
	}
	c.Trial = &Trial{Location: l, Fit: fit.Of(s, &c.Book)}
	if c.Trial.Fit.Not == "" {
		c.Trial.Values = fit.Of(s, &c.Book).Values()
	}
	if old, err := d.shelf.Book(c.Book.ID); err == nil {
		before := fit.Of(s, &old)
		c.Trial.Before = &before
	}
	return c, nil
}
