package listings

import (
	"context"
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/reach"
)

// Changed is a value that a directory was given otherwise, or not at all.
type Changed struct {
	fit.Value
	Before string // what it was given; empty for nothing
	Meets  string // what the directory does with such a change, in words; empty: it takes it at once
}

// ChangesOf are the values of which a directory was last given others, or never any and
// does not show them. What is taken out of the record is not taken out there.
func ChangesOf(book rulebook.Rulebook, values, given fit.Values, seen []compare.Line) (list []Changed) {
	for _, v := range values {
		before, known := given.Find(v.Key)
		shown := !known && slices.ContainsFunc(seen, func(l compare.Line) bool {
			return l.Fact == v.Key && len(v.Parts) <= 1 && (l.Mark == compare.Equal || l.Mark == compare.Alike)
		})
		if strings.HasPrefix(v.Key, "photos.") || v.Data == nil || shown || known && sameData(before.Data, v.Data) {
			continue
		}
		c := Changed{Value: v, Before: before.Text}
		for _, e := range book.Edits {
			if slices.Contains(e.Facts, v.Key) {
				c.Meets = Meets(e)
			}
		}
		list = append(list, c)
	}
	return list
}

// Meets is what a directory does with a change, in words.
func Meets(e rulebook.Edit) string {
	switch e.SetsOff {
	case rulebook.OffReview:
		return "looked at first, " + rulebook.Span(e.Window)
	case rulebook.OffVerification:
		return "needs a new verification"
	case rulebook.OffWriting:
		return "only in writing"
	}
	return "not changed any more"
}

// Settles is what has to be over before something else is changed, in words.
func Settles(e rulebook.Edit) string {
	if e.SetsOff == rulebook.OffVerification {
		return "once it is verified again"
	}
	if e.Window.Unit == "" {
		return "once it is settled"
	}
	return "once it is settled, " + rulebook.Span(e.Window)
}

// sameData compares what connectors are given; what was read back from JSON has other
// types than what was just made.
func sameData(a, b map[string]any) bool {
	plain := func(m map[string]any) (out any) {
		text, err := json.Marshal(m)
		if err == nil {
			err = json.Unmarshal(text, &out)
		}
		if err != nil {
			return m
		}
		return out
	}
	return reflect.DeepEqual(plain(a), plain(b))
}

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
		return call, problem.Conflictf("%s is still looking at the last change: %s. A second one before it is settled is what gets listings suspended.", l.Book.Name, strings.Join(l.State.Change.Facts, ", "))
	}
	s, err := records.FitSubject(ctx, l.Q, l.Where)
	if err != nil {
		return call, err
	}
	last, _, err := LastGiven(ctx, l.Q, l.Place)
	if err != nil {
		return call, err
	}
	values := fit.Compose(s, &l.Book)
	due := KeysOfChanged(ChangesOf(l.Book, values, last, compare.Facts(l.Where.Record, l.Book, l.State.Sighting)))
	if len(keys) > 0 {
		due = slices.DeleteFunc(due, func(key string) bool { return !slices.Contains(keys, key) })
	}
	if len(due) == 0 {
		return call, problem.Conflictf("%s has been given all that the record says.", l.Book.Name)
	}
	sent := only(values, due)
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
