package rounds

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store/db"
)

// RoundOf is what a round does for each of its listings.
type RoundOf string

const (
	ToSearch RoundOf = "search"
	ToVerify RoundOf = "verify"
	ToSend   RoundOf = "send" // what the record says by now, a step at a time
)

// mostRound is how many listings one round takes up.
const mostRound = 2000

// RoundItem is a listing of a round, and how it is to be verified; no method: the way
// that is likeliest to be done soonest.
type RoundItem struct {
	ledger.Place
	Method rulebook.MethodName
	Facts  []string // in a round that sends: keys of those that go; none: all that are due
}

// StartRound begins a round: each of its listings is taken up in the background, and once.
func (d *Desk) StartRound(ctx context.Context, actor people.Actor, what RoundOf, items []RoundItem) (id uuid.UUID, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		id, err = d.beginRound(ctx, q, tx, actor, what, items)
		return err
	})
	return id, err
}

// NoSuchRound is the problem of a round that is for something else.
func NoSuchRound() error {
	return &problem.Problem{Kind: problem.Invalid, Detail: "A round is to search, to verify or to send."}
}

// beginRound begins a round in somebody's transaction.
func (d *Desk) beginRound(ctx context.Context, q *db.Queries, tx pgx.Tx, actor people.Actor, what RoundOf, items []RoundItem) (id uuid.UUID, err error) {
	switch {
	case what != ToSearch && what != ToVerify && what != ToSend:
		return id, NoSuchRound()
	case len(items) == 0:
		return id, &problem.Problem{Kind: problem.Invalid, Detail: "Choose at least one listing."}
	case len(items) > mostRound:
		return id, &problem.Problem{Kind: problem.Invalid, Detail: "A round takes up to 2,000 listings. Choose fewer."}
	}
	id = uuid.New()
	if _, err := q.AddRound(ctx, db.AddRoundParams{ID: id, What: string(what), MadeBy: actor.Name, MadeByID: actor.Key(), MadeAt: d.clock.Now()}); err != nil {
		return id, err
	}
	var jobs []river.InsertManyParams
	for _, i := range items {
		if _, err := d.shelf.Book(i.Directory); err != nil {
			return id, err
		}
		if _, err := q.Location(ctx, i.Location); err != nil {
			return id, problem.OrNotFound(err, "There is no such location.")
		}
		n, err := q.AddRoundItem(
			ctx,
			db.AddRoundItemParams{RoundID: id, LocationID: i.Location, DirectoryID: i.Directory, Method: string(i.Method), Facts: append([]string{}, i.Facts...)},
		)
		if err != nil {
			return id, err
		}
		if n > 0 {
			jobs = append(jobs, river.InsertManyParams{Args: roundJob{id, i.Location, i.Directory}})
		}
	}
	_, err = d.jobs.InsertManyTx(ctx, tx, jobs)
	return id, err
}

// StopRound leaves alone what a round has not taken up yet. What was asked of a directory
// cannot be taken back.
func (d *Desk) StopRound(ctx context.Context, id uuid.UUID) error {
	_, err := d.store.StopRound(ctx, db.StopRoundParams{Round: id, At: d.clock.Now()})
	return err
}

// roundJob takes up one listing of a round.
type roundJob struct {
	Round     uuid.UUID `json:"round"`
	Location  uuid.UUID `json:"location"`
	Directory string    `json:"directory"`
}

// Kind names the job.
func (roundJob) Kind() string { return "round" }

type roundWorker struct {
	river.WorkerDefaults[roundJob]
	desk *Desk
}

// NextRetry waits a quarter of a second, then twice as long each time, up to half a minute.
func (*roundWorker) NextRetry(job *river.Job[roundJob]) time.Time {
	return time.Now().Add(min(250*time.Millisecond<<(job.Attempt-1), 30*time.Second))
}

// mostOfferTries is how often a directory is asked what it offers before the rulebook
// alone must do.
const mostOfferTries = 8

