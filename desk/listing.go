package desk

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/store"
	"uvent/store/db"
)

// Place is one location on one directory.
type Place struct {
	Location  uuid.UUID
	Directory string
}

// listing is what a verb works on, locked for its transaction.
type listing struct {
	Place
	q        *db.Queries
	tx       pgx.Tx
	now      time.Time
	location db.Location
	client   db.Client
	book     rulebook.Rulebook
	state    verification.State
	actor    Actor
}

// change locks a listing, lets f add events to it, and keeps the state that
// they lead to with its deadlines.
func (d *Desk) change(ctx context.Context, actor Actor, at Place, f func(l *listing) error) error {
	book, err := d.Book(at.Directory)
	if err != nil {
		return err
	}
	return d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		l := listing{Place: at, q: q, tx: tx, now: d.clock.Now(), book: book, actor: actor}
		if l.location, err = q.Location(ctx, at.Location); err != nil {
			return orNotFound(err, "There is no such location.")
		}
		if l.client, err = q.Client(ctx, l.location.ClientID); err != nil {
			return err
		}
		start := verification.Start()
		if err := q.AddListing(ctx, db.AddListingParams{LocationID: at.Location, DirectoryID: at.Directory,
			Control: string(start.Control), Verification: string(start.Verification), Visibility: string(start.Visibility), State: start}); err != nil {
			return err
		}
		row, err := q.LockListing(ctx, db.LockListingParams{LocationID: at.Location, DirectoryID: at.Directory})
		if err != nil {
			return err
		}
		l.state = row.State
		if err := f(&l); err != nil {
			return err
		}
		return l.save(ctx)
	})
}

// add appends an event and moves the state on.
func (l *listing) add(ctx context.Context, e verification.Event) error {
	data, err := json.Marshal(e)
	if err != nil {
		return err
	}
	e.At, e.Actor = l.now, l.actor.Name
	_, err = l.q.AddEvent(ctx, db.AddEventParams{At: e.At, Actor: e.Actor, ClientID: &l.client.ID, LocationID: &l.Location, DirectoryID: &l.Directory, Kind: string(e.Kind), Data: data})
	if err != nil {
		return err
	}
	l.state = l.state.After(l.book, e)
	return nil
}

func (l *listing) save(ctx context.Context) error {
	s := l.state
	err := l.q.SaveListing(ctx, db.SaveListingParams{LocationID: l.Location, DirectoryID: l.Directory,
		Control: string(s.Control), Verification: string(s.Verification), Visibility: string(s.Visibility), State: s, Cases: int32(len(s.Cases))})
	if err != nil {
		return err
	}
	if err := l.q.ClearDeadlines(ctx, db.ClearDeadlinesParams{LocationID: l.Location, DirectoryID: l.Directory}); err != nil {
		return err
	}
	for _, dl := range s.Deadlines(l.book) {
		if err := l.q.AddDeadline(ctx, db.AddDeadlineParams{LocationID: l.Location, DirectoryID: l.Directory, Kind: string(dl.Kind), At: dl.At}); err != nil {
			return err
		}
	}
	return store.Notify(ctx, l.q, store.Change{Location: &l.Location})
}

// events reads what happened to a listing, oldest first.
func (d *Desk) events(ctx context.Context, at Place) ([]verification.Event, error) {
	rows, err := d.store.ListingEvents(ctx, db.ListingEventsParams{LocationID: &at.Location, DirectoryID: &at.Directory})
	if err != nil {
		return nil, err
	}
	return readEvents(rows)
}

func readEvents(rows []db.Event) ([]verification.Event, error) {
	out := make([]verification.Event, len(rows))
	for i, r := range rows {
		if err := json.Unmarshal(r.Data, &out[i]); err != nil {
			return nil, err
		}
		out[i].At, out[i].Actor, out[i].Kind = r.At, r.Actor, verification.Kind(r.Kind)
	}
	return out, nil
}

func orNotFound(err error, detail string) error {
	if errors.Is(err, pgx.ErrNoRows) {
		return &Problem{Kind: NotFound, Detail: detail}
	}
	return err
}
