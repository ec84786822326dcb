package imports

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"hash/fnv"
	"slices"
	"strings"
	"sync/atomic"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/core/fact/address"
	"uvent/core/record/bring"
	"uvent/core/record/doubles"
	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/core/record/table"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// small is the size of a file, in bytes, that is read while somebody waits.
const small = 256 << 10

// Start keeps a file, and reads it: at once, or when it is large, in the background. A file that is no table is
// refused then.
func (d *Desk) Start(ctx context.Context, person people.Person, client *uuid.UUID, fileName string, data []byte) (Import, error) {
	if len(data) > table.MostBytes {
		return Import{}, unreadable(fmt.Errorf("the file has %d MB; %d MB are read. Split it", len(data)>>20, table.MostBytes>>20))
	}
	if client != nil {
		if _, err := d.ledger.Client(ctx, *client); err != nil {
			return Import{}, err
		}
	}
	id := uuid.New()
	err := d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		add := db.AddImportParams{ID: id, ClientID: client, FileName: fileName, File: data, PersonID: person.ID, CreatedAt: d.clock.Now()}
		if err := q.AddImport(ctx, add); err != nil {
			return err
		}
		if len(data) > small {
			_, err := d.jobs.InsertTx(ctx, tx, ReadJob{ID: id}, nil)
			return err
		}
		row, err := q.LockImport(ctx, id)
		if err != nil {
			return err
		}
		if err := d.readRows(ctx, q, &row, ""); err != nil {
			return err
		}
		if int(row.Rows) > soon {
			_, err := d.jobs.InsertTx(ctx, tx, ReadJob{ID: id}, nil)
			return err
		}
		if err := d.check(ctx, q, row, nil); err != nil {
			return err
		}
		return q.SetImportState(ctx, db.SetImportStateParams{ID: id, State: string(Ready)})
	})
	var no *table.Error
	if errors.As(err, &no) {
		return Import{}, unreadable(no)
	}
	if err != nil {
		return Import{}, err
	}
	return d.Import(ctx, id)
}

// unreadable is the problem of a file that is no table.
func unreadable(err error) error {
	return &problem.Problem{Kind: problem.Invalid, Detail: problem.Sentence(err.Error()), Fields: []record.Problem{{Path: "file", Message: err.Error()}}}
}

// ReadJob reads a large file, or works out anew what it would do.
type ReadJob struct {
	ID uuid.UUID `json:"id"`
}

// Kind names the job.
func (ReadJob) Kind() string { return "read_import" }

type readWorker struct {
	river.WorkerDefaults[ReadJob]
	desk *Desk
}

// Timeout is how long a file may take.
func (*readWorker) Timeout(*river.Job[ReadJob]) time.Duration { return 15 * time.Minute }

// Work reads the file. Killed in between, it begins again.
func (w *readWorker) Work(ctx context.Context, job *river.Job[ReadJob]) error {
	return w.desk.readAll(ctx, job.Args.ID)
}

// readAll reads a file into rows, once, and works out what they come to.
func (d *Desk) readAll(ctx context.Context, id uuid.UUID) error {
	err := d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		row, err := q.LockImport(ctx, id)
		if err != nil || row.State != string(Reading) || row.Rows > 0 {
			return problem.IgnoreNoRows(err)
		}
		return d.readRows(ctx, q, &row, "")
	})
	var no *table.Error
	if errors.As(err, &no) {
		failed := db.SetImportStateParams{ID: id, State: string(Failed), Trouble: problem.Sentence(no.Error())}
		return errors.Join(d.store.SetImportState(ctx, failed), store.Notify(ctx, d.store.Queries, store.Change{}))
	}
	if err != nil {
		return err
	}
	row, err := d.store.ImportByID(ctx, id)
	if err != nil || row.State != string(Reading) {
		return problem.IgnoreNoRows(err)
	}
	// How far it is stands in the row itself, so nothing may hold that meanwhile.
	told, stop := d.progress(ctx, id)
	rows, world, err := d.read(ctx, d.store.Queries, row, told)
	stop()
	if err != nil {
		return err
	}
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if row, err = q.LockImport(ctx, id); err != nil || row.State != string(Reading) {
			return problem.IgnoreNoRows(err)
		}
		if err := d.write(ctx, q, row, rows, world); err != nil {
			return err
		}
		ready := Ready
		if row.AppliedAt != nil {
			ready = In
		}
		if err := q.SetImportState(ctx, db.SetImportStateParams{ID: id, State: string(ready)}); err != nil {
			return err
		}
		return store.Notify(ctx, q, store.Change{})
	})
}

// progress tells now and then how many rows are done, until stop.
func (d *Desk) progress(ctx context.Context, id uuid.UUID) (told func(), stop func()) {
	var done atomic.Int32
	ended, over := make(chan struct{}), make(chan struct{})
	go func() {
		defer close(over)
		every := time.NewTicker(400 * time.Millisecond)
		defer every.Stop()
		for {
			select {
			case <-ended:
				return
			case <-every.C:
				_ = d.store.SetImportDone(ctx, db.SetImportDoneParams{ID: id, Done: done.Load()}) // it is told again
				_ = store.Notify(ctx, d.store.Queries, store.Change{})
			}
		}
	}()
	return func() { done.Add(1) }, func() { close(ended); <-over }
}

