package matters

import (
	"context"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store/db"
)

// mostWords bounds a note and a reason, in bytes.
const mostWords = 500

// mostAtOnce bounds how many matters are dealt with at once.
const mostAtOnce = 500

// words are what somebody says, which has to be something.
func words(field, text string) (string, error) {
	if text = strings.TrimSpace(text); text == "" || len(text) > mostWords {
		return "", problem.Fields([]record.Problem{{Path: field, Message: "say it in up to 500 letters"}})
	}
	return text, nil
}

// each does something with each of some matters that are open, or with none of them.
func (d *Desk) each(ctx context.Context, ids []uuid.UUID, f func(q *db.Queries, tx pgx.Tx, m db.Matter) error) error {
	if len(ids) == 0 || len(ids) > mostAtOnce {
		return problem.Fields([]record.Problem{{Path: "matters", Message: "choose 1 to 500"}})
	}
	return d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		for _, id := range ids {
			m, err := q.Matter(ctx, id)
			if err != nil {
				return problem.OrNotFound(err, "There is no such matter.")
			}
			if m.EndedAt != nil {
				return problem.Conflictf("“%s” has ended meanwhile.", m.Title)
			}
			if err := f(q, tx, m); err != nil {
				return err
			}
		}
		return nil
	})
}

func place(m db.Matter) ledger.Place {
	return ledger.Place{Location: m.LocationID, Directory: m.DirectoryID}
}

// Note keeps what somebody says of matters.
func (d *Desk) Note(ctx context.Context, who people.Actor, ids []uuid.UUID, text string) error {
	text, err := words("says", text)
	if err != nil {
		return err
	}
	return d.each(ctx, ids, func(q *db.Queries, _ pgx.Tx, m db.Matter) error {
		key := who.Key()
		if err := q.AddMatterNote(ctx, db.AddMatterNoteParams{MatterID: m.ID, At: d.clock.Now(), PersonID: key, Person: who.Name, Says: text}); err != nil {
			return err
		}
		return d.ledger.NoteOn(ctx, q, who, place(m), "matter_noted", map[string]string{"matter": m.Title, "says": text})
	})
}

// Hand hands matters to somebody, or to nobody.
func (d *Desk) Hand(ctx context.Context, who people.Actor, ids []uuid.UUID, to *uuid.UUID) error {
	p := people.Person{Name: "nobody"}
	if to != nil {
		var err error
		if p, err = d.people.Person(ctx, *to); err != nil {
			return problem.OrNotFound(err, "There is no such person.")
		}
		if p.Ended || p.Role == people.OfClient {
			return problem.Fields([]record.Problem{{Path: "to", Message: p.Name + " does not work here"}})
		}
	}
	return d.each(ctx, ids, func(q *db.Queries, _ pgx.Tx, m db.Matter) error {
		if !p.Sees(m.ClientID) {
			return problem.Fields([]record.Problem{{Path: "to", Message: p.Name + " does not work for the client of “" + m.Title + "”"}})
		}
		if _, err := q.HandMatter(ctx, db.HandMatterParams{ID: m.ID, WithID: to}); err != nil {
			return err
		}
		return d.ledger.NoteOn(ctx, q, who, place(m), "matter_handed", map[string]string{"matter": m.Title, "to": p.Name})
	})
}

// Decide ends matters by a decision that nothing is done, with the reason. A matter that ends only when what it wants is so
// cannot be ended by that.
func (d *Desk) Decide(ctx context.Context, who people.Actor, ids []uuid.UUID, why string) error {
	why, err := words("why", why)
	if err != nil {
		return err
	}
	return d.each(ctx, ids, func(q *db.Queries, tx pgx.Tx, m db.Matter) error {
		if !agenda.Kind(m.Kind).MayDecide() {
			return problem.Conflictf("“%s” ends when it is so. Put it off, if it can wait.", m.Title)
		}
		if err := q.DecideMatter(ctx, db.DecideMatterParams{ID: m.ID, EndedAt: new(d.clock.Now()), EndedBy: who.Name, EndedWhy: why}); err != nil {
			return err
		}
		return d.ledger.ChangeIn(ctx, q, tx, who, place(m), func(l *ledger.Listing) error {
			return l.Add(ctx, verification.DecidedOn{Matter: m.Kind, Cause: m.Cause, Title: m.Title, Why: why})
		})
	})
}

// Reopen takes a decision back: the matter is looked at again, if it is still so.
func (d *Desk) Reopen(ctx context.Context, who people.Actor, id uuid.UUID) error {
	m, err := d.store.Matter(ctx, id)
	if err != nil {
		return problem.OrNotFound(err, "There is no such matter.")
	}
	return d.ledger.Change(ctx, who, place(m), func(l *ledger.Listing) error {
		if !l.State.HasDecided(m.Kind, m.Cause) {
			return problem.Conflictf("Nothing was decided on “%s”.", m.Title)
		}
		return l.Add(ctx, verification.ReopenedOn{Matter: m.Kind, Cause: m.Cause, Title: m.Title})
	})
}
