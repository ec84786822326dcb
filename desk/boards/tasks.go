package boards

import (
	"context"
	"encoding/json"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/listing/course"
	"uvent/core/reckon/agenda"
	"uvent/desk/ledger"
	"uvent/desk/matters"
	"uvent/desk/records"
	"uvent/desk/rounds"
	"uvent/store"
	"uvent/store/db"
)

// keptTask is a row of task as it is written.
type keptTask struct {
	Location  uuid.UUID    `json:"location_id"`
	Directory string       `json:"directory_id"`
	Client    uuid.UUID    `json:"client_id"`
	Mover     agenda.Group `json:"mover"`
	Act       agenda.Act   `json:"act"`
	Loss      float64      `json:"loss"`
	Title     string       `json:"title"`
	Dated     bool         `json:"dated"`
	Together  []string     `json:"together"`
	PutOff    *time.Time   `json:"put_off"`
	ChangesAt *time.Time   `json:"changes_at"`
	Kind      agenda.Kind  `json:"kind"`
	Cause     string       `json:"cause"`
	Until     *time.Time   `json:"until"`
	Fold      string       `json:"fold"`
	Minutes   float64      `json:"minutes"`
	Since     time.Time    `json:"since"`
}

// put is a task as it is kept.
func put(t agenda.Task, at ledger.Place, client uuid.UUID) keptTask {
	k := keptTask{
		Location:  at.Location,
		Directory: at.Directory,
		Client:    client,
		Mover:     t.Group,
		Act:       t.Act,
		Loss:      t.Loss,
		Title:     t.Title,
		Dated:     t.Until != nil || t.Window != nil,
		Together:  []string{},
		ChangesAt: t.Changes,
		Kind:      t.Kind,
		Cause:     t.Cause,
		Until:     t.Until,
		Minutes:   t.Minutes(),
		Fold:      t.Fold(client.String(), at.Location.String(), at.Directory),
	}
	return k
}

// taskBatch is how many locations' tasks are reckoned in one transaction.
const taskBatch = 250

// KnowTasks sees to it that the tasks of a scope are as they are now.
func (d *Desk) KnowTasks(ctx context.Context, s ledger.Scope) error {
	if err := d.records.KnowFits(ctx, s); err != nil {
		return err
	}
	return d.ReckonTasks(ctx, s)
}

// ReckonTasks reckons the tasks of a scope that are not, or no longer, known, by the fits
// that are. A fit that becomes known later makes it necessary anew.
func (d *Desk) ReckonTasks(ctx context.Context, s ledger.Scope) error {
	stale := db.StaleTasksParams{Now: d.clock.Now(), Clients: s.Clients, LocationID: s.Location, Most: taskBatch}
	ids, err := d.store.StaleTasks(ctx, stale)
	for err == nil && len(ids) > 0 {
		err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
			if err := store.LockReckoning(ctx, tx); err != nil {
				return err
			}
			// Another may have been faster. What is taken away here is read only afterwards, so
			// that a change which comes in between is seen, or is told of again.
			if ids, err = q.StaleTasks(ctx, stale); err != nil || len(ids) == 0 {
				return err
			}
			if err := q.TakeStaleTasks(ctx, ids); err != nil {
				return err
			}
			kept, differing, err := d.tasksOf(ctx, q, ids, stale.Now)
			if err != nil {
				return err
			}
			if err := q.DropTasks(ctx, ids); err != nil {
				return err
			}
			if err := q.DropDifferences(ctx, ids); err != nil {
				return err
			}
			if err := q.SaveDifferences(ctx, differing); err != nil {
				return err
			}
			data, err := json.Marshal(kept)
			if err != nil {
				return err
			}
			if err := q.EndMatters(ctx, db.EndMattersParams{Now: stale.Now, Locations: ids, Tasks: data}); err != nil {
				return err
			}
			if err := q.OpenMatters(ctx, db.OpenMattersParams{Now: stale.Now, Tasks: data}); err != nil {
				return err
			}
			return q.SaveTasks(ctx, data)
		})
	}
	return err
}

