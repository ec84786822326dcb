package listings

import (
	"context"
	"errors"
	"fmt"

	"uvent/core/listing/handover"
	"uvent/core/listing/verification"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
)

// mostHanded is how many listings are handed back at once.
const mostHanded = 500

// HandBack hands listings back to their owners: what a program can is asked for, and of the others it is noted that people have.
// Told are those that cannot be, and why.
func (d *Desk) HandBack(ctx context.Context, actor people.Actor, places []ledger.Place) (asked int, refused map[ledger.Place]string, err error) {
	if len(places) > mostHanded {
		return 0, nil, &problem.Problem{Kind: problem.Invalid, Detail: fmt.Sprintf("Up to %d listings can be handed back at once.", mostHanded)}
	}
	refused = map[ledger.Place]string{}
	for _, at := range places {
		err := d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
			owner := l.Client.OwnerEmail
			step, ours := handover.Of(handover.Listing{Book: &l.Book, State: l.State, Owner: owner})
			switch {
			case !ours:
				return problem.Conflictf("Nothing of ours is there.")
			case step.Done || step.Busy:
				return nil // somebody else was faster
			case step.Not != "":
				return problem.Conflictf("%s", step.Not)
			case step.Role == "":
				return l.Add(ctx, verification.HandedBack{To: owner})
			}
			role := roleFor{Ref: l.State.Ref, Role: reach.Role{Account: owner, Role: step.Role}, Owner: true}
			_, err := d.ledger.Ask(ctx, l, verification.RoleAsked{To: owner, Says: step.Role}, role)
			return err
		})
		var p *problem.Problem
		switch {
		case errors.As(err, &p):
			refused[at] = p.Detail
		case err != nil:
			return asked, refused, err
		default:
			asked++
		}
	}
	return asked, refused, nil
}

// KeepYet notes that a listing is not handed over after all. A role that the owner was given there stays.
func (d *Desk) KeepYet(ctx context.Context, actor people.Actor, at ledger.Place) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if l.State.Handed == nil {
			return nil
		}
		return l.Add(ctx, verification.KeptYet{})
	})
}
