package desk

import (
	"context"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/store/db"
)

// Snooze is a task that somebody has put off. Another task of the same listing shows.
type Snooze = db.Snooze

// mostSnooze bounds how far off a task can be put.
const mostSnooze = 90 * 24 * time.Hour

// PutOff puts a listing's task off until a moment, and says why.
func (d *Desk) PutOff(ctx context.Context, who Actor, at Place, act agenda.Act, until time.Time, reason string) error {
	reason = strings.TrimSpace(reason)
	var wrong []record.Problem
	switch now := d.clock.Now(); {
	case !until.After(now):
		wrong = append(wrong, record.Problem{Path: "until", Message: "name a moment to come"})
	case until.Sub(now) > mostSnooze:
		wrong = append(wrong, record.Problem{Path: "until", Message: "at most 90 days"})
	}
	if reason == "" || len(reason) > 500 {
		wrong = append(wrong, record.Problem{Path: "reason", Message: "say why, in up to 500 letters"})
	}
	if wrong != nil {
		return invalid(wrong)
	}
	task, there, err := d.taskOf(ctx, at)
	if err != nil {
		return err
	}
	ofMany := act == agenda.Begin || act == agenda.Follow // of several listings
	if !ofMany && (!there || task.Act != act) {
		return conflict("There is no such task any more.")
	}
	title := string(act)
	if there {
		title = task.Title
	}
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if err := q.Snooze(ctx, db.SnoozeParams{LocationID: at.Location, DirectoryID: at.Directory, Act: string(act), Until: until, Reason: reason, By: who.Name}); err != nil {
			return err
		}
		return d.noteOn(ctx, q, who, at, "snoozed", map[string]string{"task": title, "until": until.Format(time.RFC3339), "reason": reason})
	})
}

// taskOf is what a listing asks for by now; false for nothing.
func (d *Desk) taskOf(ctx context.Context, at Place) (t agenda.Task, there bool, err error) {
	book, err := d.Book(at.Directory)
	if err != nil {
		return t, false, err
	}
	l, err := d.Location(ctx, at.Location)
	if err != nil {
		return t, false, err
	}
	c, err := d.Client(ctx, l.ClientID)
	if err != nil {
		return t, false, err
	}
	state := verification.Start()
	row, err := d.store.Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: at.Directory})
	if err == nil {
		state = row.State
	} else if ignoreNoRows(err) != nil {
		return t, false, err
	}
	t, there = agenda.For(agendaListing(&book, &l, &c, state), d.clock.Now())
	return t, there, nil
}

// agendaListing is a listing as the agenda reads it.
func agendaListing(book *rulebook.Rulebook, l *Location, c *Client, state verification.State) agenda.Listing {
	owner := l.Record.Mailing.Contact
	if owner == "" {
		owner = c.OwnerName
	}
	return agenda.Listing{Label: l.Label, Owner: owner, Record: &l.Record, Book: book, State: state}
}

// TakeUp brings a task back that was put off.
func (d *Desk) TakeUp(ctx context.Context, who Actor, at Place) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		n, err := q.Unsnooze(ctx, db.UnsnoozeParams{LocationID: at.Location, DirectoryID: at.Directory})
		if err == nil && n == 0 {
			return &Problem{Kind: NotFound, Detail: "It was not put off."}
		}
		if err != nil {
			return err
		}
		return d.noteOn(ctx, q, who, at, "taken_up", map[string]string{})
	})
}

// Snoozed lists what is put off in a scope.
func (d *Desk) Snoozed(ctx context.Context, s Scope) ([]Snooze, error) {
	return d.store.Snoozed(ctx, db.SnoozedParams{Now: d.clock.Now(), ClientID: s.Client, LocationID: s.Location})
}

// Done lists what people have done in a scope since a day began by somebody's clock, the
// newest first.
func (d *Desk) Done(ctx context.Context, who Person, s Scope) ([]LogLine, error) {
	zone, err := time.LoadLocation(who.Zone)
	if err != nil {
		return nil, err
	}
	rows, err := d.store.DoneSince(ctx, db.DoneSinceParams{Since: calendar.DateIn(d.clock.Now(), zone).In(zone), ClientID: s.Client, LocationID: s.Location})
	out := make([]LogLine, len(rows))
	for i, r := range rows {
		row := db.LogRow(r)
		out[i] = LogLine{LogRow: row, Says: d.logSays(row)}
		if r.DirectoryID != nil {
			out[i].Directory = d.DirectoryName(*r.DirectoryID)
		}
	}
	return out, err
}
