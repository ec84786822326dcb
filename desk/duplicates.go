package desk

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
)

// ReportDuplicate asks a directory to merge another listing of the same business, that the
// last search has found, into ours.
func (d *Desk) ReportDuplicate(ctx context.Context, actor Actor, at Place, ref string) (call uuid.UUID, err error) {
	err = d.change(ctx, actor, at, func(l *listing) error {
		if err := l.mayWork(); err != nil {
			return err
		}
		switch report := l.state.Report(ref); {
		case !slices.ContainsFunc(l.state.Seconds(), func(c verification.Candidate) bool { return c.Ref == ref }):
			return conflict("The last search did not find that listing beside ours; search again.")
		case report != nil && report.Step == verification.Reported:
			return conflict("It has been reported already.")
		}
		call, err = d.ask(ctx, l, verification.DuplicateAsked, question{Ref: l.state.Ref, Other: ref}, verification.Event{Ref: ref})
		return err
	})
	return call, err
}

// askDuplicates asks a directory how the reports of duplicates stand.
func (d *Desk) askDuplicates(ctx context.Context, actor Actor, at Place) error {
	book, st, err := d.begun(ctx, at)
	if err != nil {
		return err
	}
	for _, dup := range st.Duplicates {
		if dup.Step != verification.Reported {
			continue
		}
		who, e := actor, verification.Event{Kind: verification.DuplicateWaiting, Ref: dup.Ref}
		standing, err := d.reach.Request(ctx, book.Connector.URL, dup.Report)
		switch {
		case err != nil: // it is asked again the next time
		case standing.State == "accepted":
			e.Kind, e.Says, who = verification.DuplicateGone, standing.Says, Actor{Name: book.Name}
		case standing.State == "refused":
			e.Kind, e.Says, who = verification.DuplicateStays, standing.Says, Actor{Name: book.Name}
		}
		if err := d.change(ctx, who, at, func(l *listing) error { return l.add(ctx, e) }); err != nil {
			return err
		}
	}
	return nil
}
