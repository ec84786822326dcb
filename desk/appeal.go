package desk

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"unicode/utf8"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/record/paper"
	"uvent/core/record/record"
	"uvent/reach"
)

// Appeal argues against a suspension: with a text, and papers by their ids.
func (d *Desk) Appeal(ctx context.Context, actor Actor, at Place, text string, papers []uuid.UUID) (call uuid.UUID, err error) {
	err = d.change(ctx, actor, at, func(l *listing) error {
		if err := l.mayWork(); err != nil {
			return err
		}
		c := l.state.OpenCase(verification.CaseSuspended)
		text = strings.TrimSpace(text)
		most := l.book.Appeal.MostCharacters
		switch {
		case c == nil:
			return conflict("The listing is not suspended, as far as is known.")
		case l.book.Appeal.Most == 0:
			return conflict("%s hears no appeals through its interface.", l.book.Name)
		case c.Waiting() != nil:
			return conflict("An appeal is before %s’s people already; wait for their answer.", l.book.Name)
		case len(c.Appeals) >= l.book.Appeal.Most:
			return conflict("%s has heard all that it hears on this.", l.book.Name)
		case text == "":
			return invalid([]record.Problem{{Path: "text", Message: "say why the listing should show again"}})
		case most > 0 && utf8.RuneCountInString(text) > most:
			return invalid([]record.Problem{{Path: "text", Message: fmt.Sprintf("%d characters are more than the %d that it takes", utf8.RuneCountInString(text), most)}})
		}
		all, err := l.papers(ctx)
		if err != nil {
			return err
		}
		var with []reach.Evidence
		var names []string
		for _, id := range papers {
			e := evidence(all, id.String(), l.location.Record.LegalName)
			if e == nil {
				return invalid([]record.Problem{{Path: "papers", Message: "one of the papers is not there any more"}})
			}
			with, names = append(with, *e), append(names, strings.ToLower(paper.Title(e.Kind)))
		}
		sent := strings.Join(names, ", ")
		call, err = d.ask(ctx, l, verification.AppealAsked, question{Ref: l.state.Ref, Text: text, Papers: with, To: sent, By: actor.Name}, verification.Event{To: sent})
		return err
	})
	return call, err
}

// askAppeal asks a directory how an appeal stands. One that was granted is looked for on
// the public page at once.
func (d *Desk) askAppeal(ctx context.Context, actor Actor, at Place) error {
	book, st, err := d.begun(ctx, at)
	if err != nil {
		return err
	}
	c := st.OpenCase(verification.CaseSuspended)
	if c == nil || c.Waiting() == nil {
		return nil
	}
	id := c.Waiting().ID
	e := verification.Event{Kind: verification.AppealWaiting}
	standing, err := d.reach.Request(ctx, book.Connector.URL, id)
	switch {
	case err != nil: // it is asked again the next time
	case standing.State == "accepted":
		e, actor = verification.Event{Kind: verification.AppealGranted, Says: standing.Says}, Actor{Name: book.Name}
	case standing.State == "refused":
		e, actor = verification.Event{Kind: verification.AppealRefused, Says: standing.Says}, Actor{Name: book.Name}
	}
	err = d.change(ctx, actor, at, func(l *listing) error {
		if c := l.state.OpenCase(verification.CaseSuspended); c == nil || c.Waiting() == nil || c.Waiting().ID != id {
			return nil // answered meanwhile
		}
		return l.add(ctx, e)
	})
	if err != nil || e.Kind != verification.AppealGranted {
		return err
	}
	if err = d.Look(ctx, Uvent, at); errors.As(err, new(*Problem)) {
		return nil // the page is looked at again later
	}
	return err
}

// SuspendedThere records that a person has seen that a listing is suspended, and what the
// directory says of it.
func (d *Desk) SuspendedThere(ctx context.Context, actor Actor, at Place, says string) error {
	return d.change(ctx, actor, at, func(l *listing) error {
		switch {
		case l.state.Control != verification.Held:
			return conflict("The listing is not held by us.")
		case l.state.OpenCase(verification.CaseSuspended) != nil:
			return conflict("There is a case on that already.")
		}
		return l.suspended(ctx, strings.TrimSpace(says))
	})
}

// DropCase gives a case up.
func (d *Desk) DropCase(ctx context.Context, actor Actor, at Place, id, why string) error {
	return d.change(ctx, actor, at, func(l *listing) error {
		for _, c := range l.state.Cases {
			if c.ID == id && c.Open() {
				return l.add(ctx, verification.Event{Kind: verification.CaseDropped, Ref: id, Says: strings.TrimSpace(why)})
			}
		}
		return &Problem{Kind: NotFound, Detail: "There is no such open case."}
	})
}
