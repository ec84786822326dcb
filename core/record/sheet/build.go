package sheet

import (
	"cmp"
	"encoding/csv"
	"fmt"
	"io"
	"slices"
	"strings"

	"uvent/core/record/record"
)

// Problem is a cell that cannot be taken.
type Problem struct {
	Line   int    `json:"line"`
	Column string `json:"column"` // its name in the file; the field's title where the file has no such column
	Reason string `json:"reason"`
	Left   bool   `json:"left"` // the row comes in without this cell; false: the row waits
	Of     string `json:"of"`   // the business and its town, as far as the row says
}

// Reader turns rows into records by the fields chosen for the columns.
type Reader struct {
	header []string
	fields []*Field // nil where the column is left out
}

// NewReader prepares for a header and the field key of each of its columns,
// which have passed CheckColumns.
func NewReader(header, columns []string) Reader {
	r := Reader{header: header, fields: make([]*Field, len(columns))}
	for i, key := range columns {
		if f, ok := field(key); ok {
			r.fields[i] = &f
		}
	}
	return r
}

// Cell is a row's cell under a field, trimmed and unguarded; empty when there is none.
func (r Reader) Cell(row Row, key string) string {
	for i, f := range r.fields {
		if f != nil && f.Key == key && i < len(row.Cells) {
			return clean(row.Cells[i])
		}
	}
	return ""
}

// Applied is what a row comes to.
type Applied struct {
	Record   record.Record
	Readings []Reading
	Problems []Problem // in the order of the columns
}

// Waits reports whether the row cannot come in as it is.
func (a Applied) Waits() bool {
	return slices.ContainsFunc(a.Problems, func(p Problem) bool { return !p.Left })
}

// needed are the facts without which a row waits.
var needed = []string{ClientField, "store_code", "label", "name", "street", "locality", "country"}

// Of names a row by its business and its town.
func (r Reader) Of(row Row) string {
	name, town := r.Cell(row, "name"), r.Cell(row, "locality")
	if name == "" || town == "" {
		return name + town
	}
	return name + ", " + town
}

// Apply lays a row's cells over a record: the location's present one, or an empty one for a new
// location. Each is read as people write it. An empty cell leaves the fact as it is, and so does one
// that cannot be read, where the row can do without it. The record is tidied and checked.
func (r Reader) Apply(row Row, base record.Record) Applied {
	if len(row.Cells) != len(r.header) && strings.TrimSpace(strings.Join(row.Cells[min(len(row.Cells), len(r.header)):], "")) != "" {
		says := fmt.Sprintf("the row has %d cells, the header %d; a cell that holds the delimiter must be in quotes", len(row.Cells), len(r.header))
		return Applied{Record: base, Problems: []Problem{{Line: row.Line, Reason: says, Of: r.Of(row)}}}
	}
	without := map[int]string{} // columns that are left out, and why
	for {
		a, wrong := r.lay(row, base, without)
		before := len(without)
		for _, w := range wrong {
			if w.column >= 0 && !slices.Contains(needed, r.fields[w.column].Key) && without[w.column] == "" {
				without[w.column] = w.says
			}
		}
		if len(without) > before {
			continue
		}
		for i, says := range without {
			wrong = append(wrong, fault{i, r.header[i], says})
		}
		slices.SortStableFunc(wrong, func(a, b fault) int { return a.column - b.column })
		for _, w := range wrong {
			a.Problems = append(a.Problems, Problem{row.Line, w.named, w.says, without[w.column] != "", r.Of(row)})
		}
		return a
	}
}

// fault is what is wrong with a row: with a column, by its index, or with a fact that none holds.
type fault struct {
	column int // -1: no column holds it
	named  string
	says   string
}

