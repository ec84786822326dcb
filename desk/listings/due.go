package listings

import (
	"context"
	"errors"

	"github.com/google/uuid"
	"github.com/riverqueue/river"

	"uvent/core/listing/verification"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
)

// DueJob does what fell due on a listing by the job's clock.
type DueJob struct {
	Location  uuid.UUID        `json:"location"`
	Directory string           `json:"directory"`
	What      verification.Due `json:"what"`
}

// Kind names the job.
func (DueJob) Kind() string { return "due" }

type dueWorker struct {
	river.WorkerDefaults[DueJob]
	desk *Desk
}

// Work looks at a page again, asks how a review stands, or lets a code lapse.
func (w *dueWorker) Work(ctx context.Context, job *river.Job[DueJob]) error {
	at := ledger.Place{Location: job.Args.Location, Directory: job.Args.Directory}
	if job.Args.What == verification.Look {
		err := w.desk.sightings.Look(ctx, people.Uvent, at)
		var p *problem.Problem
		if errors.As(err, &p) {
			return w.desk.ledger.Change(ctx, people.Uvent, at, func(l *ledger.Listing) error {
				return l.Add(ctx, verification.LookUnanswered{Says: p.Detail})
			})
		}
		return err
	}
	if job.Args.What == verification.BringBack {
		_, err := w.desk.BringBack(ctx, people.Uvent, at)
		if errors.As(err, new(*problem.Problem)) {
			return nil // somebody else did, or it is asked something else just now
		}
		return err
	}
	if ask, ok := map[verification.Due]func(context.Context, people.Actor, ledger.Place) error{
		verification.AskDuplicate: w.desk.askDuplicates, verification.AskChange: w.desk.askChange, verification.AskAppeal: w.desk.askAppeal,
	}[job.Args.What]; ok {
		return ask(ctx, people.Uvent, at)
	}
	if job.Args.What == verification.AskStatus || job.Args.What == verification.AskAccess {
		err := w.desk.AskStatus(ctx, people.Uvent, at)
		if p := (*problem.Problem)(nil); errors.As(err, &p) {
			return nil // it was answered meanwhile
		}
		return err
	}
	return w.desk.ledger.Change(ctx, people.Uvent, at, func(l *ledger.Listing) error {
		for _, a := range l.State.Lapsed(l.Now) { // none: replaced or accepted meanwhile
			if err := l.Add(ctx, verification.AttemptExpired{Attempt: a.ID}); err != nil {
				return err
			}
		}
		return nil
	})
}
