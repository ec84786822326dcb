package records

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Planned is a change of a record that takes effect on a date.
type Planned struct {
	ID      uuid.UUID
	On      calendar.Date
	Actor   string
	Changes []record.Change
	Done    bool
	Kept    []string // titles of facts that were changed by others since, and stayed as they were
}

// PlanChange keeps what an edit changes, from base to after, until a date begins
// at the location.
func (d *Desk) PlanChange(ctx context.Context, actor people.Actor, location uuid.UUID, on calendar.Date, base, after record.Record) (id uuid.UUID, err error) {
	after, wrong := record.Normal(after)
	if wrong != nil {
		return id, problem.Fields(wrong)
	}
	if len(record.Changes(base, after)) == 0 {
		return id, &problem.Problem{Kind: problem.Invalid, Detail: "Nothing is changed, so there is nothing to do on that date."}
	}
	zone, known := after.Location()
	if !known {
		return id, problem.Fields([]record.Problem{{Path: "zone", Message: "the address does not tell the time zone; write it as America/Los_Angeles"}})
	}
	if today := calendar.DateIn(d.clock.Now(), zone); !today.Before(on) || on.Number()-today.Number() > 3*366 {
		return id, &problem.Problem{Kind: problem.Invalid, Detail: "Choose a date from tomorrow on, within three years."}
	}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		l, err := store.One(ledger.LocationOf)(q.LockLocation(ctx, location))
		if err != nil {
			return problem.OrNotFound(err, "There is no such location.")
		}
		id, err = d.AddPlan(ctx, q, actor, l, on, zone, db.AddPlanParams{Base: base, Record: after})
		return err
	})
	return id, err
}

// AddPlan keeps a change that takes effect as a day begins at a location. The caller says what
// it changes, and what goes with it.
func (d *Desk) AddPlan(
	ctx context.Context,
	q *db.Queries,
	actor people.Actor,
	l ledger.Location,
	on calendar.Date,
	zone *time.Location,
	p db.AddPlanParams,
) (uuid.UUID, error) {
	p.ID, p.LocationID, p.OnDate, p.At, p.Actor, p.CreatedAt = uuid.New(), l.ID, on.In(time.UTC), on.In(zone), actor.Name, d.clock.Now()
	if err := q.AddPlan(ctx, p); err != nil {
		return p.ID, err
	}
	return p.ID, d.ledger.Note(ctx, q, actor, "change_planned", l.ClientID, &l.ID, map[string]any{"plan": p.ID, "on": on, "before": p.Base, "after": p.Record})
}

// Plans lists the changes to come of a location's record, and those of the last
// month that left a fact as it was.
func (d *Desk) Plans(ctx context.Context, location uuid.UUID) ([]Planned, error) {
	if _, err := d.ledger.Location(ctx, location); err != nil {
		return nil, err
	}
	since := d.clock.Now().AddDate(0, -1, 0)
	rows, err := d.store.Plans(ctx, db.PlansParams{LocationID: location, Since: &since})
	if err != nil {
		return nil, err
	}
	out := make([]Planned, len(rows))
	for i, r := range rows {
		out[i] = Planned{ID: r.ID, On: calendar.DateOf(r.OnDate), Actor: r.Actor, Changes: record.Changes(r.Base, r.Record), Done: r.DoneAt != nil}
		if err := json.Unmarshal(r.Kept, &out[i].Kept); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// DropPlan takes a change that is to come back.
func (d *Desk) DropPlan(ctx context.Context, actor people.Actor, location, id uuid.UUID) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		l, err := store.One(ledger.LocationOf)(q.LockLocation(ctx, location))
		if err != nil {
			return problem.OrNotFound(err, "There is no such location.")
		}
		gone, err := q.DropPlan(ctx, db.DropPlanParams{ID: id, LocationID: location})
		if err != nil {
			return err
		}
		if gone == 0 {
			return &problem.Problem{Kind: problem.NotFound, Detail: "This change is not to come any more; it was done or taken back."}
		}
		return d.ledger.Note(ctx, q, actor, "plan_dropped", l.ClientID, &location, map[string]any{"plan": id})
	})
}

// PlanJob lets a planned change take effect.
type PlanJob struct {
	ID uuid.UUID `json:"id"`
}

// Kind names the job.
func (PlanJob) Kind() string { return "plan" }

// FollowJob has directories told what a location's record says by now.
type FollowJob struct {
	Location uuid.UUID `json:"location"`
	Actor    string    `json:"actor"`
}

// Kind names the job.
func (FollowJob) Kind() string { return "follow" }

type planWorker struct {
	river.WorkerDefaults[PlanJob]
	desk *Desk
}

// Work saves what the plan changes over what the record is now. A fact that was
// changed to something else since the plan was made stays; so do all of them when
// the record could not be kept with the change.
func (w *planWorker) Work(ctx context.Context, job *river.Job[PlanJob]) error {
	var kept []string
	err := w.desk.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		p, err := q.LockPlan(ctx, job.Args.ID)
		if err != nil || p.DoneAt != nil {
			return problem.IgnoreNoRows(err)
		}
		for _, c := range record.Changes(p.Base, p.Record) {
			kept = append(kept, c.Title)
		}
		locations, err := store.Each(ledger.LocationOf)(q.LocationsByID(ctx, []uuid.UUID{p.LocationID}))
		if err != nil {
			return err
		}
		stayed := []string{}
		actor := people.Actor{Name: p.Actor + ", planned"}
		batch := p.ID
		if p.Batch != nil {
			batch = *p.Batch // it is taken back together with what it was planned with
		}
		_, err = w.desk.SaveTogether(ctx, q, actor, locations, batch, func(l ledger.Location) (record.Record, error) {
			merged, conflicts := record.Merge(p.Base, l.Record, p.Record) // where both changed a fact, the record's own stands
			for _, c := range conflicts {
				stayed = append(stayed, c.Title)
			}
			return merged, nil
		})
		if err != nil {
			return err
		}
		if p.Follow {
			if _, err := w.desk.jobs.InsertTx(ctx, tx, FollowJob{p.LocationID, actor.Name}, nil); err != nil {
				return err
			}
		}
		return w.desk.finishPlan(ctx, q, p, stayed)
	})
	var no *problem.Problem
	if !errors.As(err, &no) {
		return err
	}
	return w.desk.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		p, err := q.LockPlan(ctx, job.Args.ID)
		if err != nil {
			return err
		}
		return w.desk.finishPlan(ctx, q, p, kept)
	})
}

func (d *Desk) finishPlan(ctx context.Context, q *db.Queries, p db.Plan, kept []string) error {
	said, err := json.Marshal(kept)
	if err != nil {
		return err
	}
	now := d.clock.Now()
	if err := q.FinishPlan(ctx, db.FinishPlanParams{ID: p.ID, DoneAt: &now, Kept: said}); err != nil {
		return err
	}
	return store.Notify(ctx, q, store.Change{Location: &p.LocationID})
}
