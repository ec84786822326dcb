package desk

import (
	"context"
	"fmt"
	"strings"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/record/paper"
)

// AskAccess asks whoever holds a listing to hand it over.
func (d *Desk) AskAccess(ctx context.Context, actor Actor, at Place) (call uuid.UUID, err error) {
	err = d.change(ctx, actor, at, func(l *listing) error {
		if err := l.mayAskAccess(); err != nil {
			return err
		}
		if a := l.state.Access; a != nil {
			return conflict("Its holder has been asked already.")
		}
		call, err = d.ask(ctx, l, verification.AccessAsked, question{Ref: l.state.Ref}, verification.Event{})
		return err
	})
	return call, err
}

// Escalate puts a request that its holder did not grant before the directory's people,
// with the newest paper of a kind that they take.
func (d *Desk) Escalate(ctx context.Context, actor Actor, at Place) (call uuid.UUID, err error) {
	err = d.change(ctx, actor, at, func(l *listing) error {
		if err := l.mayAskAccess(); err != nil {
			return err
		}
		a := l.state.Access
		switch {
		case a == nil:
			return conflict("Ask its holder first.")
		case a.Waiting():
			return conflict("Wait for the answer first.")
		case l.book.Access.Escalate.Unit == "":
			return conflict("%s does not decide between holders.", l.book.Name)
		}
		papers, err := l.papers(ctx)
		if err != nil {
			return err
		}
		if best := verification.Best(papersFor(papers, l.location.Record, l.now), l.book.Access.Papers); best != nil {
			call, err = d.ask(ctx, l, verification.EscalateAsked, question{Ref: a.ID, Paper: evidence(papers, best.ID, l.location.Record.LegalName)}, verification.Event{To: "the " + strings.ToLower(paper.Title(best.Kind))})
			return err
		}
		return conflict("%s", l.book.Name+" wants a paper with it: "+paperList(l.book.Access.Papers)+". There is none yet; add one under Record.")
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

func (l *listing) mayAskAccess() error {
	if err := l.free(); err != nil {
		return err
	}
	switch {
	case l.state.Control != verification.HeldByAnother:
		return conflict("Nobody else holds this listing, as far as is known. Search again.")
	case l.book.Connector.URL == "" || l.book.Access.Window.Unit == "":
		return conflict("%s has no way to ask for access. Write to %s.", l.book.Name, l.state.HeldBy)
	}
	return nil
}

// askAccess asks a directory how the request for a listing stands.
func (d *Desk) askAccess(ctx context.Context, actor Actor, at Place) error {
	book, st, err := d.begun(ctx, at)
	if err != nil {
		return err
	}
	a := st.Access
	if !a.Waiting() {
		return conflict("Nobody has been asked for it.")
	}
	e := verification.Event{Kind: verification.StillNoAccess}
	standing, err := d.reach.Request(ctx, book.Connector.URL, a.ID)
	if err == nil {
		kind, ended := map[string]verification.Kind{"accepted": verification.AccessGranted, "refused": verification.AccessRefused, "silent": verification.AccessSilent}[standing.State]
		if ended {
			e, actor = verification.Event{Kind: kind, Says: standing.Says}, Actor{Name: book.Name}
		}
	}
	return d.change(ctx, actor, at, func(l *listing) error {
		if now := l.state.Access; !now.Waiting() || now.ID != a.ID {
			return nil // answered meanwhile
		}
		return l.add(ctx, e)
	})
}

// accessSays is how a request for access stands, in words; what has to be done, where it
// cannot be asked for through the directory.
func accessSays(e verification.Event, name string) string {
	switch e.Kind {
	case verification.AccessAsked:
		return "Asked its holder for the listing."
	case verification.AccessBegun:
		return name + " has passed the request on."
	case verification.StillNoAccess:
		return "Asked: there is no answer yet."
	case verification.EscalateAsked:
		return fmt.Sprintf("Put it before the people of %s, with %s.", name, e.To)
	case verification.EscalateBegun:
		return "They are looking into it."
	}
	return e.Says
}
