package desk

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/listing/course"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
	"uvent/store/db"
)

// confirmed is the method of a round's listing for which even what cannot be taken back is
// to be done.
const confirmed = "confirmed"

// Turn is what is to become of some locations.
type Turn struct {
	State   record.State
	Address *address.Address // where they are from then on; nil: where they were
	On      *calendar.Date   // from when, by their own clocks; nil: now
}

// PlannedStep is a step of a course, with the listing that it is of.
type PlannedStep struct {
	Place
	course.Step
	Label string
	Now   bool   // it can be done by now
	Words string // of Tell: what to write
}

// mostInCourse is how many locations are changed in one go.
const mostInCourse = 500

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

// LayOut lays out what a turn would come to on all directories: what is to be done, in
// order, from when, and what waits for what.
func (d *Desk) LayOut(ctx context.Context, locations []uuid.UUID, t Turn) ([]PlannedStep, error) {
	rows, err := d.chosen(ctx, locations)
	if err != nil {
		return nil, err
	}
	states, err := statesOf(ctx, d.store.Queries, locations)
	if err != nil {
		return nil, err
	}
	then := map[uuid.UUID]Location{}
	steps, err := d.steps(ctx, d.store.Queries, rows, states, func(l Location) (record.Record, calendar.Date, error) {
		r, wrong := record.Normal(t.turned(l.Record))
		if wrong != nil {
			return r, calendar.Date{}, invalid(wrong)
		}
		today, err := d.todayAt(l)
		if t.On != nil && today.Before(*t.On) {
			today = *t.On
		}
		l.Record = r
		then[l.ID] = l
		return r, today, err
	})
	if err != nil {
		return nil, err
	}
	return steps, d.warn(ctx, steps, func(id uuid.UUID) Location { return then[id] })
}

// warn says of what is sent what that is likely to set off.
func (d *Desk) warn(ctx context.Context, steps []PlannedStep, of func(location uuid.UUID) Location) error {
	subjects := map[uuid.UUID]risk.Subject{}
	for i := range steps {
		s := &steps[i]
		if s.Act != course.Send {
			continue
		}
		subject, known := subjects[s.Place.Location]
		if !known {
			var err error
			if subject, err = riskSubject(ctx, d.store.Queries, of(s.Place.Location)); err != nil {
				return err
			}
			subjects[s.Place.Location] = subject
		}
		if c := caution(s.Book, subject, s.Step.Facts, verification.State{}); c.Chance > 0 {
			s.Says += fmt.Sprintf(" In %d of 100 a %s follows: %s", int(100*c.Chance+0.5), c.Worst, c.Risks[0].Says)
		}
	}
	return nil
}

// Course is what is to be done now, so that the directories say of some locations what their
// records say.
func (d *Desk) Course(ctx context.Context, s Scope) ([]PlannedStep, error) {
	rows, err := d.Locations(ctx, s)
	if err != nil {
		return nil, err
	}
	return d.stepsNow(ctx, d.store.Queries, rows)
}

// stepsNow are the steps of some locations as their records are.
func (d *Desk) stepsNow(ctx context.Context, q *db.Queries, rows []Location) ([]PlannedStep, error) {
	states, err := statesOf(ctx, q, idsOf(rows))
	if err != nil {
		return nil, err
	}
	return d.stepsOf(ctx, q, rows, states)
}

func idsOf(rows []Location) []uuid.UUID {
	ids := make([]uuid.UUID, len(rows))
	for i, l := range rows {
		ids[i] = l.ID
	}
	return ids
}

// statesOf are where the listings of some locations stand that were begun.
func statesOf(ctx context.Context, q *db.Queries, locations []uuid.UUID) (map[Place]verification.State, error) {
	rows, err := q.WholeListingsOf(ctx, locations)
	states := make(map[Place]verification.State, len(rows))
	for _, l := range rows {
		states[Place{l.LocationID, l.DirectoryID}] = l.State
	}
	return states, err
}

// stepsOf are the steps of some locations as their records are, given where their listings stand.
func (d *Desk) stepsOf(ctx context.Context, q *db.Queries, rows []Location, states map[Place]verification.State) ([]PlannedStep, error) {
	return d.steps(ctx, q, rows, states, d.asItIs)
}

func (d *Desk) asItIs(l Location) (record.Record, calendar.Date, error) {
	return l.Record, d.about(l), nil
}

// about is the day at a location; where nobody knows its time zone, the day at Greenwich.
func (d *Desk) about(l Location) calendar.Date {
	today, err := d.todayAt(l)
	if err != nil {
		return calendar.DateIn(d.clock.Now(), time.UTC)
	}
	return today
}

// todayAt is the day at a location.
func (d *Desk) todayAt(l Location) (calendar.Date, error) {
	zone, known := l.Record.Location()
	if !known {
		return calendar.Date{}, invalid([]record.Problem{{Path: "zone", Message: l.Label + ": the address does not tell the time zone; write it as America/Los_Angeles"}})
	}
	return calendar.DateIn(d.clock.Now(), zone), nil
}