// Work asks what is to be asked of one listing. That it was asked is noted in the same
// transaction, so that it is not asked twice.
func (w *roundWorker) Work(ctx context.Context, job *river.Job[roundJob]) error {
	d, a := w.desk, job.Args
	at := ledger.Place{Location: a.Location, Directory: a.Directory}
	var offered map[rulebook.MethodName]string
	round, err := d.store.Round(ctx, a.Round)
	if err != nil || round.StoppedAt != nil {
		return err
	}
	if RoundOf(round.What) == ToVerify {
		if offered, err = d.listings.Offers(ctx, at, 10*time.Second); errors.Is(err, listings.ErrUnanswered) && job.Attempt <= mostOfferTries {
			return err
		} else if err != nil && !errors.Is(err, listings.ErrUnanswered) {
			return err
		}
	}
	who := people.Person{Name: round.MadeBy}
	if round.MadeByID != nil {
		if who, err = d.people.Person(ctx, *round.MadeByID); err != nil {
			return err
		}
	}
	key := db.LockRoundItemParams{RoundID: a.Round, LocationID: a.Location, DirectoryID: a.Directory}
	err = d.ledger.Change(ctx, who.Actor(), at, func(l *ledger.Listing) error {
		item, err := l.Q.LockRoundItem(ctx, key)
		if err != nil || item.State != "waiting" {
			return err // taken up by this job's other run, or stopped
		}
		taken, err := d.takeUp(ctx, l, item, offered, who)
		save := db.SaveRoundItemParams{RoundID: a.Round, LocationID: a.Location, DirectoryID: a.Directory, State: "asked", Method: string(taken.method)}
		var p *problem.Problem
		switch {
		case errors.As(err, &p):
			save.State, save.Says = "left", p.Detail
		case err != nil:
			return err
		case taken.booked != "":
			save.State, save.Says = "booked", taken.booked
		default:
			save.CallID = &taken.call
		}
		return l.Q.SaveRoundItem(ctx, save)
	})
	var p *problem.Problem
	if errors.As(err, &p) { // the listing cannot be worked on at all
		return d.store.SaveRoundItem(ctx, db.SaveRoundItemParams{RoundID: a.Round, LocationID: a.Location, DirectoryID: a.Directory, State: "left", Says: p.Detail})
	}
	return err
}

// takenUp is what was asked for a listing of a round, or booked.
type takenUp struct {
	call   uuid.UUID
	method rulebook.MethodName
	booked string // in words; empty: it was asked
}

// takeUp asks one thing for a listing: where the way that was chosen is not open today, the next best. Nobody is called
// unasked: a call is booked, and its owner told before.
func (d *Desk) takeUp(
	ctx context.Context,
	l *ledger.Listing,
	item db.LockRoundItemRow,
	offered map[rulebook.MethodName]string,
	who people.Person,
) (out takenUp, err error) {
	switch out.method = rulebook.MethodName(item.Method); RoundOf(item.What) {
	case ToSearch:
		out.call, err = d.listings.SearchOn(ctx, l)
		return out, err
	case ToSend:
		out.call, err = d.nextStep(ctx, l, item.Method == confirmed, item.Facts)
		return out, err
	}
	if a := l.State.UnderWay(); a != nil {
		out.method = a.Method
		return out, problem.Conflictf("A proof is under way there already.")
	}
	ways, papers, err := listings.WaysOf(ctx, l, offered)
	if err != nil {
		return out, err
	}
	told := l.Client.OwnerEmail != ""
	best, why := verification.BestUnattended(ways, told)
	for _, w := range ways {
		one, no := verification.BestUnattended([]verification.Way{w}, told)
		if string(w.Method) == item.Method && no == "" {
			best, why = one, ""
		}
	}
	if out.method = best.Method; why != "" {
		return out, problem.Conflictf("%s", why)
	}
	if best.Method == rulebook.Call {
		out.booked, err = d.book(ctx, l, who)
		return out, err
	}
	out.call, err = d.listings.AskWay(ctx, l, best, papers, offered, listings.Insisting{})
	return out, err
}

