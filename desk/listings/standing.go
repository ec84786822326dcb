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
	if st.Access.Waiting() {
		return d.askAccess(ctx, actor, at)
	}
	asked := st.ToAskAfter(book)
	if len(asked) == 0 {
		return problem.Conflictf("Nothing is in review there.")
	}
	for _, a := range asked {
		ask := d.askReview
		if a.State != verification.AttemptReview {
			ask = d.askBounced
		}
		if err := ask(ctx, actor, at, book, a); err != nil {
			return err
		}
	}
	return nil
}

// askReview asks a directory how its review of an attempt stands.
func (d *Desk) askReview(ctx context.Context, actor people.Actor, at ledger.Place, book rulebook.Rulebook, a verification.Attempt) error {
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
	return d.stands(ctx, actor, at, a, what)
}

// stands notes how an attempt stands, unless it was decided or replaced meanwhile.
func (d *Desk) stands(ctx context.Context, actor people.Actor, at ledger.Place, a verification.Attempt, what verification.What) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if now := l.State.Named(a.ID); now == nil || now.State != a.State {
			return nil
		}
		return l.Add(ctx, what)
	})
}

// askBounced asks a directory whether the email with a code came back.
func (d *Desk) askBounced(ctx context.Context, actor people.Actor, at ledger.Place, book rulebook.Rulebook, a verification.Attempt) error {
	sent, err := ledger.SentID(ctx, d.store.Queries, at, a.ID)
	if err != nil {
		return err
	}
	var what verification.What = verification.StillInReview{Attempt: a.ID}
	if standing, err := d.reach.Status(ctx, book.Connector.URL, sent); err == nil && standing.State == "bounced" {
		what, actor = verification.CodeBounced{Attempt: a.ID, Says: standing.Says + " Mend the address, or choose another way."}, people.Actor{Name: book.Name}
	}
	return d.stands(ctx, actor, at, a, what)
}
