package records

import (
	"context"
	"fmt"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/core/rule/worth"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Worth is a directory as it pays for a location, and what was chosen.
type Worth struct {
	worth.Choice
	Book    rulebook.Rulebook
	Wanted  bool
	Decided bool // by somebody, whatever the reckoning says
}

// Worth ranks the directories for a location, those that pay most first.
func (d *Desk) Worth(ctx context.Context, location uuid.UUID) ([]Worth, error) {
	l, err := d.ledger.Location(ctx, location)
	if err != nil {
		return nil, err
	}
	s, err := FitSubject(ctx, d.store.Queries, l, d.clock.Now())
	if err != nil {
		return nil, err
	}
	chosen, err := choicesOf(ctx, d.store.Queries, []uuid.UUID{location})
	if err != nil {
		return nil, err
	}
	books := d.shelf.Books()
	fits := make([]fit.Fit, len(books))
	for i := range books {
		fits[i] = fit.Of(s, &books[i])
	}
	var out []Worth
	for _, c := range worth.Rank(s, books, fits) {
		book, err := d.shelf.Book(c.Directory)
		if err != nil {
			return nil, err
		}
		wanted, decided := chosen[location][c.Directory]
		if !decided {
			wanted = c.Pays
		}
		out = append(out, Worth{c, book, wanted && c.Not == "" && c.FedBy == "", decided})
	}
	return out, nil
}

// Wish is whether a location is wanted on a directory; nil: as the reckoning says.
type Wish struct {
	ledger.Place
	Wanted *bool
}

// mostWishes bounds what is chosen at once.
const mostWishes = 20000

// Choose decides for many listings at once whether they are wanted. It returns what was
// decided before, with which the same call takes it back.
func (d *Desk) Choose(ctx context.Context, actor people.Actor, wishes []Wish) (before []Wish, err error) {
	if len(wishes) == 0 || len(wishes) > mostWishes {
		return nil, &problem.Problem{Kind: problem.Invalid, Detail: fmt.Sprintf("Choose for 1 to %d listings at once.", mostWishes)}
	}
	ids := map[uuid.UUID]bool{}
	for _, w := range wishes {
		if _, err := d.shelf.Book(w.Directory); err != nil {
			return nil, err
		}
		ids[w.Location] = true
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		list := make([]uuid.UUID, 0, len(ids))
		for id := range ids {
			list = append(list, id)
		}
		known, err := store.Each(ledger.LocationOf)(q.LocationsByID(ctx, list))
		if err != nil {
			return err
		}
		if len(known) != len(list) {
			return &problem.Problem{Kind: problem.NotFound, Detail: "One of the locations is not there any more."}
		}
		clients := map[uuid.UUID]uuid.UUID{}
		for _, l := range known {
			clients[l.ID] = l.ClientID
		}
		chosen, err := choicesOf(ctx, q, list)
		if err != nil {
			return err
		}
		now := d.clock.Now()
		for _, w := range wishes {
			was := Wish{Place: w.Place}
			if before, decided := chosen[w.Location][w.Directory]; decided {
				was.Wanted = &before
			}
			before = append(before, was)
			if w.Wanted == nil {
				err = q.Unchoose(ctx, db.UnchooseParams{LocationID: w.Location, DirectoryID: w.Directory})
			} else {
				err = q.Choose(ctx, db.ChooseParams{LocationID: w.Location, DirectoryID: w.Directory, Wanted: *w.Wanted, DecidedBy: actor.Name, DecidedAt: now})
			}
			if err != nil {
				return err
			}
			if err := d.ledger.Note(
				ctx,
				q,
				actor,
				"chosen",
				clients[w.Location],
				&w.Location,
				map[string]any{"directory": w.Directory, "wanted": w.Wanted},
			); err != nil {
				return err
			}
		}
		return store.Notify(ctx, q, store.Change{})
	})
	return before, err
}
