// Package sheet reads locations from tables as people write them, and writes them so that they read back
// unchanged.
package sheet

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	"uvent/core/record/table"
)

// Problem is a cell that cannot be taken.
type Problem struct {
	Line   int    `json:"line"`
	Column string `json:"column"` // its name in the file; the field's title where the file has no such column
	Key    string `json:"key"`    // of the fact; empty where the row as a whole is meant
	Value  string `json:"value"`  // what the cell says
	Reason string `json:"reason"`
	Left   bool   `json:"left"` // the row comes in without this cell; false: the row waits
	Of     string `json:"of"`   // the business and its town, as far as the row says
}

// Reader turns rows into records by the fields chosen for the columns.
type Reader struct {
	header  []string
	columns []string // the key of each; empty where it is left out
	country string   // of rows that do not tell theirs
	edits   Edits
}

// NewReader prepares for a header and the key of each of its columns, which have passed CheckColumns.
func NewReader(header, columns []string) Reader { return Reader{header: header, columns: columns} }

// In is the reader that takes rows which do not tell their country for ones of this (ISO 3166-1 alpha-2).
func (r Reader) In(country string) Reader {
	r.country = country
	return r
}

// With is the reader that lets what somebody says of cells stand for what the file says.
func (r Reader) With(e Edits) Reader {
	r.edits = e
	return r
}

// CommonCountry is the country of all rows that tell one, if it is one.
func (r Reader) CommonCountry(rows []table.Row) string {
	all := ""
	for _, row := range rows {
		code := r.gather(row, "").country()
		if code == "" {
			continue
		}
		if all == "" {
			all = code
		}
		if code != all {
			return ""
		}
	}
	return all
}

// Cell is what a row says of a fact, trimmed and unguarded; empty when it says nothing.
func (r Reader) Cell(row table.Row, key string) string { return r.gather(row, r.country)[key].text }

// Applied is what a row comes to.
type Applied struct {
	Record   record.Record
	Client   string // whose location it is; empty where the row does not say
	Readings []Reading
	Problems []Problem // in the order of the columns
}

// Waits reports whether the row cannot come in as it is.
func (a Applied) Waits() bool {
	return slices.ContainsFunc(a.Problems, func(p Problem) bool { return !p.Left })
}

// needed are the facts without which a row waits.
var needed = []string{"name", "street", "locality", "country", "time_zone"}

// of names a row by its business and its town.
func of(c cells) string {
	name, town := cmp.Or(c["name"].text, c[ClientField].text), c["locality"].text
	if name == "" || town == "" {
		return name + town
	}
	return name + ", " + town
}

// Apply lays a row's cells over a record: the location's present one, or an empty one for a new
// location. Each is read as people write it. An empty cell leaves the fact as it is, and so does one
// that cannot be read, where the row can do without it. The record is tidied and checked.
func (r Reader) Apply(row table.Row, base record.Record) Applied {
	c := r.gather(row, cmp.Or(base.Address.Country, r.country))
	if more := row.Cells[min(len(row.Cells), len(r.header)):]; strings.TrimSpace(strings.Join(more, "")) != "" {
		says := fmt.Sprintf("the row has %d cells, the header %d; a cell that holds the delimiter must be in quotes", len(row.Cells), len(r.header))
		return Applied{Record: base, Problems: []Problem{{Line: row.Line, Reason: says, Of: of(c)}}}
	}
	l := r.layer(row, c, base)
	without := map[string]string{} // facts that are left out, and why
	for {
		a, wrong := l.lay(base, without)
		before := len(without)
		for _, w := range wrong {
			if w.key != "" && c[w.key].text != "" && !slices.Contains(needed, w.key) && without[w.key] == "" {
				without[w.key] = w.says
			}
		}
		if len(without) > before {
			continue
		}
		for key, says := range without {
			wrong = append(wrong, fault{key, says})
		}
		slices.SortFunc(wrong, func(a, b fault) int { return cmp.Or(l.place(a.key)-l.place(b.key), cmp.Compare(a.key, b.key)) })
		for _, w := range wrong {
			a.Problems = append(a.Problems, Problem{row.Line, l.column(w.key), w.key, c[w.key].original(), w.says, without[w.key] != "", of(c)})
		}
		return a
	}
}

