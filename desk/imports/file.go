package imports

import (
	"context"
	"errors"
	"time"

	"uvent/bounded"
	"uvent/core/record/sheet"
	"uvent/core/record/table"
)

// file is a file as it came.
type file struct {
	Data []byte
	As   table.Encoding // empty: what is found
}

// tableLimits are what reading a file may take: 50,000 rows of a spreadsheet, and some.
var tableLimits = bounded.Limits{Time: 5 * time.Minute, Memory: 2 << 30}

var tableOf = bounded.Of("read a table", tableLimits, func(f file) (table.Table, error) {
	return table.Read(f.Data, table.Options{Encoding: f.As, Known: sheet.Known})
})

func init() { bounded.Refusals(&table.Error{}) }

// readTable reads a file in a process of its own. The error is a *table.Error where the file cannot be read.
func readTable(ctx context.Context, f file) (table.Table, error) {
	t, err := tableOf(ctx, f)
	if errors.Is(err, bounded.ErrBounds) {
		err = &table.Error{Message: "reading this file takes more memory or time than any such file should; save it anew, or bring it in in parts"}
	}
	return t, err
}
