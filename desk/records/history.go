package records

import (
	"context"
	"encoding/json"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Saved is one time that a record was saved.
type Saved struct {
	ID      int64
	At      time.Time
	Actor   string
	From    string          // the file it came in by; empty: by hand
	Added   bool            // the location came to be
	Changes []record.Change // none when it was added
}

// RecordHistory lists when a location's record was saved, newest first, and
// what changed each time.
func (d *Desk) RecordHistory(ctx context.Context, location uuid.UUID) ([]Saved, error) {
	if _, err := d.ledger.Location(ctx, location); err != nil {
		return nil, err
	}
	rows, err := d.store.RecordHistory(ctx, &location)
	if err != nil {
		return nil, err
	}
	var out []Saved
	for _, r := range rows {
		var c RecordChange
		if err := json.Unmarshal(r.Data, &c); err != nil {
			return nil, err
		}
		s := Saved{ID: r.ID, At: r.At, Actor: r.Actor, From: c.From, Added: c.Before == nil}
		if c.Before != nil {
			if s.Changes = record.Changes(*c.Before, c.After); len(s.Changes) == 0 {
				continue // saved as it was
			}
		}
		out = append(out, s)
	}
	return out, nil
}

// TakeBack undoes one saving of a record: each fact that it changed becomes
// what it was before, unless it was changed again since.
func (d *Desk) TakeBack(ctx context.Context, actor people.Actor, location uuid.UUID, id int64) (l ledger.Location, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		now, err := store.One(ledger.LocationOf)(q.LockLocation(ctx, location))
		if err != nil {
			return problem.OrNotFound(err, "There is no such location.")
		}
		e, err := q.RecordChange(ctx, db.RecordChangeParams{ID: id, LocationID: &location})
		if err != nil {
			return problem.OrNotFound(err, "This record was not saved then.")
		}
		var c RecordChange
		if err := json.Unmarshal(e.Data, &c); err != nil {
			return err
		}
		if c.Before == nil {
			return problem.Conflictf("This is when the location was added; there is nothing before it.")
		}
		after, left := record.Revert(now.Record, *c.Before, c.After)
		if left != nil {
			return problem.Conflictf("Changed again since: %s. Take the later change back first.", strings.ToLower(strings.Join(left, ", ")))
		}
		after, wrong := record.Normal(after)
		if wrong != nil {
			return problem.Fields(wrong)
		}
		if after, err = settled(ctx, q, now.ClientID, after); err != nil {
			return err
		}
		if l, err = store.One(ledger.LocationOf)(
			q.SaveLocation(ctx, db.SaveLocationParams{ID: location, Label: after.Label, StoreCode: after.StoreCode, Record: after, Version: now.Version}),
		); err != nil {
			return problem.Stale(problem.Taken(err))
		}
		return d.ledger.Note(ctx, q, actor, "record_saved", l.ClientID, &location, RecordChange{Before: &now.Record, After: after})
	})
	return l, err
}

// ConfirmRecord notes that somebody has said that a record is right as it stands in a
// version.
func (d *Desk) ConfirmRecord(ctx context.Context, actor people.Actor, location uuid.UUID, version int32) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		l, err := store.One(ledger.LocationOf)(q.Location(ctx, location))
		if err != nil {
			return problem.OrNotFound(err, "There is no such location.")
		}
		if l.Version != version {
			return problem.Conflictf("The record has changed since you looked. Read it again, then confirm it.")
		}
		return d.ledger.Note(ctx, q, actor, "record_confirmed", l.ClientID, &location, map[string]int32{"version": version})
	})
}
