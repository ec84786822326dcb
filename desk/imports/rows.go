package imports

import (
	"context"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"iter"
	"strings"

	"github.com/google/uuid"

	"uvent/core/fact/address"
	"uvent/core/record/bring"
	"uvent/core/record/doubles"
	"uvent/core/record/match"
	"uvent/core/record/sheet"
	"uvent/core/record/table"
	"uvent/desk/problem"
	"uvent/store/db"
)

// Row is a row as it is shown.
type Row struct {
	Line     int
	Standing bring.Standing
	Without  bool // it comes in without a cell
	Guess    bool
	In       bool
	Location *uuid.UUID // that it has made or changed
	Client   string
	Says     map[string]string // what it says, by the facts' keys, as people read it
	Readings []sheet.Reading
	Problems []sheet.Problem
	Verdict  doubles.Verdict
	Reasons  []string
	Of       int // the line that it says the same as, or may
	Ours     *Ours
	key      rowKey
}

// Ours is the location that a row is about, or may be; or the row before it.
type Ours struct {
	Location *uuid.UUID
	Client   string
	Label    string
	Says     map[string]string
	Alike    map[string]string // by fact: "=", "≈" but for letters and abbreviations, or "≠"
}

// hold tells how what a row says stands to what we have.
func (o *Ours) hold(row map[string]string) {
	o.Alike = map[string]string{}
	for key, ours := range o.Says {
		theirs := row[key]
		switch {
		case theirs == "":
		case theirs == ours:
			o.Alike[key] = "="
		case address.Spell(theirs) == address.Spell(ours), key == "name" && match.LikeNames(theirs, ours):
			o.Alike[key] = "≈"
		default:
			o.Alike[key] = "≠"
		}
	}
}

// rowKey is the place of a row in the order in which they are shown.
type rowKey struct{ place, line int32 }

func (k rowKey) String() string { return fmt.Sprintf("%d-%d", k.place, k.line) }

// Show is which rows are asked for.
type Show string

const (
	ShowAll     Show = ""
	ShowDecide  Show = "decide"
	ShowWaits   Show = "waits"
	ShowWithout Show = "without"
	ShowGuessed Show = "guessed"
	ShowFine    Show = "fine" // that need nothing
	ShowOut     Show = "out"
)

// RowPage asks for a page of rows.
type RowPage struct {
	Show   Show
	Search string
	Behind string // the key behind which the page begins; empty: at the first
}

// MostRows is how many rows one page holds.
const MostRows = 100

// Rows is a page of a file's rows, what needs somebody first, and the key behind which the next begins; empty at
// the end.
func (d *Desk) Rows(ctx context.Context, id uuid.UUID, page RowPage) (rows []Row, next string, err error) {
	if _, err := d.Import(ctx, id); err != nil {
		return nil, "", err
	}
	ask := db.ImportChecksParams{ImportID: id, AfterPlace: -1, Most: MostRows + 1, Search: address.Fold(page.Search)}
	yes, no := true, false
	switch page.Show {
	case ShowDecide, ShowWaits, ShowOut:
		ask.Standings = []string{string(page.Show)}
	case ShowWithout:
		ask.Without = &yes
	case ShowGuessed:
		ask.Guessed, ask.Without = &yes, &no
	case ShowFine:
		ask.Standings = []string{string(bring.New), string(bring.Changed), string(bring.Unchanged), string(bring.Twice)}
		ask.Guessed, ask.Without = &no, &no
	}
	if page.Behind != "" {
		if _, err := fmt.Sscanf(page.Behind, "%d-%d", &ask.AfterPlace, &ask.AfterLine); err != nil {
			return nil, "", problem.Conflictf("There is no such page.")
		}
	}
	checks, err := d.store.ImportChecks(ctx, ask)
	if err != nil {
		return nil, "", err
	}
	rows = []Row{}
	others := map[int32][]int{} // rows that are about another, by its line
	for i, c := range checks[:min(len(checks), MostRows)] {
		row, err := rowOf(c)
		if err != nil {
			return nil, "", err
		}
		if row.Of > 0 {
			others[int32(row.Of)] = append(others[int32(row.Of)], i)
		}
		rows = append(rows, row)
	}
	if err := d.withOthers(ctx, id, rows, others); err != nil {
		return nil, "", err
	}
	if len(checks) > MostRows {
		next = rows[MostRows-1].key.String()
	}
	return rows, next, nil
}

// withOthers adds what the rows say that others are about.
func (d *Desk) withOthers(ctx context.Context, id uuid.UUID, rows []Row, others map[int32][]int) error {
	if len(others) == 0 {
		return nil
	}
	ask := db.ImportChecksAtParams{ImportID: id}
	for line := range others {
		ask.Lines = append(ask.Lines, line)
	}
	checks, err := d.store.ImportChecksAt(ctx, ask)
	if err != nil {
		return err
	}
	for _, c := range checks {
		other, err := rowOf(c)
		if err != nil {
			return err
		}
		for _, i := range others[c.Line] {
			rows[i].Ours = &Ours{Client: other.Client, Label: fmt.Sprintf("line %d", c.Line), Says: other.Says}
			rows[i].Ours.hold(rows[i].Says)
		}
	}
	return nil
}

