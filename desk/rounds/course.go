package rounds

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/calendar"
	"uvent/core/listing/course"
	"uvent/core/listing/giving"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/risk"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/desk/sightings"
	"uvent/store"
	"uvent/store/db"
)

// confirmed is the method of a round's listing for which even what cannot be taken back is
// to be done.
const confirmed = "confirmed"

// PlannedStep is a step of a course, with the listing that it is of.
type PlannedStep struct {
	ledger.Place
	course.Step
	Label string
	Now   bool   // it can be done by now
	Words string // of Tell: what to write
}

// mostInCourse is how many locations are changed in one go.
const mostInCourse = 500

// LayOut lays out what a turn would come to on all directories: what is to be done, in
// order, from when, and what waits for what.
func (d *Desk) LayOut(ctx context.Context, locations []uuid.UUID, t Turn) ([]PlannedStep, error) {
	rows, err := d.chosen(ctx, locations)
	if err != nil {
		return nil, err
	}
	states, err := ledger.StatesOf(ctx, d.store.Queries, locations)
	if err != nil {
		return nil, err
	}
	then := map[uuid.UUID]ledger.Location{}
	steps, err := d.steps(ctx, d.store.Queries, rows, states, func(l ledger.Location) (record.Record, calendar.Date, error) {
		r, wrong := record.Normal(t.turned(l.Record))
		if wrong != nil {
			return r, calendar.Date{}, problem.Fields(wrong)
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
	return steps, d.Warn(ctx, steps, func(id uuid.UUID) ledger.Location { return then[id] })
}

// Warn says of what is sent what that is likely to set off.
func (d *Desk) Warn(ctx context.Context, steps []PlannedStep, of func(location uuid.UUID) ledger.Location) error {
	subjects := map[uuid.UUID]risk.Subject{}
	for i := range steps {
		s := &steps[i]
		if s.Act != course.Send {
			continue
		}
		subject, known := subjects[s.Place.Location]
		if !known {
			var err error
			if subject, err = records.RiskSubject(ctx, d.store.Queries, of(s.Place.Location)); err != nil {
				return err
			}
			subjects[s.Place.Location] = subject
		}
		if c := listings.Weigh(s.Book, subject, s.Step.Facts, verification.State{}); c.Chance > 0 {
			s.Says += fmt.Sprintf(" In %d of 100 a %s follows: %s", int(100*c.Chance+0.5), c.Worst, c.Risks[0].Says)
		}
	}
	return nil
}

// Course is what is to be done now, so that the directories say of some locations what their
// records say.
func (d *Desk) Course(ctx context.Context, s ledger.Scope) ([]PlannedStep, error) {
	rows, err := d.records.Locations(ctx, s)
	if err != nil {
		return nil, err
	}
	return d.StepsNow(ctx, d.store.Queries, rows)
}

// StepsNow are the steps of some locations as their records are.
func (d *Desk) StepsNow(ctx context.Context, q *db.Queries, rows []ledger.Location) ([]PlannedStep, error) {
	states, err := ledger.StatesOf(ctx, q, idsOf(rows))
	if err != nil {
		return nil, err
	}
	return d.StepsOf(ctx, q, rows, states)
}

func idsOf(rows []ledger.Location) []uuid.UUID {
	ids := make([]uuid.UUID, len(rows))
	for i, l := range rows {
		ids[i] = l.ID
	}
	return ids
}

// StepsOf are the steps of some locations as their records are, given where their listings stand.
func (d *Desk) StepsOf(ctx context.Context, q *db.Queries, rows []ledger.Location, states map[ledger.Place]verification.State) ([]PlannedStep, error) {
	return d.steps(ctx, q, rows, states, d.asItIs)
}

func (d *Desk) asItIs(l ledger.Location) (record.Record, calendar.Date, error) {
	return l.Record, d.about(l), nil
}

// about is the day at a location; where nobody knows its time zone, the day at Greenwich.
func (d *Desk) about(l ledger.Location) calendar.Date {
	today, err := d.todayAt(l)
	if err != nil {
		return calendar.DateIn(d.clock.Now(), time.UTC)
	}
	return today
}

// todayAt is the day at a location.
func (d *Desk) todayAt(l ledger.Location) (calendar.Date, error) {
	zone, known := l.Record.Location()
	if !known {
		return calendar.Date{}, problem.Fields(
			[]record.Problem{{Path: "zone", Message: l.Label + ": the address does not tell the time zone; write it as America/Los_Angeles"}},
		)
	}
	return calendar.DateIn(d.clock.Now(), zone), nil
}

func (d *Desk) chosen(ctx context.Context, locations []uuid.UUID) ([]ledger.Location, error) {
	switch n := len(locations); {
	case n == 0:
		return nil, &problem.Problem{Kind: problem.Invalid, Detail: "Choose at least one location."}
	case n > mostInCourse:
		return nil, &problem.Problem{Kind: problem.Invalid, Detail: fmt.Sprintf("Choose up to %d locations at once.", mostInCourse)}
	}
	rows, err := store.Each(ledger.LocationOf)(d.store.LocationsNamed(ctx, locations))
	if err == nil && len(rows) != len(locations) {
		err = &problem.Problem{Kind: problem.NotFound, Detail: "One of the locations is not there."}
	}
	return rows, err
}

// steps lays out the steps of some locations, given where their listings stand, and what each
// record is to say and from when.
func (d *Desk) steps(
	ctx context.Context,
	q *db.Queries,
	rows []ledger.Location,
	states map[ledger.Place]verification.State,
	to func(ledger.Location) (record.Record, calendar.Date, error),
) ([]PlannedStep, error) {
	clients := make([]uuid.UUID, len(rows))
	for i, l := range rows {
		clients[i] = l.ClientID
	}
	given, err := listings.LastGivenOf(ctx, q, idsOf(rows))
	if err != nil {
		return nil, err
	}
	photos, err := files.PhotosOf(ctx, q, clients)
	if err != nil {
		return nil, err
	}
	out, books := []PlannedStep{}, d.shelf.Books()
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
		own := map[string][]fit.Own{}
		for i := range books {
			own[books[i].ID] = states[ledger.Place{Location: l.ID, Directory: books[i].ID}].Own
		}
		s := fit.Read(r, photos.Of(l.ID, l.ClientID), d.clock.Now()).With(own)
		var all []course.Listing
		for i := range books {
			b := &books[i]
			st, begun := states[ledger.Place{Location: l.ID, Directory: b.ID}]
			if !begun {
				continue
			}
			one := course.Listing{Book: b, State: st, Source: source[b.ID]}
			one.Changed = giving.Listing{Book: b, State: st, Last: given[ledger.Place{Location: l.ID, Directory: b.ID}]}.Due(s).Keys()
			all = append(all, one)
		}
		for _, step := range course.Steps(r, on, today, all) {
			p := PlannedStep{Place: ledger.Place{Location: l.ID, Directory: step.Book.ID}, Step: step, Label: l.Label}
			p.Now = !today.Before(step.On) && step.After == ""
			if step.Act == course.Tell {
				st := states[p.Place]
				page := ""
				if st.Page != "" {
					page = d.reach.PageURL(sightings.Home(*step.Book), st.Page)
				}
				p.Words = course.Words(saidOf(r, st, step), step.Book, page, on)
			}
			out = append(out, p)
		}
	}
	return out, nil
}

// saidOf is the record as a directory's people are told of it: where the location is another for them now, the place that they
// know has moved to the new one.
func saidOf(r record.Record, st verification.State, step course.Step) record.Record {
	if st.Elsewhere(r, *step.Book) {
		r.State = record.State{Kind: record.Moved, To: r.Address.Line()}
		r.Address = *st.Stands
	}
	return r
}