// shape tells files apart by the names of their columns.
func shape(header []string) string {
	folded := make([]string, len(header))
	for i, h := range header {
		folded[i] = address.Fold(h)
	}
	return strings.Join(folded, "\x1f")
}

// columnsOf matches the columns of a table as they were matched for the last file of that shape, or else by what they
// say.
func columnsOf(ctx context.Context, q *db.Queries, client *uuid.UUID, t table.Table) ([]string, error) {
	last, err := q.ShapeColumns(ctx, db.ShapeColumnsParams{ClientID: client, Shape: shape(t.Header)})
	if errors.Is(err, pgx.ErrNoRows) {
		return sheet.Match(t), nil
	}
	var was []string
	if err = errors.Join(err, json.Unmarshal(last, &was)); err != nil {
		return nil, err
	}
	if sheet.CheckColumns(t.Header, was) != nil { // which facts there are has changed since
		return sheet.Match(t), nil
	}
	return was, nil
}

// readRows parses a file and copies its rows.
func (d *Desk) readRows(ctx context.Context, q *db.Queries, row *db.Import, as table.Encoding) error {
	t, err := readTable(ctx, file{row.File, as})
	if err != nil {
		return err
	}
	columns, err := columnsOf(ctx, q, row.ClientID, t)
	if err != nil {
		return err
	}
	if row.Columns, err = json.Marshal(columns); err != nil {
		return err
	}
	if row.Skipped, err = json.Marshal(append([]table.Skipped{}, t.Skipped...)); err != nil {
		return err
	}
	row.Header, row.Encoding, row.Delimiter, row.Rows = t.Header, string(t.Encoding), "", int32(len(t.Rows))
	if t.Delimiter != 0 {
		row.Delimiter = string(t.Delimiter)
	}
	row.Encodings = nil
	for _, e := range table.Readable(row.File) {
		row.Encodings = append(row.Encodings, string(e))
	}
	if err := q.DropImportRows(ctx, row.ID); err != nil {
		return err
	}
	if err := q.SetImportRead(ctx, db.SetImportReadParams{ID: row.ID, Encoding: row.Encoding, Encodings: row.Encodings, Delimiter: row.Delimiter,
		Header: row.Header, Skipped: row.Skipped, Columns: row.Columns, Rows: row.Rows}); err != nil {
		return err
	}
	rows := make([]db.CopyImportRowsParams, len(t.Rows))
	for i, r := range t.Rows {
		rows[i] = db.CopyImportRowsParams{ImportID: row.ID, Line: int32(r.Line), Cells: r.Cells}
	}
	_, err = q.CopyImportRows(ctx, rows)
	return err
}

// world is what a file is held against, with the locations behind it.
type world struct {
	bring.World
	locations []ledger.Location
	clients   map[string]ledger.Client // by folded name
	memory    *memory
}

func (d *Desk) worldOf(ctx context.Context, q *db.Queries, row db.Import) (w world, err error) {
	clients, err := store.Each(ledger.ClientOf)(q.Clients(ctx))
	if err != nil {
		return w, err
	}
	if w.locations, err = store.Each(ledger.LocationOf)(q.AllLocations(ctx)); err != nil {
		return w, err
	}
	edits, err := editsOf(row)
	if err != nil {
		return w, err
	}
	w.Edits, w.Choices = said(edits)
	names := map[uuid.UUID]string{}
	w.clients = map[string]ledger.Client{}
	for _, c := range clients {
		names[c.ID], w.clients[strings.ToLower(c.Name)] = c.Name, c
		if row.ClientID != nil && c.ID == *row.ClientID {
			w.Home = c.Name
		}
	}
	for _, l := range w.locations {
		w.Kept = append(w.Kept, bring.Kept{Client: names[l.ClientID], Record: l.Record, Mark: fmt.Sprintf("%s:%d", l.ID, l.Version)})
		if row.ClientID != nil && l.ClientID == *row.ClientID {
			w.Country = l.Record.Address.Country
		}
	}
	w.Shared = func(client string) (record.Record, string) {
		c, there := w.clients[strings.ToLower(client)]
		if !there {
			c.Name = client
		}
		return ledger.Shared(c), fmt.Sprintf("%s:%d", c.ID, c.Version)
	}
	if w.memory = d.memoryOf(row.ID, int(row.Rows)); w.memory != nil {
		w.Memory = &w.memory.rows
	}
	return w, nil
}

// check works out what a file would do, and keeps it.
func (d *Desk) check(ctx context.Context, q *db.Queries, row db.Import, told func()) error {
	rows, w, err := d.read(ctx, q, row, told)
	if err != nil {
		return err
	}
	return d.write(ctx, q, row, rows, w)
}

