package demo

import (
	"context"
	"errors"
	"slices"
	"time"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
)

// step is what was done for one location at one time.
type step struct {
	when          string // 2 Jan 15:04, Pacific
	client, label string
	does          []act
	on            string // the directory's id; empty: Fernlook
}

// act is one thing done to a listing.
type act func(ctx context.Context, l *layer, at ledger.Place) error

func (s step) at() time.Time {
	t, err := time.ParseInLocation("2006 2 Jan 15:04", "2026 "+s.when, pacific)
	if err != nil {
		panic(err) // the table below is wrong
	}
	return t
}

const (
	spokeshave = "Spokeshave Cycle Works"
	mossback   = "Mossback Chimney & Gutter"
	nettlewick = "Nettlewick Yarns"
	sablecote  = "Sablecote Veterinary"
	saltgrass  = "Saltgrass Laundry"
)

// story is what has been done so far, in the order of time. Larkspur Falls has
// nothing yet.
var story = []step{
	{when: "12 Oct 10:05", client: spokeshave, label: "Port Sable", does: []act{search, create, ask(rulebook.Text), enter}},
	{when: "12 Oct 11:20", client: sablecote, label: "Port Sable", does: []act{search, create, ask(rulebook.Text), enter}},
	{when: "20 Oct 09:30", client: spokeshave, label: "Three Herons", does: []act{search, claim, ask(rulebook.Email), enter}},
	{when: "20 Oct 14:10", client: saltgrass, label: "Saltgrass", does: []act{search, create, ask(rulebook.Text), enter}},
	{when: "28 Oct 10:40", client: spokeshave, label: "Minnow Bay", does: []act{search, create, ask(rulebook.Postcard)}},
	{when: "3 Nov 15:25", client: sablecote, label: "Quillcote", does: []act{search, claimRefused}},
	{when: "4 Nov 13:15", client: saltgrass, label: "Upper Moraine", does: []act{search, claim, ask(rulebook.Postcard)}},
	{when: "12 Nov 11:00", client: mossback, label: "Alder Landing", does: []act{search, create, ask(rulebook.Postcard)}},
	{when: "16 Nov 10:20", client: spokeshave, label: "Quillcote", does: []act{search, create, late(12), ask(rulebook.Email), enter}},
	{when: "18 Nov 16:30", client: saltgrass, label: "Fennick Road", does: []act{search, create}},
	{when: "20 Nov 13:45", client: spokeshave, label: "Minnow Bay", does: []act{arrived}},
	{when: "23 Nov 09:50", client: nettlewick, label: "Fennick", does: []act{search, create, ask(rulebook.Text), enter}},
	{when: "23 Nov 10:30", client: nettlewick, label: "Old Wharf", does: []act{search}},
	{when: "23 Nov 11:15", client: sablecote, label: "Cinder Point", does: []act{search, create, ask(rulebook.Postcard)}},
	{when: "23 Nov 15:40", client: sablecote, label: "Saltgrass", does: []act{search, create, ask(rulebook.Text)}},
}

// settled waits for the directory's answer and tells where the listing stands.
func (l *layer) settled(ctx context.Context, at ledger.Place, call uuid.UUID, err error) (verification.State, error) {
	if err != nil {
		return verification.State{}, err
	}
	if done, err := l.desk.Ledger.Await(ctx, call); err != nil || !done {
		return verification.State{}, errors.Join(err, errors.New("the directory does not answer"))
	}
	v, err := l.desk.Boards.Listing(ctx, at)
	return v.State, err
}

func search(ctx context.Context, l *layer, at ledger.Place) error {
	call, err := l.desk.Listings.Search(ctx, l.who.Actor(), at)
	_, err = l.settled(ctx, at, call, err)
	return err
}

// create creates the listing; where a name for its page is taken, with the next.
func create(ctx context.Context, l *layer, at ledger.Place) error {
	for taken := -1; ; {
		call, err := l.desk.Listings.Create(ctx, l.who.Actor(), at, "")
		s, err := l.settled(ctx, at, call, err)
		switch {
		case err != nil || s.Control == verification.Held:
			return err
		case len(s.Taken) <= taken || len(s.Taken) == 0:
			return errors.New("creating: " + s.Trouble)
		}
		taken = len(s.Taken)
	}
}

func claim(ctx context.Context, l *layer, at ledger.Place) error {
	s, err := l.claimBest(ctx, at)
	if err == nil && s.Control != verification.Held {
		err = errors.New("claiming: " + s.Trouble)
	}
	return err
}

func claimRefused(ctx context.Context, l *layer, at ledger.Place) error {
	s, err := l.claimBest(ctx, at)
	if err == nil && s.Control != verification.HeldByAnother {
		err = errors.New("the claim should find somebody else there")
	}
	return err
}

func (l *layer) claimBest(ctx context.Context, at ledger.Place) (verification.State, error) {
	v, err := l.desk.Boards.Listing(ctx, at)
	if err != nil {
		return v.State, err
	}
	if len(v.State.Candidates) == 0 {
		return v.State, errors.New("the search found nothing to claim")
	}
	call, err := l.desk.Listings.Claim(ctx, l.who.Actor(), at, v.State.Candidates[0].Ref)
	return l.settled(ctx, at, call, err)
}

func ask(method rulebook.MethodName) act {
	return func(ctx context.Context, l *layer, at ledger.Place) error {
		call, err := l.desk.Listings.AskCode(ctx, l.who.Actor(), at, method)
		s, err := l.settled(ctx, at, call, err)
		if a := s.Attempt(); err == nil && (a == nil || !a.Live() && a.State != verification.AttemptReview) {
			err = errors.New("asking for a code: " + s.Trouble)
		}
		return err
	}
}

// inOrder is the story in the order of time, on all directories.
func inOrder() []step {
	all := slices.Concat(story, elsewhere)
	slices.SortStableFunc(all, func(a, b step) int { return a.at().Compare(b.at()) })
	return all
}

// enter reads the newest code that reached the location, as its people would
// two minutes later, and enters it.
func enter(ctx context.Context, l *layer, at ledger.Place) error {
	if err := l.moveTo(ctx, l.desk.Now().Add(2*time.Minute)); err != nil {
		return err
	}
	v, err := l.desk.Boards.Listing(ctx, at)
	if err != nil {
		return err
	}
	r := v.Location.Record
	code, err := l.world.Code(ctx, r.MainPhone(), r.Email)
	if err != nil {
		return err
	}
	call, err := l.desk.Listings.EnterCode(ctx, l.who.Actor(), at, v.State.Attempt().ID, code)
	s, err := l.settled(ctx, at, call, err)
	if err == nil && s.VerifiedAt == nil && s.Verification != verification.InReview {
		err = errors.New("entering the code: " + s.Trouble)
	}
	return err
}

func arrived(ctx context.Context, l *layer, at ledger.Place) error {
	v, err := l.desk.Boards.Listing(ctx, at)
	if err != nil {
		return err
	}
	return l.desk.Listings.Arrived(ctx, l.who.Actor(), at, v.State.Attempt().ID)
}

// late makes the directory publish the listing some days after its window.
func late(days int) act {
	return func(ctx context.Context, l *layer, at ledger.Place) error {
		v, err := l.desk.Boards.Listing(ctx, at)
		if err != nil {
			return err
		}
		return l.world.Late(ctx, v.State.Ref, days)
	}
}
