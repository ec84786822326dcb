package records

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"uvent/core/record/paper"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Mend puts into a location's record what one of its papers says, where the two differ:
// the unit, or the legal name.
func (d *Desk) Mend(ctx context.Context, actor people.Actor, location, id uuid.UUID, fact string) (ledger.Location, error) {
	at, err := d.ledger.Location(ctx, location)
	if err != nil {
		return at, err
	}
	papers, err := store.Each(files.PaperOf)(d.store.Papers(ctx, db.PapersParams{ClientID: at.ClientID, LocationID: &location}))
	if err != nil {
		return at, err
	}
	i := slices.IndexFunc(papers, func(p files.Paper) bool { return p.ID == id })
	if i < 0 {
		return at, &problem.Problem{Kind: problem.NotFound, Detail: "The location has no such paper."}
	}
	r := at.Record
	for _, f := range paper.Faults(paper.Against(files.SaidOf(papers[i]), r, d.clock.Now())) {
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
	return at, problem.Conflictf("There is nothing in this paper that could be put into the record. Look at it again.")
}
