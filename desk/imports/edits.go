package imports

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record/bring"
	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/core/record/table"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store/db"
)

// EditKind is what somebody says of a file.
type EditKind string

const (
	EditCell     EditKind = "cell"     // of a fact of one row
	EditMend     EditKind = "mend"     // of all cells of a fact that say the same
	EditChoice   EditKind = "choice"   // of what a row is about
	EditColumns  EditKind = "columns"  // of what the columns hold
	EditEncoding EditKind = "encoding" // of how the file is written
)

// Edit is what somebody says of a file, that can be undone.
type Edit struct {
	Kind    EditKind     `json:"kind"`
	Lines   []int        `json:"lines,omitempty"` // of a cell: one; of a choice: those that it is of
	Key     string       `json:"key,omitempty"`   // of the fact
	From    string       `json:"from,omitempty"`  // what cells say that are mended together
	To      string       `json:"to,omitempty"`    // what stands for it; empty: the cell is left out
	Choice  bring.Choice `json:"choice,omitempty"`
	Columns []string     `json:"columns,omitempty"`
	Before  []string     `json:"before,omitempty"` // the columns, or the encoding, that it replaces
	By      string       `json:"by,omitempty"`
	At      time.Time    `json:"at"`
}

// mostText bounds what is typed into a cell, and mostEdits how often a file is edited.
const (
	mostText  = 10_000
	mostEdits = 5_000
)

func editsOf(row db.Import) (edits []Edit, err error) {
	err = json.Unmarshal(row.Edits, &edits)
	return edits, err
}

// said is what all edits come to.
func said(edits []Edit) (e sheet.Edits, choices map[int]bring.Choice) {
	e = sheet.Edits{Cells: map[int]map[string]string{}, Mends: map[string]map[string]string{}}
	choices = map[int]bring.Choice{}
	for _, one := range edits {
		switch one.Kind {
		case EditCell:
			for _, line := range one.Lines {
				if e.Cells[line] == nil {
					e.Cells[line] = map[string]string{}
				}
				e.Cells[line][one.Key] = one.To
			}
		case EditMend:
			if e.Mends[one.Key] == nil {
				e.Mends[one.Key] = map[string]string{}
			}
			e.Mends[one.Key][one.From] = one.To
		case EditChoice:
			for _, line := range one.Lines {
				choices[line] = one.Choice
			}
		}
	}
	return e, choices
}

// check says what is wrong with an edit.
func (e Edit) check(row db.Import) error {
	wrong := func(path, format string, a ...any) error {
		says := fmt.Sprintf(format, a...)
		return &problem.Problem{Kind: problem.Invalid, Detail: problem.Sentence(says), Fields: []record.Problem{{Path: path, Message: says}}}
	}
	known := func(f sheet.Field) bool { return f.Key == e.Key }
	switch e.Kind {
	case EditCell, EditMend:
		switch {
		case !slices.ContainsFunc(sheet.Fields, known):
			return wrong("key", "%q is no fact that a column can hold", e.Key)
		case e.Kind == EditCell && len(e.Lines) != 1:
			return wrong("lines", "a cell is in one line")
		case utf8.RuneCountInString(e.To) > mostText || utf8.RuneCountInString(e.From) > mostText:
			return wrong("to", "a cell holds %d characters at most", mostText)
		case strings.ContainsRune(e.To, 0) || !utf8.ValidString(e.To):
			return wrong("to", "it holds bytes that are no text")
		}
	case EditChoice:
		if e.Choice != bring.AsSame && e.Choice != bring.AsNew && e.Choice != bring.LeftOut && e.Choice != "" {
			return wrong("choice", "choose same, new or out")
		}
		if len(e.Lines) == 0 {
			return wrong("lines", "say which rows")
		}
	case EditColumns:
		if err := sheet.CheckColumns(row.Header, e.Columns); err != nil {
			return wrong("columns", "%s", err)
		}
	case EditEncoding:
		if !slices.Contains(row.Encodings, e.To) {
			return wrong("to", "the file cannot be read as %q", e.To)
		}
	default:
		return wrong("kind", "%q is nothing that can be said of a file", e.Kind)
	}
	return nil
}

