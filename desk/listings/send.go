package listings

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"uvent/core/listing/giving"
	"uvent/core/listing/verification"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/reach"
)

// Send gives a connected directory what has changed since it was given last, or those of
// the changed facts that are named by their keys.
func (d *Desk) Send(ctx context.Context, actor people.Actor, at ledger.Place, keys []string) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		call, err = d.SendTo(ctx, l, keys)
		return err
	})
	return call, err
}

// SendTo gives a directory what has changed since it was given last, in a verb's transaction.
func (d *Desk) SendTo(ctx context.Context, l *ledger.Listing, keys []string) (call uuid.UUID, err error) {
	if err := MayWork(l); err != nil {
		return call, err
	}
	switch {
	case l.Book.Worked == rulebook.Suggestions:
		return call, problem.Conflictf("%s changes its panels itself; a change is suggested there, with public evidence.", l.Book.Name)
	case l.State.Change != nil:
		return call, problem.Conflictf(
			"%s is still looking at the last change: %s. A second one before it is settled is what gets listings suspended.",
			l.Book.Name,
			strings.Join(l.State.Change.Facts, ", "),
		)
	}
	if l.State.Elsewhere(l.Where.Record, l.Book) {
		return call, problem.Conflictf(
			"For %s the location is another now: have this listing say that it has moved, and leave it; or say that it is the same place.", l.Book.Name,
		)
	}
	s, err := records.FitSubject(ctx, l.Q, l.Where, l.Now)
	if err != nil {
		return call, err
	}
	last, _, err := LastGiven(ctx, l.Q, l.Place)
	if err != nil {
		return call, err
	}
	due := giving.Listing{Book: &l.Book, State: l.State, Last: last}.Due(s).Keys()
	if len(keys) > 0 {
		due = slices.DeleteFunc(due, func(key string) bool { return !slices.Contains(keys, key) })
	}
	if len(due) == 0 {
		return call, problem.Conflictf("%s has been given all that the record says.", l.Book.Name)
	}
	sent := only(fit.Of(s, &l.Book).Values(), due)
	return d.ledger.Ask(ctx, l, verification.SendAsked{Facts: due}, change{l.State.Ref, sent, over(last, sent), due})
}

// change is changed facts that a directory is given.
type change struct {
	Ref    string     `json:"ref"`
	Values fit.Values `json:"values"`
	Given  fit.Values `json:"given"` // all that it has been given once it takes the values
	Facts  []string   `json:"facts"` // keys of the values
}

var sending = request[change]{
	put: func(ctx context.Context, d *Desk, to to, q change) (verification.What, error) {
		facts := q.Values.Facts()
		delete(facts, "photos")
		c, err := d.reach.Change(ctx, to.url, to.key, q.Ref, facts)
		if err != nil {
			return nil, err
		}
		name := namesOf(q.Values)
		met := verification.Met{Taken: name(c.Taken), Reviewed: name(c.Reviewed), Again: c.VerifyAgain, Refused: map[string]string{}}
		for fact, why := range c.Refused {
			met.Refused[name([]string{fact})[0]] = why
		}
		e := verification.Sent{Ref: c.ID, Values: q.Given, Facts: q.Facts, Met: &met, Says: saidOfChange(met)}
		if c.ID != "" {
			e.Terms = &verification.Terms{Expires: c.AnswerBy}
		}
		return e, nil
	},
	no: noChange[change],
}

func noChange[Question any](_ Question, says string, _ *reach.Refusal) verification.What {
	return verification.SendRefused{Says: says}
}

// namesOf says what the facts of a connector are called, by the values that they are of.
func namesOf(values fit.Values) func(keys []string) []string {
	titles := map[string]string{}
	for _, v := range values {
		for key := range v.Data {
			titles[key] = v.Label
		}
	}
	return func(keys []string) (out []string) {
		for _, k := range keys {
			title := titles[k]
			if title == "" {
				title = k
			}
			if !slices.Contains(out, title) {
				out = append(out, title)
			}
		}
		return out
	}
}

func saidOfChange(m verification.Met) string {
	var parts []string
	if len(m.Taken) > 0 {
		parts = append(parts, "Taken at once: "+strings.Join(m.Taken, ", ")+".")
	}
	if len(m.Reviewed) > 0 {
		parts = append(parts, "Looked at first: "+strings.Join(m.Reviewed, ", ")+".")
	}
	for fact, why := range m.Refused {
		parts = append(parts, fmt.Sprintf("Not taken: %s. %s", fact, why))
	}
	if m.Again {
		parts = append(parts, "It wants a new verification.")
	}
	if len(parts) == 0 {
		return "It had all of it already."
	}
	return strings.Join(parts, " ")
}

// askChange asks a directory how its review of changed facts stands.
func (d *Desk) askChange(ctx context.Context, actor people.Actor, at ledger.Place) error {
	book, st, err := d.ledger.Begun(ctx, at)
	if err != nil || st.Change == nil {
		return err
	}
	id := st.Change.ID
	var what verification.What = verification.ChangeWaiting{}
	standing, err := d.reach.Request(ctx, book.Connector.URL, id)
	switch {
	case err != nil: // it is asked again the next time
	case standing.State == "accepted":
		what, actor = verification.ChangePassed{}, people.Actor{Name: book.Name}
	case standing.State == "refused":
		what, actor = verification.ChangeFailed{Says: standing.Says}, people.Actor{Name: book.Name}
	}
	return d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if c := l.State.Change; c == nil || c.ID != id {
			return nil
		}
		return l.Add(ctx, what)
	})
}
