package store

import (
	"context"

	"github.com/jackc/pgx/v5"
)

// Progress is how far a backup is.
type Progress struct {
	Table  string  // that is being written
	Tables int     // written before it
	Of     int     // tables in all
	Bytes  int64   // written, before they are compressed
	Share  float64 // of all, from 0 to 1, as PostgreSQL knows the sizes of its tables
}

// counting counts what is written of each table. A table’s text is about as long as it is on the disk, and counts as no more.
type counting struct {
	Progress
	sizes        map[string]int64
	before, here int64 // sizes of the tables before, and bytes written of this one
	tell         func(Progress)
}

func (c *counting) begin(table string) {
	if c.Table != "" {
		c.before += c.sizes[c.Table]
		c.Tables++
	}
	c.Table, c.here = table, 0
}

func (c *counting) Write(p []byte) (int, error) {
	c.here += int64(len(p))
	c.Bytes += int64(len(p))
	var all int64
	for _, size := range c.sizes {
		all += size
	}
	c.Share = float64(c.before+min(c.here, c.sizes[c.Table])) / float64(max(1, all))
	c.tell(c.Progress)
	return len(p), nil
}

// sizesOf are the sizes in bytes of the tables that are kept, with what they keep aside.
func sizesOf(ctx context.Context, tx pgx.Tx) (map[string]int64, error) {
	rows, err := tx.Query(
		ctx, "select relname, pg_table_size(oid) from pg_class where relkind = 'r' and relnamespace = $1::regnamespace and not relname = any($2)", schema, passing,
	)
	if err != nil {
		return nil, err
	}
	out := map[string]int64{}
	var name string
	var size int64
	_, err = pgx.ForEachRow(rows, []any{&name, &size}, func() error { out[name] = size; return nil })
	return out, err
}
