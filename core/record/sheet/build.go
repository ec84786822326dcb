package sheet

import (
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
			return unguard(strings.TrimSpace(row.Cells[i]))
		}
	}
	return ""
}

// Apply lays a row's cells over a record: the location's present one, or an
// empty one for a new location. An empty cell leaves the fact as it is. The
// record is tidied and checked.
func (r Reader) Apply(row Row, base record.Record) (record.Record, []Problem) {
	if len(row.Cells) != len(r.header) && strings.TrimSpace(strings.Join(row.Cells[min(len(row.Cells), len(r.header)):], "")) != "" {
		return base, []Problem{
			{row.Line, "", fmt.Sprintf("the row has %d cells, the header %d; a cell that holds the delimiter must be in quotes", len(row.Cells), len(r.header))},
		}
	}
	var problems []Problem
	for i, f := range r.fields {
		if f == nil || f.set == nil || i >= len(row.Cells) {
			continue
		}
		if cell := unguard(strings.TrimSpace(row.Cells[i])); cell != "" {
			if reason := f.set(&base, cell); reason != "" {
				problems = append(problems, Problem{row.Line, r.header[i], reason})
			}
		}
	}
	if problems != nil {
		return base, problems
	}
	if base.Kind == "" {
		base.Kind = record.Premises
	}
	out, wrong := record.Normal(base)
	for _, p := range wrong {
		problems = append(problems, Problem{row.Line, r.columnOf(p.Path), p.Message})
	}
	return out, problems
}

// columnOf names the column a fact came from.
func (r Reader) columnOf(path string) string {
	for i, f := range r.fields {
		if f != nil && f.path == path {
			return r.header[i]
		}
	}
	for _, f := range Fields {
		if f.path == path {
			return f.Title
		}
	}
	return path
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
	if rest == "" || !strings.ContainsRune("=+-@", rune(rest[0])) || s == rest && strings.Trim(rest[1:], "0123456789.") == "" && rest[0] != '=' && rest[0] != '@' {
		return s
	}
	return "'" + s
}

func unguard(s string) string {
	if rest := strings.TrimLeft(s, "'"); rest != s && rest != "" && strings.ContainsRune("=+-@", rune(rest[0])) {
		return s[1:]
	}
	return s
}
