package desk

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/core/rule/worth"
	"uvent/store/db"
)

// Fitted is how a location fits one directory, as it is kept for views over many.
type Fitted struct {
	Not     string  `json:"not,omitempty"` // why it cannot be listed; empty when it can
	Percent float64 `json:"percent"`       // of a complete listing
	Blocks  int     `json:"blocks"`        // fields that are required and not filled
	Adds    float64 `json:"adds"`          // per cent of the weight that can be had
	Wanted  bool    `json:"wanted"`
	FedBy   string  `json:"fed_by,omitempty"`
}

// kept is a row of location_fit as it is written.
type kept struct {
	Location uuid.UUID         `json:"location_id"`
	Books    string            `json:"books"`
	Wanted   []string          `json:"wanted"`
	Gain     float64           `json:"gain"`
	Next     *fit.Lack         `json:"next"`
	Cells    map[string]Fitted `json:"cells"`
}

// fitBatch is how many locations are reckoned in one transaction.
const fitBatch = 250

// fitted reckons the fits of a scope that are not, or no longer, known.
func (d *Desk) fitted(ctx context.Context, s Scope) error {
	counts, err := d.coverageCounts(ctx, s)
	if err != nil || counts.Fitted == counts.Locations {
		return err
	}
	lib := d.library()
	for {
		n := 0
		err := d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
			rows, err := q.Unfitted(ctx, db.UnfittedParams{Books: lib.digest, ClientID: s.Client, LocationID: s.Location, Most: fitBatch})
			if n = len(rows); err != nil || n == 0 {
				return err
			}
			ids, clients := make([]uuid.UUID, n), make([]uuid.UUID, n)
			for i, r := range rows {
				ids[i], clients[i] = r.ID, r.ClientID
			}
			photos, err := photosOf(ctx, q, clients)
			if err != nil {
				return err
			}
			chosen, err := choicesOf(ctx, q, ids)
			if err != nil {
				return err
			}
			out := make([]kept, n)
			for i, r := range rows {
				out[i] = fitAll(lib, r.Record, photos.of(r.ID, r.ClientID), chosen[r.ID])
				out[i].Location = r.ID
			}
			data, err := json.Marshal(out)
			if err != nil {
				return err
			}
			return q.SaveFits(ctx, data)
		})
		if err != nil || n < fitBatch {
			return err
		}
	}
}

// coverageCounts counts a scope's locations, those whose fit is known, and the listings
// that are wanted by it.
func (d *Desk) coverageCounts(ctx context.Context, s Scope) (db.CoverageCountsRow, error) {
	books := d.library().digest
	if s == (Scope{}) {
		return d.store.CoverageCounts(ctx, books)
	}
	c, err := d.store.CoverageCountsOf(ctx, db.CoverageCountsOfParams{Books: books, ClientID: s.Client, LocationID: s.Location})
	return db.CoverageCountsRow(c), err
}

// fit reckons one location on all directories.
func fitAll(l *library, r record.Record, photos []fit.Photo, chosen map[string]bool) kept {
	s := fit.Read(r, photos)
	fits := make([]fit.Fit, len(l.books))
	for i := range l.books {
		fits[i] = fit.Of(s, &l.books[i])
	}
	out := kept{Books: l.digest, Wanted: []string{}, Cells: make(map[string]Fitted, len(l.books))}
	for _, c := range worth.Rank(s, l.books, fits) {
		wanted, decided := chosen[c.Directory]
		if !decided {
			wanted = c.Pays
		}
		gone := r.State.Kind == record.ClosedForGood || r.State.Kind == record.Moved
		out.Cells[c.Directory] = Fitted{Not: c.Not, Adds: c.Adds, FedBy: c.FedBy, Wanted: wanted && c.Not == "" && c.FedBy == "" && !gone}
	}
	for i, f := range fits {
		cell := out.Cells[l.books[i].ID]
		cell.Percent, cell.Blocks = f.Percent, len(f.Blocks())
		if out.Cells[l.books[i].ID] = cell; cell.Wanted {
			out.Wanted = append(out.Wanted, l.books[i].ID)
		}
	}
	lacks := fit.Lacks(l.books, fits, func(i int) bool { return out.Cells[l.books[i].ID].Wanted })
	if len(lacks) > 0 {
		out.Next, out.Gain = &lacks[0], lacks[0].PerMinute()
	}
	return out
}

