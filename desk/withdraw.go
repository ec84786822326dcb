package desk

import (
	"context"
	"strings"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/record/record"
)

// Withdraw takes a listing of ours out of public view, and says why.
func (d *Desk) Withdraw(ctx context.Context, actor Actor, at Place, why string) (call uuid.UUID, err error) {
	err = d.change(ctx, actor, at, func(l *listing) error {
		why = strings.TrimSpace(why)
		if err := l.mayWork(); err != nil {
			return err
		}
		switch v := l.state.Visibility; {
		case v != verification.Public && v != verification.Publishing:
			return conflict("It does not show; there is nothing to take out of view.")
		case why == "":
			return invalid([]record.Problem{{Path: "why", Message: "say why, for whoever asks later"}})
		}
		call, err = d.hide(ctx, l, why, "")
		return err
	})
	return call, err
}

// BringBack has a listing that we took out of public view show again.
func (d *Desk) BringBack(ctx context.Context, actor Actor, at Place) (call uuid.UUID, err error) {
	err = d.change(ctx, actor, at, func(l *listing) error {
		if err := l.mayWork(); err != nil {
			return err
		}
		if l.state.Visibility != verification.Withdrawn {
			return conflict("It was not taken out of public view.")
		}
		call, err = d.show(ctx, l)
		return err
	})
	return call, err
}

// hide asks for a listing to be taken out of public view; for a state of its location, where
// one is named.
func (d *Desk) hide(ctx context.Context, l *listing, why string, state record.StateKind) (uuid.UUID, error) {
	return d.ask(ctx, l, verification.WithdrawAsked, question{Ref: l.state.Ref, Text: why, To: string(state)}, verification.Event{Says: why})
}

// show asks for a listing to show again.
func (d *Desk) show(ctx context.Context, l *listing) (uuid.UUID, error) {
	return d.ask(ctx, l, verification.BackAsked, question{Ref: l.state.Ref}, verification.Event{})
}

// mark asks for a listing to be shown as closed or moved; empty: as open.
func (d *Desk) mark(ctx context.Context, l *listing, state record.StateKind) (uuid.UUID, error) {
	return d.ask(ctx, l, verification.MarkAsked, question{Ref: l.state.Ref, To: string(state)}, verification.Event{To: string(state)})
}
