package listings

import (
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"uvent/core/listing/giving"
	"uvent/core/listing/verification"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/desk/shelf"
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
		s, err := records.FitSubject(ctx, l.Q, l.Where, l.Now)
		if err != nil {
			return err
		}
		o, err := copyOffer(ctx, l.Q, s, at.Location, &theirs, &l.Book)
		if err != nil {
			return err
		}
		if o.Not != "" {
			return problem.Conflictf("%s", o.Not)
		}
		first, err := firstValues(&l.Book, fit.Of(s, &l.Book).Values())
		if err != nil {
			return err
		}
		call, err = d.ledger.Ask(ctx, l, verification.CopyAsked{Ref: from}, copyOf{from, o.page, first, o.Brought})
		return err
	})
	return call, err
}

// CopyOffer is a directory that a listing could be copied from.
type CopyOffer struct {
	From *rulebook.Rulebook
	Not  string // why it cannot be; empty when it can
	fit.Copied

	page string // of the listing there
}

// CopyOffers are the directories that a directory copies from when it is asked to.
func CopyOffers(ctx context.Context, q *db.Queries, shelf *shelf.Desk, s *fit.Subject, at ledger.Place, book *rulebook.Rulebook) (out []CopyOffer, err error) {
	for _, c := range book.Copies {
		from, err := shelf.Book(c.From)
		if !c.OnRequest || err != nil {
			continue // it copies by itself, or the other is not in force
		}
		o, err := copyOffer(ctx, q, s, at.Location, &from, book)
		if err != nil {
			return nil, err
		}
		out = append(out, o)
	}
	return out, nil
}

func copyOffer(ctx context.Context, q *db.Queries, s *fit.Subject, location uuid.UUID, from, to *rulebook.Rulebook) (CopyOffer, error) {
	o := CopyOffer{From: from}
	row, err := q.Listing(ctx, db.ListingParams{LocationID: location, DirectoryID: from.ID})
	if problem.IgnoreNoRows(err) != nil {
		return o, err
	}
	if err != nil || row.State.VerifiedAt == nil {
		o.Not = fmt.Sprintf("%s copies a verified listing, and that on %s is not.", to.Name, from.Name)
		return o, nil
	}
	last, _, err := LastGiven(ctx, q, ledger.Place{Location: location, Directory: from.ID})
	if err != nil {
		return o, err
	}
	o.page = row.State.Page
	o.Copied = fit.Copy(s, giving.Listing{Book: from, State: row.State, Last: last}.Holds(s), from, to)
	return o, nil
}

type copyOf struct {
	From    string     `json:"from"` // the directory
	Page    string     `json:"page"` // the listing's page there
	Values  fit.Values `json:"values,omitempty"`
	Brought fit.Values `json:"brought,omitempty"` // what comes along
}

var copying = request[copyOf]{
	put: func(ctx context.Context, d *Desk, to to, q copyOf) (verification.What, error) {
		l, err := d.reach.Copy(ctx, to.url, to.key, q.From, q.Page, q.Values.Facts())
		return verification.Copied{Ref: l.Ref, Page: l.Page, Values: q.Brought}, err
	},
	no: func(_ copyOf, says string, _ *reach.Refusal) verification.What {
		return verification.CopyRefused{Says: says}
	},
}
