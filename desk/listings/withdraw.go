package listings

import (
	"context"
	"strings"

	"github.com/google/uuid"

	"uvent/core/fact/calendar"
	"uvent/core/listing/course"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
)

// Tell notes that somebody has told a directory's people how it is with the location.
func (d *Desk) Tell(ctx context.Context, actor people.Actor, at ledger.Place) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		to := course.Wanted(l.Where.Record, &l.Book, l.State)
		if to == l.State.Marked {
			return problem.Conflictf("%s knows that it is %s.", l.Book.Name, verification.StateWord(to))
		}
		return l.Add(ctx, verification.ToldThere{To: string(to)})
	})
}

// Withdraw takes a listing of ours out of public view, and says why; back is the day on which it shows again by itself, nil where
// somebody brings it back.
func (d *Desk) Withdraw(ctx context.Context, actor people.Actor, at ledger.Place, why string, back *calendar.Date) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		why = strings.TrimSpace(why)
		if err := MayWork(l); err != nil {
			return err
		}
		switch v := l.State.Visibility; {
		case v != verification.Public && v != verification.Publishing:
			return problem.Conflictf("It does not show; there is nothing to take out of view.")
		case why == "":
			return problem.Fields([]record.Problem{{Path: "why", Message: "say why, for whoever asks later"}})
		}
		if today := calendar.DateIn(l.Now, l.Book.Calendar.Place().Zone); back != nil && back.Compare(today) <= 0 {
			return problem.Fields([]record.Problem{{Path: "back", Message: "the day on which it comes back lies before tomorrow"}})
		}
		call, err = d.Hide(ctx, l, why, "", back)
		return err
	})
	return call, err
}

// BringBack has a listing that we took out of public view show again.
func (d *Desk) BringBack(ctx context.Context, actor people.Actor, at ledger.Place) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := MayWork(l); err != nil {
			return err
		}
		if l.State.Visibility != verification.Withdrawn {
			return problem.Conflictf("It was not taken out of public view.")
		}
		call, err = d.Show(ctx, l)
		return err
	})
	return call, err
}

// Hide asks for a listing to be taken out of public view; for a state of its location, where
// one is named.
func (d *Desk) Hide(ctx context.Context, l *ledger.Listing, why string, state record.StateKind, back *calendar.Date) (uuid.UUID, error) {
	return d.ledger.Ask(ctx, l, verification.WithdrawAsked{Says: why, Back: back}, view{l.State.Ref, why, string(state), back})
}

// Show asks for a listing to show again.
func (d *Desk) Show(ctx context.Context, l *ledger.Listing) (uuid.UUID, error) {
	return d.ledger.Ask(ctx, l, verification.BackAsked{}, view{Ref: l.State.Ref})
}

// Mark asks for a listing to be shown as closed or moved; empty: as open.
func (d *Desk) Mark(ctx context.Context, l *ledger.Listing, state record.StateKind) (uuid.UUID, error) {
	return d.ledger.Ask(ctx, l, verification.MarkAsked{To: string(state)}, view{Ref: l.State.Ref, To: string(state)})
}

// view is how a listing is to be seen.
type view struct {
	Ref  string `json:"ref"`
	Text string `json:"text,omitempty"` // why it is to go out of view
	To   string `json:"to,omitempty"`   // a state of the location

	Back *calendar.Date `json:"back,omitempty"`
}

var hiding = request[view]{
	put: func(ctx context.Context, d *Desk, to to, q view) (verification.What, error) {
		return verification.WithdrawnThere{Says: q.Text, To: q.To, Back: q.Back}, d.reach.Withdraw(ctx, to.url, to.key, q.Ref, true)
	},
	no: noView,
}

var showing = request[view]{
	put: func(ctx context.Context, d *Desk, to to, q view) (verification.What, error) {
		return verification.BackThere{}, d.reach.Withdraw(ctx, to.url, to.key, q.Ref, false)
	},
	no: noView,
}

func noView(_ view, says string, _ *reach.Refusal) verification.What {
	return verification.ViewRefused{Says: says}
}

var marking = request[view]{
	put: func(ctx context.Context, d *Desk, to to, q view) (verification.What, error) {
		state := q.To
		if state == "" {
			state = string(record.Open)
		}
		return verification.MarkedThere{To: q.To}, d.reach.Mark(ctx, to.url, to.key, q.Ref, state)
	},
	no: func(_ view, says string, _ *reach.Refusal) verification.What {
		return verification.MarkRefused{Says: says}
	},
}
