package ledger

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/fact/prose"
	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store/db"
)

// Ask records that a directory is asked something and enqueues the asking, all
// in the verb's transaction. The question is kept as it was first asked, so that asking again
// after a crash asks the same. The id is the request's idempotency key.
func (d *Desk) Ask(ctx context.Context, l *Listing, asked verification.What, question any) (uuid.UUID, error) {
	id := uuid.New()
	if err := l.here(); err != nil {
		return id, err
	}
	if err := l.Add(ctx, asked); err != nil {
		return id, err
	}
	payload, err := json.Marshal(question)
	if err != nil {
		return id, err
	}
	if err := l.Q.AddCall(
		ctx,
		db.AddCallParams{ID: id, LocationID: l.Location, DirectoryID: l.Directory, Kind: string(asked.Kind()), Payload: payload},
	); err != nil {
		return id, err
	}
	_, err = d.jobs.InsertTx(ctx, l.Tx, callJob{ID: id}, nil)
	return id, err
}

// here says why nothing is asked for a location that is put away.
func (l *Listing) here() error {
	if l.Where.PutAwayAt != nil {
		return problem.Conflictf("%s is put away. Bring it back before anything is asked for it.", l.Where.Label)
	}
	return nil
}

// Free says why a directory cannot be asked something just now.
func (l *Listing) Free() error {
	if err := l.here(); err != nil {
		return err
	}
	if l.State.Busy != "" {
		return problem.Conflictf("%s is being asked already; wait for its answer.", l.Book.Name)
	}
	return nil
}

// Await waits until a directory has answered, for as long as a person would
// look at a button. False means that it has not answered yet.
func (d *Desk) Await(ctx context.Context, call uuid.UUID) (bool, error) {
	if call == uuid.Nil {
		return true, nil // nothing was asked: people do it themselves
	}
	changes, leave := d.store.Watch()
	defer leave()
	for deadline := time.Now().Add(6 * time.Second); time.Now().Before(deadline); {
		c, err := d.store.Call(ctx, call)
		if err != nil || c.DoneAt != nil {
			return err == nil, err
		}
		if c.Tries > 0 && time.Until(deadline) < 4*time.Second {
			return false, nil
		}
		if err := told(ctx, changes, c.LocationID); err != nil {
			return false, err
		}
	}
	return false, nil
}

// told waits until something about a location has changed, and at most half a second: a change
// may not be heard of, and a try that nobody answered is none.
func told(ctx context.Context, changes <-chan string, location uuid.UUID) error {
	enough := time.After(500 * time.Millisecond)
	for {
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-enough:
			return nil
		case change := <-changes:
			if strings.Contains(change, location.String()) || !strings.Contains(change, "location") {
				return nil
			}
		}
	}
}

// Call is something that a directory is asked.
type Call struct {
	ID uuid.UUID // the request's idempotency key
	Place
	Kind    verification.Kind
	Payload []byte // JSON, as whoever asks has written it
}

// Put asks a directory what a call says. What happened is its answer, yes or no; the error means
// that there was none, and it is asked again.
type Put func(ctx context.Context, book rulebook.Rulebook, c Call) (verification.What, error)

// callJob asks a directory what a call says.
type callJob struct {
	ID uuid.UUID `json:"id"`
}

// Kind names the job.
func (callJob) Kind() string { return "call" }

// InsertOpts has it tried for as long as a call's patience lasts.
func (callJob) InsertOpts() river.InsertOpts { return river.InsertOpts{MaxAttempts: 10_000} }

type callWorker struct {
	river.WorkerDefaults[callJob]
	desk *Desk
}

// Timeout bounds one asking.
func (*callWorker) Timeout(*river.Job[callJob]) time.Duration { return 20 * time.Second }

// How long it is waited before a directory that did not answer is asked again: twice as long each time, and not by all calls
// at once.
const (
	firstWait = 250 * time.Millisecond
	mostWait  = 10 * time.Minute
)

// NextRetry is when a directory is asked again.
func (*callWorker) NextRetry(job *river.Job[callJob]) time.Time {
	return time.Now().Add(reach.Pause(firstWait, mostWait, job.Attempt-1, rand.Float64()))
}

