package ledger

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"

	"github.com/jackc/pgx/v5"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/store/db"
)

// Replayed is what replaying the log came to.
type Replayed struct {
	Listings int
	Events   int
	Assumed  int       // events of which the rulebook's version is assumed
	Differ   []Differs // listings that are kept otherwise than their events lead to
}

// Differs is a listing that is kept otherwise than what happened to it leads to.
type Differs struct {
	Place
	Kept, Replayed string // JSON
}

// replay is what events are replayed under.
type replay struct {
	books   map[string]rulebook.Rulebook // by version
	assumed map[string]db.AssumedBook    // by directory
}

// Replay derives each listing anew from all that happened to it, each event under the version of
// the rulebook that was in force then, and tells which are kept otherwise. With mend they are kept
// as they should be.
func (d *Desk) Replay(ctx context.Context, mend bool) (out Replayed, err error) {
	under := replay{assumed: map[string]db.AssumedBook{}}
	if under.books, err = d.shelf.Versions(ctx); err != nil {
		return out, err
	}
	assumed, err := d.store.AssumedBooks(ctx)
	if err != nil {
		return out, err
	}
	for _, a := range assumed {
		under.assumed[a.DirectoryID] = a
	}
	var after db.ListingKeysParams
	for {
		keys, err := d.store.ListingKeys(ctx, after)
		if err != nil || len(keys) == 0 {
			return out, err
		}
		for _, k := range keys {
			if err := d.replay(ctx, under, Place{k.LocationID, k.DirectoryID}, mend, &out); err != nil {
				return out, err
			}
		}
		after = db.ListingKeysParams(keys[len(keys)-1])
	}
}

func (d *Desk) replay(ctx context.Context, under replay, at Place, mend bool, out *Replayed) error {
	return d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		row, err := q.LockListing(ctx, db.LockListingParams{LocationID: at.Location, DirectoryID: at.Directory})
		if err != nil {
			return err
		}
		rows, err := q.ListingEvents(ctx, db.ListingEventsParams{LocationID: &at.Location, DirectoryID: &at.Directory})
		if err != nil {
			return err
		}
		state, err := under.derive(rows, out)
		if err != nil {
			return fmt.Errorf("%s on %s: %w", at.Location, at.Directory, err)
		}
		kept, err := json.Marshal(row.State)
		if err != nil {
			return err
		}
		again, err := json.Marshal(state)
		if err != nil {
			return err
		}
		if out.Listings++; bytes.Equal(kept, again) {
			return nil
		}
		out.Differ = append(out.Differ, Differs{at, string(kept), string(again)})
		if !mend {
			return nil
		}
		return save(ctx, q, at, state)
	})
}

// derive folds events as they are kept, each under its own version of the rulebook.
func (r replay) derive(rows []db.Event, out *Replayed) (verification.State, error) {
	s := verification.Start()
	events, err := ReadEvents(rows)
	if err != nil {
		return s, err
	}
	for i, row := range rows {
		version := ""
		switch assumed, there := r.assumed[*row.DirectoryID]; {
		case row.Book != nil:
			version = *row.Book
		case there && row.ID <= assumed.Until:
			version = assumed.Version
			out.Assumed++
		}
		book, known := r.books[version]
		if !known {
			return s, fmt.Errorf("event %d happened under version %q of the rulebook, whose text is not kept or cannot be read any more", row.ID, version)
		}
		s = s.After(book, events[i])
		out.Events++
	}
	return s, nil
}
