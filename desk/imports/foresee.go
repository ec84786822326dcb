package imports

import (
	"context"
	"strings"

	"github.com/google/uuid"

	"uvent/core/record/bring"
	"uvent/core/record/table"
	"uvent/desk/people"
	"uvent/store/db"
)

// Foreseen is what a file would do, without it being kept.
type Foreseen struct {
	Table   table.Table
	Columns []string // the key of each; empty where it is left out
	Rows    []bring.Row
	Client  bool // the client of rows that name none is there
}

// Foresee tells what a file would do. client is the name of the client of rows that name none; it may be empty, or one
// that would be added.
func (d *Desk) Foresee(ctx context.Context, client string, data []byte) (f Foreseen, err error) {
	if f.Table, err = readTable(ctx, file{Data: data}); err != nil {
		return f, err
	}
	row := db.Import{ID: uuid.New(), Rows: int32(len(f.Table.Rows)), Edits: []byte("[]")}
	w, err := d.worldOf(ctx, d.store.Queries, row)
	if err != nil {
		return f, err
	}
	if c, there := w.clients[strings.ToLower(client)]; there {
		f.Client, row.ClientID, client = true, &c.ID, c.Name
	}
	w.Home, w.Memory = client, nil
	if f.Columns, err = columnsOf(ctx, d.store.Queries, row.ClientID, f.Table); err != nil {
		return f, err
	}
	f.Rows = bring.Read(f.Table, f.Columns, w.World)
	return f, nil
}

// Finish does what is under way with a file, which workers do otherwise.
func (d *Desk) Finish(ctx context.Context, actor people.Actor, id uuid.UUID) (Import, error) {
	in, err := d.Import(ctx, id)
	if err != nil {
		return in, err
	}
	switch in.State {
	case Reading:
		err = d.readAll(ctx, id)
	case Bringing:
		err = d.bringAll(ctx, actor, id)
	}
	if err != nil {
		return in, err
	}
	return d.Import(ctx, id)
}
