package sheet

import (
	"encoding/csv"
	"io"
	"iter"
	"slices"

	"uvent/core/fact/address"
	"uvent/core/fact/contact"
	"uvent/core/fact/hours"
	"uvent/core/record/record"
	"uvent/core/record/table"
)

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
	for cells := range cellsOf(lines, table.Guard) {
		if err := out.Write(cells); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

// WriteXLSX writes locations as a spreadsheet. Reading it gives the same records.
func WriteXLSX(w io.Writer, lines []Line) error {
	return table.WriteXLSX(w, "Locations", cellsOf(lines, func(s string) string {
		if table.Unguard(s) != s {
			return table.Guard(s) // it would be taken for one that is guarded
		}
		return s
	}))
}

// cellsOf are the names of our columns, and then what each location says in them, guarded.
func cellsOf(lines []Line, guard func(string) string) iter.Seq[[]string] {
	return func(yield func([]string) bool) {
		cells := make([]string, len(Fields))
		for i, f := range Fields {
			cells[i] = f.Key
		}
		if !yield(cells) {
			return
		}
		for _, l := range lines {
			for i, f := range Fields {
				if f.get == nil {
					cells[i] = guard(l.Client)
				} else {
					cells[i] = guard(f.get(l.Record))
				}
			}
			if !yield(cells) {
				return
			}
		}
	}
}

// mendColumn heads the column that Rest adds; Match leaves it out.
const mendColumn = "what to mend"

// Rest are the lines of a file with the rows of another, each with what to mend in a last column. Mended and read
// again, that column is left out.
func Rest(header []string, rows iter.Seq2[[]string, string]) iter.Seq[[]string] {
	old := slices.Index(header, mendColumn)
	without := func(cells []string) []string {
		cells = slices.Clone(cells)
		if old >= 0 && old < len(cells) {
			cells = slices.Delete(cells, old, old+1)
		}
		return cells
	}
	head := without(header)
	return func(yield func([]string) bool) {
		if !yield(append(slices.Clone(head), mendColumn)) {
			return
		}
		for cells, says := range rows {
			cells = without(cells)
			for len(cells) < len(head) {
				cells = append(cells, "")
			}
			if !yield(append(cells, says)) {
				return
			}
		}
	}
}

// Shown is what a record says, as Facts, written as people read it: countries by their names, phones as their
// country writes them, hours in words.
func Shown(r record.Record) map[string]string {
	out := Facts(r)
	for _, key := range []string{"country", "mailing_country"} {
		if name := address.CountryName(out[key]); name != "" {
			out[key] = name
		}
	}
	for _, key := range []string{"phone", "phone_2", "phone_3"} {
		if phone := out[key]; phone != "" {
			out[key] = contact.International(phone)
		}
	}
	if week, _, err := hours.Parse(r.Hours); err == nil && r.Hours != "" {
		out["opening_hours"] = week.Words()
	}
	return out
}

// Facts are what a record says, as cells by the names of our columns; those that it does not say are missing.
func Facts(r record.Record) map[string]string {
	out := map[string]string{}
	for _, f := range Fields {
		if f.get == nil {
			continue
		}
		if text := f.get(r); text != "" {
			out[f.Key] = text
		}
	}
	return out
}
