package records

import (
	"context"
	"encoding/json"
	"fmt"
	"reflect"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// DateDecision is what is to hold on special dates.
type DateDecision struct {
	Locations []uuid.UUID
	Dates     []Span
	Usual     bool            // what would be the usual hours of each date, said by name
	Sittings  []hours.Sitting // else these; none: closed
}

// mostDecided bounds one decision: locations times spans of dates.
const mostDecided = 100_000

// DecideDates writes into the records of locations what holds on dates: all of
// it or, when something fails, nothing. change undoes it together.
func (d *Desk) DecideDates(ctx context.Context, actor people.Actor, q DateDecision) (change uuid.UUID, saved int, err error) {
	if len(q.Locations) == 0 || len(q.Dates) == 0 {
		return change, 0, &problem.Problem{Kind: problem.Invalid, Detail: "Say for which locations and which dates."}
	}
	if len(q.Locations)*len(q.Dates) > mostDecided {
		return change, 0, &problem.Problem{Kind: problem.Invalid, Detail: "That is too much at once; choose fewer dates or locations."}
	}
	for _, span := range q.Dates {
		if err := span.check(); err != nil {
			return change, 0, err
		}
	}
	if err := checkSittings(q.Sittings); err != nil {
		return change, 0, err
	}
	return d.changeRecords(ctx, actor, q.Locations, func(l ledger.Location) (record.Record, error) {
		r := l.Record
		schedule, _, err := hours.Parse(r.Hours)
		if err != nil || r.Hours == "" {
			return r, problem.Conflictf("%s says nothing of its hours yet; give its usual week first.", r.Label)
		}
		for _, span := range q.Dates {
			schedule = q.lay(schedule, span)
		}
		r.Hours = schedule.String()
		return r, nil
	})
}

func (q DateDecision) lay(s hours.Schedule, span Span) hours.Schedule {
	if !q.Usual {
		return s.WithSpecial(hours.Special{From: span.From, To: span.To, Sittings: q.Sittings})
	}
	usual := s.WithoutSpecial(span.From, span.To)
	for day := span.From; !span.To.Before(day); day = day.Add(1) {
		s = s.WithSpecial(hours.Special{From: day, To: day, Sittings: usual.On(day, calendar.Holidays{})})
	}
	return s
}

// changeRecords changes the records of locations together.
func (d *Desk) changeRecords(
	ctx context.Context,
	actor people.Actor,
	ids []uuid.UUID,
	change func(ledger.Location) (record.Record, error),
) (batch uuid.UUID, saved int, err error) {
	batch = uuid.New()
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		locations, err := store.Each(ledger.LocationOf)(q.LocationsByID(ctx, ids))
		if err != nil {
			return err
		}
		if len(locations) < len(ids) {
			return &problem.Problem{Kind: problem.NotFound, Detail: "One of these locations is not there."}
		}
		saved, err = d.SaveTogether(ctx, q, actor, locations, batch, change)
		return err
	})
	return batch, saved, err
}

// SaveTogether saves what becomes of locations that are locked already, as one
// batch; those that stay as they are are left alone.
func (d *Desk) SaveTogether(
	ctx context.Context,
	q *db.Queries,
	actor people.Actor,
	locations []ledger.Location,
	batch uuid.UUID,
	change func(ledger.Location) (record.Record, error),
) (saved int, err error) {
	shared := map[uuid.UUID]record.Record{}
	var events []db.CopyEventsParams
	for _, l := range locations {
		after, err := change(l)
		if err != nil {
			return 0, err
		}
		after, wrong := record.Normal(after)
		if wrong != nil {
			return 0, &problem.Problem{Kind: problem.Invalid, Detail: fmt.Sprintf("%s: %s.", l.Label, wrong[0].Message), Fields: wrong}
		}
		if _, known := shared[l.ClientID]; !known {
			c, err := store.One(ledger.ClientOf)(q.ShareClient(ctx, l.ClientID))
			if err != nil {
				return 0, err
			}
			shared[l.ClientID] = ledger.Shared(c)
		}
		after = record.Settle(after, shared[l.ClientID])
		if len(record.Changes(l.Record, after)) == 0 {
			continue
		}
		if _, err := q.SaveLocation(
			ctx,
			db.SaveLocationParams{ID: l.ID, Label: after.Label, StoreCode: after.StoreCode, Record: after, Version: l.Version},
		); err != nil {
			return 0, problem.Stale(problem.Taken(err))
		}
		data, err := json.Marshal(RecordChange{Before: &l.Record, After: after, Batch: batch.String()})
		if err != nil {
			return 0, err
		}
		events = append(
			events,
			db.CopyEventsParams{At: d.clock.Now(), Actor: actor.Name, ActorID: actor.Key(), ClientID: &l.ClientID, LocationID: &l.ID, Kind: "record_saved", Data: data},
		)
	}
	if len(events) == 0 {
		return 0, nil
	}
	if _, err := q.CopyEvents(ctx, events); err != nil {
		return 0, err
	}
	return len(events), store.Notify(ctx, q, store.Change{})
}

// Undone is what undoing came to.
type Undone struct {
	Restored int
	Left     []string // labels of locations that were changed since, and stay as they are
}

// UndoChange puts back the records that were changed together, except those
// that were changed again since.
func (d *Desk) UndoChange(ctx context.Context, actor people.Actor, change uuid.UUID) (out Undone, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		var ids []uuid.UUID
		if out, ids, err = d.Undo(ctx, q, actor, change); err == nil && len(ids) == 0 {
			err = &problem.Problem{Kind: problem.NotFound, Detail: "There is no such change."}
		}
		return err
	})
	return out, err
}

// Undo puts records back in somebody's transaction, and tells which they are. One that was
// changed more than once together is put back to what it was before the first.
func (d *Desk) Undo(ctx context.Context, q *db.Queries, actor people.Actor, change uuid.UUID) (out Undone, ids []uuid.UUID, err error) {
	rows, err := q.RecordChanges(ctx, change.String())
	if err != nil || len(rows) == 0 {
		return out, nil, err
	}
	changes := map[uuid.UUID]RecordChange{}
	for _, r := range rows {
		var c RecordChange
		if err := json.Unmarshal(r.Data, &c); err != nil {
			return out, nil, err
		}
		if first, twice := changes[*r.LocationID]; twice {
			c.Before = first.Before
		} else {
			ids = append(ids, *r.LocationID)
		}
		changes[*r.LocationID] = c
	}
	locations, err := store.Each(ledger.LocationOf)(q.LocationsByID(ctx, ids))
	if err != nil {
		return out, nil, err
	}
	out.Restored, err = d.SaveTogether(ctx, q, actor, locations, uuid.New(), func(l ledger.Location) (record.Record, error) {
		if c := changes[l.ID]; c.Before != nil && reflect.DeepEqual(l.Record, c.After) {
			return *c.Before, nil
		}
		out.Left = append(out.Left, l.Label)
		return l.Record, nil
	})
	return out, ids, err
}
