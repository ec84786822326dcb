// Package imports is files of locations on their way in: read once into rows, held against what is there,
// mended on the screen, brought in, and taken back as one.
package imports

import (
	"context"
	"encoding/json"
	"slices"
	"sync"
	"time"

	"github.com/google/uuid"
	"github.com/riverqueue/river"

	"uvent/core/record/bring"
	"uvent/core/record/sheet"
	"uvent/core/record/table"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store"
	"uvent/store/db"
)

// Desk brings files in. It is safe for concurrent use.
type Desk struct {
	store  *store.Store
	clock  reach.Clock
	jobs   ledger.Jobs
	ledger *ledger.Desk

	mu       sync.Mutex
	memories map[uuid.UUID]*memory // of the files that were worked on last
}

// memory is what is remembered of a file between two looks at it.
type memory struct {
	rows    bring.Memory
	written map[int]uint64 // what was written of each line, to write what is new alone
	at      uuid.UUID      // by what import.written knows that it is still so
	used    time.Time
}

// mostMemories is how many files are remembered, and mostRemembered how many rows one may have for it.
const (
	mostMemories   = 4
	mostRemembered = 10_000
)

// New makes a desk.
func New(s *store.Store, clock reach.Clock, jobs ledger.Jobs, l *ledger.Desk) *Desk {
	return &Desk{store: s, clock: clock, jobs: jobs, ledger: l, memories: map[uuid.UUID]*memory{}}
}

// Workers adds those who read large files and bring them in.
func (d *Desk) Workers(w *river.Workers) {
	river.AddWorker(w, &readWorker{desk: d})
	river.AddWorker(w, &bringWorker{desk: d})
	river.AddWorker(w, &backWorker{desk: d})
}

// State is how far a file is.
type State string

const (
	Reading    State = "reading"
	Ready      State = "ready" // it can be worked on, and brought in
	Bringing   State = "bringing"
	In         State = "in"
	TakingBack State = "taking_back"
	Failed     State = "failed" // it cannot be read
)

// Import is a file of locations on its way in. It is kept, so that a tab that is closed loses nothing.
type Import struct {
	ID        uuid.UUID
	Client    *uuid.UUID // rows without a client's name go to this one
	FileName  string
	State     State
	Trouble   string // why it failed or stopped, in words
	Done      int    // rows, in what is under way
	Rows      int
	Encoding  table.Encoding
	Encodings []table.Encoding // in which it can be read
	Delimiter string
	Header    []string
	Columns   []string // the field key of each column; empty for one left out
	Samples   [][]string
	Skipped   []table.Skipped
	Counts    Counts
	Clients   []string // that would be added, the first few
	Edits     int      // that can be undone
	Last      *Edit    // the edit that is undone first
	CreatedAt time.Time
	Person    string
}

// Alike is cells of a column that say the same, and what becomes of them.
type Alike struct {
	Key    string
	Column string
	Says   string // what the cells say
	Read   string // as what they are read; empty where they are left out
	Sure   bool
	Why    string // they are left out
	Waits  bool   // their rows wait for them
	Cells  int
	Line   int // of the first
}

// mostAlike bounds the lists of cells that say the same.
const mostAlike = 200

// kept is what is kept of a file besides its rows and the file itself.
func (d *Desk) importOf(ctx context.Context, row db.Import) (Import, error) {
	in := Import{
		ID: row.ID, Client: row.ClientID, FileName: row.FileName, State: State(row.State), Trouble: row.Trouble, Done: int(row.Done), Rows: int(row.Rows),
		Encoding: table.Encoding(row.Encoding), Delimiter: row.Delimiter, Header: row.Header, Columns: []string{}, Samples: [][]string{},
		Skipped: []table.Skipped{}, CreatedAt: row.CreatedAt, Clients: []string{},
	}
	for _, e := range row.Encodings {
		in.Encodings = append(in.Encodings, table.Encoding(e))
	}
	edits, err := editsOf(row)
	if err != nil {
		return in, err
	}
	if in.Edits = len(edits); in.Edits > 0 {
		in.Last = &edits[in.Edits-1]
	}
	for from, to := range map[*json.RawMessage]any{&row.Columns: &in.Columns, &row.Skipped: &in.Skipped} {
		if err := json.Unmarshal(*from, to); err != nil {
			return in, err
		}
	}
	in.Clients = append(in.Clients, row.NewClients...)
	counts, err := d.counts(ctx, row.ID)
	if err != nil {
		return in, err
	}
	in.Counts = counts[row.ID]
	rows, err := d.store.FirstImportRows(ctx, db.FirstImportRowsParams{ImportID: row.ID, Most: 3})
	for _, r := range rows {
		in.Samples = append(in.Samples, r.Cells)
	}
	return in, err
}

