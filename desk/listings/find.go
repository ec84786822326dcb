package listings

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"uvent/core/fact/address"
	"uvent/core/fact/contact"
	"uvent/core/listing/verification"
	"uvent/core/record/link"
	"uvent/core/record/match"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/reach"
	"uvent/store"
	"uvent/store/db"
)

// putSearch searches and weighs what was found against the record.
func (d *Desk) putSearch(ctx context.Context, book rulebook.Rulebook, location uuid.UUID, queries []reach.Query) (verification.Event, error) {
	var found []reach.Listing
	for _, q := range queries {
		list, err := d.reach.Search(ctx, book.Connector.URL, q)
		if err != nil {
			return verification.Event{}, err
		}
		for _, l := range list {
			if !slices.ContainsFunc(found, func(o reach.Listing) bool { return o.Ref == l.Ref }) {
				found = append(found, l)
			}
		}
	}
	row, err := store.One(ledger.LocationOf)(d.store.Location(ctx, location))
	if err != nil {
		return verification.Event{}, err
	}
	ours := match.Of(row.Record)
	if ours.Before, err = formerAddresses(ctx, d.store.Queries, location); err != nil {
		return verification.Event{}, err
	}
	e := verification.Event{Kind: verification.Searched, Candidates: []verification.Candidate{}}
	for _, l := range found {
		theirs := match.Business{Name: l.Shown.Name, Address: l.Shown.Address, Website: l.Shown.Website}
		if l.Shown.Phone != "" {
			theirs.Phones = []string{l.Shown.Phone}
		}
		r := match.Compare(ours, theirs)
		if r.Verdict == match.Different {
			continue
		}
		c := verification.Candidate{Ref: l.Ref, Page: l.Page, Shown: l.Shown, Score: r.Score, Verdict: r.Verdict, Reasons: r.Reasons, Status: verification.FreeToClaim}
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
	before, err := formerAddresses(ctx, l.Q, l.Location)
	if err != nil {
		return uuid.Nil, err
	}
	queries := queriesFor(l.Where.Record, before)
	return d.ledger.Ask(ctx, l, verification.SearchAsked, question{Queries: queries}, verification.Event{Says: searchedBy(queries)})
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

// formerAddresses are where a location was before its record said otherwise.
func formerAddresses(ctx context.Context, q *db.Queries, location uuid.UUID) ([]address.Address, error) {
	rows, err := q.FormerAddresses(ctx, &location)
	if err != nil {
		return nil, err
	}
	var out []address.Address
	for _, r := range rows {
		var a address.Address
		if err := json.Unmarshal(r, &a); err != nil {
			return nil, err
		}
		out = append(out, a)
	}
	return out, nil
}

// Claim asks for control of a listing that the last search found.
func (d *Desk) Claim(ctx context.Context, actor people.Actor, at ledger.Place, ref string) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := mayTake(l); err != nil {
			return err
		}
		i := slices.IndexFunc(l.State.Candidates, func(c verification.Candidate) bool { return c.Ref == ref })
		if i < 0 {
			return problem.Conflictf("The last search did not find that listing; search again.")
		}
		first, err := firstValues(ctx, l)
		if err != nil {
			return err
		}
		call, err = d.ledger.Ask(ctx, l, verification.ClaimAsked, question{Ref: ref, Values: first, Signs: signer(l)}, verification.Event{Ref: ref})
		return err
	})
	return call, err
}

// Create makes a new listing from the record, after a search. Where the page's address is
// made from a name, name is the one to take; empty: the best that is not known to be
// another's.
func (d *Desk) Create(ctx context.Context, actor people.Actor, at ledger.Place, name string) (call uuid.UUID, err error) {
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := mayTake(l); err != nil {
			return err
		}
		if l.Book.Worked == rulebook.Suggestions {
			return problem.Conflictf("%s makes its listings by itself, of what it reads elsewhere. Search again when the location shows there.", l.Book.Name)
		}
		s, err := records.FitSubject(ctx, l.Q, l.Where)
		if err != nil {
			return err
		}
		if whys := fit.Of(s, &l.Book).Whys(); whys != nil {
			more := ""
			if len(whys) > 1 {
				more = fmt.Sprintf(" (and %d more)", len(whys)-1)
			}
			return problem.Conflictf("%s%s", whys[0], more)
		}
		if _, err := firstValues(ctx, l); err != nil {
			return err
		}
		page, err := pageName(l, name)
		if err != nil {
			return err
		}
		values := fit.Compose(s, &l.Book)
		call, err = d.ledger.Ask(ctx, l, verification.CreateAsked, question{Values: values, Page: page, Signs: signer(l)}, verification.Event{})
		return err
	})
	return call, err
}