// fault is what is wrong with a fact, by its key.
type fault struct{ key, says string }

// layer lays a row's cells over a record.
type layer struct {
	Reader
	line    int
	cells   cells
	country string // of its address
	sure    bool   // the row tells it
}

func (r Reader) layer(row table.Row, c cells, base record.Record) layer {
	l := layer{r, row.Line, c, c.country(), true}
	if l.country == "" && c["country"].text == "" {
		if l.country = base.Address.Country; l.country == "" {
			l.country, l.sure = r.country, false
		}
	}
	return l
}

// column is the name of the column, or columns, that say a fact.
func (l layer) column(key string) string {
	var names []string
	for _, i := range l.cells[key].columns {
		names = append(names, l.header[i])
	}
	if names == nil {
		if i := slices.Index(l.columns, key); i >= 0 {
			return l.header[i]
		}
		if f, ok := field(key); ok {
			return f.Title
		}
	}
	return strings.Join(names, " and ")
}

// place is where the first column of a fact stands; behind all where there is none.
func (l layer) place(key string) int {
	if c := l.cells[key].columns; len(c) > 0 {
		return c[0]
	}
	if i := slices.Index(l.columns, key); i >= 0 {
		return i
	}
	return len(l.header)
}

// lay lays the cells over a record, but for some facts.
func (l layer) lay(base record.Record, without map[string]string) (a Applied, wrong []fault) {
	a.Record, a.Client = base, l.cells[ClientField].text
	tell := func(key, from, to string, sure bool, lost string) {
		a.Readings = append(a.Readings, Reading{l.line, l.column(key), key, from, to, sure, lost})
	}
	if base.Address.Country == "" && l.cells["country"].text == "" && l.country != "" {
		a.Record.Address.Country = l.country
		tell("country", "", address.CountryName(l.country), l.sure, "")
	}
	for _, f := range Fields {
		c := l.cells[f.Key]
		if f.set == nil || c.text == "" || without[f.Key] != "" {
			continue
		}
		u := understand(f.Key, c.text, l.country)
		if u.says == "" {
			u.says = f.set(&a.Record, u.text)
		}
		switch {
		case u.says != "":
			wrong = append(wrong, fault{f.Key, u.says})
		case u.text != c.original() && c.original() != u.told:
			tell(f.Key, c.original(), cmp.Or(u.told, u.text), u.sure || c.byHand, u.lost)
		}
	}
	if half := l.halfPin(without); half != "" && base.Pin == nil {
		wrong = append(wrong, fault{half, "a pin has a latitude and a longitude; this row gives one of them"})
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
		wrong = append(wrong, fault{keyOf(p.Path), p.Message})
	}
	return a, wrong
}

// halfPin is the key of the half of a pin that a row gives without the other; empty where it gives both, or none.
func (l layer) halfPin(without map[string]string) string {
	said := func(key string) bool { return l.cells[key].text != "" && without[key] == "" }
	switch lat, lng := said("latitude"), said("longitude"); {
	case lat && !lng:
		return "latitude"
	case lng && !lat:
		return "longitude"
	}
	return ""
}

// keyOf is the key of the field that a fact's path is about; the path itself where there is none.
func keyOf(path string) string {
	for _, f := range Fields {
		if same(f.path, path) {
			return f.Key
		}
	}
	return path
}

// same reports whether two paths are of one fact, whichever of a list's entries they name. Each
// phone has a column of its own.
func same(a, b string) bool {
	list := func(path string) string { return strings.TrimRight(path, ".0123456789") }
	return a == b || list(a) == list(b) && !strings.HasPrefix(a, "phones.")
}

func field(key string) (Field, bool) {
	i := slices.IndexFunc(Fields, func(f Field) bool { return f.Key == key })
	if i < 0 {
		return Field{}, false
	}
	return Fields[i], true
}
