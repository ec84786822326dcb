package listings

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
)

// ReportDuplicate asks a directory to merge another listing of the same business, that the
// last search has found, into ours.
func (d *Desk) ReportDuplicate(ctx context.Context, actor people.Actor, at ledger.Place, ref string) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := MayWork(l); err != nil {
			return err
		}
		switch report := l.State.Report(ref); {
		case !slices.ContainsFunc(l.State.Seconds(), func(c verification.Candidate) bool { return c.Ref == ref }):
			return problem.Conflictf("The last search did not find that listing beside ours; search again.")
		case report != nil && report.Step == verification.Reported:
			return problem.Conflictf("It has been reported already.")
		}
		call, err = d.ledger.Ask(ctx, l, verification.DuplicateAsked{Ref: ref}, duplicate{l.State.Ref, ref})
		return err
	})
	return call, err
}

// askDuplicates asks a directory how the reports of duplicates stand.
func (d *Desk) askDuplicates(ctx context.Context, actor people.Actor, at ledger.Place) error {
	book, st, err := d.ledger.Begun(ctx, at)
	if err != nil {
		return err
	}
	for _, dup := range st.Duplicates {
		if dup.Step != verification.Reported {
			continue
		}
		who, what := actor, verification.What(verification.DuplicateWaiting{Ref: dup.Ref})
		standing, err := d.reach.Request(ctx, book.Connector.URL, dup.Report)
		switch {
		case err != nil: // it is asked again the next time
		case standing.State == "accepted":
			what, who = verification.DuplicateGone{Ref: dup.Ref, Says: standing.Says}, people.Actor{Name: book.Name}
		case standing.State == "refused":
			what, who = verification.DuplicateStays{Ref: dup.Ref, Says: standing.Says}, people.Actor{Name: book.Name}
		}
		if err := d.ledger.Change(ctx, who, at, func(l *ledger.Listing) error { return l.Add(ctx, what) }); err != nil {
			return err
		}
	}
	return nil
}

type duplicate struct {
	Ref   string `json:"ref"`
	Other string `json:"other"`
}

var reportingDuplicate = request[duplicate]{
	put: func(ctx context.Context, d *Desk, to to, q duplicate) (verification.What, error) {
		asked, err := d.reach.Duplicate(ctx, to.url, to.key, q.Ref, q.Other)
		return verification.DuplicateBegun{Ref: q.Other, Report: asked.ID, Terms: until(asked)}, err
	},
	no: func(_ duplicate, says string, _ *reach.Refusal) verification.What {
		return verification.RequestFailed{Says: says}
	},
}
