package listings

import (
	"context"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
)

// AskStatus asks a directory how what is asked of it stands: its review of the latest
// attempt, or the request for a listing that somebody else holds.
func (d *Desk) AskStatus(ctx context.Context, actor people.Actor, at ledger.Place) error {
	book, st, err := d.ledger.Begun(ctx, at)
	if err != nil {
		return err
	}
	a := st.Attempt()
	if st.Access.Waiting() {
		return d.askAccess(ctx, actor, at)
	}
	if a != nil && a.Live() && a.Method == rulebook.Email && !book.Worked.People() {
		return d.askBounced(ctx, actor, at, book, a.ID)
	}
	if a == nil || a.State != verification.AttemptReview {
		return problem.Conflictf("Nothing is in review there.")
	}
	var what verification.What = verification.StillInReview{Attempt: a.ID}
	switch standing, err := d.reach.Status(ctx, book.Connector.URL, a.ReviewID); {
	case err != nil: // it is asked again the next time
	case standing.State == "accepted":
		what, actor = verification.ReviewPassed{Attempt: a.ID}, people.Actor{Name: book.Name}
	case standing.State == "refused":
		no := verification.ReviewFailed{Attempt: a.ID, Says: standing.Says}
		if no.Says == "" {
			no.Says = book.Name + " said no."
		}
		what, actor = no, people.Actor{Name: book.Name}
	}
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if now := l.State.Attempt(); now == nil || now.ID != a.ID || now.State != verification.AttemptReview {
			return nil // decided or replaced meanwhile
		}
		return l.Add(ctx, what)
	})
}

// askBounced asks a directory whether the email with a code came back.
func (d *Desk) askBounced(ctx context.Context, actor people.Actor, at ledger.Place, book rulebook.Rulebook, attempt string) error {
	sent, err := ledger.SentID(ctx, d.store.Queries, at, attempt)
	if err != nil {
		return err
	}
	var what verification.What = verification.StillInReview{Attempt: attempt}
	if standing, err := d.reach.Status(ctx, book.Connector.URL, sent); err == nil && standing.State == "bounced" {
		what, actor = verification.CodeBounced{Attempt: attempt, Says: standing.Says + " Mend the address, or choose another way."}, people.Actor{Name: book.Name}
	}
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if now := l.State.Attempt(); now == nil || now.ID != attempt || !now.Live() {
			return nil
		}
		return l.Add(ctx, what)
	})
}