// Work asks, and records the answer with all that follows from it. Whether it
// was recorded is told by the call's row alone, so asking twice records once.
func (w *callWorker) Work(ctx context.Context, job *river.Job[callJob]) error {
	d := w.desk
	c, err := d.store.Call(ctx, job.Args.ID)
	if err != nil || c.DoneAt != nil {
		return err
	}
	at := Place{c.LocationID, c.DirectoryID}
	book, err := d.shelf.Book(at.Directory)
	if err != nil {
		return err
	}
	call := Call{ID: c.ID, Place: at, Kind: verification.Kind(c.Kind), Payload: c.Payload}
	answer, asked := d.put(ctx, book, call)
	if asked != nil {
		return d.unanswered(ctx, call, asked)
	}
	return d.finish(ctx, call, book, answer)
}

func (d *Desk) finish(ctx context.Context, c Call, book rulebook.Rulebook, what verification.What) error {
	return d.finishBy(ctx, people.Actor{Name: book.Name}, c, what)
}

func (d *Desk) finishBy(ctx context.Context, actor people.Actor, c Call, what verification.What) error {
	givenUp, _ := what.(verification.CallGivenUp) // its words; none where it was answered
	return d.Change(ctx, actor, c.Place, func(l *Listing) error {
		n, err := l.Q.FinishCall(ctx, db.FinishCallParams{ID: c.ID, DoneAt: &l.Now, GivenUp: givenUp.Says})
		if err != nil || n == 0 {
			return err // recorded already, by this job's other run
		}
		return l.Add(ctx, what)
	})
}

// unanswered counts a try that got no answer, and gives up after enough time. A directory that says when it wants to be asked
// again is asked then.
func (d *Desk) unanswered(ctx context.Context, c Call, why error) error {
	book, err := d.shelf.Book(c.Directory)
	if err != nil {
		return err
	}
	var call db.CountCallTryRow
	alone := errors.Is(why, reach.ErrLeftAlone)
	if alone { // it was not asked
		call.Tries, call.AskedAt, err = d.askedSoFar(ctx, c.ID)
	} else {
		call, err = d.store.CountCallTry(ctx, c.ID)
	}
	patience := verification.Patience(c.Kind)
	switch {
	case errors.Is(err, pgx.ErrNoRows):
		return nil // answered meanwhile
	case err != nil:
		return err
	case time.Since(call.AskedAt) >= patience:
		says := fmt.Sprintf(
			"%s did not answer for %s, in %d tries. It may have been done all the same; search again to see.",
			book.Name, lasting(patience), call.Tries,
		)
		return d.finish(ctx, c, book, verification.CallGivenUp{Says: says})
	case call.Tries == 2 || alone: // one lost answer is no news; that it is not even asked is
		says := fmt.Sprintf("%s does not answer. Uvent keeps asking; you need do nothing.", book.Name)
		if err := d.Change(ctx, people.Uvent, c.Place, func(l *Listing) error {
			if l.State.Busy == "" || l.State.Trouble == says {
				return nil
			}
			return l.Add(ctx, verification.CallUnanswered{Says: says})
		}); err != nil {
			return err
		}
	}
	var unanswered *reach.Unanswered
	if errors.As(why, &unanswered) && unanswered.After > 0 {
		return river.JobSnooze(unanswered.After)
	}
	return why
}

// askedSoFar is how often a directory was asked what a call says, and since when; pgx.ErrNoRows where it has answered.
func (d *Desk) askedSoFar(ctx context.Context, call uuid.UUID) (tries int32, since time.Time, err error) {
	c, err := d.store.Call(ctx, call)
	if err == nil && c.DoneAt != nil {
		err = pgx.ErrNoRows
	}
	return c.Tries, c.AskedAt, err
}

// lasting says a long time in whole days or hours.
func lasting(d time.Duration) string {
	if days := int(d.Hours() / 24); days > 0 {
		return prose.Count(days, "day")
	}
	return prose.Count(int(d.Hours()), "hour")
}

// StopAsking gives up what a directory is being asked, as somebody wants it.
func (d *Desk) StopAsking(ctx context.Context, actor people.Actor, at Place) error {
	c, err := d.store.PendingCall(ctx, db.PendingCallParams{LocationID: at.Location, DirectoryID: at.Directory})
	if err != nil {
		return problem.OrNotFound(err, "Nothing is being asked there.")
	}
	book, err := d.shelf.Book(at.Directory)
	if err != nil {
		return err
	}
	says := book.Name + " is not asked any more. It may have been done all the same; search again to see."
	return d.finishBy(ctx, actor, Call{ID: c.ID, Place: at, Kind: verification.Kind(c.Kind)}, verification.CallGivenUp{Says: says})
}

// Account is the one that directories know us by.
func (d *Desk) Account() string { return d.reach.Account() }