// lay lays the cells over a record, but for some columns.
func (r Reader) lay(row Row, base record.Record, without map[int]string) (a Applied, wrong []fault) {
	a.Record = base
	country := r.countryOf(row, base)
	for i, f := range r.fields {
		if f == nil || f.set == nil || i >= len(row.Cells) || without[i] != "" {
			continue
		}
		cell := clean(row.Cells[i])
		if cell == "" {
			continue
		}
		u := understand(f.Key, cell, country)
		if u.says == "" {
			u.says = f.set(&a.Record, u.text)
		}
		switch {
		case u.says != "":
			wrong = append(wrong, fault{i, r.header[i], u.says})
		case u.text != cell:
			a.Readings = append(a.Readings, Reading{row.Line, r.header[i], cell, cmp.Or(u.told, u.text), u.sure})
		}
	}
	if wrong != nil {
		return a, wrong
	}
	if a.Record.Kind == "" {
		a.Record.Kind = record.Premises
	}
	out, problems := record.Normal(a.Record)
	a.Record = out
	for _, p := range problems {
		column, named := r.columnOf(p.Path)
		wrong = append(wrong, fault{column, named, p.Message})
	}
	return a, wrong
}

// columnOf finds the column that a fact came from, by its index and its name; -1 where there is none.
func (r Reader) columnOf(path string) (column int, named string) {
	for i, f := range r.fields {
		if f != nil && same(f.path, path) {
			return i, r.header[i]
		}
	}
	for _, f := range Fields {
		if same(f.path, path) {
			return -1, f.Title
		}
	}
	return -1, path
}

// same reports whether two paths are of one fact, whichever of a list's entries they name. Each
// phone has a column of its own.
func same(a, b string) bool {
	list := func(path string) string { return strings.TrimRight(path, ".0123456789") }
	return a == b || list(a) == list(b) && !strings.HasPrefix(a, "phones.")
}

// Line is a location to write.
type Line struct {
	Client string
	Record record.Record
}

// Write writes locations as CSV in UTF-8 with commas (RFC 4180). Reading it
// gives the same records.
func Write(w io.Writer, lines []Line) error {
	out := csv.NewWriter(w)
	out.UseCRLF = true
	cells := make([]string, len(Fields))
	for i, f := range Fields {
		cells[i] = f.Key
	}
	if err := out.Write(cells); err != nil {
		return err
	}
	for _, l := range lines {
		for i, f := range Fields {
			if f.get == nil {
				cells[i] = Guard(l.Client)
			} else {
				cells[i] = Guard(f.get(l.Record))
			}
		}
		if err := out.Write(cells); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

// problemColumn heads the column that WriteBad adds.
const problemColumn = "what to mend"

// WriteBad writes the rows that were not taken, as they were, with what to mend
// in a last column. Mended and read again, that column is left out.
func WriteBad(w io.Writer, s Sheet, problems []Problem) error {
	reasons := map[int][]string{}
	for _, p := range problems {
		reason := p.Reason
		if p.Column != "" {
			reason = p.Column + ": " + reason
		}
		reasons[p.Line] = append(reasons[p.Line], reason)
	}
	out := csv.NewWriter(w)
	out.Comma, out.UseCRLF = s.Delimiter, true
	header := slices.DeleteFunc(slices.Clone(s.Header), func(h string) bool { return h == problemColumn })
	if err := out.Write(append(header, problemColumn)); err != nil {
		return err
	}
	old := slices.Index(s.Header, problemColumn)
	for _, row := range s.Rows {
		why, bad := reasons[row.Line]
		if !bad {
			continue
		}
		cells := slices.Clone(row.Cells)
		if old >= 0 && old < len(cells) {
			cells = slices.Delete(cells, old, old+1)
		}
		for len(cells) < len(header) {
			cells = append(cells, "")
		}
		if err := out.Write(append(cells, strings.Join(why, "; "))); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

// Guard keeps a spreadsheet from taking a text for a formula, by an apostrophe
// before it. Numbers, and phones with their plus, are left alone.
func Guard(s string) string {
	rest := strings.TrimLeft(s, "'")
	if rest != "" && rest != s && rest[0] >= '0' && rest[0] <= '9' {
		return "'" + s // a spreadsheet's mark of a text, which it is not
	}
	if rest == "" || !strings.ContainsRune("=+-@", rune(rest[0])) || s == rest && strings.Trim(rest[1:], "0123456789.") == "" && rest[0] != '=' && rest[0] != '@' {
		return s
	}
	return "'" + s
}

func unguard(s string) string {
	if rest := strings.TrimLeft(s, "'"); rest != s && rest != "" && strings.ContainsRune("=+-@0123456789", rune(rest[0])) {
		return s[1:]
	}
	return s
}
