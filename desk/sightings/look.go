package sightings

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"slices"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/record/sighting"
	"uvent/core/rule/compare"
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
	pages, err := d.planOf(ctx, book, d.clock.Now())
	if err != nil {
		return err
	}
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		var what verification.What = verification.NotSeen{}
		if seen != nil {
			days := pages[at.Location].days
			if l.State.Sent(l.Now, sentLately) && differs(compare.Facts(r, book, seen, r.Today(l.Now))) {
				days = 1 // until it shows, or is given up
			}
			what = public(l.State, seen, days)
		}
		if told.Suspended != "" {
			if err := Suspended(ctx, l, told.Suspended); err != nil {
				return err
			}
		}
		return l.Add(ctx, what)
	})
}

// sentLately is for how long after something was sent it is looked for every night.
const sentLately = 14 * 24 * time.Hour

func differs(lines []compare.Line) bool {
	return slices.ContainsFunc(lines, func(l compare.Line) bool { return l.Mark.Differs() && l.Cannot == "" })
}

// public is that a page shows something; what it showed before is not kept again.
func public(st verification.State, seen *sighting.Sighting, days float64) verification.SeenPublic {
	out := verification.SeenPublic{Sighting: seen, Read: true, Next: days}
	if st.Shown != nil && st.Sighting != nil && same(*st.Sighting, *seen) {
		out.Sighting, out.Same = nil, true
	}
	return out
}

// same compares what is kept with what was just read.
func same(a, b sighting.Sighting) bool {
	x, errX := json.Marshal(a)
	y, errY := json.Marshal(b)
	return errX == nil && errY == nil && bytes.Equal(x, y)
}
