package records

import (
	"context"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/fact/contact"
	"uvent/core/fact/language"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Clients lists all clients by name.
func (d *Desk) Clients(ctx context.Context) ([]ledger.Client, error) {
	return store.Each(ledger.ClientOf)(d.store.Clients(ctx))
}

// settled holds a record against what its client says for all; the client stays as
// it is until the transaction ends.
func settled(ctx context.Context, q *db.Queries, client uuid.UUID, r record.Record) (record.Record, error) {
	c, err := store.One(ledger.ClientOf)(q.ShareClient(ctx, client))
	return record.Settle(r, ledger.Shared(c)), err
}

// ClientFacts are what is kept of a client.
type ClientFacts struct {
	Name, LegalName, OwnerName, OwnerEmail string
	Language                               string        // that the owner is written to in, by its two letters; empty: English
	Shared                                 record.Record // what it says for all its locations, but for its names
}

func (f *ClientFacts) check() error {
	var wrong []record.Problem
	for path, text := range map[string]*string{"name": &f.Name, "legal_name": &f.LegalName, "owner_name": &f.OwnerName, "owner_email": &f.OwnerEmail} {
		if *text = strings.TrimSpace(*text); len(*text) > 300 {
			wrong = append(wrong, record.Problem{Path: path, Message: "it is longer than is kept"})
		}
	}
	if f.Name == "" {
		wrong = append(wrong, record.Problem{Path: "name", Message: "a client needs its trading name"})
	}
	if f.Language == "" {
		f.Language = string(language.English)
	}
	if !language.Language(f.Language).Known() {
		wrong = append(wrong, record.Problem{Path: "language", Message: "owners are not written to in this language"})
	}
	if f.OwnerEmail != "" {
		if m := contact.Email(f.OwnerEmail); m != "" {
			wrong = append(wrong, record.Problem{Path: "owner_email", Message: m})
		}
	}
	shared := f.Shared
	shared.Name, shared.LegalName = f.Name, f.LegalName
	tidy, faults := record.NormalShared(shared)
	for _, p := range faults {
		if p.Path != "name" && p.Path != "legal_name" { // told above
			wrong = append(wrong, record.Problem{Path: "shared." + p.Path, Message: p.Message})
		}
	}
	f.Shared = tidy
	f.Shared.Name, f.Shared.LegalName = "", ""
	if wrong != nil {
		return problem.Fields(wrong)
	}
	return nil
}

// AddClient adds a client.
func (d *Desk) AddClient(ctx context.Context, actor people.Actor, f ClientFacts) (c ledger.Client, err error) {
	if err := f.check(); err != nil {
		return c, err
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if c, err = store.One(ledger.ClientOf)(
			q.AddClient(
				ctx,
				db.AddClientParams{Name: f.Name, LegalName: f.LegalName, OwnerName: f.OwnerName, OwnerEmail: f.OwnerEmail, Shared: f.Shared, Language: f.Language},
			),
		); err != nil {
			return problem.Taken(err)
		}
		return d.ledger.Note(ctx, q, actor, "client_added", c.ID, nil, f)
	})
	return c, err
}

// SaveClient changes a client; version is the one that was read. Its locations
// follow in what they do not say for themselves; how many is told.
func (d *Desk) SaveClient(ctx context.Context, actor people.Actor, id uuid.UUID, version int32, f ClientFacts) (c ledger.Client, followed int, err error) {
	if err := f.check(); err != nil {
		return c, 0, err
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		before, err := store.One(ledger.ClientOf)(q.LockClient(ctx, id))
		if err != nil {
			return problem.OrNotFound(err, "There is no such client.")
		}
		if c, err = store.One(ledger.ClientOf)(q.SaveClient(ctx, db.SaveClientParams{
			ID: id, Name: f.Name, LegalName: f.LegalName, OwnerName: f.OwnerName, OwnerEmail: f.OwnerEmail, Shared: f.Shared, Version: version, Language: f.Language,
		})); err != nil {
			return problem.Stale(problem.Taken(err))
		}
		if err := d.ledger.Note(ctx, q, actor, "client_saved", c.ID, nil, f); err != nil {
			return err
		}
		locations, err := store.Each(ledger.LocationOf)(q.LocationsOf(ctx, id))
		if err != nil {
			return err
		}
		was, is := ledger.Shared(before), ledger.Shared(c)
		followed, err = d.SaveTogether(
			ctx,
			q,
			actor,
			locations,
			uuid.New(),
			func(l ledger.Location) (record.Record, error) { return record.Follow(l.Record, was, is), nil },
		)
		return err
	})
	return c, followed, err
}
