package ledger

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// SentID is the directory's own key of an attempt's code.
func SentID(ctx context.Context, q *db.Queries, at Place, attempt string) (string, error) {
	rows, err := q.ListingEvents(ctx, db.ListingEventsParams{LocationID: &at.Location, DirectoryID: &at.Directory})
	if err != nil {
		return "", err
	}
	history, err := ReadEvents(rows)
	if err != nil {
		return "", err
	}
	for _, e := range history {
		if sent, ok := e.What.(verification.CodeSent); ok && sent.Attempt == attempt {
			return sent.Ref, nil
		}
	}
	return "", problem.Conflictf("No code was sent for this attempt. Ask for another.")
}

// StatesOf are where the listings of some locations stand that were begun.
func StatesOf(ctx context.Context, q *db.Queries, locations []uuid.UUID) (map[Place]verification.State, error) {
	rows, err := q.WholeListingsOf(ctx, locations)
	states := make(map[Place]verification.State, len(rows))
	for _, l := range rows {
		states[Place{l.LocationID, l.DirectoryID}] = l.State
	}
	return states, err
}

// Listing is what a verb works on, locked for its transaction.
type Listing struct {
	Place
	Q      *db.Queries
	Tx     pgx.Tx
	Now    time.Time
	Where  Location
	Client Client
	Book   rulebook.Rulebook
	State  verification.State
	Actor  people.Actor
}

// Change locks a listing, lets f add events to it, and keeps the state that
// they lead to with its deadlines.
func (d *Desk) Change(ctx context.Context, actor people.Actor, at Place, f func(l *Listing) error) error {
	return d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error { return d.ChangeIn(ctx, q, tx, actor, at, f) })
}

// ChangeIn is Change within a transaction, for several that are changed together or not at all.
func (d *Desk) ChangeIn(ctx context.Context, q *db.Queries, tx pgx.Tx, actor people.Actor, at Place, f func(l *Listing) error) error {
	book, err := d.shelf.Book(at.Directory)
	if err != nil {
		return err
	}
	l := Listing{Place: at, Q: q, Tx: tx, Now: d.now(), Book: book, Actor: actor}
	location, err := store.One(LocationOf)(q.Location(ctx, at.Location))
	if err != nil {
		return problem.OrNotFound(err, "There is no such location.")
	}
	client, err := store.One(ClientOf)(q.Client(ctx, location.ClientID))
	if err != nil {
		return err
	}
	l.Where, l.Client = location, client
	start := verification.Start()
	if err := q.AddListing(ctx, db.AddListingParams{LocationID: at.Location, DirectoryID: at.Directory,
		Control: string(start.Control), Verification: string(start.Verification), Visibility: string(start.Visibility), State: start}); err != nil {
		return err
	}
	row, err := q.LockListing(ctx, db.LockListingParams{LocationID: at.Location, DirectoryID: at.Directory})
	if err != nil {
		return err
	}
	l.State = row.State
	if err := f(&l); err != nil {
		return err
	}
	return l.save(ctx)
}

// Add appends an event and moves the state on. What happened is taken as it will be read again,
// so that replaying what is kept leads to the same state.
func (l *Listing) Add(ctx context.Context, what verification.What) error {
	data, err := json.Marshal(what)
	if err != nil {
		return err
	}
	if what, err = verification.Read(what.Kind(), data); err != nil {
		return err
	}
	version := l.Book.Version()
	_, err = l.Q.AddEvent(
		ctx,
		db.AddEventParams{
			At:          l.Now,
			Actor:       l.Actor.Name,
			ActorID:     l.Actor.Key(),
			ClientID:    &l.Client.ID,
			LocationID:  &l.Location,
			DirectoryID: &l.Directory,
			Kind:        string(what.Kind()),
			Data:        data,
			Book:        &version,
		},
	)
	if err != nil {
		return err
	}
	l.State = l.State.After(l.Book, verification.Event{At: l.Now, Actor: l.Actor.Name, What: what})
	return nil
}

func (l *Listing) save(ctx context.Context) error {
	if err := save(ctx, l.Q, l.Place, l.State); err != nil {
		return err
	}
	if err := l.Q.ClearDeadlines(ctx, db.ClearDeadlinesParams{LocationID: l.Location, DirectoryID: l.Directory}); err != nil {
		return err
	}
	for _, dl := range l.State.Deadlines(l.Book) {
		if err := l.Q.AddDeadline(ctx, db.AddDeadlineParams{LocationID: l.Location, DirectoryID: l.Directory, Kind: string(dl.Kind), At: dl.At}); err != nil {
			return err
		}
	}
	return store.Notify(ctx, l.Q, store.Change{Location: &l.Location, Listing: true})
}

// save keeps where a listing stands.
func save(ctx context.Context, q *db.Queries, at Place, s verification.State) error {
	return q.SaveListing(ctx, db.SaveListingParams{LocationID: at.Location, DirectoryID: at.Directory,
		Control: string(s.Control), Verification: string(s.Verification), Visibility: string(s.Visibility), State: s, Cases: int32(len(s.Cases))})
}

// Events reads what happened to a listing, oldest first.
func (d *Desk) Events(ctx context.Context, at Place) ([]verification.Event, error) {
	rows, err := d.store.ListingEvents(ctx, db.ListingEventsParams{LocationID: &at.Location, DirectoryID: &at.Directory})
	if err != nil {
		return nil, err
	}
	return ReadEvents(rows)
}

// ReadEvents reads events as they are kept.
func ReadEvents(rows []db.Event) ([]verification.Event, error) {
	out := make([]verification.Event, len(rows))
	for i, r := range rows {
		what, err := verification.Read(verification.Kind(r.Kind), r.Data)
		if err != nil {
			return nil, err
		}
		out[i] = verification.Event{At: r.At.UTC(), Actor: r.Actor, What: what}
	}
	return out, nil
}

// Begun is a listing that there is, with its directory's rulebook.
func (d *Desk) Begun(ctx context.Context, at Place) (book rulebook.Rulebook, st verification.State, err error) {
	if book, err = d.shelf.Book(at.Directory); err != nil {
		return book, st, err
	}
	row, err := d.store.Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: at.Directory})
	return book, row.State, problem.OrNotFound(err, "This location has no listing there yet.")
}
