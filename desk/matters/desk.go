// Package matters is what wants a person: what people say of it, whom it is handed to, until when it is put off, and what they
// decide to leave as it is. What listings want follows from their states (core/reckon/agenda); boards reckon and keep it.
package matters

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/shelf"
	"uvent/reach"
	"uvent/store"
	"uvent/store/db"
)

// Desk works on matters. It is safe for concurrent use.
type Desk struct {
	store  *store.Store
	clock  reach.Clock
	shelf  *shelf.Desk
	people *people.Desk
	ledger *ledger.Desk
}

// New makes a desk.
func New(s *store.Store, clock reach.Clock, books *shelf.Desk, who *people.Desk, l *ledger.Desk) *Desk {
	return &Desk{store: s, clock: clock, shelf: books, people: who, ledger: l}
}

// Matter is something that wants a person, or did.
type Matter struct {
	ID       uuid.UUID
	Place    ledger.Place
	Client   uuid.UUID
	Kind     agenda.Kind
	Title    string
	OpenedAt time.Time
	With     *uuid.UUID // whom it was handed to
	EndedAt  *time.Time
	EndedBy  string // who decided so; empty: what it wanted came to be
	EndedWhy string
	Notes    []Note
}

// Note is what somebody said of a matter.
type Note struct {
	At     time.Time
	Person string
	Says   string
}

func matterOf(r db.Matter) Matter {
	return Matter{
		ID: r.ID, Place: ledger.Place{Location: r.LocationID, Directory: r.DirectoryID}, Client: r.ClientID, Kind: agenda.Kind(r.Kind), Title: r.Title,
		OpenedAt: r.OpenedAt, With: r.WithID, EndedAt: r.EndedAt, EndedBy: r.EndedBy, EndedWhy: r.EndedWhy,
	}
}

// Of lists the matters of a listing with their notes, the newest first.
func (d *Desk) Of(ctx context.Context, at ledger.Place) ([]Matter, error) {
	out, err := store.Each(matterOf)(d.store.Reading(ctx).MattersOf(ctx, db.MattersOfParams{LocationID: at.Location, DirectoryID: at.Directory}))
	if err != nil {
		return nil, err
	}
	out = slices.DeleteFunc(out, func(m Matter) bool { return m.Kind.Fleeting() })
	ids, where := make([]uuid.UUID, len(out)), map[uuid.UUID]*Matter{}
	for i := range out {
		ids[i], where[out[i].ID] = out[i].ID, &out[i]
	}
	notes, err := d.store.Reading(ctx).MatterNotes(ctx, ids)
	for _, n := range notes {
		m := where[n.MatterID]
		m.Notes = append(m.Notes, Note{At: n.At, Person: n.Person, Says: n.Says})
	}
	return out, err
}

// PagesOf are the pages by which owners were asked last, of the listings of some locations.
func PagesOf(ctx context.Context, q *db.Queries, locations []uuid.UUID) (map[ledger.Place]*agenda.OwnerPage, error) {
	rows, err := q.OwnerPagesOf(ctx, locations)
	out := make(map[ledger.Place]*agenda.OwnerPage, len(rows))
	for _, r := range rows {
		out[ledger.Place{Location: r.LocationID, Directory: r.DirectoryID}] = &agenda.OwnerPage{
			ID: r.ID.String(), Task: verification.OwnerTask(r.Kind), MadeAt: r.MadeAt, Opened: r.OpenedAt != nil, Expires: r.Expires, CallAt: r.CallAt,
			Letters: int(r.Reminded), LastLetter: r.RemindedAt,
		}
	}
	return out, err
}
