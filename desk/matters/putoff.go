package matters

import (
	"cmp"
	"context"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store/db"
)

// Snooze is a task that somebody has put off. Another task of the same listing shows.
type Snooze struct {
	LocationID  uuid.UUID
	DirectoryID string
	Act         string // an agenda.Act
	Until       time.Time
	Reason      string
	By          string
}

// SnoozeOf is one as it is kept.
func SnoozeOf(row db.Snooze) Snooze { return Snooze(row) }

// mostSnooze bounds how far off a task can be put.
const mostSnooze = 90 * 24 * time.Hour

// sound checks until when something is put off, and why.
func (d *Desk) sound(until time.Time, reason string) (string, error) {
	reason = strings.TrimSpace(reason)
	var wrong []record.Problem
	switch now := d.clock.Now(); {
	case !until.After(now):
		wrong = append(wrong, record.Problem{Path: "until", Message: "name a moment to come"})
	case until.Sub(now) > mostSnooze:
		wrong = append(wrong, record.Problem{Path: "until", Message: "at most 90 days"})
	}
	if len(reason) > mostWords {
		wrong = append(wrong, record.Problem{Path: "reason", Message: "say why in up to 500 letters"})
	}
	if wrong != nil {
		return "", problem.Fields(wrong)
	}
	return reason, nil
}

// PutOff puts a listing's task off until a moment, and says why, where that is worth a word.
func (d *Desk) PutOff(ctx context.Context, who people.Actor, at ledger.Place, act agenda.Act, until time.Time, reason string) error {
	reason, err := d.sound(until, reason)
	if err != nil {
		return err
	}
	task, there, err := d.taskOf(ctx, at)
	if err != nil {
		return err
	}
	ofMany := act == agenda.Begin || act == agenda.Follow // of several listings
	if !ofMany && (!there || task.Act != act) {
		return problem.Conflictf("There is no such task any more.")
	}
	title := string(act)
	if there {
		title = task.Title
	}
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error { return d.snooze(ctx, q, who, at, act, title, until, reason) })
}

func (d *Desk) snooze(
	ctx context.Context,
	q *db.Queries,
	who people.Actor,
	at ledger.Place,
	act agenda.Act,
	title string,
	until time.Time,
	reason string,
) error {
	if err := q.Snooze(
		ctx,
		db.SnoozeParams{LocationID: at.Location, DirectoryID: at.Directory, Act: string(act), Until: until, Reason: reason, By: who.Name},
	); err != nil {
		return err
	}
	return d.ledger.NoteOn(ctx, q, who, at, "snoozed", map[string]string{"task": title, "until": until.Format(time.RFC3339), "reason": reason})
}

// PutOffAll puts matters off together.
func (d *Desk) PutOffAll(ctx context.Context, who people.Actor, ids []uuid.UUID, until time.Time, reason string) error {
	reason, err := d.sound(until, reason)
	if err != nil {
		return err
	}
	return d.each(ctx, ids, func(q *db.Queries, _ pgx.Tx, m db.Matter) error {
		act, err := q.ActOfMatter(ctx, m.ID)
		if err != nil {
			return problem.OrNotFound(err, "“"+m.Title+"” is reckoned anew just now; try again.")
		}
		return d.snooze(ctx, q, who, place(m), agenda.Act(act), m.Title, until, reason)
	})
}

// TakeUpAll brings matters back that were put off.
func (d *Desk) TakeUpAll(ctx context.Context, who people.Actor, ids []uuid.UUID) error {
	return d.each(ctx, ids, func(q *db.Queries, _ pgx.Tx, m db.Matter) error {
		if n, err := q.Unsnooze(ctx, db.UnsnoozeParams{LocationID: m.LocationID, DirectoryID: m.DirectoryID}); err != nil || n == 0 {
			return err // somebody has brought it back already
		}
		return d.ledger.NoteOn(ctx, q, who, place(m), "taken_up", map[string]string{"task": m.Title})
	})
}

// taskOf is what a listing asks for by now; false for nothing.
func (d *Desk) taskOf(ctx context.Context, at ledger.Place) (t agenda.Task, there bool, err error) {
	book, err := d.shelf.Book(at.Directory)
	if err != nil {
		return t, false, err
	}
	l, err := d.ledger.Location(ctx, at.Location)
	if err != nil {
		return t, false, err
	}
	c, err := d.ledger.Client(ctx, l.ClientID)
	if err != nil {
		return t, false, err
	}
	state := verification.Start()
	row, err := d.store.Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: at.Directory})
	if err == nil {
		state = row.State
	} else if problem.IgnoreNoRows(err) != nil {
		return t, false, err
	}
	pages, err := PagesOf(ctx, d.store.Queries, []uuid.UUID{at.Location})
	if err != nil {
		return t, false, err
	}
	t, there = agenda.For(AgendaListing(&book, &l, &c, state, pages[at]), d.clock.Now())
	return t, there, nil
}

// OwnerOf is who is asked for what a location needs; empty where nobody is known.
func OwnerOf(l *ledger.Location, c *ledger.Client) string {
	return cmp.Or(l.Record.Mailing.Contact, c.OwnerName)
}

// AgendaListing is a listing as the agenda reads it.
func AgendaListing(book *rulebook.Rulebook, l *ledger.Location, c *ledger.Client, state verification.State, page *agenda.OwnerPage) agenda.Listing {
	return agenda.Listing{Label: l.Label, Owner: OwnerOf(l, c), Record: &l.Record, Book: book, State: state, Page: page}
}

// TakeUp brings a task back that was put off.
func (d *Desk) TakeUp(ctx context.Context, who people.Actor, at ledger.Place) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		n, err := q.Unsnooze(ctx, db.UnsnoozeParams{LocationID: at.Location, DirectoryID: at.Directory})
		if err == nil && n == 0 {
			return &problem.Problem{Kind: problem.NotFound, Detail: "It was not put off."}
		}
		if err != nil {
			return err
		}
		return d.ledger.NoteOn(ctx, q, who, at, "taken_up", map[string]string{})
	})
}
