package desk

import (
	"context"
	"encoding/json"

	"github.com/google/uuid"

	"uvent/core/fit"
	"uvent/core/verification"
	"uvent/store/db"
)

// CoverageRow is one location on all directories.
type CoverageRow struct {
	Location   uuid.UUID
	Client     uuid.UUID
	ClientName string
	Label      string
	Kind       string
	Wanted     int
	Public     float64   // per cent of the wanted weight that is public
	Next       *fit.Lack // what to fill in next; nil where nothing is lacking
	Cells      map[string]CoverageCell
}

// CoverageCell is where a location stands on a directory, and how it fits.
type CoverageCell struct {
	Fitted
	State verification.State // its three tracks alone
}

// Coverage is a page of a scope's locations, and the counts of all of it.
type Coverage struct {
	Locations int
	Wanted    int // listings
	Public    int // of those
	UnderWay  int // of those: begun, and not public
	Rows      []CoverageRow
}

// CoverageOrder says what comes first.
type CoverageOrder string

const (
	ByPlace CoverageOrder = "place" // by client and location
	ByGain  CoverageOrder = "gain"  // what gains most per minute of work
)

// MostCoverage is how many locations a page holds at most.
const MostCoverage = 200

// Coverage shows a scope's locations on every directory, from the one after past on.
func (d *Desk) Coverage(ctx context.Context, s Scope, order CoverageOrder, past, most int) (out Coverage, err error) {
	if err := d.fitted(ctx, s); err != nil {
		return out, err
	}
	if most <= 0 || most > MostCoverage {
		most = MostCoverage
	}
	counts, err := d.store.CoverageCounts(ctx, db.CoverageCountsParams{ClientID: s.Client, LocationID: s.Location})
	if err != nil {
		return out, err
	}
	out.Locations, out.Wanted = int(counts.Locations), int(counts.Wanted)
	listings, err := d.store.ListingCounts(ctx, db.ListingCountsParams{ClientID: s.Client, LocationID: s.Location})
	if err != nil {
		return out, err
	}
	for _, c := range listings {
		switch {
		case c.Visibility == string(verification.Public):
			out.Public += int(c.Count)
		case c.Control != string(verification.NoControl):
			out.UnderWay += int(c.Count)
		}
	}
	out.Rows, err = d.coverageRows(ctx, db.CoverageParams{ClientID: s.Client, LocationID: s.Location, ByGain: order == ByGain, Past: int32(past), Most: int32(most)})
	return out, err
}

func (d *Desk) coverageRows(ctx context.Context, p db.CoverageParams) ([]CoverageRow, error) {
	rows, err := d.store.Coverage(ctx, p)
	if err != nil {
		return nil, err
	}
	ids := make([]uuid.UUID, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	states, err := d.tracks(ctx, ids)
	if err != nil {
		return nil, err
	}
	books := d.Books()
	out := make([]CoverageRow, len(rows))
	for i, r := range rows {
		row := CoverageRow{Location: r.ID, Client: r.ClientID, ClientName: r.ClientName, Label: r.Label, Kind: r.Kind, Wanted: int(r.Wanted), Cells: make(map[string]CoverageCell, len(books))}
		fits := map[string]Fitted{}
		if err := json.Unmarshal(r.Cells, &fits); err != nil {
			return nil, err
		}
		if r.Next != nil {
			if err := json.Unmarshal(r.Next, &row.Next); err != nil {
				return nil, err
			}
		}
		wanted, public := 0, 0
		for _, b := range books {
			st, begun := states[Place{r.ID, b.ID}]
			if !begun {
				st = verification.Start()
			}
			cell := CoverageCell{fits[b.ID], st}
			row.Cells[b.ID] = cell
			if !cell.Wanted {
				continue
			}
			if wanted += b.Weight; st.Visibility == verification.Public {
				public += b.Weight
			}
		}
		if wanted > 0 {
			row.Public = 100 * float64(public) / float64(wanted)
		}
		out[i] = row
	}
	return out, nil
}

// tracks are where the listings of locations stand, without anything else of them.
func (d *Desk) tracks(ctx context.Context, locations []uuid.UUID) (map[Place]verification.State, error) {
	rows, err := d.store.ListingsOf(ctx, locations)
	out := make(map[Place]verification.State, len(rows))
	for _, r := range rows {
		out[Place{r.LocationID, r.DirectoryID}] = verification.State{
			Control: verification.Control(r.Control), Verification: verification.Verification(r.Verification), Visibility: verification.Visibility(r.Visibility),
		}
	}
	return out, err
}
