package ledger

import (
	"context"
	"time"

	"github.com/google/uuid"

	"uvent/core/record/record"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Client is a business.
type Client struct {
	ID                    uuid.UUID
	Name, LegalName       string
	OwnerName, OwnerEmail string
	Version               int32
	Shared                record.Record // what it says for all its locations, but for its names
	PutAwayAt, ErasedAt   *time.Time    // it is out of all lists since; its people's data are gone since
	Language              string        // that its owner is written to in, by its two letters
}

// ClientOf is a client as it is kept.
func ClientOf(row db.Client) Client { return Client(row) }

// Client finds one.
func (d *Desk) Client(ctx context.Context, id uuid.UUID) (Client, error) {
	c, err := store.One(ClientOf)(d.store.Client(ctx, id))
	return c, problem.OrNotFound(err, "There is no such client.")
}

// Shared is what a client says for all its locations, its names among it.
func Shared(c Client) record.Record {
	r := c.Shared
	r.Name, r.LegalName = c.Name, c.LegalName
	return r
}

// Place is one location on one directory.
type Place struct {
	Location  uuid.UUID
	Directory string
}

// Scope is what a view is of: everything, some clients, or a location.
type Scope struct {
	Clients  []uuid.UUID // nil: all of them; with a location, those of which it has to be
	Location *uuid.UUID
}

// OfClient is the scope of one client.
func OfClient(id uuid.UUID) Scope { return Scope{Clients: []uuid.UUID{id}} }

// Everything reports whether a scope leaves nothing out.
func (s Scope) Everything() bool { return s.Clients == nil && s.Location == nil }

// Location is a location and its record.
type Location struct {
	ID        uuid.UUID
	ClientID  uuid.UUID
	Label     string
	StoreCode string
	Record    record.Record
	Version   int32
	PutAwayAt *time.Time // it is out of all counts and lists since
}

// LocationOf is a location as it is kept.
func LocationOf(row db.Location) Location { return Location(row) }

// Location finds one.
func (d *Desk) Location(ctx context.Context, id uuid.UUID) (Location, error) {
	l, err := store.One(LocationOf)(d.store.Location(ctx, id))
	return l, problem.OrNotFound(err, "There is no such location.")
}
