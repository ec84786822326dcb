package listings

import (
	"context"
	"strings"

	"github.com/google/uuid"

	"uvent/core/listing/cases"
	"uvent/core/listing/verification"
	"uvent/core/record/paper"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
)

// AskAccess asks whoever holds a listing to hand it over.
func (d *Desk) AskAccess(ctx context.Context, actor people.Actor, at ledger.Place) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := mayAskAccess(l); err != nil {
			return err
		}
		if a := l.State.Access; a != nil {
			return problem.Conflictf("Its holder has been asked already.")
		}
		call, err = d.ledger.Ask(ctx, l, verification.AccessAsked{}, access{Ref: l.State.Ref})
		return err
	})
	return call, err
}

// Escalate puts a request that its holder did not grant before the directory's people,
// with the paper of a kind that they take which makes it likeliest that they decide for us.
func (d *Desk) Escalate(ctx context.Context, actor people.Actor, at ledger.Place) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := mayAskAccess(l); err != nil {
			return err
		}
		a := l.State.Access
		switch {
		case a == nil:
			return problem.Conflictf("Ask its holder first.")
		case a.Waiting():
			return problem.Conflictf("Wait for the answer first.")
		case l.Book.Access.Escalate.Unit == "":
			return problem.Conflictf("%s does not decide between holders.", l.Book.Name)
		}
		papers, err := files.PapersOf(ctx, l)
		if err != nil {
			return err
		}
		past, err := HeardOf(ctx, l.Q, &l.Book)
		if err != nil {
			return err
		}
		kinds := cases.Deciders(&l.Book).InOrder(l.Book.Access.Papers, past.Deciders)
		if best := verification.Best(files.PapersFor(papers, l.Where.Record, l.Now), kinds); best != nil {
			call, err = d.ledger.Ask(
				ctx,
				l,
				verification.EscalateAsked{To: "the " + strings.ToLower(paper.Title(best.Kind)), Paper: best.Kind},
				access{a.ID, files.Evidence(papers, best.ID, l.Where.Record.LegalName)},
			)
			return err
		}
		return problem.Conflictf("%s", l.Book.Name+" wants a paper with it: "+paperList(l.Book.Access.Papers)+". There is none yet; add one under Record.")
	})
	return call, err
}

func paperList(kinds []string) string {
	names := make([]string, len(kinds))
	for i, k := range kinds {
		names[i] = strings.ToLower(paper.Title(k))
	}
	return strings.Join(names, ", ")
}

func mayAskAccess(l *ledger.Listing) error {
	if err := l.Free(); err != nil {
		return err
	}
	switch {
	case l.State.Control != verification.HeldByAnother:
		return problem.Conflictf("Nobody else holds this listing, as far as is known. Search again.")
	case l.Book.Connector.URL == "" || l.Book.Access.Window.Unit == "":
		return problem.Conflictf("%s has no way to ask for access. Write to %s.", l.Book.Name, l.State.HeldBy)
	}
	return nil
}

// askAccess asks a directory how the request for a listing stands.
func (d *Desk) askAccess(ctx context.Context, actor people.Actor, at ledger.Place) error {
	book, st, err := d.ledger.Begun(ctx, at)
	if err != nil {
		return err
	}
	a := st.Access
	if !a.Waiting() {
		return problem.Conflictf("Nobody has been asked for it.")
	}
	var what verification.What = verification.StillNoAccess{}
	if standing, err := d.reach.Request(ctx, book.Connector.URL, a.ID); err == nil {
		switch standing.State {
		case "accepted":
			what = verification.AccessGranted{Says: standing.Says}
		case "refused":
			what = verification.AccessRefused{Says: standing.Says}
		case "silent":
			what = verification.AccessSilent{Says: standing.Says}
		}
	}
	if what != (verification.StillNoAccess{}) {
		actor = people.Actor{Name: book.Name}
	}
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if now := l.State.Access; !now.Waiting() || now.ID != a.ID {
			return nil // answered meanwhile
		}
		if granted, is := what.(verification.AccessGranted); is {
			granted.At = &l.Where.Record.Address
			what = granted
		}
		return l.Add(ctx, what)
	})
}

// access is a request for a listing that somebody else holds: of its holder, or of the directory's
// people with a paper.
type access struct {
	Ref   string          `json:"ref"` // the listing's; of the request, where its people are asked
	Paper *reach.Evidence `json:"paper,omitempty"`
}

var askingAccess = request[access]{
	put: func(ctx context.Context, d *Desk, to to, q access) (verification.What, error) {
		asked, err := d.reach.AskAccess(ctx, to.url, to.key, q.Ref)
		return verification.AccessBegun{Ref: asked.ID, Terms: until(asked)}, err
	},
	no: noAccess,
}

var escalating = request[access]{
	put: func(ctx context.Context, d *Desk, to to, q access) (verification.What, error) {
		asked, err := d.reach.Escalate(ctx, to.url, to.key, q.Ref, q.Paper)
		return verification.EscalateBegun{Ref: asked.ID, Terms: until(asked)}, err
	},
	no: noAccess,
}

func noAccess(_ access, says string, _ *reach.Refusal) verification.What {
	return verification.RequestFailed{Says: says}
}