func rowOf(c db.ImportCheck) (Row, error) {
	var r checked
	if err := json.Unmarshal(c.Row, &r); err != nil {
		return Row{}, err
	}
	row := Row{
		Line: int(c.Line), Standing: bring.Standing(c.Standing), Without: c.Without, Guess: c.Guessed, In: c.InAt != nil, Location: c.LocationID, Client: r.Client,
		Says: sheet.Shown(r.Record), Readings: r.Readings, Problems: r.Problems, Verdict: r.Verdict, Reasons: r.Reasons, Of: r.Of,
		key: rowKey{c.Place, c.Line},
	}
	for _, p := range r.Problems {
		delete(row.Says, p.Key)
	}
	if r.Before != nil {
		row.Ours = &Ours{Location: r.Kept, Client: r.Client, Label: r.Before.Label, Says: sheet.Shown(*r.Before)}
		row.Ours.hold(row.Says)
	}
	return row, nil
}

// restPart is how many rows are read at once to be written.
const restPart = 500

// WriteRest writes the rows that are not in, or not whole, as they were, with what to mend in a last column: as a
// spreadsheet or else as CSV in the file's own dialect.
func (d *Desk) WriteRest(ctx context.Context, id uuid.UUID, as table.Encoding, w io.Writer) error {
	row, err := d.store.ImportByID(ctx, id)
	if err != nil {
		return problem.OrNotFound(err, "There is no such import.")
	}
	var failed error
	lines := sheet.Rest(row.Header, d.rest(ctx, id, &failed))
	if as == table.XLSX {
		err = table.WriteXLSX(w, "To mend", lines)
	} else {
		out := csv.NewWriter(w)
		if out.UseCRLF = true; row.Delimiter != "" {
			out.Comma = []rune(row.Delimiter)[0]
		}
		for cells := range lines {
			if err = out.Write(cells); err != nil {
				break
			}
		}
		out.Flush()
	}
	if failed != nil {
		return failed
	}
	return err
}

func (d *Desk) rest(ctx context.Context, id uuid.UUID, failed *error) iter.Seq2[[]string, string] {
	return func(yield func([]string, string) bool) {
		for ask := (db.ImportRestParams{ImportID: id, Most: restPart}); ; {
			part, err := d.store.ImportRest(ctx, ask)
			if err != nil || len(part) == 0 {
				*failed = err
				return
			}
			for _, r := range part {
				var c checked
				if *failed = json.Unmarshal(r.Row, &c); *failed != nil || !yield(r.Cells, mend(c, bring.Standing(r.Standing))) {
					return
				}
			}
			ask.AfterLine = part[len(part)-1].Line
		}
	}
}

// mend says what to mend in a row.
func mend(c checked, standing bring.Standing) string {
	var all []string
	switch standing {
	case bring.Decide:
		all = append(all, "it may be about a location that is there already: "+strings.Join(c.Reasons, " "))
	case bring.Out:
		all = append(all, "left out")
	}
	for _, p := range c.Problems {
		says := p.Reason
		if p.Column != "" {
			says = p.Column + ": " + says
		}
		all = append(all, says)
	}
	return strings.Join(all, "; ")
}

// Remark is a cell of a file that could not come in, kept with its location.
type Remark struct {
	ID     uuid.UUID
	Key    string
	Column string
	Says   string
	Why    string
	File   string
}

// Remarks lists what could not come in of a location, and was not mended since.
func (d *Desk) Remarks(ctx context.Context, location uuid.UUID) ([]Remark, error) {
	l, err := d.ledger.Location(ctx, location)
	if err != nil {
		return nil, err
	}
	says := sheet.Facts(l.Record)
	rows, err := d.store.Remarks(ctx, location)
	if err != nil {
		return nil, err
	}
	out := []Remark{}
	for _, r := range rows {
		if says[r.Fact] == r.Was {
			out = append(out, Remark{ID: r.ID, Key: r.Fact, Column: r.Heading, Says: r.Said, Why: r.Why, File: r.FileName})
		}
	}
	return out, nil
}

// DropRemark puts a remark away that somebody has read.
func (d *Desk) DropRemark(ctx context.Context, location, id uuid.UUID) error {
	n, err := d.store.DropRemark(ctx, db.DropRemarkParams{ID: id, LocationID: location})
	if err == nil && n == 0 {
		return &problem.Problem{Kind: problem.NotFound, Detail: "There is no such remark."}
	}
	return err
}
