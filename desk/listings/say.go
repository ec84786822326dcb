package listings

import (
	"context"
	"fmt"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/saying"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
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
		call, err = d.ledger.Ask(ctx, l, verification.Asked{Of: say, Says: fmt.Sprintf("Gave it the %s “%s”.", in.Kind, in.Title)}, speech{l.State.Ref, said})
		return err
	})
	return call, err
}

// say is the request that something be said through a listing.
const say = "say"

type speech struct {
	Ref    string       `json:"ref"`
	Saying reach.Saying `json:"saying"`
}

// What was taken tells what is left and whom it reaches.
var telling = request[speech]{
	put: func(ctx context.Context, d *Desk, to to, q speech) (verification.What, error) {
		heard, err := d.reach.Say(ctx, to.url, to.key, q.Ref, q.Saying)
		says := "It was taken."
		if q.Saying.Kind == string(saying.Post) {
			says += fmt.Sprintf(" %d of %d posts are left this month.", heard.Left, to.book.Speaks.PostsPerMonth)
		}
		if q.Saying.Radius > 0 {
			says += fmt.Sprintf(" It reaches %d people within %d km.", heard.People, q.Saying.Radius)
		}
		return verification.Done{Of: say, Says: says}, err
	},
	no: func(_ speech, says string, _ *reach.Refusal) verification.What {
		return verification.RefusedIt{Of: say, Says: says}
	},
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
