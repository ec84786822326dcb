package desk

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"reflect"
	"runtime"
	"slices"
	"strings"
	"sync"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record"
	"uvent/core/sheet"
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
	Bad       int             `json:"bad"`     // rows, not cells
	Clients   []string        `json:"clients"` // that would be added
	Problems  []sheet.Problem `json:"problems"`
}

// StartImport keeps a file and matches its columns by their names.
func (d *Desk) StartImport(ctx context.Context, person Person, client *uuid.UUID, fileName string, data []byte) (Import, error) {
	s, err := sheet.Read(data)
	if err != nil {
		return Import{}, &Problem{Kind: Invalid, Detail: sentence(err.Error()), Fields: []record.Problem{{Path: "file", Message: err.Error()}}}
	}
	if client != nil {
		if _, err := d.Client(ctx, *client); err != nil {
			return Import{}, err
		}
	}
	columns, err := json.Marshal(sheet.Match(s.Header))
	if err != nil {
		return Import{}, err
	}
	row := db.AddImportParams{ID: uuid.New(), ClientID: client, FileName: fileName, File: data, Columns: columns, PersonID: person.ID, CreatedAt: d.Now()}
	if err := d.store.AddImport(ctx, row); err != nil {
		return Import{}, err
	}
	return d.Import(ctx, row.ID)
}

func sentence(s string) string { return strings.ToUpper(s[:1]) + s[1:] + "." }

// Import reads a file that was kept, with what it would do now, or what it did.
func (d *Desk) Import(ctx context.Context, id uuid.UUID) (Import, error) {
	row, err := d.store.ImportByID(ctx, id)
	if err != nil {
		return Import{}, orNotFound(err, "There is no such import.")
	}
	in, s, err := importOf(row)
	if err != nil || in.Applied {
		return in, err
	}
	work, err := d.plan(ctx, d.store.Queries, row, s, in.Columns)
	in.Plan = work.plan
	return in, err
}

func importOf(row db.Import) (Import, sheet.Sheet, error) {
	in := Import{ID: row.ID, Client: row.ClientID, FileName: row.FileName, Applied: row.AppliedAt != nil}
	s, err := sheet.Read(row.File)
	if err != nil {
		return in, s, err
	}
	in.Header, in.Rows = s.Header, len(s.Rows)
	for _, r := range s.Rows[:min(3, len(s.Rows))] {
		in.Samples = append(in.Samples, r.Cells)
	}
	if err := json.Unmarshal(row.Columns, &in.Columns); err != nil {
		return in, s, err
	}
	if in.Applied {
		err = json.Unmarshal(row.Outcome, &in.Plan)
	}
	return in, s, err
}