// Edit says something of a file, and works out what it would do then.
func (d *Desk) Edit(ctx context.Context, actor people.Actor, id uuid.UUID, e Edit) (Import, error) {
	e.By, e.At = actor.Name, d.clock.Now()
	return d.edit(ctx, id, func(q *db.Queries, row *db.Import, edits []Edit) ([]Edit, error) {
		if err := e.check(*row); err != nil {
			return nil, err
		}
		if row.State == string(In) && (e.Kind == EditColumns || e.Kind == EditEncoding) {
			return nil, problem.Conflictf("Rows of this file are in already, as it was read. Take them back first.")
		}
		if len(edits) >= mostEdits {
			return nil, problem.Conflictf("This file has been edited %d times; bring in what is good, and the rest as a file.", mostEdits)
		}
		err := d.replace(ctx, q, row, &e)
		return append(edits, e), err
	})
}

// Undo takes the last edit back.
func (d *Desk) Undo(ctx context.Context, id uuid.UUID) (Import, error) {
	return d.edit(ctx, id, func(q *db.Queries, row *db.Import, edits []Edit) ([]Edit, error) {
		if len(edits) == 0 {
			return nil, problem.Conflictf("There is nothing to undo.")
		}
		last := edits[len(edits)-1]
		if row.AppliedAt != nil && !last.At.After(*row.AppliedAt) {
			return nil, problem.Conflictf("What was said last is in already. Take the file back first.")
		}
		back := Edit{Kind: last.Kind, Columns: last.Before}
		if last.Kind == EditEncoding {
			back.To = last.Before[0]
		}
		return edits[:len(edits)-1], d.replace(ctx, q, row, &back)
	})
}

// replace puts what an edit says of the whole file in place of what was, and notes that.
func (d *Desk) replace(ctx context.Context, q *db.Queries, row *db.Import, e *Edit) (err error) {
	switch e.Kind {
	case EditColumns:
		if err := json.Unmarshal(row.Columns, &e.Before); err != nil {
			return err
		}
		if row.Columns, err = json.Marshal(e.Columns); err != nil {
			return err
		}
		if err := q.SetImportColumns(ctx, db.SetImportColumnsParams{ID: row.ID, Columns: row.Columns}); err != nil {
			return err
		}
		return q.SaveShapeColumns(ctx, db.SaveShapeColumnsParams{ClientID: row.ClientID, Shape: shape(row.Header), Columns: row.Columns})
	case EditEncoding:
		e.Before = []string{row.Encoding}
		return d.readRows(ctx, q, row, table.Encoding(e.To))
	}
	return nil
}

// edit changes what is said of a file that is ready. Whoever else edits it waits.
func (d *Desk) edit(ctx context.Context, id uuid.UUID, change func(*db.Queries, *db.Import, []Edit) ([]Edit, error)) (in Import, err error) {
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		row, err := q.LockImport(ctx, id)
		if err != nil {
			return problem.OrNotFound(err, "There is no such import.")
		}
		switch State(row.State) {
		case Ready, In:
		default:
			return problem.Conflictf("This file is being worked on; wait until that is done.")
		}
		edits, err := editsOf(row)
		if err != nil {
			return err
		}
		edits, err = change(q, &row, edits)
		if err != nil {
			return err
		}
		if row.Edits, err = json.Marshal(edits); err != nil {
			return err
		}
		if err := q.SetImportEdits(ctx, db.SetImportEditsParams{ID: id, Edits: row.Edits}); err != nil {
			return err
		}
		if d.takesLong(row) {
			if err := q.SetImportState(ctx, db.SetImportStateParams{ID: id, State: string(Reading)}); err != nil {
				return err
			}
			_, err = d.jobs.InsertTx(ctx, tx, ReadJob{ID: id}, nil)
			return err
		}
		return d.check(ctx, q, row, nil)
	})
	if err != nil {
		return in, err
	}
	return d.Import(ctx, id)
}

// takesLong reports whether rows are worked out in the background: they are many, and none is remembered.
func (d *Desk) takesLong(row db.Import) bool {
	if int(row.Rows) <= soon {
		return false
	}
	m := d.memoryOf(row.ID, int(row.Rows))
	return m == nil || !m.rows.Warm()
}

// soon is how many rows are worked out while somebody waits.
const soon = 1500
