package desk

import (
	"context"
	"encoding/json"
	"errors"
	"io"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/store"
	"uvent/store/db"
)

// Scope is what a view is of: everything, a client, or a location.
type Scope struct {
	Client   *uuid.UUID
	Location *uuid.UUID
}

// Location is a location and its record.
type Location = db.Location

// Locations lists the locations in a scope.
func (d *Desk) Locations(ctx context.Context, s Scope) ([]Location, error) {
	return d.store.Locations(ctx, db.LocationsParams{ClientID: s.Client, LocationID: s.Location})
}

// Location finds one.
func (d *Desk) Location(ctx context.Context, id uuid.UUID) (Location, error) {
	l, err := d.store.Location(ctx, id)
	return l, orNotFound(err, "There is no such location.")
}

// recordChange is what the log keeps of a record's change.
type recordChange struct {
	Before *record.Record `json:"before,omitempty"`
	After  record.Record  `json:"after"`
	From   string         `json:"from,omitempty"`  // the file it came in by
	Batch  string         `json:"batch,omitempty"` // what it was changed together with
}

// AddLocation adds a location to a client.
func (d *Desk) AddLocation(ctx context.Context, actor Actor, client uuid.UUID, r record.Record) (l Location, err error) {
	r, wrong := record.Normal(r)
	if wrong != nil {
		return l, invalid(wrong)
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if r, err = settled(ctx, q, client, r); err != nil {
			return orNotFound(err, "There is no such client.")
		}
		if l, err = q.AddLocation(ctx, db.AddLocationParams{ID: uuid.New(), ClientID: client, Label: r.Label, StoreCode: r.StoreCode, Record: r}); err != nil {
			return taken(err)
		}
		return d.note(ctx, q, actor, "location_added", client, &l.ID, recordChange{After: r})
	})
	return l, err
}

// SaveLocation changes a location's record; version is the one that was read.
// When somebody saved in between, nothing is changed.
func (d *Desk) SaveLocation(ctx context.Context, actor Actor, id uuid.UUID, version int32, r record.Record) (l Location, err error) {
	r, wrong := record.Normal(r)
	if wrong != nil {
		return l, invalid(wrong)
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		before, err := q.LockLocation(ctx, id)
		if err != nil {
			return orNotFound(err, "There is no such location.")
		}
		if r, err = settled(ctx, q, before.ClientID, r); err != nil {
			return err
		}
		if l, err = q.SaveLocation(ctx, db.SaveLocationParams{ID: id, Label: r.Label, StoreCode: r.StoreCode, Record: r, Version: version}); err != nil {
			return stale(taken(err))
		}
		return d.note(ctx, q, actor, "record_saved", l.ClientID, &id, recordChange{Before: &before.Record, After: r})
	})
	return l, err
}

// note adds an event about a client or a location.
func (d *Desk) note(ctx context.Context, q *db.Queries, actor Actor, kind string, client uuid.UUID, location *uuid.UUID, data any) error {
	b, err := json.Marshal(data)
	if err != nil {
		return err
	}
	if _, err := q.AddEvent(ctx, db.AddEventParams{At: d.clock.Now(), Actor: actor.Name, ClientID: &client, LocationID: location, Kind: kind, Data: b}); err != nil {
		return err
	}
	return store.Notify(ctx, q, store.Change{Location: location})
}

// uniques are the facts that must differ, by the index that keeps them apart.
var uniques = map[string]record.Problem{
	"client_name":         {Path: "name", Message: "another client has this name already"},
	"location_label":      {Path: "label", Message: "another location of this client is called that already"},
	"account_email":       {Path: "email", Message: "it is in the list for this directory already"},
	"region_name":         {Path: "name", Message: "another region has this name already"},
	"person_email":        {Path: "email", Message: "somebody signs in with it already"},
	"location_store_code": {Path: "store_code", Message: "another location of this client has this store code already"},
}

func taken(err error) error {
	var pg *pgconn.PgError
	if errors.As(err, &pg) {
		if p, ok := uniques[pg.ConstraintName]; ok {
			return invalid([]record.Problem{p})
		}
	}
	return err
}

func stale(err error) error {
	if errors.Is(err, pgx.ErrNoRows) {
		return conflict("Somebody saved this while you were editing. Load it again; what you typed is kept here until you do.")
	}
	return err
}

// Export writes the locations in a scope as CSV.
func (d *Desk) Export(ctx context.Context, s Scope, w io.Writer) error {
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
	return sheet.Write(w, lines)
}
