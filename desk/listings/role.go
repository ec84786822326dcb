package listings

import (
	"context"
	"slices"
	"strings"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
)

// SetRole gives another account a role for a listing of ours.
func (d *Desk) SetRole(ctx context.Context, actor people.Actor, at ledger.Place, account, role string) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := MayWork(l); err != nil {
			return err
		}
		account = strings.TrimSpace(account)
		switch {
		case len(l.Book.Access.Roles) == 0:
			return problem.Conflictf("%s knows one holder of a listing, and no roles.", l.Book.Name)
		case !slices.Contains(l.Book.Access.Roles, role):
			return problem.Fields([]record.Problem{{Path: "role", Message: "choose one of " + strings.Join(l.Book.Access.Roles, ", ")}})
		case account == "" || account == d.reach.Account():
			return problem.Fields([]record.Problem{{Path: "account", Message: "name the account of somebody else"}})
		}
		call, err = d.ledger.Ask(ctx, l, verification.RoleAsked{To: account, Says: role}, roleFor{Ref: l.State.Ref, Role: reach.Role{Account: account, Role: role}})
		return err
	})
	return call, err
}

type roleFor struct {
	Ref  string     `json:"ref"`
	Role reach.Role `json:"role"`

	Owner bool `json:"owner,omitempty"` // it is the owner's, who gets it back
}

var givingRole = request[roleFor]{
	put: func(ctx context.Context, d *Desk, to to, q roleFor) (verification.What, error) {
		return verification.RoleGiven{To: q.Role.Account, Role: q.Role.Role, Owner: q.Owner}, d.reach.SetRole(ctx, to.url, to.key, q.Ref, q.Role)
	},
	no: func(_ roleFor, says string, _ *reach.Refusal) verification.What {
		return verification.RoleRefused{Says: says}
	},
}
