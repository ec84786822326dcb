package listings

import (
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	tabular "uvent/core/record/table"
	"uvent/core/rule/fit"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/store/db"
)

// ownColumns head a file of values of listings' own. A row names its location by its client and label, or by its
// client and store code; its directory by id or name; its field by key or by what the form calls it. Without a
// value, the listing goes back to what its record says.
var ownColumns = []string{"client", "location", "store_code", "directory", "field", "value", "reason"}

// mostOwnRows bounds one file: all of it comes in at once, or nothing.
const mostOwnRows = 5_000

// OwnCSV writes all values of listings' own of a scope.
func (d *Desk) OwnCSV(ctx context.Context, w io.Writer, scope ledger.Scope) error {
	clients, err := d.records.Clients(ctx)
	if err != nil {
		return err
	}
	locations, err := d.records.Locations(ctx, scope)
	if err != nil {
		return err
	}
	ids := make([]uuid.UUID, len(locations))
	for i, l := range locations {
		ids[i] = l.ID
	}
	own, err := records.OwnOf(ctx, d.store.Queries, ids)
	if err != nil {
		return err
	}
	names := map[uuid.UUID]string{}
	for _, c := range clients {
		names[c.ID] = c.Name
	}
	out := csv.NewWriter(w)
	out.UseCRLF = true
	rows := [][]string{ownColumns}
	for _, l := range locations {
		for _, b := range d.shelf.Books() {
			for _, o := range own[l.ID][b.ID] {
				row := []string{names[l.ClientID], l.Label, l.StoreCode, b.ID, o.Key, o.Text, o.Why}
				for n := range row {
					row[n] = tabular.Guard(row[n])
				}
				rows = append(rows, row)
			}
		}
	}
	return out.WriteAll(rows)
}

// ownRow is a row of a file that could be read.
type ownRow struct {
	line             int
	at               ledger.Place
	key, text, why   string
	client, location string // as the file names them
}

// ReadOwnCSV sets the values that a file names of a scope's listings, all of them or none, and says how many. What is wrong
// with its rows is told by line.
func (d *Desk) ReadOwnCSV(ctx context.Context, actor people.Actor, s ledger.Scope, file []byte) (set int, err error) {
	rows, wrong, err := d.ownRows(ctx, s, file)
	if err != nil {
		return 0, err
	}
	// In the order in which listings are always locked.
	slices.SortStableFunc(rows, func(a, b ownRow) int {
		return strings.Compare(a.at.Location.String()+a.at.Directory, b.at.Location.String()+b.at.Directory)
	})
	err = d.store.Tx(ctx, func(q *db.Queries, tx pgx.Tx) error {
		for _, r := range rows {
			err := d.ledger.ChangeIn(ctx, q, tx, actor, r.at, func(l *ledger.Listing) error {
				has := slices.ContainsFunc(l.State.Own, func(o fit.Own) bool { return o.Key == r.key })
				same := slices.ContainsFunc(l.State.Own, func(o fit.Own) bool { return o.Key == r.key && o.Text == r.text && o.Why == r.why })
				switch {
				case same, r.text == "" && !has:
					return nil
				case r.text == "":
					set++
					return dropOwn(ctx, l, r.key)
				}
				set++
				return setOwn(ctx, l, r.key, r.text, r.why)
			})
			var p *problem.Problem
			if errors.As(err, &p) {
				wrong = append(wrong, atLine(r.line, "%s, %s: %s", r.client, r.location, p.Detail))
			} else if err != nil {
				return err
			}
		}
		if wrong != nil {
			return &problem.Problem{Kind: problem.Invalid, Detail: "Nothing was changed: some rows cannot come in.", Fields: wrong}
		}
		return nil
	})
	return set, err
}

func atLine(line int, format string, a ...any) record.Problem {
	return record.Problem{Path: fmt.Sprintf("line %d", line), Message: fmt.Sprintf(format, a...)}
}

