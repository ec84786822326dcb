package owners

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/listings"
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
	offered, err := d.listings.Offered(ctx, at, offersWithin)
	if err != nil {
		return err
	}
	// Asked for and noted at once: killed in between, it would be asked for twice.
	err = d.ledger.Change(ctx, people.Uvent, at, func(l *ledger.Listing) error {
		link, err := store.One(LinkOf)(l.Q.LockOwnerLink(ctx, job.Args.Link))
		if err != nil || link.Attempt != due {
			return err // it was asked for by this job's other run
		}
		seen := listings.Insisting{Instead: link.Instead}
		if a := l.State.EndedBy(rulebook.Call, l.Book); a != nil && a.Method == rulebook.Call {
			seen.Instead = a.ID // whoever has missed a call chooses another
		}
		if _, err := d.listings.AskIn(ctx, l, rulebook.Call, offered, seen); err != nil {
			return err
		}
		return l.Q.SetOwnerAttempt(ctx, db.SetOwnerAttemptParams{ID: link.ID, Attempt: l.State.Latest().ID})
	})
	if p := (*problem.Problem)(nil); errors.As(err, &p) {
		// It cannot be called now: the owner chooses again.
		return d.ledger.Change(ctx, people.Uvent, at, func(l *ledger.Listing) error {
			if err := l.Q.SetOwnerCall(ctx, db.SetOwnerCallParams{ID: link.ID}); err != nil {
				return err
			}
			return l.Add(ctx, verification.CallChosen{Says: "The call could not be asked for. " + p.Detail})
		})
	}
	return err
}

// due is what stands in place of a link's attempt between the time of its call and when that is asked for.
const due = "asked"

// offersWithin is how long a directory may take to say what it offers.
const offersWithin = 10 * time.Second
