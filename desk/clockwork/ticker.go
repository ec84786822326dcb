package clockwork

import (
	"context"
	"errors"
	"slices"
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
			if err := errors.Join(d.People.ForgetOld(ctx), d.Once.ForgetOld(ctx), d.Letters.ForgetOld(ctx)); err != nil && ctx.Err() == nil {
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
		if _, err := d.Listings.ReadMail(ctx, d.Owners.Wrote); err != nil && ctx.Err() == nil {
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

// goneFor is how long a server's name has to be free for it to be taken for gone: one that lost its connection takes it
// again within a moment.
const goneFor = 2500 * time.Millisecond

// missing are names that were free each time that they were looked at, and since when.
type missing map[string]time.Time

// gone takes in which names are free now, and tells which of them have been so for long enough.
func (m missing) gone(free []string, now time.Time) (out []string) {
	for name := range m {
		if !slices.Contains(free, name) {
			delete(m, name)
		}
	}
	for _, name := range free {
		since, before := m[name]
		if !before {
			m[name] = now
		} else if now.Sub(since) >= goneFor {
			out = append(out, name)
		}
	}
	return out
}

// freeOrphans makes jobs available again that a server was working on when it was killed: its name's lock has been free for
// a while.
func (d *Desk) freeOrphans(ctx context.Context) error {
	if !d.alive.Load() {
		return nil // the database has only just come back, and others take their names again too
	}
	running, err := d.store.RunningJobs(ctx)
	if err != nil {
		return err
	}
	jobs := map[string][]int64{}
	for _, job := range running {
		if n := len(job.AttemptedBy); n > 0 && job.AttemptedBy[n-1] != d.id {
			jobs[job.AttemptedBy[n-1]] = append(jobs[job.AttemptedBy[n-1]], job.ID)
		}
	}
	var free []string
	for name := range jobs {
		if err := d.store.Tx(ctx, func(_ *db.Queries, tx pgx.Tx) error {
			is, err := store.NameIsFree(ctx, tx, name)
			if is {
				free = append(free, name)
			}
			return err
		}); err != nil {
			return err
		}
	}
	for _, name := range d.missed.gone(free, time.Now()) {
		if err := d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
			if is, err := store.NameIsFree(ctx, tx, name); err != nil || !is {
				return err
			}
			for _, id := range jobs[name] {
				if err := q.FreeJob(ctx, id); err != nil {
					return err
				}
			}
			return nil
		}); err != nil {
			return err
		}
	}
	return nil
}