// signs is who attests that they may speak for the business: whoever claims or creates.
// Empty where the directory does not ask.
func signer(l *ledger.Listing) string {
	if l.Book.Account.Attests {
		return l.Actor.Name
	}
	return ""
}

// mayTake says why a listing can be neither claimed nor created now.
func mayTake(l *ledger.Listing) error {
	if err := l.Free(); err != nil {
		return err
	}
	switch {
	case l.State.Control == verification.Held:
		return problem.Conflictf("We hold this listing already.")
	case l.Book.Connector.URL == "":
		return connected(l)
	case l.State.SearchedAt == nil:
		return problem.Conflictf("Search %s first: it may have this location already.", l.Book.Name)
	}
	return nil
}

// connected says that a directory cannot be asked by a program, where it cannot.
func connected(l *ledger.Listing) error {
	if l.Book.Connector.URL == "" {
		return problem.Conflictf("%s has no interface: it is worked %s.", l.Book.Name, l.Book.Worked.Words())
	}
	return nil
}

// first are the values that the directory must have before anything else, or what is
// missing of them.
func firstValues(ctx context.Context, l *ledger.Listing) (fit.Values, error) {
	s, err := records.FitSubject(ctx, l.Q, l.Where)
	if err != nil {
		return nil, err
	}
	all, out := fit.Compose(s, &l.Book), fit.Values{}
	for _, f := range l.Book.Account.First {
		if f.Fact == "" {
			continue // the record cannot hold it
		}
		v, ok := all.Find(f.Fact)
		if !ok {
			return nil, problem.Conflictf("%s wants %s first, and the record has none.", l.Book.Name, f.Says)
		}
		out = append(out, v)
	}
	return out, nil
}

// CopyFrom makes a listing out of ours on another directory, as far as it carries.
func (d *Desk) CopyFrom(ctx context.Context, actor people.Actor, at ledger.Place, from string) (call uuid.UUID, err error) {
	theirs, err := d.shelf.Book(from)
	if err != nil {
		return call, err
	}
	err = d.ledger.Change(ctx, actor, at, func(l *ledger.Listing) error {
		if err := mayTake(l); err != nil {
			return err
		}
		if !slices.ContainsFunc(l.Book.Copies, func(c rulebook.Copying) bool { return c.From == from && c.OnRequest }) {
			return problem.Conflictf("%s does not copy from %s when it is asked to.", l.Book.Name, theirs.Name)
		}
		row, err := l.Q.Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: from})
		if problem.IgnoreNoRows(err) != nil {
			return err
		}
		if err != nil || row.State.VerifiedAt == nil {
			return problem.Conflictf("%s copies a verified listing, and that on %s is not.", l.Book.Name, theirs.Name)
		}
		first, err := firstValues(ctx, l)
		if err != nil {
			return err
		}
		call, err = d.ledger.Ask(ctx, l, verification.CopyAsked, question{From: from, Page: row.State.Page, Values: first}, verification.Event{Ref: from})
		return err
	})
	return call, err
}

// pageName is the name for a listing's page: the one that is wished for, or the best that
// is free as far as is known. Empty where the directory makes none of a name.
func pageName(l *ledger.Listing, wish string) (string, error) {
	p := l.Book.PageAddress
	if p.Begins == "" {
		return "", nil
	}
	if wish != "" {
		name := link.Slug(wish)
		switch {
		case name == "":
			return "", &problem.Problem{Kind: problem.Invalid, Detail: "A page’s name has letters, digits and hyphens."}
		case p.MostCharacters > 0 && len(name) > p.MostCharacters:
			return "", &problem.Problem{Kind: problem.Invalid, Detail: fmt.Sprintf("The page’s name has %d characters; %s takes %d.", len(name), l.Book.Name, p.MostCharacters)}
		}
		return name, nil
	}
	for _, name := range p.Propose(l.Where.Record) {
		if !slices.Contains(l.State.Taken, name) {
			return name, nil
		}
	}
	return "", problem.Conflictf("Every name that was thought of for the page is taken. Write one.")
}