// read works out what a file would do.
func (d *Desk) read(ctx context.Context, q *db.Queries, row db.Import, told func()) ([]bring.Row, world, error) {
	w, err := d.worldOf(ctx, q, row)
	if err != nil {
		return nil, w, err
	}
	kept, err := q.ImportRows(ctx, row.ID)
	if err != nil {
		return nil, w, err
	}
	t := table.Table{Header: row.Header, Rows: make([]table.Row, len(kept))}
	for i, r := range kept {
		t.Rows[i] = table.Row{Line: int(r.Line), Cells: r.Cells}
	}
	var columns []string
	if err := json.Unmarshal(row.Columns, &columns); err != nil {
		return nil, w, err
	}
	w.Told = told
	return bring.Read(t, columns, w.World), w, nil
}

// checked is what is kept of a row.
type checked struct {
	Client   string          `json:"client"`
	Record   record.Record   `json:"record"`
	Kept     *uuid.UUID      `json:"kept,omitempty"`    // the location that it is about, or may be
	Version  int32           `json:"version,omitempty"` // of that
	Before   *record.Record  `json:"before,omitempty"`
	Of       int             `json:"of,omitempty"` // the line before it that says the same, or may
	Verdict  doubles.Verdict `json:"verdict"`
	Reasons  []string        `json:"reasons"`
	Readings []sheet.Reading `json:"readings"`
	Problems []sheet.Problem `json:"problems"`
}

// places is the order in which rows are shown: what needs somebody first.
var places = []bring.Standing{bring.Decide, bring.Waits, "without", "guessed", bring.New, bring.Changed, bring.Unchanged, bring.Twice, bring.Out}

func placeOf(r bring.Row) int32 {
	standing := r.Standing
	switch {
	case r.Without():
		standing = "without"
	case r.Guess:
		standing = "guessed"
	case standing == bring.Changed:
		standing = bring.New // in the order of the file
	}
	return int32(slices.Index(places, standing))
}

// mostSearched bounds what is searched of a row, in bytes.
const mostSearched = 2000

// write keeps what rows come to: those alone that come to something else than was kept. Rows that are in stay.
func (d *Desk) write(ctx context.Context, q *db.Queries, row db.Import, rows []bring.Row, w world) error {
	in, err := q.ImportLinesIn(ctx, row.ID)
	if err != nil {
		return err
	}
	isIn := make(map[int]bool, len(in))
	for _, line := range in {
		isIn[int(line)] = true
	}
	fresh := w.memory == nil || row.Written == nil || w.memory.at != *row.Written
	written := make(map[int]uint64, len(rows))
	var changed []int32
	var all []db.CopyImportChecksParams
	clients := []string{}
	added := map[string]bool{}
	for _, r := range rows {
		c := checked{Client: r.Client, Record: r.Record, Verdict: r.Verdict, Reasons: append([]string{}, r.Reasons...),
			Readings: append([]sheet.Reading{}, r.Readings...), Problems: append([]sheet.Problem{}, r.Problems...)}
		var location *uuid.UUID
		if r.Finding.Kept >= 0 {
			l := w.locations[r.Finding.Kept]
			location, c.Kept, c.Version, c.Before = &l.ID, &l.ID, l.Version, &l.Record
			if l.PutAwayAt != nil {
				c.Reasons = append(c.Reasons, fmt.Sprintf("%s is put away, and stays so until it is brought back.", l.Label))
			}
		}
		if r.Finding.Row >= 0 {
			c.Of = rows[r.Finding.Row].Line
		}
		if r.Standing == bring.New && !isIn[r.Line] && !added[strings.ToLower(r.Client)] {
			if _, there := w.clients[strings.ToLower(r.Client)]; !there {
				added[strings.ToLower(r.Client)] = true
				clients = append(clients, r.Client)
			}
		}
		if isIn[r.Line] {
			continue
		}
		data, err := json.Marshal(c)
		if err != nil {
			return err
		}
		h := fnv.New64a()
		fmt.Fprint(h, r.Standing, placeOf(r))
		h.Write(data)
		if written[r.Line] = h.Sum64(); !fresh && w.memory.written[r.Line] == written[r.Line] {
			continue
		}
		search := address.Fold(
			strings.Join([]string{r.Client, r.Record.Name, r.Record.Label, r.Record.StoreCode, r.Record.Address.Line(), r.Record.MainPhone(), r.Record.Email}, " "),
		)
		changed = append(changed, int32(r.Line))
		all = append(all, db.CopyImportChecksParams{
			ImportID: row.ID, Line: int32(r.Line), Standing: string(r.Standing), Place: placeOf(r), Without: r.Without(), Guessed: r.Guess,
			Search: strings.ToValidUTF8(search[:min(len(search), mostSearched)], ""), Row: data, LocationID: location,
		})
	}
	if fresh {
		err = q.DropImportChecks(ctx, row.ID)
	} else {
		err = q.DropImportChecksAt(ctx, db.DropImportChecksAtParams{ImportID: row.ID, Lines: changed})
	}
	if err != nil {
		return err
	}
	if _, err := q.CopyImportChecks(ctx, all); err != nil {
		return err
	}
	token := uuid.New()
	if w.memory != nil {
		w.memory.written, w.memory.at = written, token
	}
	return q.SetImportWritten(ctx, db.SetImportWrittenParams{ID: row.ID, NewClients: clients, Written: &token})
}
