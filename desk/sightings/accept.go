package sightings

import (
	"context"
	"strings"
	"unicode/utf8"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgtype"

	"uvent/core/fact/calendar"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store/db"
)

// Differing is one difference: a fact of a listing.
type Differing struct {
	ledger.Place
	Fact string
}

// mostWhy is how long the reason for accepting a difference may be, in characters.
const mostWhy = 300

// mostAtOnce is how many differences are accepted at once.
const mostAtOnce = 2000

// Accept accepts differences as they are, until a date or for good: as long as the pages show the same. All of them are, or
// none.
func (d *Desk) Accept(ctx context.Context, actor people.Actor, list []Differing, why string, until *calendar.Date) error {
	why = strings.TrimSpace(why)
	switch {
	case why == "":
		return &problem.Problem{Kind: problem.Invalid, Detail: "Say why they are accepted as they are."}
	case utf8.RuneCountInString(why) > mostWhy:
		return &problem.Problem{Kind: problem.Invalid, Detail: "A reason has up to 300 characters. Make it shorter."}
	case until != nil && until.Before(calendar.DateOf(d.clock.Now())):
		return &problem.Problem{Kind: problem.Invalid, Detail: "That day is past. Choose one that is to come, or none."}
	case len(list) == 0 || len(list) > mostAtOnce:
		return &problem.Problem{Kind: problem.Invalid, Detail: "Choose one to 2,000 differences."}
	}
	last := pgtype.Date{}
	if until != nil {
		last = pgtype.Date{Time: until.At(0, d.clock.Now().UTC().Location()), Valid: true}
	}
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		for _, one := range list {
			row, err := q.Difference(ctx, db.DifferenceParams{LocationID: one.Location, DirectoryID: one.Directory, Fact: one.Fact})
			if err != nil {
				return problem.OrNotFound(err, "One of the differences is gone meanwhile. Look at them again.")
			}
			if err := q.Accept(ctx, db.AcceptParams{
				LocationID: one.Location, DirectoryID: one.Directory, Fact: one.Fact, Seen: row.Seen, Why: why, Until: last, ByName: actor.Name, At: d.clock.Now(),
			}); err != nil {
				return err
			}
			note := map[string]any{"fact": row.Title, "directory": one.Directory, "seen": row.Seen, "why": why}
			if until != nil {
				note["until"] = until.String()
			}
			if err := d.ledger.NoteOn(ctx, q, actor, one.Place, "difference_accepted", note); err != nil {
				return err
			}
			if err := q.MarkTasksStale(ctx, []uuid.UUID{one.Location}); err != nil {
				return err
			}
		}
		return nil
	})
}

// TakeUp takes differences up again that were accepted.
func (d *Desk) TakeUp(ctx context.Context, actor people.Actor, list []Differing) error {
	if len(list) == 0 || len(list) > mostAtOnce {
		return &problem.Problem{Kind: problem.Invalid, Detail: "Choose one to 2,000 differences."}
	}
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		for _, one := range list {
			n, err := q.DropAcceptance(ctx, db.DropAcceptanceParams{LocationID: one.Location, DirectoryID: one.Directory, Fact: one.Fact})
			if err != nil {
				return err
			}
			if n == 0 {
				return problem.Conflictf("One of them is not accepted, or no longer. Look at them again.")
			}
			if err := d.ledger.NoteOn(ctx, q, actor, one.Place, "difference_taken_up", map[string]any{"fact": one.Fact, "directory": one.Directory}); err != nil {
				return err
			}
			if err := q.MarkTasksStale(ctx, []uuid.UUID{one.Location}); err != nil {
				return err
			}
		}
		return nil
	})
}