func (d *Desk) chosen(ctx context.Context, locations []uuid.UUID) ([]Location, error) {
	switch n := len(locations); {
	case n == 0:
		return nil, &Problem{Kind: Invalid, Detail: "Choose at least one location."}
	case n > mostInCourse:
		return nil, &Problem{Kind: Invalid, Detail: fmt.Sprintf("Choose up to %d locations at once.", mostInCourse)}
	}
	rows, err := d.store.LocationsNamed(ctx, locations)
	if err == nil && len(rows) != len(locations) {
		err = &Problem{Kind: NotFound, Detail: "One of the locations is not there."}
	}
	return rows, err
}

// steps lays out the steps of some locations, given where their listings stand, and what each
// record is to say and from when.
func (d *Desk) steps(ctx context.Context, q *db.Queries, rows []Location, states map[Place]verification.State, to func(Location) (record.Record, calendar.Date, error)) ([]PlannedStep, error) {
	clients := make([]uuid.UUID, len(rows))
	for i, l := range rows {
		clients[i] = l.ClientID
	}
	given := map[Place]fit.Values{}
	events, err := q.LastGivens(ctx, idsOf(rows))
	if err != nil {
		return nil, err
	}
	for _, row := range events {
		var e verification.Event
		if err := json.Unmarshal(row.Data, &e); err != nil {
			return nil, err
		}
		given[Place{*row.LocationID, *row.DirectoryID}] = e.Values
	}
	photos, err := photosOf(ctx, q, clients)
	if err != nil {
		return nil, err
	}
	out, books := []PlannedStep{}, d.Books()
	source := map[string]bool{} // directories from which others take over what they show
	for _, b := range books {
		for _, c := range b.Copies {
			source[c.From] = source[c.From] || !c.OnRequest
		}
	}
	for _, l := range rows {
		r, on, err := to(l)
		if err != nil {
			return nil, err
		}
		today := d.about(l)
		s := fit.Read(r, photos.of(l.ID, l.ClientID))
		var all []course.Listing
		for i := range books {
			b := &books[i]
			st, begun := states[Place{l.ID, b.ID}]
			if !begun {
				continue
			}
			one := course.Listing{Book: b, State: st, Source: source[b.ID]}
			last, known := given[Place{l.ID, b.ID}]
			known = known || b.Worked == rulebook.Connected && st.Control == verification.Held // claimed, and given nothing yet
			if known && b.Worked != rulebook.Suggestions && b.MayList(r) == "" {
				one.Changed = keysOfChanged(changed(*b, fit.Compose(s, b), last, compare.Facts(r, *b, st.Sighting)))
			}
			all = append(all, one)
		}
		for _, step := range course.Steps(r, on, today, all) {
			p := PlannedStep{Place: Place{l.ID, step.Book.ID}, Step: step, Label: l.Label}
			p.Now = !today.Before(step.On) && step.After == ""
			if step.Act == course.Tell {
				st := states[p.Place]
				page := ""
				if st.Page != "" {
					page = d.reach.PageURL(home(*step.Book), st.Page)
				}
				p.Words = course.Words(r, step.Book, page, on)
			}
			out = append(out, p)
		}
	}
	return out, nil
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
func (d *Desk) SetCourse(ctx context.Context, actor Actor, locations []uuid.UUID, t Turn) (out Started, err error) {
	if _, err := d.chosen(ctx, locations); err != nil {
		return out, err
	}
	out.Batch = uuid.New()
	again, opens := t.until()
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		rows, err := q.LocationsByID(ctx, locations)
		if err != nil {
			return err
		}
		var now []Location
		var ids []uuid.UUID
		for _, l := range rows {
			after, wrong := record.Normal(t.turned(l.Record))
			if wrong != nil {
				return &Problem{Kind: Invalid, Detail: fmt.Sprintf("%s: %s.", l.Label, wrong[0].Message), Fields: wrong}
			}
			today, err := d.todayAt(l)
			if err != nil {
				return err
			}
			if opens && !today.Before(again) || t.On != nil && opens && !t.On.Before(again) {
				return invalid([]record.Problem{{Path: "until", Message: "it ends before it begins"}})
			}
			plan := func(on calendar.Date, base, after record.Record) error {
				zone, _ := l.Record.Location()
				out.Planned++
				_, err := d.addPlan(ctx, q, actor, l, on, zone, db.AddPlanParams{Base: base, Record: after, Follow: true, Batch: &out.Batch})
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
		if out.Changed, err = d.saveTogether(ctx, q, actor, now, out.Batch, func(l Location) (record.Record, error) { return t.turned(l.Record), nil }); err != nil {
			return err
		}
		out.Round, err = d.tell(ctx, q, tx, actor, ids)
		return err
	})
	if err == nil && out.Changed+out.Planned == 0 {
		return out, conflict("It is so already.")
	}
	return out, err
}

// Unset takes a turn back: what is still to come of it is dropped, the records that nobody
// has changed since are as they were, and the directories are told so.
func (d *Desk) Unset(ctx context.Context, actor Actor, batch uuid.UUID) (out Undone, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		dropped, err := q.DropPlansOf(ctx, &batch)
		if err != nil {
			return err
		}
		var ids []uuid.UUID
		if out, ids, err = d.undo(ctx, q, actor, batch); err != nil {
			return err
		}
		switch {
		case len(ids) > 0:
			_, err = d.tell(ctx, q, tx, actor, ids)
		case dropped == 0:
			err = &Problem{Kind: NotFound, Detail: "There is no such change, or it was taken back."}
		}
		return err
	})
	return out, err
}

