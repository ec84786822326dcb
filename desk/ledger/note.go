package ledger

import (
	"context"
	"encoding/json"

	"github.com/google/uuid"

	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// NoteOn adds an event that is about a listing and does not move it on.
func (d *Desk) NoteOn(ctx context.Context, q *db.Queries, actor people.Actor, at Place, kind string, data any) error {
	l, err := store.One(LocationOf)(q.Location(ctx, at.Location))
	if err != nil {
		return problem.OrNotFound(err, "There is no such location.")
	}
	return d.Note(ctx, q, actor, kind, l.ClientID, &at.Location, data)
}

// NoteAbout adds an event that is about no client.
func (d *Desk) NoteAbout(ctx context.Context, q *db.Queries, actor people.Actor, kind string, data any) error {
	b, err := json.Marshal(data)
	if err != nil {
		return err
	}
	if _, err := q.AddEvent(ctx, db.AddEventParams{At: d.now(), Actor: actor.Name, ActorID: actor.Key(), Kind: kind, Data: b}); err != nil {
		return err
	}
	return store.Notify(ctx, q, store.Change{})
}

// Note adds an event about a client or a location.
func (d *Desk) Note(ctx context.Context, q *db.Queries, actor people.Actor, kind string, client uuid.UUID, location *uuid.UUID, data any) error {
	b, err := json.Marshal(data)
	if err != nil {
		return err
	}
	if _, err := q.AddEvent(
		ctx,
		db.AddEventParams{At: d.now(), Actor: actor.Name, ActorID: actor.Key(), ClientID: &client, LocationID: location, Kind: kind, Data: b},
	); err != nil {
		return err
	}
	return store.Notify(ctx, q, store.Change{Location: location})
}
