package rounds

import (
	"context"
	"fmt"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/store"
	"uvent/store/db"
)

// Turn is what is to become of some locations.
type Turn struct {
	State   record.State
	Address *address.Address // where they are from then on; nil: where they were
	On      *calendar.Date   // from when, by their own clocks; nil: now
}

// turned is a record with a turn fulfilled.
func (t Turn) turned(r record.Record) record.Record {
	r.State = t.State
	if t.Address != nil {
		r.Address, r.Pin = *t.Address, nil // the old pin is wrong
	}
	return r
}

// until is the day on which a location opens again; false where it is not said.
func (t Turn) until() (calendar.Date, bool) {
	if t.State.Kind != record.ClosedForATime || t.State.Until == "" {
		return calendar.Date{}, false
	}
	last, err := calendar.ParseDate(t.State.Until)
	return last.Add(1), err == nil
}

// Started is what became of a turn.
type Started struct {
	Batch   uuid.UUID  // it is taken back by
	Round   *uuid.UUID // in which directories are told; nil: none is told now
	Changed int        // records that were changed now
	Planned int        // changes that wait for a date
}

// SetCourse fulfils a turn: the records are changed now, or from a date, and as they change,
// the directories are told of it, but where that cannot be taken back. What is closed until a
// date opens again after it.
func (d *Desk) SetCourse(ctx context.Context, actor people.Actor, locations []uuid.UUID, t Turn) (out Started, err error) {
	if _, err := d.chosen(ctx, locations); err != nil {
		return out, err
	}
	out.Batch = uuid.New()
	again, opens := t.until()
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		rows, err := store.Each(ledger.LocationOf)(q.LocationsByID(ctx, locations))
		if err != nil {
			return err
		}
		var now []ledger.Location
		var ids []uuid.UUID
		for _, l := range rows {
			after, wrong := record.Normal(t.turned(l.Record))
			if wrong != nil {
				return &problem.Problem{Kind: problem.Invalid, Detail: fmt.Sprintf("%s: %s.", l.Label, wrong[0].Message), Fields: wrong}
			}
			today, err := d.todayAt(l)
			if err != nil {
				return err
			}
			if opens && !today.Before(again) || t.On != nil && opens && !t.On.Before(again) {
				return problem.Fields([]record.Problem{{Path: "until", Message: "it ends before it begins"}})
			}
			plan := func(on calendar.Date, base, after record.Record) error {
				zone, _ := l.Record.Location()
				out.Planned++
				_, err := d.records.AddPlan(ctx, q, actor, l, on, zone, db.AddPlanParams{Base: base, Record: after, Follow: true, Batch: &out.Batch})
				return err
			}
			if t.On == nil || !today.Before(*t.On) {
				now, ids = append(now, l), append(ids, l.ID)
			} else if err := plan(*t.On, l.Record, after); err != nil {
				return err
			}
			if opens {
				open := after
				open.State = record.State{Kind: record.Open}
				if err := plan(again, after, open); err != nil {
					return err
				}
			}
		}
		if len(now) == 0 {
			return nil
		}
		if out.Changed, err = d.records.SaveTogether(
			ctx,
			q,
			actor,
			now,
			out.Batch,
			func(l ledger.Location) (record.Record, error) { return t.turned(l.Record), nil },
		); err != nil {
			return err
		}
		out.Round, err = d.follow(ctx, q, tx, actor, ids)
		return err
	})
	if err == nil && out.Changed+out.Planned == 0 {
		return out, problem.Conflictf("It is so already.")
	}
	return out, err
}

// Unset takes a turn back: what is still to come of it is dropped, the records that nobody
// has changed since are as they were, and the directories are told so.
func (d *Desk) Unset(ctx context.Context, actor people.Actor, batch uuid.UUID) (out records.Undone, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		dropped, err := q.DropPlansOf(ctx, &batch)
		if err != nil {
			return err
		}
		var ids []uuid.UUID
		if out, ids, err = d.records.Undo(ctx, q, actor, batch); err != nil {
			return err
		}
		switch {
		case len(ids) > 0:
			_, err = d.follow(ctx, q, tx, actor, ids)
		case dropped == 0:
			err = &problem.Problem{Kind: problem.NotFound, Detail: "There is no such change, or it was taken back."}
		}
		return err
	})
	return out, err
}

// tell begins a round in which directories are told what records say by now, but where that
// cannot be taken back.
func (d *Desk) follow(ctx context.Context, q *db.Queries, tx pgx.Tx, actor people.Actor, locations []uuid.UUID) (*uuid.UUID, error) {
	rows, err := store.Each(ledger.LocationOf)(q.LocationsNamed(ctx, locations))
	if err != nil {
		return nil, err
	}
	steps, err := d.StepsNow(ctx, q, rows)
	if err != nil {
		return nil, err
	}
	var items []RoundItem
	for _, s := range steps {
		if s.Act.ByProgram() && s.Now && !s.Final {
			items = append(items, RoundItem{Place: s.Place})
		}
	}
	if len(items) == 0 {
		return nil, nil
	}
	id, err := d.beginRound(ctx, q, tx, actor, ToSend, items)
	return &id, err
}

type followWorker struct {
	river.WorkerDefaults[records.FollowJob]
	desk *Desk
}

// Work begins the round in which directories are told; it ends with the job in one transaction,
// so that a job that is done twice tells once.
func (w *followWorker) Work(ctx context.Context, job *river.Job[records.FollowJob]) error {
	return w.desk.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		if _, err := w.desk.follow(ctx, q, tx, people.Actor{Name: job.Args.Actor}, []uuid.UUID{job.Args.Location}); err != nil {
			return err
		}
		_, err := river.JobCompleteTx[*riverpgxv5.Driver](ctx, tx, job)
		return err
	})
}
