package listings

import (
	"context"
	"fmt"
	"net/url"
	"slices"
	"strings"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/core/rule/saying"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/reach"
)

// Say says something through a listing of ours.
func (d *Desk) Say(ctx context.Context, actor people.Actor, at ledger.Place, in saying.Draft) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := MayWork(l); err != nil {
			return err
		}
		today := calendar.DateOf(l.Now.In(l.Book.Calendar.Place().Zone))
		var wrong []record.Problem
		for _, f := range saying.Minds(l.Book.Speaks, in, today) {
			wrong = append(wrong, record.Problem{Path: f.Field, Message: f.Says})
		}
		if len(wrong) > 0 {
			return problem.Fields(wrong)
		}
		said := reach.Saying{Kind: string(in.Kind), Title: in.Title, Text: in.Text, Button: in.Button, Link: in.Link, Radius: in.Radius, Percent: in.Percent}
		if in.Until != (calendar.Date{}) {
			said.Until = in.Until.String()
		}
		call, err = d.ledger.Ask(ctx, l, verification.SayAsked, question{Ref: l.State.Ref, Saying: &said}, verification.Event{Says: fmt.Sprintf("Gave it the %s “%s”.", in.Kind, in.Title)})
		return err
	})
	return call, err
}

// MayWork says why nothing can be done now through a listing that we hold.
func MayWork(l *ledger.Listing) error {
	if err := l.Free(); err != nil {
		return err
	}
	if err := connected(l); err != nil {
		return err
	}
	if l.State.Control != verification.Held {
		return problem.Conflictf("Claim or create the listing first.")
	}
	return nil
}

// putSaying says something, and tells what is left and whom it reaches.
func (d *Desk) putSaying(ctx context.Context, book rulebook.Rulebook, key string, q question) (verification.Event, error) {
	heard, err := d.reach.Say(ctx, book.Connector.URL, key, q.Ref, *q.Saying)
	says := "It was taken."
	if q.Saying.Kind == string(saying.Post) {
		says += fmt.Sprintf(" %d of %d posts are left this month.", heard.Left, book.Speaks.PostsPerMonth)
	}
	if q.Saying.Radius > 0 {
		says += fmt.Sprintf(" It reaches %d people within %d km.", heard.People, q.Saying.Radius)
	}
	return verification.Event{Kind: verification.SaidThere, Ref: q.Ref, Says: says}, err
}

// Spoken is what a directory tells of a listing of ours beside its facts.
type Spoken struct {
	Left     int // posts, this calendar month of the directory's
	Posts    []reach.Saying
	Opinions []reach.Opinion
	Roles    []reach.Role
}

// Spoken asks a directory what was said through a listing, what visitors wrote, and who
// else may work on it.
func (d *Desk) Spoken(ctx context.Context, at ledger.Place) (out Spoken, err error) {
	book, st, err := d.ledger.Begun(ctx, at)
	if err != nil {
		return out, err
	}
	if st.Control != verification.Held || book.Connector.URL == "" {
		return out, problem.Conflictf("Claim or create the listing first.")
	}
	g, ctx := errgroup.WithContext(ctx)
	if len(saying.Kinds(book.Speaks)) > 0 {
		g.Go(func() error {
			spoken, err := d.reach.Spoken(ctx, book.Connector.URL, st.Ref)
			out.Left, out.Posts = spoken.Left, spoken.Posts
			return err
		})
	}
	if book.Speaks.ReviewsToRead {
		g.Go(func() (err error) {
			out.Opinions, err = d.reach.Opinions(ctx, book.Connector.URL, st.Ref)
			return err
		})
	}
	if len(book.Access.Roles) > 0 {
		g.Go(func() (err error) {
			out.Roles, err = d.reach.Roles(ctx, book.Connector.URL, st.Ref)
			return err
		})
	}
	if g.Wait() != nil {
		return out, problem.Conflictf("%s does not tell just now. Try again in a while.", book.Name)
	}
	return out, nil
}

// SetRole gives another account a role for a listing of ours.
func (d *Desk) SetRole(ctx context.Context, actor people.Actor, at ledger.Place, account, role string) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := MayWork(l); err != nil {
			return err
		}
		account = strings.TrimSpace(account)
		switch {
		case len(l.Book.Access.Roles) == 0:
			return problem.Conflictf("%s knows one holder of a listing, and no roles.", l.Book.Name)
		case !slices.Contains(l.Book.Access.Roles, role):
			return problem.Fields([]record.Problem{{Path: "role", Message: "choose one of " + strings.Join(l.Book.Access.Roles, ", ")}})
		case account == "" || account == d.reach.Account():
			return problem.Fields([]record.Problem{{Path: "account", Message: "name the account of somebody else"}})
		}
		call, err = d.ledger.Ask(ctx, l, verification.RoleAsked, question{Ref: l.State.Ref, Role: &reach.Role{Account: account, Role: role}}, verification.Event{To: account, Says: role})
		return err
	})
	return call, err
}

// Suggest asks a directory that changes its panels itself to show what the record says
// of one fact, with the address of a public page that shows it.
func (d *Desk) Suggest(ctx context.Context, actor people.Actor, at ledger.Place, fact, evidence string) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := MayWork(l); err != nil {
			return err
		}
		switch {
		case l.Book.Worked != rulebook.Suggestions:
			return problem.Conflictf("%s takes changes as they are; send them.", l.Book.Name)
		case l.State.Change != nil:
			return problem.Conflictf("%s is still looking at the last suggestion: %s. Wait for its answer.", l.Book.Name, strings.Join(l.State.Change.Facts, ", "))
		}
		u, bad := url.Parse(strings.TrimSpace(evidence))
		if bad != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https" {
			return problem.Fields([]record.Problem{{Path: "evidence", Message: "give the address of a public page that shows it, as https://…"}})
		}
		s, err := records.FitSubject(ctx, l.Q, l.Where)
		if err != nil {
			return err
		}
		v, ok := fit.Compose(s, &l.Book).Find(fact)
		if !ok || len(v.Data) == 0 {
			return problem.Conflictf("The record has no such value for %s.", l.Book.Name)
		}
		call, err = d.ledger.Ask(ctx, l, verification.SuggestAsked, question{Ref: l.State.Ref, Values: fit.Values{v}, Page: u.String(), Facts: []string{fact}}, verification.Event{To: v.Label, Page: u.String(), Facts: []string{fact}})
		return err
	})
	return call, err
}

// putSuggestion suggests values.
func (d *Desk) putSuggestion(ctx context.Context, book rulebook.Rulebook, key string, q question) (verification.Event, error) {
	asked, err := d.reach.Suggest(ctx, book.Connector.URL, key, q.Ref, q.Values.Facts(), q.Page)
	met := verification.Met{Reviewed: namesOf(q.Values)(keysOf(q.Values))}
	return verification.Event{Kind: verification.Sent, Ref: asked.ID, Values: q.Values, Facts: q.Facts, Met: &met, Says: "A reviewer is looking at it.",
		Terms: &verification.Terms{Expires: asked.AnswerBy}}, err
}

func keysOf(values fit.Values) (out []string) {
	for key := range values.Facts() {
		out = append(out, key)
	}
	slices.Sort(out)
	return out
}
