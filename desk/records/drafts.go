package records

import (
	"context"
	"errors"
	"regexp"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// mostDraftBytes bounds one draft.
const mostDraftBytes = 1 << 20

// subject is what a draft may be about: "location", "client" or "new" (a location
// of a client) with an id, or "new client".
var subject = regexp.MustCompile(`^((location|client|new) [0-9a-f-]{36}|new client)$`)

// Draft is what a person was typing about something, as the screen kept it;
// empty when there is nothing.
func (d *Desk) Draft(ctx context.Context, who people.Actor, about string) (string, error) {
	body, err := d.store.Draft(ctx, db.DraftParams{PersonID: who.ID, Subject: about})
	if errors.Is(err, pgx.ErrNoRows) {
		return "", nil
	}
	return body, err
}

// SaveDraft keeps what a person is typing. It is only theirs.
func (d *Desk) SaveDraft(ctx context.Context, who people.Actor, about string, body string) error {
	switch {
	case !subject.MatchString(about):
		return &problem.Problem{Kind: problem.NotFound, Detail: "There is nothing of this kind to keep a draft of."}
	case len(body) > mostDraftBytes:
		return &problem.Problem{Kind: problem.Invalid, Detail: "The draft is too large to be kept."}
	}
	return d.store.SaveDraft(ctx, db.SaveDraftParams{PersonID: who.ID, Subject: about, Body: body, At: d.clock.Now()})
}

// DropDraft forgets what a person was typing.
func (d *Desk) DropDraft(ctx context.Context, who people.Actor, about string) error {
	return d.store.DropDraft(ctx, db.DropDraftParams{PersonID: who.ID, Subject: about})
}

// Present is a window in which a record is open.
type Present struct {
	WindowID uuid.UUID
	PersonID uuid.UUID
	Editing  bool
	Name     string // of the person
}

// See says that a window has a record open, and lists the other windows that do.
func (d *Desk) See(ctx context.Context, who people.Actor, location, window uuid.UUID, editing bool) (others []Present, err error) {
	if _, err := d.ledger.Location(ctx, location); err != nil {
		return nil, err
	}
	fresh, err := d.store.SeePresence(ctx, db.SeePresenceParams{LocationID: location, WindowID: window, PersonID: who.ID, Editing: editing})
	if err != nil {
		return nil, err
	}
	if fresh {
		if err := errors.Join(d.store.ForgetPresence(ctx), store.Notify(ctx, d.store.Queries, store.Change{Location: &location})); err != nil {
			return nil, err
		}
	}
	all, err := d.store.Present(ctx, location)
	for _, p := range all {
		if p.WindowID != window {
			others = append(others, Present(p))
		}
	}
	return others, err
}

// Leave says that a window has closed a record.
func (d *Desk) Leave(ctx context.Context, location, window uuid.UUID) error {
	gone, err := d.store.LeavePresence(ctx, db.LeavePresenceParams{LocationID: location, WindowID: window})
	if err != nil || gone == 0 {
		return err
	}
	return store.Notify(ctx, d.store.Queries, store.Change{Location: &location})
}

// Merged is what comes of an edit that was begun on a record which somebody saved
// meanwhile.
type Merged struct {
	Location  ledger.Location // as it is now
	By        string          // who saved last
	Record    record.Record
	Conflicts []record.Conflict
}

// Merge lays an edit over what a location's record is now. Nothing is saved.
func (d *Desk) Merge(ctx context.Context, location uuid.UUID, base, mine record.Record) (m Merged, err error) {
	if m.Location, err = d.ledger.Location(ctx, location); err != nil {
		return m, err
	}
	history, err := d.store.RecordHistory(ctx, &location)
	if err != nil {
		return m, err
	}
	if len(history) > 0 {
		m.By = history[0].Actor
	}
	m.Record, m.Conflicts = record.Merge(base, mine, m.Location.Record)
	return m, nil
}
