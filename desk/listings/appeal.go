package listings

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
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/sightings"
	"uvent/reach"
)

// Appeal argues against a suspension: with a text, and papers by their ids.
func (d *Desk) Appeal(ctx context.Context, actor people.Actor, at ledger.Place, text string, papers []uuid.UUID) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := MayWork(l); err != nil {
			return err
		}
		c := l.State.OpenCase(verification.CaseSuspended)
		text = strings.TrimSpace(text)
		most := l.Book.Appeal.MostCharacters
		switch {
		case c == nil:
			return problem.Conflictf("The listing is not suspended, as far as is known.")
		case l.Book.Appeal.Most == 0:
			return problem.Conflictf("%s hears no appeals through its interface.", l.Book.Name)
		case c.Waiting() != nil:
			return problem.Conflictf("An appeal is before %s’s people already; wait for their answer.", l.Book.Name)
		case len(c.Appeals) >= l.Book.Appeal.Most:
			return problem.Conflictf("%s has heard all that it hears on this.", l.Book.Name)
		case text == "":
			return problem.Fields([]record.Problem{{Path: "text", Message: "say why the listing should show again"}})
		case most > 0 && utf8.RuneCountInString(text) > most:
			return problem.Fields(
				[]record.Problem{{Path: "text", Message: fmt.Sprintf("%d characters are more than the %d that it takes", utf8.RuneCountInString(text), most)}},
			)
		}
		all, err := files.PapersOf(ctx, l)
		if err != nil {
			return err
		}
		var with []reach.Evidence
		var names, kinds []string
		for _, id := range papers {
			e := files.Evidence(all, id.String(), l.Where.Record.LegalName)
			if e == nil {
				return problem.Fields([]record.Problem{{Path: "papers", Message: "one of the papers is not there any more"}})
			}
			with, names, kinds = append(with, *e), append(names, strings.ToLower(paper.Title(e.Kind))), append(kinds, e.Kind)
		}
		sent := strings.Join(names, ", ")
		if n := len(c.Appeals); n > 0 && c.Appeals[n-1].Text == text && c.Appeals[n-1].Papers == sent {
			return problem.Fields([]record.Problem{{Path: "text", Message: "this is what they refused; say what is new since, or add a paper"}})
		}
		call, err = d.ledger.Ask(ctx, l, verification.AppealAsked{To: sent}, appeal{l.State.Ref, text, with, sent, kinds, actor.Name})
		return err
	})
	return call, err
}

// askAppeal asks a directory how an appeal stands. One that was granted is looked for on
// the public page at once.
func (d *Desk) askAppeal(ctx context.Context, actor people.Actor, at ledger.Place) error {
	book, st, err := d.ledger.Begun(ctx, at)
	if err != nil {
		return err
	}
	c := st.OpenCase(verification.CaseSuspended)
	if c == nil || c.Waiting() == nil {
		return nil
	}
	id := c.Waiting().ID
	var what verification.What = verification.AppealWaiting{}
	standing, err := d.reach.Request(ctx, book.Connector.URL, id)
	switch {
	case err != nil: // it is asked again the next time
	case standing.State == "accepted":
		what, actor = verification.AppealGranted{Says: standing.Says}, people.Actor{Name: book.Name}
	case standing.State == "refused":
		what, actor = verification.AppealRefused{Says: standing.Says, Final: standing.Final}, people.Actor{Name: book.Name}
	}
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if c := l.State.OpenCase(verification.CaseSuspended); c == nil || c.Waiting() == nil || c.Waiting().ID != id {
			return nil // answered meanwhile
		}
		return l.Add(ctx, what)
	})
	if _, granted := what.(verification.AppealGranted); err != nil || !granted {
		return err
	}
	if err = d.sightings.Look(ctx, people.Uvent, at); errors.As(err, new(*problem.Problem)) {
		return nil // the page is looked at again later
	}
	return err
}

// SuspendedThere records that a person has seen that a listing is suspended, and what the
// directory says of it.
func (d *Desk) SuspendedThere(ctx context.Context, actor people.Actor, at ledger.Place, says string) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		switch {
		case l.State.Control != verification.Held:
			return problem.Conflictf("The listing is not held by us.")
		case l.State.OpenCase(verification.CaseSuspended) != nil:
			return problem.Conflictf("There is a case on that already.")
		}
		return sightings.Suspended(ctx, l, strings.TrimSpace(says))
	})
}

// DropCase gives a case up.
func (d *Desk) DropCase(ctx context.Context, actor people.Actor, at ledger.Place, id, why string) error {
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		for _, c := range l.State.Cases {
			if c.ID == id && c.Open() {
				return l.Add(ctx, verification.CaseDropped{Ref: id, Says: strings.TrimSpace(why)})
			}
		}
		return &problem.Problem{Kind: problem.NotFound, Detail: "There is no such open case."}
	})
}

type appeal struct {
	Ref    string           `json:"ref"`
	Text   string           `json:"text"`
	Papers []reach.Evidence `json:"papers,omitempty"`
	To     string           `json:"to,omitempty"`    // the papers, in words
	Kinds  []string         `json:"kinds,omitempty"` // of these papers
	By     string           `json:"by"`              // who appeals
}

var appealing = request[appeal]{
	put: func(ctx context.Context, d *Desk, to to, q appeal) (verification.What, error) {
		asked, err := d.reach.Appeal(ctx, to.url, to.key, q.Ref, q.Text, q.Papers)
		return verification.AppealBegun{Ref: asked.ID, Text: q.Text, To: q.To, Kinds: q.Kinds, By: q.By, Terms: until(asked)}, err
	},
	no: func(_ appeal, says string, _ *reach.Refusal) verification.What {
		return verification.AppealFailed{Says: says}
	},
}
