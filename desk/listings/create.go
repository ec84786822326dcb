package listings

import (
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/record/link"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/reach"
)

// Create makes a new listing from the record, after a search. Where the page's address is
// made from a name, name is the one to take; empty: the best that is not known to be
// another's.
func (d *Desk) Create(ctx context.Context, actor people.Actor, at ledger.Place, name string) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := mayTake(l); err != nil {
			return err
		}
		if l.Book.Worked == rulebook.Suggestions {
			return problem.Conflictf("%s makes its listings by itself, of what it reads elsewhere. Search again when the location shows there.", l.Book.Name)
		}
		s, err := records.FitSubject(ctx, l.Q, l.Where, l.Now)
		if err != nil {
			return err
		}
		held := fit.Of(s, &l.Book)
		if whys := held.Whys(); whys != nil {
			more := ""
			if len(whys) > 1 {
				more = fmt.Sprintf(" (and %d more)", len(whys)-1)
			}
			return problem.Conflictf("%s%s", whys[0], more)
		}
		values := held.Values()
		if _, err := firstValues(&l.Book, values); err != nil {
			return err
		}
		page, err := pageName(l, name)
		if err != nil {
			return err
		}
		call, err = d.ledger.Ask(ctx, l, verification.CreateAsked{}, creation{Page: page, opening: opening{values, signer(l)}})
		return err
	})
	return call, err
}

type creation struct {
	Page string `json:"page,omitempty"` // the name that its page should have
	opening
}

var creating = request[creation]{
	put: func(ctx context.Context, d *Desk, to to, q creation) (verification.What, error) {
		facts := q.facts()
		if q.Page != "" {
			facts["page_name"] = q.Page
		}
		l, err := d.reach.Create(ctx, to.url, to.key, facts)
		return verification.Created{Ref: l.Ref, Page: l.Page, Values: q.Values}, err
	},
	no: func(q creation, says string, r *reach.Refusal) verification.What {
		e := verification.CreateRefused{Says: says}
		if r.Code == "taken" {
			e.Taken = q.Page
		}
		return e
	},
}

// pageName is the name for a listing's page: the one that is wished for, or the best that
// is free as far as is known. Empty where the directory makes none of a name.
func pageName(l *ledger.Listing, wish string) (string, error) {
	p := l.Book.PageAddress
	if p.Begins == "" {
		return "", nil
	}
	if wish != "" {
		name := link.Slug(wish)
		switch {
		case name == "":
			return "", &problem.Problem{Kind: problem.Invalid, Detail: "A page’s name has letters, digits and hyphens."}
		case p.MostCharacters > 0 && len(name) > p.MostCharacters:
			return "", &problem.Problem{
				Kind:   problem.Invalid,
				Detail: fmt.Sprintf("The page’s name has %d characters; %s takes %d.", len(name), l.Book.Name, p.MostCharacters),
			}
		}
		return name, nil
	}
	for _, name := range p.Propose(l.Where.Record) {
		if !slices.Contains(l.State.Taken, name) {
			return name, nil
		}
	}
	return "", problem.Conflictf("Every name that was thought of for the page is taken. Write one.")
}
