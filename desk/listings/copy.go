package listings

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store/db"
)

// CopyFrom makes a listing out of ours on another directory, as far as it carries.
func (d *Desk) CopyFrom(ctx context.Context, actor people.Actor, at ledger.Place, from string) (call uuid.UUID, err error) {
	theirs, err := d.shelf.Book(from)
	if err != nil {
		return call, err
	}
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := mayTake(l); err != nil {
			return err
		}
		if !slices.ContainsFunc(l.Book.Copies, func(c rulebook.Copying) bool { return c.From == from && c.OnRequest }) {
			return problem.Conflictf("%s does not copy from %s when it is asked to.", l.Book.Name, theirs.Name)
		}
		row, err := l.Q.Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: from})
		if problem.IgnoreNoRows(err) != nil {
			return err
		}
		if err != nil || row.State.VerifiedAt == nil {
			return problem.Conflictf("%s copies a verified listing, and that on %s is not.", l.Book.Name, theirs.Name)
		}
		first, err := firstValues(ctx, l)
		if err != nil {
			return err
		}
		call, err = d.ledger.Ask(ctx, l, verification.CopyAsked{Ref: from}, copyOf{from, row.State.Page, first})
		return err
	})
	return call, err
}

type copyOf struct {
	From   string     `json:"from"` // the directory
	Page   string     `json:"page"` // the listing's page there
	Values fit.Values `json:"values,omitempty"`
}

var copying = request[copyOf]{
	put: func(ctx context.Context, d *Desk, to to, q copyOf) (verification.What, error) {
		l, err := d.reach.Copy(ctx, to.url, to.key, q.From, q.Page, q.Values.Facts())
		return verification.Copied{Ref: l.Ref, Page: l.Page}, err
	},
	no: func(_ copyOf, says string, _ *reach.Refusal) verification.What {
		return verification.CopyRefused{Says: says}
	},
}