// ownRows reads a file, with what is wrong with its rows.
func (d *Desk) ownRows(ctx context.Context, s ledger.Scope, file []byte) (rows []ownRow, wrong []record.Problem, err error) {
	t, err := tabular.Read(file, tabular.Options{Known: func(s string) bool { return slices.Contains(ownColumns, address.Fold(s)) }})
	if err != nil {
		return nil, nil, &problem.Problem{Kind: problem.Invalid, Detail: problem.Sentence(err.Error())}
	}
	column := map[string]int{}
	for i, h := range t.Header {
		column[strings.ToLower(strings.TrimSpace(h))] = i
	}
	for _, need := range []string{"client", "directory", "field", "value"} {
		if _, ok := column[need]; !ok {
			return nil, nil, &problem.Problem{
				Kind:   problem.Invalid,
				Detail: fmt.Sprintf("The file has no column “%s”. It wants %s.", need, strings.Join(ownColumns, ", ")),
			}
		}
	}
	if len(t.Rows) > mostOwnRows {
		return nil, nil, &problem.Problem{Kind: problem.Invalid, Detail: fmt.Sprintf("The file has %d rows; %d come in at once. Split it.", len(t.Rows), mostOwnRows)}
	}
	places, err := d.placesByName(ctx, s)
	if err != nil {
		return nil, nil, err
	}
	for _, r := range t.Rows {
		cell := func(name string) string {
			if i, ok := column[name]; ok && i < len(r.Cells) {
				return strings.TrimSpace(tabular.Unguard(r.Cells[i]))
			}
			return ""
		}
		row := ownRow{line: r.Line, text: cell("value"), why: cell("reason"), client: cell("client"), location: cell("location")}
		if row.location == "" {
			row.location = cell("store_code")
		}
		id, known := places[placeName{strings.ToLower(row.client), strings.ToLower(row.location)}]
		directory, key := d.fieldNamed(cell("directory"), cell("field"))
		switch {
		case !known:
			wrong = append(wrong, atLine(r.Line, "There is no location “%s” of “%s”.", row.location, row.client))
		case directory == "":
			wrong = append(wrong, atLine(r.Line, "There is no directory “%s”.", cell("directory")))
		case key == "":
			wrong = append(wrong, atLine(r.Line, "%s has no field “%s”.", cell("directory"), cell("field")))
		default:
			row.at, row.key = ledger.Place{Location: id, Directory: directory}, key
			rows = append(rows, row)
		}
	}
	return rows, wrong, nil
}

type placeName struct{ client, location string }

// placesByName are a scope's locations by their client's name and their label or store code, in lower case.
func (d *Desk) placesByName(ctx context.Context, s ledger.Scope) (map[placeName]uuid.UUID, error) {
	clients, err := d.records.Clients(ctx)
	if err != nil {
		return nil, err
	}
	names := map[uuid.UUID]string{}
	for _, c := range clients {
		names[c.ID] = strings.ToLower(c.Name)
	}
	locations, err := d.records.Locations(ctx, s)
	out := make(map[placeName]uuid.UUID, 2*len(locations))
	for _, l := range locations {
		if l.StoreCode != "" {
			out[placeName{names[l.ClientID], strings.ToLower(l.StoreCode)}] = l.ID
		}
	}
	for _, l := range locations {
		out[placeName{names[l.ClientID], strings.ToLower(l.Label)}] = l.ID
	}
	return out, err
}

// fieldNamed finds a directory by id or name, and its field by key or by what its form calls it.
func (d *Desk) fieldNamed(directory, field string) (id, key string) {
	for _, b := range d.shelf.Books() {
		if !strings.EqualFold(b.ID, directory) && !strings.EqualFold(b.Name, directory) {
			continue
		}
		for _, k := range b.Fields() {
			if strings.EqualFold(k, field) || strings.EqualFold(b.FieldTitle(k), field) {
				return b.ID, k
			}
		}
		return b.ID, ""
	}
	return "", ""
}