// MatchColumns chooses by hand what each column holds.
func (d *Desk) MatchColumns(ctx context.Context, id uuid.UUID, columns []string) (Import, error) {
	in, err := d.Import(ctx, id)
	if err != nil {
		return in, err
	}
	if in.Applied {
		return in, conflict("This file is in already.")
	}
	if err := sheet.CheckColumns(in.Header, columns); err != nil {
		return in, &Problem{Kind: Invalid, Detail: sentence(err.Error()), Fields: []record.Problem{{Path: "columns", Message: err.Error()}}}
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
func (d *Desk) ApplyImport(ctx context.Context, actor Actor, id uuid.UUID) (Import, error) {
	err := d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		row, err := q.LockImport(ctx, id)
		if err != nil {
			return orNotFound(err, "There is no such import.")
		}
		in, s, err := importOf(row)
		if err != nil || in.Applied {
			return err
		}
		work, err := d.plan(ctx, q, row, s, in.Columns)
		if err != nil {
			return err
		}
		if err := d.bringIn(ctx, q, actor, row.FileName, work); err != nil {
			return err
		}
		outcome, err := json.Marshal(work.plan)
		if err != nil {
			return err
		}
		now := d.Now()
		if err := q.FinishImport(ctx, db.FinishImportParams{ID: id, AppliedAt: &now, Outcome: outcome}); err != nil {
			return err
		}
		return notify(ctx, q, Change{})
	})
	if err != nil {
		return Import{}, taken(err)
	}
	return d.Import(ctx, id)
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

// planned is a row that would change something.
type planned struct {
	client string // its name
	old    *db.Location
	record record.Record
}

// work is a plan and the rows behind it.
type work struct {
	plan    Plan
	rows    []planned
	clients map[string]uuid.UUID // by folded name; those to be added have uuid.Nil
}

// plan holds every row against what is there.
func (d *Desk) plan(ctx context.Context, q *db.Queries, row db.Import, s sheet.Sheet, columns []string) (work, error) {
	w := work{clients: map[string]uuid.UUID{}, plan: Plan{Clients: []string{}, Problems: []sheet.Problem{}}}
	clients, err := q.Clients(ctx)
	if err != nil {
		return w, err
	}
	home := ""
	for _, c := range clients {
		w.clients[strings.ToLower(c.Name)] = c.ID
		if row.ClientID != nil && c.ID == *row.ClientID {
			home = c.Name
		}
	}
	locations, err := q.Locations(ctx, db.LocationsParams{})
	if err != nil {
		return w, err
	}
	known := newKnown(locations)
	reads := d.readRows(row, s, columns, func(r sheet.Reader, line sheet.Row) (string, *db.Location) {
		client := r.Cell(line, sheet.ClientField)
		if client == "" {
			client = home
		}
		return client, known.find(w.clients[strings.ToLower(client)], r, line)
	})
	labels, codes := known.taken()
	seen := map[uuid.UUID]bool{}
	for i, r := range reads {
		client := strings.ToLower(r.client)
		if r.problems == nil && r.client == "" {
			r.problems = []sheet.Problem{{Line: s.Rows[i].Line, Column: "client", Reason: "the row names no client; add the column, or import from a client’s own view"}}
		}
		label, code := client+"\x00"+strings.ToLower(r.record.Label), client+"\x00"+strings.ToLower(r.record.StoreCode)
		if id := w.clients[client]; id != uuid.Nil {
			label, code = id.String()+label[len(client):], id.String()+code[len(client):]
		}
		var self uuid.UUID
		if r.old != nil {
			if self = r.old.ID; seen[self] && r.problems == nil {
				r.problems = []sheet.Problem{{Line: s.Rows[i].Line, Column: "label", Reason: fmt.Sprintf("%s stands in this file twice; leave one row out", r.old.Label)}}
			}
			seen[self] = true
		}
		if holder, ok := labels[label]; r.problems == nil && ok && (holder == uuid.Nil || holder != self) {
			r.problems = []sheet.Problem{{Line: s.Rows[i].Line, Column: "label", Reason: fmt.Sprintf("%q is another location of this client already; give this one its own label", r.record.Label)}}
		}
		if holder, ok := codes[code]; r.problems == nil && r.record.StoreCode != "" && ok && (holder == uuid.Nil || holder != self) {
			r.problems = []sheet.Problem{{Line: s.Rows[i].Line, Column: "store code", Reason: fmt.Sprintf("%q is another location’s store code already", r.record.StoreCode)}}
		}
		if r.problems != nil {
			w.plan.Bad++
			w.plan.Problems = append(w.plan.Problems, r.problems...)
			continue
		}
		labels[label], codes[code] = self, self
		if _, ok := w.clients[client]; !ok {
			w.clients[client] = uuid.Nil
			w.plan.Clients = append(w.plan.Clients, r.client)
		}
		switch {
		case r.old == nil:
			w.plan.New++
		case reflect.DeepEqual(r.old.Record, r.record):
			w.plan.Unchanged++
			continue
		default:
			w.plan.Changed++
		}
		w.rows = append(w.rows, planned{r.client, r.old, r.record})
	}
	return w, nil
}

// reading is a row as it was read and checked, over the location that it is about.
type reading struct {
	client   string
	old      *db.Location
	record   record.Record
	problems []sheet.Problem
}

// readings are those of one file with one choice of columns.
type readings struct {
	file    uuid.UUID
	columns []string
	rows    []reading
}

// readRows reads and checks rows on every core; what they come to is decided
// later, in their order. Bringing a file in follows looking at it, so the last
// file's readings are kept, and hold for each row whose location is unchanged.
func (d *Desk) readRows(file db.Import, s sheet.Sheet, columns []string, about func(sheet.Reader, sheet.Row) (string, *db.Location)) []reading {
	reader := sheet.NewReader(s.Header, columns)
	last := d.lastRead.Load()
	if last != nil && (last.file != file.ID || !slices.Equal(last.columns, columns)) {
		last = nil
	}
	out := make([]reading, len(s.Rows))
	var wg sync.WaitGroup
	parts := runtime.GOMAXPROCS(0)
	for part := range parts {
		wg.Go(func() {
			for i := part; i < len(s.Rows); i += parts {
				client, old := about(reader, s.Rows[i])
				if last != nil && last.rows[i].client == client && sameVersion(last.rows[i].old, old) {
					out[i] = last.rows[i]
					continue
				}
				r := reading{client: client, old: old}
				var base record.Record
				if old != nil {
					base = old.Record
				}
				r.record, r.problems = reader.Apply(s.Rows[i], base)
				out[i] = r
			}
		})
	}
	wg.Wait()
	d.lastRead.Store(&readings{file.ID, columns, slices.Clone(out)})
	return out
}

func sameVersion(a, b *db.Location) bool {
	if a == nil || b == nil {
		return a == b
	}
	return a.ID == b.ID && a.Version == b.Version
}

// bringIn writes what a plan says.
func (d *Desk) bringIn(ctx context.Context, q *db.Queries, actor Actor, file string, w work) error {
	for _, name := range w.plan.Clients {
		c, err := q.AddClient(ctx, db.AddClientParams{Name: name})
		if err != nil {
			return err
		}
		w.clients[strings.ToLower(name)] = c.ID
		if err := d.note(ctx, q, actor, "client_added", c.ID, nil, ClientFacts{Name: name}); err != nil {
			return err
		}
	}
	now := d.Now()
	var fresh []db.CopyLocationsParams
	var events []db.CopyEventsParams
	for _, p := range w.rows {
		client := w.clients[strings.ToLower(p.client)]
		change, kind := recordChange{After: p.record, From: file}, "location_added"
		var id uuid.UUID
		if p.old == nil {
			id = uuid.New()
			fresh = append(fresh, db.CopyLocationsParams{ID: id, ClientID: client, Label: p.record.Label, StoreCode: p.record.StoreCode, Record: p.record})
		} else {
			id, kind, change.Before = p.old.ID, "record_saved", &p.old.Record
			if _, err := q.SaveLocation(ctx, db.SaveLocationParams{ID: id, Label: p.record.Label, StoreCode: p.record.StoreCode, Record: p.record, Version: p.old.Version}); err != nil {
				if errors.Is(err, pgx.ErrNoRows) {
					return conflict("Somebody saved %s just now. Bring the file in again.", p.old.Label)
				}
				return err
			}
		}
		data, err := json.Marshal(change)
		if err != nil {
			return err
		}
		events = append(events, db.CopyEventsParams{At: now, Actor: actor.Name, ClientID: &client, LocationID: &id, Kind: kind, Data: data})
	}
	if _, err := q.CopyLocations(ctx, fresh); err != nil {
		return err
	}
	_, err := q.CopyEvents(ctx, events)
	return err
}

// known finds the location that a row is about: by its store code, or else by
// its label, or else by its town where that is the label.
type known struct {
	byCode, byLabel map[string]*db.Location
}

func newKnown(locations []db.Location) known {
	k := known{map[string]*db.Location{}, map[string]*db.Location{}}
	for i := range locations {
		l := &locations[i]
		if l.StoreCode != "" {
			k.byCode[l.ClientID.String()+"\x00"+strings.ToLower(l.StoreCode)] = l
		}
		k.byLabel[l.ClientID.String()+"\x00"+strings.ToLower(l.Label)] = l
	}
	return k
}

func (k known) find(client uuid.UUID, r sheet.Reader, row sheet.Row) *db.Location {
	if client == uuid.Nil {
		return nil
	}
	key := func(field string) string { return client.String() + "\x00" + strings.ToLower(r.Cell(row, field)) }
	if r.Cell(row, "store_code") != "" {
		return k.byCode[key("store_code")]
	}
	if r.Cell(row, "label") != "" {
		return k.byLabel[key("label")]
	}
	return k.byLabel[key("locality")]
}

// taken maps each label and store code in use to its location.
func (k known) taken() (labels, codes map[string]uuid.UUID) {
	labels, codes = map[string]uuid.UUID{}, map[string]uuid.UUID{}
	for key, l := range k.byLabel {
		labels[key] = l.ID
	}
	for key, l := range k.byCode {
		codes[key] = l.ID
	}
	return labels, codes
}