// tasksOf reckons what the listings of some locations ask for, and, as JSON, where their pages differ from the record.
func (d *Desk) tasksOf(ctx context.Context, q *db.Queries, ids []uuid.UUID, now time.Time) (out []keptTask, differing []byte, err error) {
	locations, err := store.Each(ledger.LocationOf)(q.LocationsNamed(ctx, ids))
	if err != nil {
		return nil, nil, err
	}
	locations = slices.DeleteFunc(locations, func(l ledger.Location) bool { return l.PutAwayAt != nil }) // they ask for nothing
	rows, err := q.FitsNamed(ctx, ids)
	if err != nil {
		return nil, nil, err
	}
	fits, err := records.ReadFits(rows)
	if err != nil {
		return nil, nil, err
	}
	states, err := ledger.StatesOf(ctx, q, ids)
	if err != nil {
		return nil, nil, err
	}
	pages, err := matters.PagesOf(ctx, q, ids)
	if err != nil {
		return nil, nil, err
	}
	clients, err := store.Each(ledger.ClientOf)(q.Clients(ctx))
	if err != nil {
		return nil, nil, err
	}
	of := make(map[uuid.UUID]*ledger.Client, len(clients))
	for i := range clients {
		of[clients[i].ID] = &clients[i]
	}
	snoozes, err := store.Each(matters.SnoozeOf)(q.SnoozesOf(ctx, ids))
	if err != nil {
		return nil, nil, err
	}
	off := make(map[ledger.Place]matters.Snooze, len(snoozes))
	for _, z := range snoozes {
		off[ledger.Place{Location: z.LocationID, Directory: z.DirectoryID}] = z
	}
	steps, err := d.rounds.StepsOf(ctx, q, locations, states)
	if err != nil {
		return nil, nil, err
	}
	due := map[uuid.UUID][]rounds.PlannedStep{}
	for _, s := range steps {
		due[s.Place.Location] = append(due[s.Place.Location], s)
	}
	if differing, err = d.differencesOf(ctx, q, locations, states, now); err != nil {
		return nil, nil, err
	}
	out = []keptTask{}
	for i := range locations {
		l := &locations[i]
		here := d.tasksHere(d.cellsOf(of[l.ClientID], l, fits[l.ID], states, pages, inWork, now))
		if t, ok := d.unsentHere(*l, due[l.ID], here); ok {
			here = append(here, t)
		}
		for _, t := range here {
			if z := off[ledger.Place{Location: t.Location, Directory: t.Directory}]; z.Act == string(t.Act) {
				t.PutOff = &z.Until
			}
			out = append(out, t)
		}
	}
	return out, differing, nil
}

// tasksHere are what the listings of one location ask for. Those of which nothing is known
// yet are one task together.
func (d *Desk) tasksHere(cells []Cell) (out []keptTask) {
	var fresh []keptTask
	for _, c := range cells {
		if c.Task == nil {
			continue
		}
		t := put(*c.Task, c.Place, c.Location.ClientID)
		if c.Task.Act == agenda.Search && c.State.SearchedAt == nil && c.State.Trouble == "" {
			fresh = append(fresh, t)
		} else {
			out = append(out, t)
		}
	}
	if len(fresh) < 2 {
		return append(out, fresh...)
	}
	first := fresh[0]
	for _, t := range fresh {
		first.Together, first.Loss = append(first.Together, t.Directory), max(first.Loss, t.Loss)
	}
	t := put(d.together(*cells[0].Location, first), cells[0].Place, first.Client)
	t.Directory, t.Together, t.ChangesAt = first.Directory, first.Together, first.ChangesAt
	return append(out, t)
}

// unsentHere is the task of bringing the listings of a location up to date that ask for
// nothing else; false where there is none.
func (d *Desk) unsentHere(l ledger.Location, steps []rounds.PlannedStep, others []keptTask) (t keptTask, ok bool) {
	for _, s := range steps {
		sends := (s.Act == course.Send || s.Act == course.Give) && s.Now && !s.Busy
		if !sends || slices.Contains(t.Together, s.Directory) || slices.ContainsFunc(others, func(o keptTask) bool { return o.Directory == s.Directory }) {
			continue
		}
		t.Together, t.Loss = append(t.Together, s.Directory), max(t.Loss, float64(s.Book.Weight))
	}
	if len(t.Together) == 0 {
		return t, false
	}
	t.Act = agenda.Follow
	kept := put(d.together(l, t), ledger.Place{Location: l.ID, Directory: t.Together[0]}, l.ClientID)
	kept.Together = t.Together
	return kept, true
}

// together is what a task of several listings of a location is called, and says.
func (d *Desk) together(l ledger.Location, t keptTask) agenda.Task {
	names := make([]string, len(t.Together))
	for i, id := range t.Together {
		names[i] = d.shelf.DirectoryName(id)
	}
	if t.Act == agenda.Follow {
		return agenda.Unsent(l.Label, names, t.Loss)
	}
	return agenda.Together(l.Label, names, t.Loss)
}
