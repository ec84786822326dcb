package desk

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"uvent/core/record/paper"
	"uvent/core/record/record"
	"uvent/store/db"
)

// Compared is a paper held against a record.
type Compared struct {
	Paper
	Findings []paper.Finding
}

// compared are the papers of some kinds, each held against the record.
func compared(papers []db.Paper, kinds []string, r record.Record, now time.Time) (out []Compared) {
	for _, p := range papers {
		if slices.Contains(kinds, p.Kind) {
			out = append(out, Compared{p, paper.Against(saidOf(p), r, now)})
		}
	}
	return out
}

// Mend puts into a location's record what one of its papers says, where the two differ:
// the unit, or the legal name.
func (d *Desk) Mend(ctx context.Context, actor Actor, location, id uuid.UUID, fact string) (Location, error) {
	at, err := d.Location(ctx, location)
	if err != nil {
		return at, err
	}
	papers, err := d.store.Papers(ctx, db.PapersParams{ClientID: at.ClientID, LocationID: &location})
	if err != nil {
		return at, err
	}
	i := slices.IndexFunc(papers, func(p db.Paper) bool { return p.ID == id })
	if i < 0 {
		return at, &Problem{Kind: NotFound, Detail: "The location has no such paper."}
	}
	r := at.Record
	for _, f := range paper.Faults(paper.Against(saidOf(papers[i]), r, d.clock.Now())) {
		if f.Fact != fact || f.Mend == "" {
			continue
		}
		switch {
		case fact == "unit" && f.Mend == "–":
			r.Address.Unit = ""
		case fact == "unit":
			r.Address.Unit = f.Mend
		case fact == "name":
			r.LegalName = f.Mend
		}
		return d.SaveLocation(ctx, actor, location, at.Version, r)
	}
	return at, conflict("There is nothing in this paper that could be put into the record. Look at it again.")
}

// byOwner are papers by whose they are.
type byOwner map[uuid.UUID][]db.Paper

func (b byOwner) of(l *db.Location) []db.Paper { return slices.Concat(b[l.ClientID], b[l.ID]) }

// allPapers are all that there are.
func (d *Desk) allPapers(ctx context.Context) (byOwner, error) {
	rows, err := d.store.AllPapers(ctx)
	return byWhose(rows, func(p db.Paper) (uuid.UUID, *uuid.UUID) { return p.ClientID, p.LocationID }), err
}