// counts is how the rows of files stand, by the file's id.
func (d *Desk) counts(ctx context.Context, ids ...uuid.UUID) (map[uuid.UUID]Counts, error) {
	rows, err := d.store.CountImports(ctx, ids)
	if err != nil {
		return nil, err
	}
	out := map[uuid.UUID]Counts{}
	for _, id := range ids {
		out[id] = Counts{By: map[bring.Standing]int{}}
	}
	for _, r := range rows {
		c, n, standing := out[r.ImportID], int(r.Count), bring.Standing(r.Standing)
		c.Rows += n
		switch {
		case r.IsIn:
			c.In += n
			if standing == bring.Changed {
				c.InChanged += n
			}
		default:
			c.By[standing] += n
		}
		switch {
		case r.Without:
			c.Without += n
		case r.Guessed:
			c.Guessed += n
		case standing.NeedsNothing():
			c.Fine += n
		}
		out[r.ImportID] = c
	}
	return out, nil
}

// Counts is how many rows of a file stand how.
type Counts struct {
	Rows      int                    `json:"rows"`
	In        int                    `json:"in"`
	InChanged int                    `json:"in_changed"` // of those, over locations that were there
	By        map[bring.Standing]int `json:"by"`         // those that are not in
	Without   int                    `json:"without"`    // come in, or are in, without a cell
	Guessed   int                    `json:"guessed"`    // come in, or are in, with a reading that is a guess
	Fine      int                    `json:"fine"`       // need nothing
}

// Import is a file that was kept.
func (d *Desk) Import(ctx context.Context, id uuid.UUID) (Import, error) {
	row, err := d.store.ImportByID(ctx, id)
	if err != nil {
		return Import{}, problem.OrNotFound(err, "There is no such import.")
	}
	return d.importOf(ctx, row)
}

// MostImports is how many files one page holds.
const MostImports = 50

// Imports lists files, the latest first, from the one behind another.
func (d *Desk) Imports(ctx context.Context, client, behind *uuid.UUID) ([]Import, error) {
	ask := db.ImportsParams{ClientID: client, Most: MostImports}
	if behind != nil {
		row, err := d.store.ImportByID(ctx, *behind)
		if err != nil {
			return nil, problem.OrNotFound(err, "There is no such import.")
		}
		ask.Before, ask.BeforeID = &row.CreatedAt, &row.ID
	}
	rows, err := d.store.Imports(ctx, ask)
	if err != nil {
		return nil, err
	}
	ids := make([]uuid.UUID, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	counts, err := d.counts(ctx, ids...)
	if err != nil {
		return nil, err
	}
	out := make([]Import, len(rows))
	for i, r := range rows {
		out[i] = Import{ID: r.ID, Client: r.ClientID, FileName: r.FileName, State: State(r.State), Trouble: r.Trouble, Rows: int(r.Rows), Done: int(r.Done),
			Counts: counts[r.ID], CreatedAt: r.CreatedAt, Person: r.Person}
	}
	return out, nil
}

// Alike lists cells that say the same: those that are left out, and those that were read as something else than
// they say, guesses first.
func (d *Desk) Alike(ctx context.Context, id uuid.UUID) ([]Alike, error) {
	faults, err := d.store.ImportFaults(ctx, db.ImportFaultsParams{ImportID: id, Most: mostAlike})
	if err != nil {
		return nil, err
	}
	readings, err := d.store.ImportReadings(ctx, db.ImportReadingsParams{ImportID: id, Most: mostAlike})
	if err != nil {
		return nil, err
	}
	out := make([]Alike, 0, len(faults)+len(readings))
	for _, f := range faults {
		out = append(out, Alike{Key: f.Key, Column: f.Heading, Says: f.Said, Why: f.Why, Waits: !f.StaysOut, Cells: int(f.Cells), Line: int(f.Line)})
	}
	for _, r := range readings {
		out = append(out, Alike{Key: r.Key, Column: r.Heading, Says: r.Said, Read: r.ReadAs, Sure: r.Sure, Cells: int(r.Cells), Line: int(r.Line)})
	}
	return out, nil
}

// memoryOf is what is remembered of a file; nil where it is too large for that.
func (d *Desk) memoryOf(id uuid.UUID, rows int) *memory {
	if rows > mostRemembered {
		return nil
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	m := d.memories[id]
	if m == nil {
		m = &memory{}
		d.memories[id] = m
	}
	m.used = time.Now()
	for len(d.memories) > mostMemories {
		oldest := id
		for other, o := range d.memories {
			if o.used.Before(d.memories[oldest].used) {
				oldest = other
			}
		}
		delete(d.memories, oldest)
	}
	return m
}

// Columns are what a column can hold.
func Columns() []sheet.Field { return slices.Concat(sheet.Fields, sheet.Parts) }
