package listings

import (
	"context"

	"uvent/core/listing/course"
	"uvent/core/listing/verification"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
)

// LeaveThere leaves a listing with the place where its location was, so that another is made for where it is now. Before, it is
// to say that the location has moved.
func (d *Desk) LeaveThere(ctx context.Context, actor people.Actor, at ledger.Place) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := elsewhere(l); err != nil {
			return err
		}
		today := course.Day(&l.Book, l.Now)
		for _, s := range course.Steps(l.Where.Record, today, today, []course.Listing{{Book: &l.Book, State: l.State}}) {
			if s.Act != course.Leave {
				return problem.Conflictf("Before it is left, it is to say that the location has moved. %s", s.Says)
			}
		}
		return l.Add(ctx, verification.LeftThere{To: l.Where.Record.Address})
	})
}

// SamePlace notes that a location has not moved: its address was mended, and is given as any fact is.
func (d *Desk) SamePlace(ctx context.Context, actor people.Actor, at ledger.Place) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := elsewhere(l); err != nil {
			return err
		}
		return l.Add(ctx, verification.SamePlace{At: l.Where.Record.Address})
	})
}

// TakeUpLeft takes a listing up again that was left, where none was begun since.
func (d *Desk) TakeUpLeft(ctx context.Context, actor people.Actor, at ledger.Place, ref string) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := l.Free(); err != nil {
			return err
		}
		switch {
		case !l.State.LeftOne(ref):
			return problem.Conflictf("No such listing was left; it may have been taken up meanwhile.")
		case l.State.Control != verification.NoControl:
			return problem.Conflictf("There is another listing of this location by now, or it is being asked for.")
		}
		return l.Add(ctx, verification.TakenUp{Ref: ref})
	})
}

func elsewhere(l *ledger.Listing) error {
	if err := l.Free(); err != nil {
		return err
	}
	if !l.State.Elsewhere(l.Where.Record, l.Book) {
		return problem.Conflictf("%s takes the location for the same one; its address is given as any fact is.", l.Book.Name)
	}
	return nil
}