// tell begins a round in which directories are told what records say by now, but where that
// cannot be taken back.
func (d *Desk) tell(ctx context.Context, q *db.Queries, tx pgx.Tx, actor Actor, locations []uuid.UUID) (*uuid.UUID, error) {
	rows, err := q.LocationsNamed(ctx, locations)
	if err != nil {
		return nil, err
	}
	steps, err := d.stepsNow(ctx, q, rows)
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
	river.WorkerDefaults[followJob]
	desk *Desk
}

// Work begins the round in which directories are told; it ends with the job in one transaction,
// so that a job that is done twice tells once.
func (w *followWorker) Work(ctx context.Context, job *river.Job[followJob]) error {
	return w.desk.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		if _, err := w.desk.tell(ctx, q, tx, Actor{Name: job.Args.Actor}, []uuid.UUID{job.Args.Location}); err != nil {
			return err
		}
		_, err := river.JobCompleteTx[*riverpgxv5.Driver](ctx, tx, job)
		return err
	})
}

// nextStep does the first step of a listing that can be done by now.
func (d *Desk) nextStep(ctx context.Context, l *listing, final bool) (call uuid.UUID, err error) {
	if err := l.mayWork(); err != nil {
		return call, err
	}
	steps, err := d.stepsNow(ctx, l.q, []Location{l.location})
	if err != nil {
		return call, err
	}
	var here []course.Step
	for _, s := range steps {
		if s.Directory == l.Directory {
			here = append(here, s.Step)
		}
	}
	step, ok := course.Next(here, d.about(l.location), final)
	switch {
	case len(here) == 0:
		return call, conflict("%s says what the record says already.", l.book.Name)
	case !ok && here[0].Final:
		return call, conflict("It cannot be taken back there. Do it by itself, from the plan.")
	case !ok && here[0].After != "":
		return call, conflict("It waits: %s.", here[0].After)
	case !ok:
		return call, conflict("A person has to do it: %s", here[0].Says)
	}
	switch step.Act {
	case course.Mark:
		return d.mark(ctx, l, step.To)
	case course.Hide:
		return d.hide(ctx, l, "The location is "+course.Word(step.To)+".", step.To)
	case course.Show:
		return d.show(ctx, l)
	}
	return d.send(ctx, l, step.Facts)
}

// Tell notes that somebody has told a directory's people how it is with the location.
func (d *Desk) Tell(ctx context.Context, actor Actor, at Place) error {
	return d.change(ctx, actor, at, func(l *listing) error {
		to := course.Shown(l.location.Record.State.Kind)
		if to == l.state.Marked {
			return conflict("%s knows that it is %s.", l.book.Name, course.Word(to))
		}
		return l.add(ctx, verification.Event{Kind: verification.ToldThere, To: string(to)})
	})
}

// proposeSends lists the listings of a scope to which something is to be sent, with what that
// is likely to set off.
func (d *Desk) proposeSends(ctx context.Context, s Scope) ([]Proposed, error) {
	locations, clients := map[uuid.UUID]*Location{}, map[uuid.UUID]*db.Client{}
	rows, err := d.Locations(ctx, s)
	if err != nil {
		return nil, err
	}
	steps, err := d.stepsNow(ctx, d.store.Queries, rows)
	if err != nil {
		return nil, err
	}
	for i := range rows {
		locations[rows[i].ID] = &rows[i]
	}
	all, err := d.Clients(ctx)
	if err != nil {
		return nil, err
	}
	for i := range all {
		clients[all[i].ID] = &all[i]
	}
	if err := d.warn(ctx, steps, func(id uuid.UUID) Location { return *locations[id] }); err != nil {
		return nil, err
	}
	seen := map[Place]bool{}
	out := []Proposed{}
	for _, step := range steps {
		if seen[step.Place] {
			continue // a listing takes one step at a time
		}
		seen[step.Place] = true
		l := locations[step.Place.Location]
		p := Proposed{Cell: Cell{Place: step.Place, Book: step.Book, Location: l, Client: clients[l.ClientID]}, Says: step.Says}
		switch {
		case step.Busy:
			p.Why = "It is being asked just now."
		case !step.Act.ByProgram():
			p.Why = "A person has to do it. " + step.Says
		case step.Final:
			p.Why = "It cannot be taken back there; do it from the location’s plan."
		case !step.Now:
			p.Why = strings.ToUpper(step.After[:min(1, len(step.After))]) + step.After[min(1, len(step.After)):] + "."
		}
		out = append(out, p)
	}
	return out, nil
}
