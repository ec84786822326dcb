package boards

import (
	"cmp"
	"context"
	"slices"

	"github.com/google/uuid"

	"uvent/core/listing/cases"
	"uvent/core/listing/verification"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
	"uvent/desk/listings"
)

// Hearings are how likely what a listing can ask for is to be granted.
type Hearings struct {
	Holder cases.Hearing  // that whoever holds it hands it over
	Papers []PaperHearing // what its people decide by, those first that help most
	Pages  []PageHearing  // public pages that can go with a suggestion, those first that help most
}

// PaperHearing is how likely a directory's people are to decide for us by a paper.
type PaperHearing struct {
	Kind string
	cases.Hearing
}

// PageHearing is how likely a suggestion is to be taken with a public page.
type PageHearing struct {
	Address string
	Kind    rulebook.PageKind
	Name    string   // of the directory; empty for the business's own
	Shows   []string // the facts that it was seen to say as the record does; of the business's own site nobody knows
	cases.Hearing
}

// Hearings are those of a listing that somebody else holds, or whose directory changes its panels itself; none of any other.
func (d *Desk) Hearings(ctx context.Context, v ListingView) (out Hearings, err error) {
	suggests := v.Book.Worked == rulebook.Suggestions && v.State.Control == verification.Held
	if v.State.Control != verification.HeldByAnother && !suggests {
		return out, nil
	}
	past, err := listings.HeardOf(ctx, d.store.Reading(ctx), v.Book)
	if err != nil {
		return out, err
	}
	out.Holder = cases.Holders(v.Book).ChanceOf("", nil, past.Holders)
	deciders := cases.Deciders(v.Book)
	for _, kind := range deciders.InOrder(v.Book.Access.Papers, past.Deciders) {
		out.Papers = append(out.Papers, PaperHearing{kind, deciders.ChanceOf("", []string{kind}, past.Deciders)})
	}
	if suggests {
		out.Pages, err = d.pagesFor(ctx, v, past.Suggestions)
	}
	return out, err
}

// pagesFor are the public pages of a listing's location that may go with a suggestion: the business's own, and listings of ours
// elsewhere.
func (d *Desk) pagesFor(ctx context.Context, v ListingView, past []cases.Heard) (out []PageHearing, err error) {
	bench := cases.Suggestions(v.Book)
	with := func(kind rulebook.PageKind) cases.Hearing {
		return bench.ChanceOf("", []string{string(kind)}, past)
	}
	if site := v.Location.Record.Website; site != "" {
		out = append(out, PageHearing{Address: site, Kind: rulebook.OwnSite, Hearing: with(rulebook.OwnSite)})
	}
	rows, err := d.store.Reading(ctx).WholeListingsOf(ctx, []uuid.UUID{v.Location.ID})
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		book, err := d.shelf.Book(row.DirectoryID)
		if err != nil || row.DirectoryID == v.Directory || row.State.Visibility != verification.Public || row.State.Page == "" {
			continue
		}
		page := PageHearing{Address: d.pageURL(book, row.State.Page), Kind: rulebook.OtherListing, Name: book.Name, Hearing: with(rulebook.OtherListing)}
		for _, line := range compare.Facts(v.Location.Record, book, row.State.Sighting, v.Location.Record.Today(d.clock.Now())) {
			if line.Mark == compare.Equal || line.Mark == compare.Alike {
				page.Shows = append(page.Shows, line.Fact)
			}
		}
		if len(page.Shows) > 0 {
			out = append(out, page)
		}
	}
	slices.SortStableFunc(out, func(a, b PageHearing) int { return cmp.Compare(b.Chance, a.Chance) })
	return out, nil
}

// CallTimes are those at which the owner of a listing is well called; nil where its directory calls nobody.
func (d *Desk) CallTimes(ctx context.Context, v ListingView) ([]verification.GoodTime, error) {
	open := slices.ContainsFunc(v.Ways, func(w verification.Way) bool { return w.Method == rulebook.Call && w.Guard != nil })
	if !open {
		return nil, nil
	}
	now := d.clock.Now()
	others, err := d.store.Reading(ctx).CallsToCome(ctx, now)
	return verification.GoodTimes(v.Location.Record, now, others), err
}
