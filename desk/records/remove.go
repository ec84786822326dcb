package records

import (
	"context"
	"fmt"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// RemoveLocation deletes a location for which nothing was ever begun, and gives its record, from which it can be added
// again. Where something was begun it is refused: such a location is closed, and its listings with it.
func (d *Desk) RemoveLocation(ctx context.Context, actor people.Actor, id uuid.UUID) (r record.Record, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		locations, err := store.Each(ledger.LocationOf)(q.LocationsByID(ctx, []uuid.UUID{id}))
		if err != nil {
			return err
		}
		if len(locations) == 0 {
			return problem.OrNotFound(pgx.ErrNoRows, "There is no such location.")
		}
		l := locations[0]
		begun, err := q.BegunLocations(ctx, db.BegunLocationsParams{Ids: []uuid.UUID{id}, Versions: []int32{l.Version}})
		if err != nil {
			return err
		}
		if len(begun) > 0 {
			return problem.Conflictf("Something was begun for %s: a listing, a photo, a paper or a plan. Put it away instead.", l.Label)
		}
		r = l.Record
		if err := d.ledger.Note(ctx, q, actor, "location_removed", l.ClientID, &id, RecordChange{Before: &l.Record}); err != nil {
			return err
		}
		return DropLocations(ctx, q, []uuid.UUID{id})
	})
	return r, err
}

// DropLocations deletes locations for which nothing was begun, with what is only worked out for them.
func DropLocations(ctx context.Context, q *db.Queries, ids []uuid.UUID) error {
	for _, drop := range []func(context.Context, []uuid.UUID) error{q.DropPresenceOf, q.DropTaskMarks, q.DropTasks, q.DropLocations} {
		if err := drop(ctx, ids); err != nil {
			return err
		}
	}
	return store.Notify(ctx, q, store.Change{})
}

// RemoveClient deletes a client that has nothing: no location, photo, paper or person.
func (d *Desk) RemoveClient(ctx context.Context, actor people.Actor, id uuid.UUID) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		c, err := store.One(ledger.ClientOf)(q.LockClient(ctx, id))
		if err != nil {
			return problem.OrNotFound(err, "There is no such client.")
		}
		gone, err := q.DropClientsWithoutLocations(ctx, []uuid.UUID{id})
		if err != nil {
			return err
		}
		if len(gone) == 0 {
			return problem.Conflictf("%s has locations, photos, papers or people. Put it away instead, or delete these first.", c.Name)
		}
		if err := d.ledger.Note(ctx, q, actor, "client_removed", id, nil, ClientFacts{Name: c.Name}); err != nil {
			return fmt.Errorf("%s: %w", c.Name, err)
		}
		return store.Notify(ctx, q, store.Change{})
	})
}
