package records

import (
	"context"
	"io"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Locations lists the locations in a scope.
func (d *Desk) Locations(ctx context.Context, s ledger.Scope) ([]ledger.Location, error) {
	return store.Each(ledger.LocationOf)(d.store.Locations(ctx, db.LocationsParams{Clients: s.Clients, LocationID: s.Location}))
}

// RecordChange is what the log keeps of a record's change.
type RecordChange struct {
	Before *record.Record `json:"before,omitempty"`
	After  record.Record  `json:"after"`
	From   string         `json:"from,omitempty"`  // the file it came in by
	Batch  string         `json:"batch,omitempty"` // what it was changed together with
}

// AddLocation adds a location to a client.
func (d *Desk) AddLocation(ctx context.Context, actor people.Actor, client uuid.UUID, r record.Record) (l ledger.Location, err error) {
	r, wrong := record.Normal(r)
	if wrong != nil {
		return l, problem.Fields(wrong)
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if r, err = settled(ctx, q, client, r); err != nil {
			return problem.OrNotFound(err, "There is no such client.")
		}
		if l, err = store.One(ledger.LocationOf)(
			q.AddLocation(ctx, db.AddLocationParams{ID: uuid.New(), ClientID: client, Label: r.Label, StoreCode: r.StoreCode, Record: r}),
		); err != nil {
			return problem.Taken(err)
		}
		return d.ledger.Note(ctx, q, actor, "location_added", client, &l.ID, RecordChange{After: r})
	})
	return l, err
}

// SaveLocation changes a location's record; version is the one that was read.
// When somebody saved in between, nothing is changed.
func (d *Desk) SaveLocation(ctx context.Context, actor people.Actor, id uuid.UUID, version int32, r record.Record) (l ledger.Location, err error) {
	r, wrong := record.Normal(r)
	if wrong != nil {
		return l, problem.Fields(wrong)
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		before, err := store.One(ledger.LocationOf)(q.LockLocation(ctx, id))
		if err != nil {
			return problem.OrNotFound(err, "There is no such location.")
		}
		if r, err = settled(ctx, q, before.ClientID, r); err != nil {
			return err
		}
		if l, err = store.One(
			ledger.LocationOf,
		)(
			q.SaveLocation(ctx, db.SaveLocationParams{ID: id, Label: r.Label, StoreCode: r.StoreCode, Record: r, Version: version}),
		); err != nil {
			return problem.Stale(problem.Taken(err))
		}
		return d.ledger.Note(ctx, q, actor, "record_saved", l.ClientID, &id, RecordChange{Before: &before.Record, After: r})
	})
	return l, err
}

// Export writes the locations in a scope as CSV.
func (d *Desk) Export(ctx context.Context, s ledger.Scope, write func(io.Writer, []sheet.Line) error, w io.Writer) error {
	clients, err := d.Clients(ctx)
	if err != nil {
		return err
	}
	names := map[uuid.UUID]string{}
	for _, c := range clients {
		names[c.ID] = c.Name
	}
	locations, err := d.Locations(ctx, s)
	if err != nil {
		return err
	}
	lines := make([]sheet.Line, len(locations))
	for i, l := range locations {
		lines[i] = sheet.Line{Client: names[l.ClientID], Record: l.Record}
	}
	return write(w, lines)
}
