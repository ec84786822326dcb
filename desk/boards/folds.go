package boards

import (
	"context"
	"time"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"

	"uvent/core/fact/prose"
	"uvent/core/reckon/agenda"
	"uvent/desk/ledger"
	"uvent/desk/matters"
	"uvent/store/db"
)

// FoldFilter is which rows of Today are asked for; what is empty is not asked about.
type FoldFilter struct {
	ledger.Scope
	Group     agenda.Group
	Directory string
	With      *uuid.UUID // whom it was handed to
	Search    string     // in what it is called, and of whom
}

// Fold is a row of Today: what is done once, for one listing or for many.
type Fold struct {
	ID        string
	Title     string
	Count     int // of tasks
	Clients   int
	Locations int
	Until     *time.Time // when the first is lost, or ends
	Minutes   float64    // of a specialist
	Loss      float64    // of the task that loses most
	First     Cell       // that task
}

// Folds is a page of a scope's rows.
type Folds struct {
	Counts map[agenda.Group]int // of tasks in the scope
	Rows   []Fold
	Next   *FoldKey // of the rows past these; nil for none
}

// FoldKey tells where a page begins: past a row.
type FoldKey struct {
	Loss  float64
	Title string
	Fold  string
}

// mostFolds is how many rows a page holds.
const mostFolds = 60

// Folds lists what is done once, that which loses most by waiting first.
func (d *Desk) Folds(ctx context.Context, f FoldFilter, past *FoldKey) (out Folds, err error) {
	if err := d.KnowTasks(ctx, f.Scope); err != nil {
		return out, err
	}
	ask := db.FoldsParams{
		Mover:      string(f.Group),
		Now:        d.clock.Now(),
		Clients:    f.Clients,
		LocationID: f.Location,
		Directory:  f.Directory,
		WithID:     f.With,
		Search:     f.Search,
		Most:       mostFolds + 1,
	}
	if past != nil {
		ask.PastLoss, ask.PastTitle, ask.PastFold = past.Loss, past.Title, past.Fold
	}
	var rows []db.FoldsRow
	g, inner := errgroup.WithContext(ctx)
	g.Go(func() (err error) { out.Counts, err = d.taskCounts(inner, f.Scope); return err })
	g.Go(func() (err error) { rows, err = d.store.Reading(ctx).Folds(inner, ask); return err })
	if err := g.Wait(); err != nil {
		return out, err
	}
	if len(rows) > mostFolds {
		rows = rows[:mostFolds]
		last := rows[mostFolds-1]
		out.Next = &FoldKey{last.Most, last.Title, last.Fold}
	}
	at, on := make([]uuid.UUID, len(rows)), make([]string, len(rows))
	for i, r := range rows {
		at[i], on[i] = r.LocationID, r.DirectoryID
	}
	tasks, err := d.store.Reading(ctx).TasksAt(ctx, db.TasksAtParams{Locations: at, Directories: on})
	if err != nil {
		return out, err
	}
	cells, err := d.TaskCells(ctx, tasks)
	if err != nil {
		return out, err
	}
	of := make(map[ledger.Place]Cell, len(cells))
	for _, c := range cells {
		of[c.Place] = c
	}
	for _, r := range rows {
		first, there := of[ledger.Place{Location: r.LocationID, Directory: r.DirectoryID}]
		if !there {
			continue // it is gone meanwhile
		}
		out.Rows = append(out.Rows, d.fold(r, first))
	}
	return out, nil
}

func (d *Desk) fold(r db.FoldsRow, first Cell) Fold {
	f := Fold{
		ID: r.Fold, Title: first.Task.Title, Count: int(r.Count), Clients: int(r.Clients), Locations: int(r.Locations),
		Minutes: r.Minutes, Loss: r.Most, First: first,
	}
	if !r.Until.IsZero() {
		f.Until = &r.Until
	}
	if f.Count > 1 {
		what := prose.Count(f.Count, "place")
		if f.Locations < f.Count {
			what = prose.Count(f.Count, "listing")
		}
		f.Title = agenda.Folded(first.Task.Kind, f.Count, what, first.Book.Name, matters.OwnerOf(first.Location, first.Client))
	}
	return f
}

// Folded lists the tasks of one row, past some.
func (d *Desk) Folded(ctx context.Context, f FoldFilter, fold string, past int) ([]Cell, error) {
	if err := d.KnowTasks(ctx, f.Scope); err != nil {
		return nil, err
	}
	rows, err := d.store.Reading(ctx).FoldTasks(ctx, db.FoldTasksParams{
		Fold: fold, Mover: string(f.Group), Now: d.clock.Now(), Clients: f.Clients, LocationID: f.Location, Directory: f.Directory, WithID: f.With, Search: f.Search,
		Most: MostFolded, Past: int32(past),
	})
	if err != nil {
		return nil, err
	}
	return d.TaskCells(ctx, rows)
}

// MostFolded is how many tasks of a row a page holds.
const MostFolded = 50
