package records

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/core/rule/worth"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/shelf"
	"uvent/store/db"
)

// Fitted is how a location fits one directory, as it is kept for views over many.
type Fitted struct {
	Not     string  `json:"not,omitempty"`  // why it cannot be listed; empty when it can
	Percent float64 `json:"percent"`        // of a complete listing
	Blocks  int     `json:"blocks"`         // fields that are required and not filled
	Wrong   int     `json:"wrong"`          // fields that a visitor would read otherwise than they are
	Own     int     `json:"own,omitempty"`  // values of the listing's own
	Asks    int     `json:"asks,omitempty"` // of them, those that the record has changed under
	People  float64 `json:"people"`         // a week whom that misleads, about
	Adds    float64 `json:"adds"`           // per cent of the weight that can be had
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
	Until    time.Time         `json:"until"`
}

// fitBatch is how many locations are reckoned in one transaction.
const fitBatch = 250

// KnowFits reckons the fits of a scope that are not, or no longer, known.
func (d *Desk) KnowFits(ctx context.Context, s ledger.Scope) error {
	counts, err := d.CoverageCounts(ctx, s)
	if err != nil || counts.Fitted == counts.Locations {
		return err
	}
	lib, now := d.shelf.Library(), d.clock.Now()
	for {
		n := 0
		err := d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
			rows, err := q.Unfitted(ctx, db.UnfittedParams{Books: lib.Digest, Now: now, Clients: s.Clients, LocationID: s.Location, Most: fitBatch})
			if n = len(rows); err != nil || n == 0 {
				return err
			}
			ids, clients := make([]uuid.UUID, n), make([]uuid.UUID, n)
			for i, r := range rows {
				ids[i], clients[i] = r.ID, r.ClientID
			}
			photos, err := files.PhotosOf(ctx, q, clients)
			if err != nil {
				return err
			}
			chosen, err := choicesOf(ctx, q, ids)
			if err != nil {
				return err
			}
			own, err := OwnOf(ctx, q, ids)
			if err != nil {
				return err
			}
			out := make([]kept, n)
			for i, r := range rows {
				out[i] = fitAll(lib, fit.Read(r.Record, photos.Of(r.ID, r.ClientID), now).With(own[r.ID]), chosen[r.ID])
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

// CoverageCounts counts a scope's locations, those whose fit is known, and the listings
// that are wanted by it.
func (d *Desk) CoverageCounts(ctx context.Context, s ledger.Scope) (db.CoverageCountsRow, error) {
	books, now := d.shelf.Library().Digest, d.clock.Now()
	if s.Everything() {
		return d.store.CoverageCounts(ctx, db.CoverageCountsParams{Books: books, Now: now})
	}
	c, err := d.store.CoverageCountsOf(ctx, db.CoverageCountsOfParams{Books: books, Now: now, Clients: s.Clients, LocationID: s.Location})
	return db.CoverageCountsRow(c), err
}

// fit reckons one location on all directories.
func fitAll(l *shelf.Library, s *fit.Subject, chosen map[string]bool) kept {
	fits := make([]fit.Fit, len(l.Books))
	for i := range l.Books {
		fits[i] = fit.Of(s, &l.Books[i])
	}
	out := kept{Books: l.Digest, Until: s.Until(), Wanted: []string{}, Cells: make(map[string]Fitted, len(l.Books))}
	for _, c := range worth.Rank(s, l.Books, fits) {
		wanted, decided := chosen[c.Directory]
		if !decided {
			wanted = c.Pays
		}
		state := s.Record.State.Kind
		gone := state == record.ClosedForGood || state == record.Moved
		out.Cells[c.Directory] = Fitted{Not: c.Not, Adds: c.Adds, FedBy: c.FedBy, Wanted: wanted && c.Not == "" && c.FedBy == "" && !gone}
	}
	for i, f := range fits {
		cell := out.Cells[l.Books[i].ID]
		cell.Percent, cell.Blocks, cell.Wrong, cell.People = f.Percent, len(f.Blocks()), f.Wrong(), f.Cost().People
		cell.Own, cell.Asks = f.Own()
		if out.Cells[l.Books[i].ID] = cell; cell.Wanted {
			out.Wanted = append(out.Wanted, l.Books[i].ID)
		}
	}
	lacks := fit.Lacks(l.Books, fits, func(i int) bool { return out.Cells[l.Books[i].ID].Wanted })
	if len(lacks) > 0 {
		out.Next, out.Gain = &lacks[0], lacks[0].PerMinute()
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

// FitSubject is a location with its photos and its listings' own values, as it is at a moment, to be held
// against rulebooks.
func FitSubject(ctx context.Context, q *db.Queries, l ledger.Location, now time.Time) (*fit.Subject, error) {
	photos, err := files.PhotosOf(ctx, q, []uuid.UUID{l.ClientID})
	if err != nil {
		return nil, err
	}
	own, err := OwnOf(ctx, q, []uuid.UUID{l.ID})
	return fit.Read(l.Record, photos.Of(l.ID, l.ClientID), now).With(own[l.ID]), err
}

// SubjectAt is a location as it is now, with the rulebook of the directory that it is held against.
func (d *Desk) SubjectAt(ctx context.Context, at ledger.Place) (book rulebook.Rulebook, l ledger.Location, s *fit.Subject, err error) {
	if book, err = d.shelf.Book(at.Directory); err != nil {
		return book, l, nil, err
	}
	if l, err = d.ledger.Location(ctx, at.Location); err != nil {
		return book, l, nil, err
	}
	s, err = FitSubject(ctx, d.store.Queries, l, d.clock.Now())
	return book, l, s, err
}

// OwnOf are the values of their listings' own of some locations, by directory.
func OwnOf(ctx context.Context, q *db.Queries, locations []uuid.UUID) (map[uuid.UUID]map[string][]fit.Own, error) {
	rows, err := q.OwnValues(ctx, locations)
	if err != nil {
		return nil, err
	}
	out := map[uuid.UUID]map[string][]fit.Own{}
	for _, r := range rows {
		var own []fit.Own
		if err := json.Unmarshal(r.Own, &own); err != nil {
			return nil, err
		}
		if out[r.LocationID] == nil {
			out[r.LocationID] = map[string][]fit.Own{}
		}
		out[r.LocationID][r.DirectoryID] = own
	}
	return out, nil
}

// FitsOf reads how the locations of a scope fit each directory.
func (d *Desk) FitsOf(ctx context.Context, s ledger.Scope) (map[uuid.UUID]map[string]Fitted, error) {
	rows, err := d.store.Fits(ctx, db.FitsParams{Clients: s.Clients, LocationID: s.Location})
	if err != nil {
		return nil, err
	}
	return ReadFits(rows)
}

// ReadFits reads fits as they are kept, by location and directory.
func ReadFits(rows []db.LocationFit) (map[uuid.UUID]map[string]Fitted, error) {
	out := make(map[uuid.UUID]map[string]Fitted, len(rows))
	for _, r := range rows {
		cells := map[string]Fitted{}
		if err := json.Unmarshal(r.Cells, &cells); err != nil {
			return nil, err
		}
		out[r.LocationID] = cells
	}
	return out, nil
}

// Held is one location held against one rulebook.
type Held struct {
	Book rulebook.Rulebook
	fit.Fit
}

// HeldByAll holds a location against every directory, the weightiest first.
func (d *Desk) HeldByAll(ctx context.Context, l ledger.Location) ([]Held, error) {
	s, err := FitSubject(ctx, d.store.Queries, l, d.clock.Now())
	if err != nil {
		return nil, err
	}
	books := d.shelf.Books()
	out := make([]Held, len(books))
	for i := range books {
		out[i] = Held{books[i], fit.Of(s, &books[i])}
	}
	return out, nil
}
