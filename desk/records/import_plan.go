package records

import (
	"context"
	"fmt"
	"reflect"
	"runtime"
	"slices"
	"strings"
	"sync"

	"github.com/google/uuid"

	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/desk/ledger"
	"uvent/store"
	"uvent/store/db"
)

// planned is a row that would change something.
type planned struct {
	client string // its name
	old    *ledger.Location
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
	w := work{clients: map[string]uuid.UUID{}, plan: Plan{Clients: []string{}, Problems: []sheet.Problem{}, Skipped: append([]sheet.Skipped{}, s.Skipped...)}}
	clients, err := store.Each(ledger.ClientOf)(q.Clients(ctx))
	if err != nil {
		return w, err
	}
	home := ""
	shared := map[string]ledger.Client{}
	for _, c := range clients {
		w.clients[strings.ToLower(c.Name)] = c.ID
		shared[strings.ToLower(c.Name)] = c
		if row.ClientID != nil && c.ID == *row.ClientID {
			home = c.Name
		}
	}
	locations, err := store.Each(ledger.LocationOf)(q.Locations(ctx, db.LocationsParams{}))
	if err != nil {
		return w, err
	}
	known := newKnown(locations)
	reads := d.readRows(row, s, columns, shared, func(r sheet.Reader, line sheet.Row) (string, *ledger.Location) {
		client := r.Cell(line, sheet.ClientField)
		if client == "" {
			client = home
		}
		return client, known.find(w.clients[strings.ToLower(client)], r, line)
	})
	roster, told, reader := newRoster(known), readAs{}, sheet.NewReader(s.Header, columns)
	for i, r := range reads {
		client := strings.ToLower(r.client)
		if !r.Waits() {
			for _, p := range roster.clash(s.Rows[i].Line, w.clients[client], r) {
				p.Of = reader.Of(s.Rows[i])
				r.Problems = append(r.Problems, p)
			}
		}
		w.plan.Problems = append(w.plan.Problems, r.Problems...)
		if r.Waits() {
			w.plan.Bad++
			continue
		}
		if len(r.Problems) > 0 {
			w.plan.Partly++
		}
		for _, read := range r.Readings {
			told.add(read)
		}
		if _, ok := w.clients[client]; !ok {
			w.clients[client] = uuid.Nil
			w.plan.Clients = append(w.plan.Clients, r.client)
		}
		switch {
		case r.old == nil:
			w.plan.New++
		case reflect.DeepEqual(r.old.Record, r.Record):
			w.plan.Unchanged++
			continue
		default:
			w.plan.Changed++
		}
		w.rows = append(w.rows, planned{r.client, r.old, r.Record})
	}
	w.plan.Readings = told.list()
	return w, nil
}

// reading is a row as it was read and checked, over the location that it is about.
type reading struct {
	sheet.Applied
	client  string
	version int32 // of the client; 0 for one that would be added
	old     *ledger.Location
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
func (d *Desk) readRows(
	file db.Import,
	s sheet.Sheet,
	columns []string,
	clients map[string]ledger.Client,
	about func(sheet.Reader, sheet.Row) (string, *ledger.Location),
) []reading {
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
				c, there := clients[strings.ToLower(client)]
				if !there {
					c.Name = client
				}
				shared := ledger.Shared(c)
				if last != nil && last.rows[i].client == client && last.rows[i].version == c.Version && sameVersion(last.rows[i].old, old) {
					out[i] = last.rows[i]
					continue
				}
				r := reading{client: client, version: c.Version, old: old}
				base := record.Settle(record.Record{}, shared)
				if old != nil {
					base = old.Record
				}
				r.Applied = reader.Apply(s.Rows[i], base)
				r.Record = record.Settle(r.Record, shared)
				out[i] = r
			}
		})
	}
	wg.Wait()
	d.lastRead.Store(&readings{file.ID, columns, slices.Clone(out)})
	return out
}

func sameVersion(a, b *ledger.Location) bool {
	if a == nil || b == nil {
		return a == b
	}
	return a.ID == b.ID && a.Version == b.Version
}

// known finds the location that a row is about: by its store code, or else by
// its label, or else by its town where that is the label.
type known struct {
	byCode, byLabel map[string]*ledger.Location
}

func newKnown(locations []ledger.Location) known {
	k := known{map[string]*ledger.Location{}, map[string]*ledger.Location{}}
	for i := range locations {
		l := &locations[i]
		if l.StoreCode != "" {
			k.byCode[l.ClientID.String()+"\x00"+strings.ToLower(l.StoreCode)] = l
		}
		k.byLabel[l.ClientID.String()+"\x00"+strings.ToLower(l.Label)] = l
	}
	return k
}

func (k known) find(client uuid.UUID, r sheet.Reader, row sheet.Row) *ledger.Location {
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

// roster is what labels and store codes stand for, in the database and in the
// rows so far.
type roster struct {
	labels, codes map[string]uuid.UUID // uuid.Nil for a row that adds a location
	seen          map[uuid.UUID]bool   // locations that a row was about
}

func newRoster(k known) roster {
	r := roster{map[string]uuid.UUID{}, map[string]uuid.UUID{}, map[uuid.UUID]bool{}}
	for key, l := range k.byLabel {
		r.labels[key] = l.ID
	}
	for key, l := range k.byCode {
		r.codes[key] = l.ID
	}
	return r
}

// clash says why a row cannot stand beside the others; when it can, it is on
// the roster from then on. client is uuid.Nil for one that would be added.
func (t roster) clash(line int, client uuid.UUID, r reading) []sheet.Problem {
	no := func(column, format string, a ...any) []sheet.Problem {
		return []sheet.Problem{{Line: line, Column: column, Reason: fmt.Sprintf(format, a...)}}
	}
	if r.client == "" {
		return no("client", "the row names no client; add the column, or import from a client’s own view")
	}
	owner := client.String()
	if client == uuid.Nil {
		owner = strings.ToLower(r.client)
	}
	label, code := owner+"\x00"+strings.ToLower(r.Record.Label), owner+"\x00"+strings.ToLower(r.Record.StoreCode)
	var self uuid.UUID
	if r.old != nil {
		self = r.old.ID
		if t.seen[self] {
			return no("label", "%s stands in this file twice; leave one row out", r.old.Label)
		}
		t.seen[self] = true
	}
	if holder, ok := t.labels[label]; ok && (holder == uuid.Nil || holder != self) {
		return no("label", "%q is another location of this client already; give this one its own label", r.Record.Label)
	}
	if holder, ok := t.codes[code]; ok && r.Record.StoreCode != "" && (holder == uuid.Nil || holder != self) {
		return no("store code", "%q is another location’s store code already", r.Record.StoreCode)
	}
	t.labels[label], t.codes[code] = self, self
	return nil
}
