package records

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"io"
	"slices"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Import is a file of locations on its way in. It is kept, so that a tab that
// is closed loses nothing.
type Import struct {
	ID       uuid.UUID
	Client   *uuid.UUID // rows without a client's name go to this one
	FileName string
	Header   []string
	Columns  []string // the field key of each column; empty for one left out
	Samples  [][]string
	Rows     int
	Plan     Plan
	Applied  bool
}

// Plan is what a file would do, or has done.
type Plan struct {
	New       int             `json:"new"`
	Changed   int             `json:"changed"`
	Unchanged int             `json:"unchanged"`
	Bad       int             `json:"bad"`     // rows that wait
	Partly    int             `json:"partly"`  // rows that come in without a cell
	Clients   []string        `json:"clients"` // that would be added
	Problems  []sheet.Problem `json:"problems"`
	Readings  []ReadAs        `json:"readings"` // cells that were read as something else than they say
	Skipped   []sheet.Skipped `json:"skipped"`  // rows that are no locations
}

// ReadAs is what all cells of a column that say the same were read as.
type ReadAs struct {
	Column string `json:"column"`
	From   string `json:"from"`
	To     string `json:"to"`
	Sure   bool   `json:"sure"`
	Cells  int    `json:"cells"`
}

// readAs gathers readings that are alike.
type readAs map[ReadAs]int

func (r readAs) add(one sheet.Reading) {
	r[ReadAs{Column: one.Column, From: one.From, To: one.To, Sure: one.Sure}]++
}

// list puts what is a guess first, and then what most cells say.
func (r readAs) list() []ReadAs {
	out := make([]ReadAs, 0, len(r))
	for one, n := range r {
		one.Cells = n
		out = append(out, one)
	}
	slices.SortFunc(out, func(a, b ReadAs) int {
		if a.Sure != b.Sure {
			if b.Sure {
				return -1
			}
			return 1
		}
		return cmp.Or(b.Cells-a.Cells, cmp.Compare(a.Column, b.Column), cmp.Compare(a.From, b.From))
	})
	return out
}

// StartImport keeps a file and matches its columns by their names.
func (d *Desk) StartImport(ctx context.Context, person people.Person, client *uuid.UUID, fileName string, data []byte) (Import, error) {
	s, err := sheet.Read(data)
	if err != nil {
		return Import{}, &problem.Problem{
			Kind:   problem.Invalid,
			Detail: problem.Sentence(err.Error()),
			Fields: []record.Problem{{Path: "file", Message: err.Error()}},
		}
	}
	if client != nil {
		if _, err := d.ledger.Client(ctx, *client); err != nil {
			return Import{}, err
		}
	}
	columns, err := json.Marshal(sheet.Match(s.Header))
	if err != nil {
		return Import{}, err
	}
	add := db.AddImportParams{ID: uuid.New(), ClientID: client, FileName: fileName, File: data, Columns: columns, PersonID: person.ID, CreatedAt: d.clock.Now()}
	if err := d.store.AddImport(ctx, add); err != nil {
		return Import{}, err
	}
	in, _, err := d.foresee(ctx, d.store.Queries, db.Import{ID: add.ID, ClientID: client, FileName: fileName, Columns: columns}, s)
	return in, err
}

// Import reads a file that was kept, with what it would do now, or what it did.
func (d *Desk) Import(ctx context.Context, id uuid.UUID) (Import, error) {
	row, err := d.store.ImportByID(ctx, id)
	if err != nil {
		return Import{}, problem.OrNotFound(err, "There is no such import.")
	}
	s, err := sheet.Read(row.File)
	if err != nil {
		return Import{}, err
	}
	in, _, err := d.foresee(ctx, d.store.Queries, row, s)
	return in, err
}

// foresee tells what a file would do now, with the work behind it, or what it did.
func (d *Desk) foresee(ctx context.Context, q *db.Queries, row db.Import, s sheet.Sheet) (Import, work, error) {
	in := Import{ID: row.ID, Client: row.ClientID, FileName: row.FileName, Header: s.Header, Rows: len(s.Rows), Applied: row.AppliedAt != nil}
	for _, r := range s.Rows[:min(3, len(s.Rows))] {
		in.Samples = append(in.Samples, r.Cells)
	}
	if err := json.Unmarshal(row.Columns, &in.Columns); err != nil {
		return in, work{}, err
	}
	if in.Applied {
		in.Plan = Plan{Readings: []ReadAs{}, Skipped: []sheet.Skipped{}} // which an import of before did not tell
		return in, work{}, json.Unmarshal(row.Outcome, &in.Plan)
	}
	w, err := d.plan(ctx, q, row, s, in.Columns)
	in.Plan = w.plan
	return in, w, err
}

