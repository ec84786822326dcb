package boards

import (
	"context"
	"encoding/json"
	"slices"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/store/db"
)

// CoverageRow is one location on all directories.
type CoverageRow struct {
	Location   uuid.UUID
	Client     uuid.UUID
	ClientName string
	Label      string
	Kind       string
	Wanted     []string                      // directories on which it is wanted
	Public     float64                       // per cent of the wanted weight that is public
	Next       json.RawMessage               // a fit.Lack: what to fill in next; nil where nothing is lacking
	Fits       json.RawMessage               // a Fitted for each directory, as it is kept
	States     map[string]verification.State // of listings that were begun; their three tracks alone
}

// Coverage is a page of a scope's locations, and the counts of all of it.
type Coverage struct {
	Locations int
	Wanted    int // listings
	Public    int // of those
	UnderWay  int // of those: begun, and not public
	ToVerify  int // held, and not verified
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
func (d *Desk) Coverage(ctx context.Context, s ledger.Scope, order CoverageOrder, past, most int) (out Coverage, err error) {
	if order != ByPlace && order != ByGain {
		return out, &problem.Problem{Kind: problem.Invalid, Detail: "Order by place or by gain."}
	}
	if most <= 0 || most > MostCoverage {
		most = MostCoverage
	}
	page := db.CoverageParams{Clients: s.Clients, LocationID: s.Location, ByGain: order == ByGain, Past: int32(past), Most: int32(most)}
	for {
		// Side by side: most often everything is known, and the page is good at once.
		var counts db.CoverageCountsRow
		g, inner := errgroup.WithContext(ctx)
		g.Go(func() (err error) { counts, err = d.records.CoverageCounts(inner, s); return err })
		g.Go(func() (err error) { out.Rows, err = d.coverageRows(inner, page); return err })
		if err := g.Wait(); err != nil {
			return out, err
		}
		if out.Locations, out.Wanted = int(counts.Locations), int(counts.Wanted); counts.Fitted == counts.Locations {
			break
		}
		if err := d.records.KnowFits(ctx, s); err != nil {
			return out, err
		}
	}
	unverified, err := d.store.Reading(ctx).UnverifiedCount(ctx, db.UnverifiedCountParams{Clients: s.Clients, LocationID: s.Location})
	if err != nil {
		return out, err
	}
	out.ToVerify = int(unverified)
	listings, err := d.store.Reading(ctx).ListingCounts(ctx, db.ListingCountsParams{Clients: s.Clients, LocationID: s.Location})
	for _, c := range listings {
		switch {
		case c.Visibility == string(verification.Public):
			out.Public += int(c.Count)
		case c.Control != string(verification.NoControl):
			out.UnderWay += int(c.Count)
		}
	}
	return out, err
}

func (d *Desk) coverageRows(ctx context.Context, p db.CoverageParams) ([]CoverageRow, error) {
	rows, err := d.store.Reading(ctx).Coverage(ctx, p)
	if err != nil {
		return nil, err
	}
	out, at, ids := make([]CoverageRow, len(rows)), make(map[uuid.UUID]*CoverageRow, len(rows)), make([]uuid.UUID, len(rows))
	for i, r := range rows {
		out[i] = CoverageRow{
			Location:   r.ID,
			Client:     r.ClientID,
			ClientName: r.ClientName,
			Label:      r.Label,
			Kind:       r.Kind,
			Wanted:     r.Wanted,
			Next:       r.Next,
			Fits:       r.Cells,
			States:     map[string]verification.State{},
		}
		at[r.ID], ids[i] = &out[i], r.ID
	}
	begun, err := d.store.Reading(ctx).ListingsOf(ctx, ids)
	if err != nil {
		return nil, err
	}
	for _, l := range begun {
		at[l.LocationID].States[l.DirectoryID] = tracks(l.Control, l.Verification, l.Visibility)
	}
	for i := range out {
		out[i].weigh(d.shelf.Books())
	}
	return out, nil
}

// weigh reckons how much of the wanted weight is public.
func (r *CoverageRow) weigh(books []rulebook.Rulebook) {
	wanted, public := 0, 0
	for i := range books {
		b := &books[i]
		if !slices.Contains(r.Wanted, b.ID) {
			continue
		}
		if wanted += b.Weight; r.States[b.ID].Visibility == verification.Public {
			public += b.Weight
		}
	}
	if wanted > 0 {
		r.Public = 100 * float64(public) / float64(wanted)
	}
}

// DirectoryCount is how far a scope's listings on a directory have come.
type DirectoryCount struct {
	Directory            string
	Wanted, Held, Public int
}

// DirectoryCounts counts a scope's listings by directory.
func (d *Desk) DirectoryCounts(ctx context.Context, s ledger.Scope) ([]DirectoryCount, error) {
	if err := d.records.KnowFits(ctx, s); err != nil {
		return nil, err
	}
	rows, err := d.store.Reading(ctx).DirectoryCounts(ctx, db.DirectoryCountsParams{Clients: s.Clients, LocationID: s.Location})
	out := make([]DirectoryCount, len(rows))
	for i, r := range rows {
		out[i] = DirectoryCount{r.DirectoryID, int(r.Wanted), int(r.Held), int(r.Public)}
	}
	return out, err
}

// StatesOnWeightiest are where the listings on the weightiest directory stand, by location; their three tracks
// alone, and only of those that were begun.
func (d *Desk) StatesOnWeightiest(ctx context.Context) (map[uuid.UUID]verification.State, error) {
	books := d.shelf.Books()
	if len(books) == 0 {
		return nil, nil
	}
	rows, err := d.store.Reading(ctx).ListingsOn(ctx, books[0].ID)
	out := make(map[uuid.UUID]verification.State, len(rows))
	for _, r := range rows {
		out[r.LocationID] = tracks(r.Control, r.Verification, r.Visibility)
	}
	return out, err
}

func tracks(control, proof, visibility string) verification.State {
	return verification.State{
		Control:      verification.Control(control),
		Verification: verification.Verification(proof),
		Visibility:   verification.Visibility(visibility),
	}
}