// photosBy are photos by whose they are: a location or a client.
type photosBy map[uuid.UUID][]db.Photo

func photosOf(ctx context.Context, q *db.Queries, clients []uuid.UUID) (photosBy, error) {
	rows, err := q.PhotosOfClients(ctx, clients)
	return byWhose(rows, func(p db.Photo) (uuid.UUID, *uuid.UUID) { return p.ClientID, p.LocationID }), err
}

// byWhose groups what belongs to a location or, where it names none, to a client.
func byWhose[T any](rows []T, owner func(T) (client uuid.UUID, location *uuid.UUID)) map[uuid.UUID][]T {
	out := map[uuid.UUID][]T{}
	for _, row := range rows {
		whose, location := owner(row)
		if location != nil {
			whose = *location
		}
		out[whose] = append(out[whose], row)
	}
	return out
}

// of are a location's photos with its client's, as the core reads them.
func (p photosBy) of(location, client uuid.UUID) (out []fit.Photo) {
	for _, whose := range []uuid.UUID{location, client} {
		for _, row := range p[whose] {
			out = append(out, facts(row))
		}
	}
	return out
}

func choicesOf(ctx context.Context, q *db.Queries, locations []uuid.UUID) (map[uuid.UUID]map[string]bool, error) {
	rows, err := q.Choices(ctx, locations)
	out := map[uuid.UUID]map[string]bool{}
	for _, c := range rows {
		if out[c.LocationID] == nil {
			out[c.LocationID] = map[string]bool{}
		}
		out[c.LocationID][c.DirectoryID] = c.Wanted
	}
	return out, err
}

// fitSubject is a location with its photos, to be held against rulebooks.
func fitSubject(ctx context.Context, q *db.Queries, l Location) (*fit.Subject, error) {
	photos, err := photosOf(ctx, q, []uuid.UUID{l.ClientID})
	return fit.Read(l.Record, photos.of(l.ID, l.ClientID)), err
}

// FitView is one location held against one rulebook.
type FitView struct {
	Location Location
	Fit      fit.Fit
	Values   fit.Values // what the directory would be given; none where it cannot list the location
}

// FitOf holds a location against a directory's rulebook, with the values to give.
func (d *Desk) FitOf(ctx context.Context, at Place) (v FitView, err error) {
	book, err := d.Book(at.Directory)
	if err != nil {
		return v, err
	}
	if v.Location, err = d.Location(ctx, at.Location); err != nil {
		return v, err
	}
	s, err := fitSubject(ctx, d.store.Queries, v.Location)
	if err != nil {
		return v, err
	}
	if v.Fit = fit.Of(s, &book); v.Fit.Not == "" {
		v.Values, err = d.values(ctx, s, &book, at)
	}
	return v, err
}

// values are what a directory is given, with what hangs on other directories said.
func (d *Desk) values(ctx context.Context, s *fit.Subject, book *rulebook.Rulebook, at Place) (fit.Values, error) {
	out := fit.Compose(s, book)
	other, err := d.Book(book.Hours.AgreeWith)
	i := slices.IndexFunc(out, func(v fit.Value) bool { return v.Key == "hours" })
	if err != nil || i < 0 {
		return out, nil // there is no other, or nothing is given
	}
	row, err := d.store.Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: other.ID})
	if ignoreNoRows(err) != nil {
		return nil, err
	}
	says := fmt.Sprintf("They must be the same as on %s.", other.Name)
	if seen := row.State.Sighting; seen != nil {
		for _, l := range compare.Facts(s.Record, other, seen) {
			if l.Fact == "hours" && l.Mark == compare.Unequal {
				says = fmt.Sprintf("They must be the same as on %s, which shows %s. Put that right first.", other.Name, l.Seen)
			}
		}
	}
	out[i].Says = append(out[i].Says, says)
	return out, nil
}
