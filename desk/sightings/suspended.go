package sightings

import (
	"context"

	"uvent/core/listing/cases"
	"uvent/core/listing/verification"
	"uvent/core/rule/risk"
	"uvent/desk/ledger"
	"uvent/desk/records"
	"uvent/store/db"
)

// Suspended opens the case of a listing that is suspended, with the likeliest cause as far
// as our own history tells.
func Suspended(ctx context.Context, l *ledger.Listing, says string) error {
	if l.State.OpenCase(verification.CaseSuspended) != nil {
		return nil // known already
	}
	s, err := records.RiskSubject(ctx, l.Q, l.Where)
	if err != nil {
		return err
	}
	rows, err := l.Q.ListingEvents(ctx, db.ListingEventsParams{LocationID: &l.Location, DirectoryID: &l.Directory})
	if err != nil {
		return err
	}
	history, err := ledger.ReadEvents(rows)
	if err != nil {
		return err
	}
	e := verification.SuspendedThere{Says: says}
	suspects, unnamed := risk.Suspects(&l.Book, s, cases.Edits(history, verification.ZoneOf(l.Where.Record, l.Book)), says, l.Now)
	if e.Causes, e.Unnamed = cases.Kept(suspects), unnamed; len(suspects) > 0 && suspects[0].Share > unnamed {
		e.Cause = suspects[0].Cause
	}
	return l.Add(ctx, e)
}