// MatchColumns chooses by hand what each column holds.
func (d *Desk) MatchColumns(ctx context.Context, id uuid.UUID, columns []string) (Import, error) {
	in, err := d.Import(ctx, id)
	if err != nil {
		return in, err
	}
	if in.Applied {
		return in, problem.Conflictf("This file is in already.")
	}
	if err := sheet.CheckColumns(in.Header, columns); err != nil {
		return in, &problem.Problem{Kind: problem.Invalid, Detail: problem.Sentence(err.Error()), Fields: []record.Problem{{Path: "columns", Message: err.Error()}}}
	}
	b, err := json.Marshal(columns)
	if err != nil {
		return in, err
	}
	if err := d.store.SaveImportColumns(ctx, db.SaveImportColumnsParams{ID: id, Columns: b}); err != nil {
		return in, err
	}
	return d.Import(ctx, id)
}

// ApplyImport brings the good rows in, all of them or, when something fails,
// none. A file that is in already stays as it is.
func (d *Desk) ApplyImport(ctx context.Context, actor people.Actor, id uuid.UUID) (in Import, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		row, err := q.LockImport(ctx, id)
		if err != nil {
			return problem.OrNotFound(err, "There is no such import.")
		}
		s, err := sheet.Read(row.File)
		if err != nil {
			return err
		}
		var work work
		if in, work, err = d.foresee(ctx, q, row, s); err != nil || in.Applied {
			return err
		}
		if err := d.bringIn(ctx, q, actor, row.FileName, work); err != nil {
			return err
		}
		outcome, err := json.Marshal(work.plan)
		if err != nil {
			return err
		}
		now := d.clock.Now()
		in.Applied = true
		if err := q.FinishImport(ctx, db.FinishImportParams{ID: id, AppliedAt: &now, Outcome: outcome}); err != nil {
			return err
		}
		return store.Notify(ctx, q, store.Change{})
	})
	return in, problem.Taken(err)
}

// BadRows writes the rows of a file that are not taken, to be mended.
func (d *Desk) BadRows(ctx context.Context, id uuid.UUID, w io.Writer) error {
	in, err := d.Import(ctx, id)
	if err != nil {
		return err
	}
	row, err := d.store.ImportByID(ctx, id)
	if err != nil {
		return err
	}
	s, err := sheet.Read(row.File)
	if err != nil {
		return err
	}
	return sheet.WriteBad(w, s, in.Plan.Problems)
}

// bringIn writes what a plan says.
func (d *Desk) bringIn(ctx context.Context, q *db.Queries, actor people.Actor, file string, w work) error {
	now := d.clock.Now()
	var events []db.CopyEventsParams
	var clients []db.CopyClientsParams
	for _, name := range w.plan.Clients {
		id := uuid.New()
		w.clients[strings.ToLower(name)] = id
		data, err := json.Marshal(ClientFacts{Name: name})
		if err != nil {
			return err
		}
		clients = append(clients, db.CopyClientsParams{ID: id, Name: name})
		events = append(events, db.CopyEventsParams{At: now, Actor: actor.Name, ActorID: actor.Key(), ClientID: &id, Kind: "client_added", Data: data})
	}
	if _, err := q.CopyClients(ctx, clients); err != nil {
		return err
	}
	var fresh []db.CopyLocationsParams
	for _, p := range w.rows {
		client := w.clients[strings.ToLower(p.client)]
		change, kind := recordChange{After: p.record, From: file}, "location_added"
		var id uuid.UUID
		if p.old == nil {
			id = uuid.New()
			fresh = append(fresh, db.CopyLocationsParams{ID: id, ClientID: client, Label: p.record.Label, StoreCode: p.record.StoreCode, Record: p.record})
		} else {
			id, kind, change.Before = p.old.ID, "record_saved", &p.old.Record
			if _, err := q.SaveLocation(
				ctx,
				db.SaveLocationParams{ID: id, Label: p.record.Label, StoreCode: p.record.StoreCode, Record: p.record, Version: p.old.Version},
			); err != nil {
				if errors.Is(err, pgx.ErrNoRows) {
					return problem.Conflictf("Somebody saved %s just now. Bring the file in again.", p.old.Label)
				}
				return err
			}
		}
		data, err := json.Marshal(change)
		if err != nil {
			return err
		}
		events = append(events, db.CopyEventsParams{At: now, Actor: actor.Name, ActorID: actor.Key(), ClientID: &client, LocationID: &id, Kind: kind, Data: data})
	}
	if _, err := q.CopyLocations(ctx, fresh); err != nil {
		return err
	}
	_, err := q.CopyEvents(ctx, events)
	return err
}
