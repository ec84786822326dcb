package clockwork

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/listing/verification"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/records"
	"uvent/reach"
	"uvent/store"
	"uvent/store/db"
)

// Wake has what falls due done at once, and not within the next half second.
func (d *Desk) Wake() {
	select {
	case d.wake <- struct{}{}:
	default: // it is awake
	}
}

// tickUntil ticks about every half second until the context ends.
func (d *Desk) tickUntil(ctx context.Context) {
	var forgot time.Time   // when what has passed was last deleted, by real time
	var headSent time.Time // the day of which the head of the log went out
	for ctx.Err() == nil {
		if time.Since(forgot) > time.Hour {
			forgot = time.Now()
			if err := d.People.ForgetOld(ctx); err != nil && ctx.Err() == nil {
				d.log.Error("what has passed could not be deleted", "error", err)
			}
		}
		if shared, ok := d.clock.(*reach.SharedClock); ok {
			if _, err := shared.Sync(ctx); err != nil && ctx.Err() == nil {
				d.log.Warn("the shared clock does not answer", "error", err)
			}
		}
		if err := d.tick(ctx); err != nil && ctx.Err() == nil {
			d.log.Error("what is due could not be enqueued", "error", err)
		}
		if err := d.Ledger.Seal(ctx); err != nil && ctx.Err() == nil {
			d.log.Error("the log could not be sealed", "error", err)
		}
		var err error
		if headSent, err = d.sendHead(ctx, headSent); err != nil && ctx.Err() == nil {
			d.log.Error("the head of the log could not be sent out", "error", err)
		}
		// Ahead of being asked for: after a night, thousands of windows have opened or ended.
		if err := d.Boards.ReckonTasks(ctx, ledger.Scope{}); err != nil && ctx.Err() == nil {
			d.log.Error("the tasks could not be reckoned", "error", err)
		}
		if _, err := d.Listings.ReadMail(ctx); err != nil && ctx.Err() == nil {
			d.log.Error("the mailbox could not be read", "error", err)
		}
		select {
		case <-ctx.Done():
		case <-d.wake:
		case <-time.After(500 * time.Millisecond):
		}
	}
}

// tick takes up rulebooks that another server has changed, enqueues what has fallen
// due by the job's clock, and frees the jobs of servers that are gone.
func (d *Desk) tick(ctx context.Context) error {
	if err := d.Shelf.Reshelve(ctx); err != nil {
		return err
	}
	if err := d.freeOrphans(ctx); err != nil {
		return err
	}
	if err := d.sendDigests(ctx); err != nil {
		return err
	}
	if err := d.Records.EraseLeft(ctx); err != nil {
		return err
	}
	for {
		n := 0
		err := d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
			due, err := q.TakeDueDeadlines(ctx, d.clock.Now())
			if err != nil {
				return err
			}
			plans, err := q.TakeDuePlans(ctx, d.clock.Now())
			if err != nil {
				return err
			}
			if err := d.Owners.RemindOwners(ctx, q, tx); err != nil {
				return err
			}
			var jobs []river.InsertManyParams
			for _, dl := range due {
				jobs = append(jobs, river.InsertManyParams{Args: listings.DueJob{Location: dl.LocationID, Directory: dl.DirectoryID, What: verification.Due(dl.Kind)}})
			}
			for _, id := range plans {
				jobs = append(jobs, river.InsertManyParams{Args: records.PlanJob{ID: id}})
			}
			if n = len(jobs); n == 0 {
				return nil
			}
			_, err = d.works.InsertManyTx(ctx, tx, jobs)
			return err
		})
		if err != nil || n == 0 {
			return err
		}
	}
}

// freeOrphans makes jobs available again that a server was working on when it
// was killed: its name's lock is free.
func (d *Desk) freeOrphans(ctx context.Context) error {
	running, err := d.store.RunningJobs(ctx)
	if err != nil {
		return err
	}
	for _, job := range running {
		if len(job.AttemptedBy) == 0 || job.AttemptedBy[len(job.AttemptedBy)-1] == d.id {
			continue
		}
		name := job.AttemptedBy[len(job.AttemptedBy)-1]
		if err := d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
			if gone, err := store.NameIsFree(ctx, tx, name); err != nil || !gone {
				return err
			}
			return q.FreeJob(ctx, job.ID)
		}); err != nil {
			return err
		}
	}
	return nil
}
