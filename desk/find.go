package desk

import (
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"uvent/core/fit"
	"uvent/core/verification"
	"uvent/reach"
)

// Search looks for a location on a directory. Nothing can be created before.
func (d *Desk) Search(ctx context.Context, actor Actor, at Place) (call uuid.UUID, err error) {
	err = d.change(ctx, actor, at, func(l *listing) error {
		if err := l.free(); err != nil {
			return err
		}
		if why := l.book.MayList(l.location.Record); why != "" {
			return conflict("%s", why)
		}
		if l.state.Control == verification.Held {
			return conflict("We hold this listing already.")
		}
		r := l.location.Record
		q := reach.Query{Name: r.Name, Phone: r.MainPhone(), Street: r.Address.Street, Locality: r.Address.Locality}
		call, err = d.ask(ctx, l, verification.SearchAsked, question{Query: &q}, verification.Event{})
		return err
	})
	return call, err
}

// Claim asks for control of a listing that the last search found.
func (d *Desk) Claim(ctx context.Context, actor Actor, at Place, ref string) (call uuid.UUID, err error) {
	err = d.change(ctx, actor, at, func(l *listing) error {
		if err := l.mayTake(); err != nil {
			return err
		}
		i := slices.IndexFunc(l.state.Candidates, func(c verification.Candidate) bool { return c.Ref == ref })
		if i < 0 {
			return conflict("The last search did not find that listing; search again.")
		}
		call, err = d.ask(ctx, l, verification.ClaimAsked, question{Ref: ref}, verification.Event{Ref: ref})
		return err
	})
	return call, err
}

// Create makes a new listing from the record, after a search.
func (d *Desk) Create(ctx context.Context, actor Actor, at Place) (call uuid.UUID, err error) {
	err = d.change(ctx, actor, at, func(l *listing) error {
		if err := l.mayTake(); err != nil {
			return err
		}
		if missing := fit.Missing(l.location.Record, l.book); missing != nil {
			more := ""
			if len(missing) > 1 {
				more = fmt.Sprintf(" (and %d more)", len(missing)-1)
			}
			return conflict("%s%s", missing[0], more)
		}
		values := fit.Compose(l.location.Record, l.book)
		call, err = d.ask(ctx, l, verification.CreateAsked, question{Values: &values}, verification.Event{})
		return err
	})
	return call, err
}

// mayTake says why a listing can be neither claimed nor created now.
func (l *listing) mayTake() error {
	if err := l.free(); err != nil {
		return err
	}
	switch {
	case l.state.Control == verification.Held:
		return conflict("We hold this listing already.")
	case l.state.SearchedAt == nil:
		return conflict("Search %s first: it may have this location already.", l.book.Name)
	}
	return nil
}
