package sightings

import (
	"context"
	"errors"

	"uvent/core/listing/verification"
	"uvent/core/rule/reading"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
)

// Home is where a directory's pages are reckoned from.
func Home(b rulebook.Rulebook) string {
	if b.Connector.URL != "" {
		return b.Connector.URL
	}
	return b.Page
}

// Look reads the listing's public page now and records what it shows.
func (d *Desk) Look(ctx context.Context, actor people.Actor, at ledger.Place) error {
	book, st, err := d.ledger.Begun(ctx, at)
	if err != nil {
		return err
	}
	if st.Page == "" {
		return problem.Conflictf("The listing has no public page yet; claim or create it first.")
	}
	where, err := d.ledger.Location(ctx, at.Location)
	if err != nil {
		return err
	}
	r := where.Record
	seen, err := d.reach.Look(ctx, Home(book), st.Page, reading.In{
		Country: r.Address.Country, Region: r.Address.Region, Today: r.Today(d.clock.Now()), Book: &book,
	})
	var unanswered *reach.Unanswered
	switch {
	case errors.Is(err, reach.ErrHalf):
		return problem.Conflictf("%s’s page broke off before its end. What it showed is not counted; look again in a while.", book.Name)
	case errors.Is(err, reach.ErrNoPage):
		return problem.Conflictf("%s’s page shows something else than a listing just now. Open it, and see.", book.Name)
	case errors.As(err, &unanswered):
		return problem.Conflictf("%s’s page does not answer just now. Try again in a while.", book.Name)
	case err != nil:
		return err
	}
	told := reach.Told{}
	if gone := seen == nil && st.Visibility == verification.Public; gone && st.Control == verification.Held && book.Connector.URL != "" {
		// Why it does not show, if they say; without an answer it is only gone.
		if told, err = d.reach.Told(ctx, book.Connector.URL, st.Ref); err != nil {
			told = reach.Told{}
		}
	}
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		var what verification.What = verification.NotSeen{}
		if seen != nil {
			what = verification.SeenPublic{Sighting: seen}
		}
		if told.Suspended != "" {
			if err := Suspended(ctx, l, told.Suspended); err != nil {
				return err
			}
		}
		return l.Add(ctx, what)
	})
}
