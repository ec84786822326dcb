// Package bring works out what a file of locations would do: which rows are new, which are about a location
// that is kept, what has to be decided, and what cannot come in.
package bring

import (
	"cmp"
	"reflect"
	"runtime"
	"slices"
	"strings"
	"sync"

	"uvent/core/record/doubles"
	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/core/record/table"
)

// Standing is what happens to a row.
type Standing string

const (
	Decide    Standing = "decide"    // it may be about a location that is kept, or a row before it
	Waits     Standing = "waits"     // it cannot come in as it is
	New       Standing = "new"       // it adds a location
	Changed   Standing = "changed"   // it changes one
	Unchanged Standing = "unchanged" // it says what is kept
	Twice     Standing = "twice"     // it says what a row before it says
	Out       Standing = "out"       // somebody left it out
)

// ComesIn reports whether a row adds or changes something.
func (s Standing) ComesIn() bool { return s == New || s == Changed }

// NeedsNothing reports whether nobody has to look at a row that stands so, but for a cell.
func (s Standing) NeedsNothing() bool {
	return s.ComesIn() || s == Unchanged || s == Twice
}

// Choice is what somebody said of a row.
type Choice string

const (
	AsSame  Choice = "same"
	AsNew   Choice = "new"
	LeftOut Choice = "out"
)

// Kept is a location that is there already.
type Kept struct {
	Client string // by name
	Record record.Record
	Mark   string // another for every state of it; needed where there is a Memory
}

// World is what a file is held against.
type World struct {
	Home    string // the client of rows that name none; empty: each is its own name's
	Kept    []Kept
	Shared  func(client string) (says record.Record, mark string) // what a client says for its locations; nil: its name
	Country string                                                // of rows that do not tell theirs, where the others are not all in one
	Edits   sheet.Edits
	Choices map[int]Choice // by line
	Memory  *Memory        // of rows that were read before; nil: none is kept
	Told    func()         // is told of each row as it is read, from any goroutine; nil: nobody is
}

// Row is what a row comes to.
type Row struct {
	Line int
	sheet.Applied
	Standing
	doubles.Finding
	Guess bool // a cell of it was read as one of several things that it could mean
}

// Without reports whether the row comes in without a cell.
func (r Row) Without() bool { return r.Standing.ComesIn() && len(r.Problems) > 0 }

// Read reads and weighs the rows of a table by the keys of its columns, which have passed
// sheet.CheckColumns.
func Read(t table.Table, columns []string, w World) []Row {
	if w.Shared == nil {
		w.Shared = func(client string) (record.Record, string) { return record.Record{Name: client}, "" }
	}
	reader := sheet.NewReader(t.Header, columns).With(w.Edits)
	reader = reader.In(cmp.Or(reader.CommonCountry(t.Rows), w.Country))
	names := slices.Contains(columns, "name")
	out := make([]Row, len(t.Rows))
	entries := make([]doubles.Entry, len(t.Rows))
	each(len(t.Rows), func(i int) {
		if w.Told != nil {
			w.Told()
		}
		row := t.Rows[i]
		out[i] = Row{Line: row.Line}
		client := cmp.Or(reader.Cell(row, sheet.ClientField), w.Home, reader.Cell(row, "name"))
		shared, mark := w.Shared(client)
		base := record.Settle(record.Record{}, shared)
		if names { // a file that names its businesses has left one out
			base.Name = ""
		}
		out[i].Applied = w.Memory.apply(reader, row, client+"\x00"+mark, base, shared)
		out[i].Client = client
		entries[i] = doubles.Entry{Client: client, Record: out[i].Record, Named: reader.Cell(row, "label") != "", Out: w.Choices[row.Line] == LeftOut}
		if out[i].Waits() { // what it says may be enough for a location that is kept
			entries[i].Record.StoreCode, entries[i].Record.Label = reader.Cell(row, "store_code"), reader.Cell(row, "label")
		}
	})
	kept := make([]doubles.Entry, len(w.Kept))
	for i, k := range w.Kept {
		kept[i] = doubles.Entry{Client: k.Client, Record: k.Record, Named: true}
	}
	found := doubles.Find(kept, entries)
	each(len(out), func(i int) {
		out[i].Finding = found[i]
		out[i].stand(w, t.Rows[i], reader)
	})
	settle(out, w, entries)
	return out
}