// book books a call, and says when it comes.
func (d *Desk) book(ctx context.Context, l *ledger.Listing, who people.Person) (string, error) {
	at, err := d.owners.Book(ctx, l, who)
	if err != nil {
		return "", err
	}
	zone := verification.ZoneOf(l.Where.Record, l.Book)
	return fmt.Sprintf(
		"A call is booked for %s at %s; the owner is told, and may choose another time.",
		verification.Day(calendar.DateOf(at.In(zone))),
		verification.Clock(at, zone),
	), nil
}

// RoundLine is how one listing of a round stands.
type RoundLine struct {
	ledger.Place
	Label, Client, DirectoryName string
	Method                       rulebook.MethodName
	State                        string // waiting, asked, booked, done, refused, left or stopped
	Says                         string
}

// Round is a round with all its listings.
type Round struct {
	ID        uuid.UUID
	What      RoundOf
	MadeBy    string
	MadeAt    time.Time
	StoppedAt *time.Time
	Lines     []RoundLine
}

// Round tells how a round stands.
func (d *Desk) Round(ctx context.Context, id uuid.UUID) (out Round, err error) {
	r, err := d.store.Round(ctx, id)
	if err != nil {
		return out, problem.OrNotFound(err, "There is no such round.")
	}
	out = Round{ID: r.ID, What: RoundOf(r.What), MadeBy: r.MadeBy, MadeAt: r.MadeAt, StoppedAt: r.StoppedAt}
	rows, err := d.store.RoundItems(ctx, id)
	if err != nil {
		return out, err
	}
	for _, r := range rows {
		l := RoundLine{
			Place:         ledger.Place{Location: r.LocationID, Directory: r.DirectoryID},
			Label:         r.Label,
			Client:        r.ClientName,
			DirectoryName: d.shelf.DirectoryName(r.DirectoryID),
			Method:        rulebook.MethodName(r.Method),
			State:         r.State,
			Says:          r.Says,
		}
		if r.State == "asked" {
			var s verification.State
			if err := json.Unmarshal(r.Listing, &s); err != nil {
				return out, err
			}
			l.State, l.Says = outcome(out.What, s, r.Answered, int(r.Tries), r.GivenUp)
		}
		out.Lines = append(out.Lines, l)
	}
	return out, nil
}

// outcome is what became of a listing that was taken up.
func outcome(what RoundOf, s verification.State, answered bool, tries int, givenUp string) (state, says string) {
	switch {
	case !answered && tries > 1:
		return "asked", "It does not answer; Uvent keeps asking."
	case !answered:
		return "asked", ""
	case givenUp != "": // what the listing says of before is no answer to this
		return "refused", givenUp
	case what == ToSearch && s.SearchedAt == nil:
		return "refused", s.Trouble
	case what == ToSearch && len(s.Candidates) == 0:
		return "done", "Nothing like it is there."
	case what == ToSearch && len(s.Candidates) == 1:
		return "done", "One listing may be it."
	case what == ToSearch:
		return "done", "Several listings may be it."
	}
	if what == ToSend {
		switch {
		case s.Trouble != "":
			return "refused", s.Trouble
		case s.Change != nil:
			return "done", "They look at it first."
		case s.Verification != verification.Verified && s.SentAt != nil:
			return "done", "It wants a new verification."
		}
		return "done", ""
	}
	a := s.Attempt()
	switch {
	case s.VerifiedAt != nil:
		return "done", "Verified."
	case a == nil:
		return "refused", s.Trouble
	case a.State == verification.AttemptRefused:
		return "refused", a.Says
	case a.State == verification.AttemptReview:
		return "done", "In review."
	}
	return "done", "The code was sent."
}
