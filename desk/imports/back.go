package imports

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/store"
	"uvent/store/db"
)

// TakeBack takes a whole file back as one change: its new locations go, and those that it changed are as they were.
// It is refused, and says why, when something was begun with one of them. Afterwards the file is ready again.
func (d *Desk) TakeBack(ctx context.Context, actor people.Actor, id uuid.UUID) (Import, error) {
	now := false
	err := d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		row, err := q.LockImport(ctx, id)
		if err != nil {
			return problem.OrNotFound(err, "There is no such import.")
		}
		n, err := q.CountImportIn(ctx, id)
		switch {
		case err != nil:
			return err
		case row.State == string(Bringing) || row.State == string(Reading) || row.State == string(TakingBack):
			return problem.Conflictf("This file is being worked on; wait until that is done.")
		case n == 0:
			return problem.Conflictf("Nothing of this file is in.")
		}
		if _, err := d.inOf(ctx, q, row); err != nil {
			return err
		}
		if err := q.SetImportState(ctx, db.SetImportStateParams{ID: id, State: string(TakingBack)}); err != nil {
			return err
		}
		now = n <= atOnce
		_, err = d.jobs.InsertTx(ctx, tx, BackJob{ID: id, Actor: actor}, nil)
		return err
	})
	if err == nil && now {
		err = d.takeBack(ctx, actor, id)
	}
	if err != nil {
		return Import{}, err
	}
	return d.Import(ctx, id)
}

// BackJob takes a large file back.
type BackJob struct {
	ID    uuid.UUID    `json:"id"`
	Actor people.Actor `json:"actor"`
}

// Kind names the job.
func (BackJob) Kind() string { return "take_import_back" }

type backWorker struct {
	river.WorkerDefaults[BackJob]
	desk *Desk
}

// Timeout is how long a file may take.
func (*backWorker) Timeout(*river.Job[BackJob]) time.Duration { return 15 * time.Minute }

// Work takes the file back, all of it or nothing.
func (w *backWorker) Work(ctx context.Context, job *river.Job[BackJob]) error {
	return w.desk.takeBack(ctx, job.Args.Actor, job.Args.ID)
}

// came is what has come in of a file.
type came struct {
	added, changed []checked
	ids            []uuid.UUID // of those that were added
}

// inOf lists what has come in, when all of it can be taken back.
func (d *Desk) inOf(ctx context.Context, q *db.Queries, row db.Import) (c came, err error) {
	rows, err := q.ImportChecksIn(ctx, row.ID)
	if err != nil {
		return c, err
	}
	var changed []uuid.UUID
	var first, later []int32
	for _, r := range rows {
		var one checked
		if err := json.Unmarshal(r.Row, &one); err != nil {
			return c, err
		}
		if r.Standing == "new" {
			c.added, c.ids, first = append(c.added, one), append(c.ids, *r.LocationID), append(first, 1)
		} else {
			c.changed, changed, later = append(c.changed, one), append(changed, *r.LocationID), append(later, one.Version+1)
		}
	}
	begun, err := q.BegunLocations(ctx, db.BegunLocationsParams{Ids: c.ids, Versions: first})
	if err != nil {
		return c, err
	}
	since, err := q.ChangedSince(ctx, db.ChangedSinceParams{Ids: changed, Versions: later})
	if err != nil {
		return c, err
	}
	var names []string
	for _, b := range begun {
		names = append(names, b.Label)
	}
	if len(names) > 0 {
		return c, problem.Conflictf("It stays in: something was begun with %s since.", named(names))
	}
	for _, s := range since {
		names = append(names, s.Label)
	}
	if len(names) > 0 {
		return c, problem.Conflictf("It stays in: %s was changed since.", named(names))
	}
	return c, nil
}

// takeBack takes all of a file back in one transaction, or says why not.
func (d *Desk) takeBack(ctx context.Context, actor people.Actor, id uuid.UUID) error {
	err := d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		row, err := q.LockImport(ctx, id)
		if err != nil || row.State != string(TakingBack) {
			return problem.IgnoreNoRows(err)
		}
		c, err := d.inOf(ctx, q, row)
		if err != nil {
			return err
		}
		w := &writing{q: q, actor: actor, now: d.clock.Now(), file: row}
		if err := w.undo(ctx, c); err != nil {
			return err
		}
		if err := errors.Join(q.ForgetImportIn(ctx, id), q.ForgetImportClients(ctx, id)); err != nil {
			return err
		}
		row.Written = nil
		if err := d.check(ctx, q, row, nil); err != nil {
			return err
		}
		if err := q.SetImportState(ctx, db.SetImportStateParams{ID: id, State: string(Ready)}); err != nil {
			return err
		}
		return store.Notify(ctx, q, store.Change{})
	})
	if says, meanwhile := changedMeanwhile(err); err != nil && meanwhile {
		stays := db.SetImportStateParams{ID: id, State: string(In), Trouble: says}
		return d.store.SetImportState(ctx, stays)
	}
	return err
}

// undo puts records back that were changed, and takes those away that were added, with their clients where these
// have nothing else.
func (w *writing) undo(ctx context.Context, c came) error {
	for _, r := range c.changed {
		was := r.before()
		l, err := w.q.SaveLocation(ctx, db.SaveLocationParams{ID: *r.Kept, Label: was.Label, StoreCode: was.StoreCode, Record: was, Version: r.Version + 1})
		if err != nil {
			return problem.Stale(err)
		}
		if err := w.event(
			"record_saved",
			l.ClientID,
			&l.ID,
			records.RecordChange{Before: &r.Record, After: was, From: w.file.FileName, Batch: w.file.ID.String()},
		); err != nil {
			return err
		}
	}
	locations, err := w.q.LocationsByID(ctx, c.ids)
	if err != nil {
		return err
	}
	for _, l := range locations {
		if err := w.event(
			"location_removed",
			l.ClientID,
			&l.ID,
			records.RecordChange{Before: &l.Record, From: w.file.FileName, Batch: w.file.ID.String()},
		); err != nil {
			return err
		}
	}
	if err := records.DropLocations(ctx, w.q, c.ids); err != nil {
		return err
	}
	gone, err := w.q.DropClientsWithoutLocations(ctx, w.file.Clients)
	if err != nil {
		return err
	}
	for _, id := range gone {
		if err := w.event("client_removed", id, nil, struct{}{}); err != nil {
			return err
		}
	}
	_, err = w.q.CopyEvents(ctx, w.events)
	return err
}
