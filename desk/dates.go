package desk

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"reflect"
	"slices"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/store"
	"uvent/store/db"
)

// SpecialDate is one date, or one span of dates, over the locations of a scope.
type SpecialDate struct {
	Span
	Names  []string // of the public holidays; none where it is no holiday
	Places []PlaceOnDate
}

// PlaceOnDate is what becomes of a location on a special date.
type PlaceOnDate struct {
	Location uuid.UUID
	Label    string
	Client   string
	Decided  bool            // the record says something of it
	Sittings []hours.Sitting // none: closed
}

// SpecialDates lists what the locations of a scope say of the public holidays
// of the next twelve months, each of its own country and region, and of other
// dates by name. The earliest comes first.
func (d *Desk) SpecialDates(ctx context.Context, s Scope) ([]SpecialDate, error) {
	clients, err := d.Clients(ctx)
	if err != nil {
		return nil, err
	}
	names := map[uuid.UUID]string{}
	for _, c := range clients {
		names[c.ID] = c.Name
	}
	locations, err := d.Locations(ctx, s)
	if err != nil {
		return nil, err
	}
	slices.SortStableFunc(locations, func(a, b Location) int {
		return cmp.Or(cmp.Compare(names[a.ClientID], names[b.ClientID]), cmp.Compare(a.Label, b.Label))
	})
	var out []SpecialDate
	at := map[Span]int{}
	add := func(span Span, name string, p PlaceOnDate) {
		i, known := at[span]
		if !known {
			i = len(out)
			at[span] = i
			out = append(out, SpecialDate{Span: span})
		}
		if name != "" && !slices.Contains(out[i].Names, name) {
			out[i].Names = append(out[i].Names, name)
		}
		out[i].Places = append(out[i].Places, p)
	}
	for _, l := range locations {
		zone, known := l.Record.Location()
		schedule, _, err := hours.Parse(l.Record.Hours)
		if !known || err != nil {
			continue // nothing is said of its hours at all
		}
		today := calendar.DateIn(d.clock.Now(), zone)
		place := PlaceOnDate{Location: l.ID, Label: l.Label, Client: names[l.ClientID], Decided: true}
		listed := map[Span]bool{}
		for _, h := range schedule.Holidays(today, calendar.HolidaysOf(l.Record.Address.Country, l.Record.Address.Region)) {
			p := place
			p.Decided, p.Sittings = h.Decided, h.Sittings
			listed[Span{h.Date, h.Date}] = true
			add(Span{h.Date, h.Date}, h.Name, p)
		}
		for _, sp := range schedule.Specials() {
			span := Span{sp.From, sp.To}
			if sp.To.Before(today) || listed[span] {
				continue
			}
			p := place
			p.Sittings = sp.Sittings
			add(span, "", p)
		}
	}
	slices.SortStableFunc(out, func(a, b SpecialDate) int { return cmp.Or(a.From.Compare(b.From), a.To.Compare(b.To)) })
	return out, nil
}

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
func (d *Desk) DecideDates(ctx context.Context, actor Actor, q DateDecision) (change uuid.UUID, saved int, err error) {
	if len(q.Locations) == 0 || len(q.Dates) == 0 {
		return change, 0, &Problem{Kind: Invalid, Detail: "Say for which locations and which dates."}
	}
	if len(q.Locations)*len(q.Dates) > mostDecided {
		return change, 0, &Problem{Kind: Invalid, Detail: "That is too much at once; choose fewer dates or locations."}
	}
	for _, span := range q.Dates {
		if err := span.check(); err != nil {
			return change, 0, err
		}
	}
	if err := checkSittings(q.Sittings); err != nil {
		return change, 0, err
	}
	return d.changeRecords(ctx, actor, q.Locations, func(l Location) (record.Record, error) {
		r := l.Record
		schedule, _, err := hours.Parse(r.Hours)
		if err != nil || r.Hours == "" {
			return r, conflict("%s says nothing of its hours yet; give its usual week first.", r.Label)
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
func (d *Desk) changeRecords(ctx context.Context, actor Actor, ids []uuid.UUID, change func(Location) (record.Record, error)) (batch uuid.UUID, saved int, err error) {
	batch = uuid.New()
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		locations, err := q.LocationsByID(ctx, ids)
		if err != nil {
			return err
		}
		if len(locations) < len(ids) {
			return &Problem{Kind: NotFound, Detail: "One of these locations is not there."}
		}
		saved, err = d.saveTogether(ctx, q, actor, locations, batch, change)
		return err
	})
	return batch, saved, err
}

// openDate is a special date that is not decided for some locations.
type openDate struct {
	from, to calendar.Date
	says     string // what is to be done
}

// openDates are those of a scope, the next first.
func (d *Desk) openDates(ctx context.Context, s Scope) (out []openDate, err error) {
	dates, err := d.SpecialDates(ctx, s)
	for _, date := range dates {
		open := 0
		for _, p := range date.Places {
			if !p.Decided {
				open++
			}
		}
		if open == 0 {
			continue
		}
		name := verification.Day(date.From)
		if len(date.Names) > 0 {
			name = date.Names[0] + ", " + name
		}
		locations := "1 location"
		if open > 1 {
			locations = fmt.Sprintf("%d locations", open)
		}
		out = append(out, openDate{date.From, date.To, "Decide " + name + " for " + locations})
	}
	return out, err
}

// saveTogether saves what becomes of locations that are locked already, as one
// batch; those that stay as they are are left alone.
func (d *Desk) saveTogether(ctx context.Context, q *db.Queries, actor Actor, locations []Location, batch uuid.UUID, change func(Location) (record.Record, error)) (saved int, err error) {
	shared := map[uuid.UUID]record.Record{}
	var events []db.CopyEventsParams
	for _, l := range locations {
		after, err := change(l)
		if err != nil {
			return 0, err
		}
		after, wrong := record.Normal(after)
		if wrong != nil {
			return 0, &Problem{Kind: Invalid, Detail: fmt.Sprintf("%s: %s.", l.Label, wrong[0].Message), Fields: wrong}
		}
		if _, known := shared[l.ClientID]; !known {
			c, err := q.ShareClient(ctx, l.ClientID)
			if err != nil {
				return 0, err
			}
			shared[l.ClientID] = Shared(c)
		}
		after = record.Settle(after, shared[l.ClientID])
		if len(record.Changes(l.Record, after)) == 0 {
			continue
		}
		if _, err := q.SaveLocation(ctx, db.SaveLocationParams{ID: l.ID, Label: after.Label, StoreCode: after.StoreCode, Record: after, Version: l.Version}); err != nil {
			return 0, stale(taken(err))
		}
		data, err := json.Marshal(recordChange{Before: &l.Record, After: after, Batch: batch.String()})
		if err != nil {
			return 0, err
		}
		events = append(events, db.CopyEventsParams{At: d.clock.Now(), Actor: actor.Name, ClientID: &l.ClientID, LocationID: &l.ID, Kind: "record_saved", Data: data})
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
func (d *Desk) UndoChange(ctx context.Context, actor Actor, change uuid.UUID) (out Undone, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		var ids []uuid.UUID
		if out, ids, err = d.undo(ctx, q, actor, change); err == nil && len(ids) == 0 {
			err = &Problem{Kind: NotFound, Detail: "There is no such change."}
		}
		return err
	})
	return out, err
}

// undo puts records back in somebody's transaction, and tells which they are. One that was
// changed more than once together is put back to what it was before the first.
func (d *Desk) undo(ctx context.Context, q *db.Queries, actor Actor, change uuid.UUID) (out Undone, ids []uuid.UUID, err error) {
	rows, err := q.RecordChanges(ctx, change.String())
	if err != nil || len(rows) == 0 {
		return out, nil, err
	}
	changes := map[uuid.UUID]recordChange{}
	for _, r := range rows {
		var c recordChange
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
	locations, err := q.LocationsByID(ctx, ids)
	if err != nil {
		return out, nil, err
	}
	out.Restored, err = d.saveTogether(ctx, q, actor, locations, uuid.New(), func(l Location) (record.Record, error) {
		if c := changes[l.ID]; c.Before != nil && reflect.DeepEqual(l.Record, c.After) {
			return *c.Before, nil
		}
		out.Left = append(out.Left, l.Label)
		return l.Record, nil
	})
	return out, ids, err
}
