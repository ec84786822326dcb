package listings

import (
	"context"
	"encoding/csv"
	"fmt"
	"io"
	"strconv"

	"uvent/core/listing/verification"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
)

// fileColumns are the columns of a file for a directory that takes one (RFC 4180), as
// fit.Values.Facts names them.
var fileColumns = []string{
	"store_code",
	"name",
	"street",
	"locality",
	"region",
	"postal_code",
	"country",
	"latitude",
	"longitude",
	"phone",
	"website",
	"category",
	"hours",
}

// HandInFile writes the file for a directory that takes one: the locations of a scope
// that are wanted there, each with its values. It tells how many there are.
func (d *Desk) HandInFile(ctx context.Context, s ledger.Scope, directory string, w io.Writer) (int, error) {
	book, locations, err := d.toHandIn(ctx, s, directory)
	if err != nil {
		return 0, err
	}
	out := csv.NewWriter(w)
	if err := out.Write(fileColumns); err != nil {
		return 0, err
	}
	for _, l := range locations {
		subject, err := records.FitSubject(ctx, d.store.Queries, l, d.clock.Now())
		if err != nil {
			return 0, err
		}
		facts := fit.Of(subject, &book).Values().Facts()
		row := make([]string, len(fileColumns))
		for i, c := range fileColumns {
			switch v := facts[c].(type) {
			case nil:
			case float64:
				row[i] = strconv.FormatFloat(v, 'f', 6, 64)
			default:
				row[i] = fmt.Sprint(v)
			}
		}
		if err := out.Write(row); err != nil {
			return 0, err
		}
	}
	out.Flush()
	return len(locations), out.Error()
}

// toHandIn are the locations of a scope that are wanted on a directory that takes a
// file, and that it takes as they are.
func (d *Desk) toHandIn(ctx context.Context, s ledger.Scope, directory string) (rulebook.Rulebook, []ledger.Location, error) {
	book, err := d.shelf.Book(directory)
	if err != nil {
		return book, nil, err
	}
	if book.Worked != rulebook.File {
		return book, nil, problem.Conflictf("%s takes no file: it is worked %s.", book.Name, book.Worked.Words())
	}
	if err := d.records.KnowFits(ctx, s); err != nil {
		return book, nil, err
	}
	fits, err := d.records.FitsOf(ctx, s)
	if err != nil {
		return book, nil, err
	}
	locations, err := d.records.Locations(ctx, s)
	if err != nil {
		return book, nil, err
	}
	var out []ledger.Location
	for _, l := range locations {
		if f := fits[l.ID][directory]; f.Wanted && f.Blocks == 0 {
			out = append(out, l)
		}
	}
	return book, out, nil
}

// HandedIn records that the file was handed in, for each location that is in it.
func (d *Desk) HandedIn(ctx context.Context, actor people.Actor, s ledger.Scope, directory string) (int, error) {
	book, locations, err := d.toHandIn(ctx, s, directory)
	if err != nil {
		return 0, err
	}
	if len(locations) == 0 {
		return 0, problem.Conflictf("No location here is wanted on %s and ready for it.", book.Name)
	}
	for _, l := range locations {
		err := d.ledger.Change(ctx, actor, ledger.Place{Location: l.ID, Directory: directory}, func(l *ledger.Listing) error {
			subject, err := records.FitSubject(ctx, l.Q, l.Where, l.Now)
			if err != nil {
				return err
			}
			return l.Add(ctx, verification.Given{How: verification.ByFile, Values: fit.Of(subject, &l.Book).Values()})
		})
		if err != nil {
			return 0, err
		}
	}
	return len(locations), nil
}
