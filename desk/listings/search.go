package listings

import (
	"cmp"
	"context"
	"encoding/json"
	"slices"
	"strings"

	"github.com/google/uuid"

	"uvent/core/fact/address"
	"uvent/core/fact/contact"
	"uvent/core/listing/verification"
	"uvent/core/record/match"
	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/reach"
	"uvent/store"
	"uvent/store/db"
)

// Search looks for a location on a directory. Nothing can be created before.
func (d *Desk) Search(ctx context.Context, actor people.Actor, at ledger.Place) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		call, err = d.SearchOn(ctx, l)
		return err
	})
	return call, err
}

// SearchOn asks a directory for a location, where it can be asked.
func (d *Desk) SearchOn(ctx context.Context, l *ledger.Listing) (uuid.UUID, error) {
	if err := l.Free(); err != nil {
		return uuid.Nil, err
	}
	if why := l.Book.MayList(l.Where.Record); why != "" {
		return uuid.Nil, problem.Conflictf("%s", why)
	}
	if l.State.Control == verification.Held {
		return uuid.Nil, problem.Conflictf("We hold this listing already.")
	}
	if err := connected(l); err != nil {
		return uuid.Nil, err
	}
	before, err := formerAddresses(ctx, l.Q, l.Location, l.Where.Record)
	if err != nil {
		return uuid.Nil, err
	}
	queries := queriesFor(l.Where.Record, before)
	return d.ledger.Ask(ctx, l, verification.SearchAsked{Says: searchedBy(queries)}, search{queries})
}

// search is what a location is looked for by.
type search struct {
	Queries []reach.Query `json:"queries"`
}

var searching = request[search]{
	put: func(ctx context.Context, d *Desk, to to, q search) (verification.What, error) {
		found, err := d.find(ctx, to.url, q.Queries)
		if err != nil {
			return nil, err
		}
		_, st, err := d.ledger.Begun(ctx, to.at)
		if err != nil {
			return nil, err
		}
		// What was left with a place before is known, and not of the place that it is about.
		found = slices.DeleteFunc(found, func(l reach.Listing) bool { return st.LeftOne(l.Ref) })
		return d.weigh(ctx, to.at.Location, found)
	},
	no: func(_ search, says string, _ *reach.Refusal) verification.What {
		return verification.CallGivenUp{Says: says}
	},
}

// find asks by each query, and takes what is found more than once for one.
func (d *Desk) find(ctx context.Context, url string, queries []reach.Query) (found []reach.Listing, err error) {
	for _, q := range queries {
		list, err := d.reach.Search(ctx, url, q)
		if err != nil {
			return nil, err
		}
		for _, l := range list {
			if !slices.ContainsFunc(found, func(o reach.Listing) bool { return o.Ref == l.Ref }) {
				found = append(found, l)
			}
		}
	}
	return found, nil
}

// weigh holds what was found against the record.
func (d *Desk) weigh(ctx context.Context, location uuid.UUID, found []reach.Listing) (verification.What, error) {
	row, err := store.One(ledger.LocationOf)(d.store.Location(ctx, location))
	if err != nil {
		return nil, err
	}
	ours := match.Of(row.Record)
	if ours.Before, err = formerAddresses(ctx, d.store.Queries, location, row.Record); err != nil {
		return nil, err
	}
	e := verification.Searched{}
	for _, l := range found {
		theirs := match.Business{Name: l.Shown.Name, Address: l.Shown.Address, Website: l.Shown.Website}
		if l.Shown.Phone != "" {
			theirs.Phones = []string{l.Shown.Phone}
		}
		r := match.Compare(ours, theirs)
		if r.Verdict == match.Different {
			continue
		}
		c := verification.Candidate{
			Ref:     l.Ref,
			Page:    l.Page,
			Shown:   l.Shown,
			Score:   r.Score,
			Verdict: r.Verdict,
			Reasons: r.Reasons,
			Status:  verification.FreeToClaim,
		}
		switch l.Holder {
		case "you":
			c.Status = verification.Ours
		case "another":
			c.Status = verification.HeldElse
		}
		e.Candidates = append(e.Candidates, c)
	}
	slices.SortStableFunc(e.Candidates, func(a, b verification.Candidate) int { return cmp.Compare(b.Score, a.Score) })
	return e, nil
}

// queriesFor are what a location is looked for by: its name, phone and address, its other
// names and phones, and where it was before.
func queriesFor(r record.Record, before []address.Address) []reach.Query {
	out := []reach.Query{{Name: r.Name, Phone: r.MainPhone(), Street: r.Address.Street, Locality: r.Address.Locality}}
	names := []string{r.Name}
	for _, name := range append([]string{r.LegalName}, r.FormerNames...) {
		if name != "" && !slices.ContainsFunc(names, func(n string) bool { return strings.EqualFold(n, name) }) {
			names = append(names, name)
			out = append(out, reach.Query{Name: name, Locality: r.Address.Locality})
		}
	}
	for _, p := range r.Phones {
		if p.E164 != r.MainPhone() {
			out = append(out, reach.Query{Phone: p.E164})
		}
	}
	for _, a := range before {
		out = append(out, reach.Query{Name: r.Name, Street: a.Street, Locality: a.Locality})
	}
	return out
}

// searchedBy says what was searched by, for the evidence.
func searchedBy(queries []reach.Query) string {
	var parts []string
	for i, q := range queries {
		var of []string
		if q.Name != "" && (i == 0 || q.Street == "") {
			of = append(of, "“"+q.Name+"”")
		}
		if q.Phone != "" {
			of = append(of, contact.National(q.Phone))
		}
		if q.Street != "" {
			of = append(of, q.Street)
		}
		parts = append(parts, strings.Join(of, ", "))
	}
	return "By " + strings.Join(parts, "; ") + "."
}

// formerAddresses are where a location was before: what its record says of that, and what it said before it said
// otherwise.
func formerAddresses(ctx context.Context, q *db.Queries, location uuid.UUID, r record.Record) ([]address.Address, error) {
	rows, err := q.FormerAddresses(ctx, &location)
	if err != nil {
		return nil, err
	}
	var out []address.Address
	add := func(a address.Address) {
		if !slices.ContainsFunc(out, func(b address.Address) bool { return address.Spell(a.Line()) == address.Spell(b.Line()) }) {
			out = append(out, a)
		}
	}
	for _, line := range r.Former {
		a, ok := address.Read(line, r.Address.Country)
		if !ok { // no town is named: it was in this one
			a = address.Address{Street: line, Locality: r.Address.Locality, Region: r.Address.Region, Country: r.Address.Country}
		}
		add(a)
	}
	for _, row := range rows {
		var a address.Address
		if err := json.Unmarshal(row, &a); err != nil {
			return nil, err
		}
		add(a)
	}
	return out, nil
}
