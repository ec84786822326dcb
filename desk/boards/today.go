package boards

import (
	"context"
	"time"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"

	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/desk/ledger"
	"uvent/desk/matters"
	"uvent/desk/records"
	"uvent/store"
	"uvent/store/db"
)

// Today is what is to be done or waited for in a scope.
type Today struct {
	Counts map[agenda.Group]int
	Rows   []Cell // with their tasks, the soonest loss first
}

// TodayPage is a part of a scope's tasks: those past some, of a group or of each.
type TodayPage struct {
	Group agenda.Group // empty: of each
	Past  int
}

// MostToday is how many tasks of a group a page holds.
const MostToday = 100

// groups are who can move a task, in the order of what they are asked about.
var groups = []agenda.Group{agenda.Mine, agenda.Owner, agenda.Directory}

// Today lists what is to be done or waited for in a scope, the soonest loss first. What was
// put off is not in it.
func (d *Desk) Today(ctx context.Context, s ledger.Scope, page TodayPage) (out Today, err error) {
	if err := d.KnowTasks(ctx, s); err != nil {
		return out, err
	}
	now, of := d.clock.Now(), groups
	if page.Group != "" {
		of = []agenda.Group{page.Group}
	}
	pages := make([][]db.Task, len(of))
	g, inner := errgroup.WithContext(ctx)
	g.Go(func() (err error) { out.Counts, err = d.taskCounts(inner, s); return err })
	for i, group := range of {
		g.Go(func() (err error) {
			pages[i], err = d.store.Reading(ctx).Tasks(
				inner,
				db.TasksParams{Mover: string(group), Now: now, Clients: s.Clients, LocationID: s.Location, Past: int32(page.Past), Most: MostToday},
			)
			return err
		})
	}
	if err := g.Wait(); err != nil {
		return out, err
	}
	var rows []db.Task
	for _, p := range pages {
		rows = append(rows, p...)
	}
	if out.Rows, err = d.TaskCells(ctx, rows); err != nil {
		return out, err
	}
	agenda.Sort(out.Rows, func(c Cell) agenda.Task { return *c.Task })
	return out, nil
}

func (d *Desk) taskCounts(ctx context.Context, s ledger.Scope) (map[agenda.Group]int, error) {
	rows, err := d.store.Reading(ctx).TaskCounts(ctx, db.TaskCountsParams{Now: d.clock.Now(), Clients: s.Clients, LocationID: s.Location})
	out := map[agenda.Group]int{}
	for _, r := range rows {
		out[agenda.Group(r.Mover)] = int(r.Count)
	}
	return out, err
}

// TaskCells say what kept tasks are by now. A task that is gone since is left out.
func (d *Desk) TaskCells(ctx context.Context, rows []db.Task) (out []Cell, err error) {
	ids, at, on := []uuid.UUID{}, make([]uuid.UUID, len(rows)), make([]string, len(rows))
	locations := map[uuid.UUID]*ledger.Location{}
	for i, r := range rows {
		at[i], on[i] = r.LocationID, r.DirectoryID
		if _, twice := locations[r.LocationID]; !twice {
			locations[r.LocationID] = nil
			ids = append(ids, r.LocationID)
		}
	}
	clients := map[uuid.UUID]*ledger.Client{}
	states := map[ledger.Place]verification.State{}
	var fits map[uuid.UUID]map[string]records.Fitted
	var pages map[ledger.Place]*agenda.OwnerPage
	var open map[uuid.UUID]*Matter
	g, inner := errgroup.WithContext(ctx)
	g.Go(func() error {
		rows, err := store.Each(ledger.ClientOf)(d.store.Reading(ctx).Clients(inner))
		for i := range rows {
			clients[rows[i].ID] = &rows[i]
		}
		return err
	})
	g.Go(func() error {
		rows, err := store.Each(ledger.LocationOf)(d.store.Reading(ctx).LocationsNamed(inner, ids))
		for i := range rows {
			locations[rows[i].ID] = &rows[i]
		}
		return err
	})
	g.Go(func() error {
		rows, err := d.store.Reading(ctx).ListingsAt(inner, db.ListingsAtParams{Locations: at, Directories: on})
		for _, r := range rows {
			states[ledger.Place{Location: r.LocationID, Directory: r.DirectoryID}] = r.State
		}
		return err
	})
	g.Go(func() error {
		rows, err := d.store.Reading(ctx).FitsNamed(inner, ids)
		if err == nil {
			fits, err = records.ReadFits(rows)
		}
		return err
	})
	g.Go(func() (err error) { pages, err = matters.PagesOf(inner, d.store.Reading(ctx), ids); return err })
	g.Go(func() (err error) { open, err = d.mattersOf(inner, rows); return err })
	if err := g.Wait(); err != nil {
		return nil, err
	}
	now := d.clock.Now()
	for _, r := range rows {
		l := locations[r.LocationID]
		if l == nil {
			continue
		}
		cells := d.cellsOf(clients[r.ClientID], l, fits[r.LocationID], states, pages, func(id string, _, _ bool) bool { return id == r.DirectoryID }, now)
		if len(cells) == 0 {
			continue
		}
		c := cells[0]
		if len(r.Together) > 0 {
			t := d.together(*l, keptTask{Act: agenda.Act(r.Act), Together: r.Together, Loss: r.Loss})
			c.Task = &t
		}
		c.Matter = open[r.MatterID]
		if c.Task != nil && string(c.Task.Group) == r.Mover {
			out = append(out, c)
		}
	}
	return out, nil
}

// Matter is what is known of a matter in a row of Today.
type Matter struct {
	ID       uuid.UUID
	OpenedAt time.Time
	With     *uuid.UUID
	WithName string
	Notes    int
	Last     string // what was last noted
}

// mattersOf are the matters of tasks, by their ids.
func (d *Desk) mattersOf(ctx context.Context, rows []db.Task) (map[uuid.UUID]*Matter, error) {
	ids := make([]uuid.UUID, len(rows))
	for i, r := range rows {
		ids[i] = r.MatterID
	}
	named, err := d.store.Reading(ctx).MattersNamed(ctx, ids)
	out := make(map[uuid.UUID]*Matter, len(named))
	for _, m := range named {
		out[m.ID] = &Matter{ID: m.ID, OpenedAt: m.OpenedAt, With: m.WithID, WithName: m.WithName, Notes: int(m.Notes), Last: m.LastNote}
	}
	return out, err
}
