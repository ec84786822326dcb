package owners

import (
	"context"
	"errors"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// ownerCallJob asks for the call that an owner has chosen the time of.
type ownerCallJob struct {
	Link uuid.UUID `json:"link"`
}

// Kind names the job.
func (ownerCallJob) Kind() string { return "owner_call" }

type ownerCallWorker struct {
	river.WorkerDefaults[ownerCallJob]
	desk *Desk
}

// Work asks for the call, and has the page take its code.
func (w *ownerCallWorker) Work(ctx context.Context, job *river.Job[ownerCallJob]) error {
	d := w.desk
	var link OwnerLink
	err := d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) (err error) {
		link, err = store.One(LinkOf)(q.LockOwnerLink(ctx, job.Args.Link))
		return err
	})
	if err != nil {
		return err
	}
	at := ledger.Place{Location: link.LocationID, Directory: link.DirectoryID}
	_, err = d.listings.AskCode(ctx, people.Uvent, at, rulebook.Call)
	attempt := ""
	if p := (*problem.Problem)(nil); errors.As(err, &p) {
		// It cannot be called now: the owner chooses again.
		return d.ledger.Change(ctx, people.Uvent, at, func(l *ledger.Listing) error {
			if err := l.Q.SetOwnerCall(ctx, db.SetOwnerCallParams{ID: link.ID}); err != nil {
				return err
			}
			return l.Add(ctx, verification.CallChosen{Says: "The call could not be asked for. " + p.Detail})
		})
	}
	if err != nil {
		return err
	}
	_, st, err := d.ledger.Begun(ctx, at)
	if err != nil {
		return err
	}
	if a := st.Attempt(); a != nil {
		attempt = a.ID
	}
	return d.store.SetOwnerAttempt(ctx, db.SetOwnerAttemptParams{ID: link.ID, Attempt: attempt})
}