// each does something for every index, on all cores.
func each(n int, do func(i int)) {
	parts := runtime.GOMAXPROCS(0)
	var all sync.WaitGroup
	for part := range parts {
		all.Go(func() {
			for i := part; i < n; i += parts {
				do(i)
			}
		})
	}
	all.Wait()
}

// stand works out what happens to a row by itself.
func (r *Row) stand(w World, row table.Row, reader sheet.Reader) {
	choice := w.Choices[r.Line]
	switch {
	case choice == LeftOut:
		r.Standing = Out
		return
	case choice == AsNew:
		r.Finding = doubles.Finding{Verdict: doubles.New, Kept: -1, Row: -1}
	case choice == AsSame && r.Verdict == doubles.Probably:
		r.Verdict = doubles.Same
	}
	switch {
	case r.Verdict == doubles.Same && r.Row >= 0:
		r.Standing = Twice
		return
	case r.Verdict == doubles.Probably && !r.Waits():
		r.Standing = Decide
	case r.Verdict == doubles.Same:
		old := w.Kept[r.Kept]
		shared, mark := w.Shared(old.Client)
		r.Applied = w.Memory.apply(reader, row, old.Client+"\x00"+mark+"\x00"+old.Mark, old.Record, shared)
		r.Client = old.Client
		r.Record = sheet.KeepSpelling(r.Record, old.Record)
		if r.Standing = Changed; reflect.DeepEqual(r.Record, old.Record) {
			r.Standing = Unchanged
		}
	default:
		r.Standing = New
	}
	if r.Waits() {
		r.Standing = Waits
	}
	r.Guess = r.Standing.ComesIn() && slices.ContainsFunc(r.Readings, func(g sheet.Reading) bool { return !g.Sure })
}

// roster is what labels and store codes stand for, by client: the index of the kept location, or -1 for one
// that a row adds.
type roster struct{ labels, codes map[string]int }

func key(client, text string) string { return strings.ToLower(client + "\x00" + text) }

// settle gives each new location a label of its own, in the order of the file, and takes off what is another's.
func settle(rows []Row, w World, entries []doubles.Entry) {
	all := roster{map[string]int{}, map[string]int{}}
	for i, k := range w.Kept {
		all.labels[key(k.Client, k.Record.Label)] = i
		if k.Record.StoreCode != "" {
			all.codes[key(k.Client, k.Record.StoreCode)] = i
		}
	}
	for i := range rows {
		r := &rows[i]
		if !r.Standing.ComesIn() && r.Standing != Decide {
			continue
		}
		self := -1
		var before record.Record
		if r.Verdict == doubles.Same {
			self, before = r.Kept, w.Kept[r.Kept].Record
		}
		taken := func(of map[string]int, text string) bool {
			holder, ok := of[key(r.Client, text)]
			return ok && (holder < 0 || holder != self)
		}
		if code := r.Record.StoreCode; code != "" && taken(all.codes, code) {
			r.Record.StoreCode = before.StoreCode
			r.Problems = append(r.Problems, sheet.Problem{Line: r.Line, Column: "store code", Key: "store_code", Value: code, Left: true,
				Reason: "it is another location’s store code already", Of: r.name()})
		}
		if taken(all.labels, r.Record.Label) {
			asked := r.Record
			if !entries[i].Named {
				asked.Label = ""
			}
			label := doubles.Label(asked, func(l string) bool { return taken(all.labels, l) })
			r.Readings = append(r.Readings, sheet.Reading{Line: r.Line, Column: "Label", Key: "label", From: r.Record.Label, To: label, Sure: true})
			r.Record.Label = label
		}
		all.labels[key(r.Client, r.Record.Label)] = self
		if r.Record.StoreCode != "" {
			all.codes[key(r.Client, r.Record.StoreCode)] = self
		}
	}
}

// name is how people call what the row is about.
func (r Row) name() string {
	return strings.Trim(r.Record.Name+", "+r.Record.Address.Locality, ", ")
}
