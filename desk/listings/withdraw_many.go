package listings

import (
	"context"
	"errors"
	"fmt"

	"uvent/core/fact/calendar"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
)

// mostWithdrawn is how many listings are taken out of public view at once.
const mostWithdrawn = 500

// WithdrawMany takes listings out of public view for one reason, until one day. Told are those that cannot be, and why; the
// others are asked for.
func (d *Desk) WithdrawMany(
	ctx context.Context, actor people.Actor, places []ledger.Place, why string, back *calendar.Date,
) (asked int, refused map[ledger.Place]string, err error) {
	if len(places) > mostWithdrawn {
		return 0, nil, &problem.Problem{Kind: problem.Invalid, Detail: fmt.Sprintf("Up to %d listings can be taken out of view at once.", mostWithdrawn)}
	}
	refused = map[ledger.Place]string{}
	for _, at := range places {
		_, err := d.Withdraw(ctx, actor, at, why, back)
		var p *problem.Problem
		switch {
		case errors.As(err, &p) && p.Fields != nil:
			return asked, refused, err // it is wrong for all of them
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
