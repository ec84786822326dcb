package desk

import (
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
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/reach"
	"uvent/store/db"
)

// Search looks for a location on a directory. Nothing can be created before.
func (d *Desk) Search(ctx context.Context, actor Actor, at Place) (call uuid.UUID, err error) {
	err = d.change(ctx, actor, at, func(l *listing) error {
		call, err = d.search(ctx, l)
		return err
	})
	return call, err
}

// search asks a directory for a location, where it can be asked.
func (d *Desk) search(ctx context.Context, l *listing) (uuid.UUID, error) {
	if err := l.free(); err != nil {
		return uuid.Nil, err
	}
	if why := l.book.MayList(l.location.Record); why != "" {
		return uuid.Nil, conflict("%s", why)
	}
	if l.state.Control == verification.Held {
		return uuid.Nil, conflict("We hold this listing already.")
	}
	if err := l.connected(); err != nil {
		return uuid.Nil, err
	}
	before, err := formerAddresses(ctx, l.q, l.Location)
	if err != nil {
		return uuid.Nil, err
	}
	queries := queriesFor(l.location.Record, before)
	return d.ask(ctx, l, verification.SearchAsked, question{Queries: queries}, verification.Event{Says: searchedBy(queries)})
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
func (d *Desk) Claim(ctx context.Context, actor Actor, at Place, ref string) (call uuid.UUID, err error) {
	err = d.change(ctx, actor, at, func(l *listing) error {
		if err := l.mayTake(); err != nil {
			return err
		}
		i := slices.IndexFunc(l.state.Candidates, func(c verification.Candidate) bool { return c.Ref == ref })
		if i < 0 {
			return conflict("The last search did not find that listing; search again.")
		}
		first, err := l.first(ctx)
		if err != nil {
			return err
		}
		call, err = d.ask(ctx, l, verification.ClaimAsked, question{Ref: ref, Values: first, Signs: l.signs()}, verification.Event{Ref: ref})
		return err
	})
	return call, err
}

// Create makes a new listing from the record, after a search. Where the page's address is
// made from a name, name is the one to take; empty: the best that is not known to be
// another's.
func (d *Desk) Create(ctx context.Context, actor Actor, at Place, name string) (call uuid.UUID, err error) {
	err = d.change(ctx, actor, at, func(l *listing) error {
		if err := l.mayTake(); err != nil {
			return err
		}
		if l.book.Worked == rulebook.Suggestions {
			return conflict("%s makes its listings by itself, of what it reads elsewhere. Search again when the location shows there.", l.book.Name)
		}
		s, err := fitSubject(ctx, l.q, l.location)
		if err != nil {
			return err
		}
		if whys := fit.Of(s, &l.book).Whys(); whys != nil {
			more := ""
			if len(whys) > 1 {
				more = fmt.Sprintf(" (and %d more)", len(whys)-1)
			}
			return conflict("%s%s", whys[0], more)
		}
		if _, err := l.first(ctx); err != nil {
			return err
		}
		page, err := l.pageName(name)
		if err != nil {
			return err
		}
		values := fit.Compose(s, &l.book)
		call, err = d.ask(ctx, l, verification.CreateAsked, question{Values: values, Page: page, Signs: l.signs()}, verification.Event{})
		return err
	})
	return call, err
}

// signs is who attests that they may speak for the business: whoever claims or creates.
// Empty where the directory does not ask.
func (l *listing) signs() string {
	if l.book.Account.Attests {
		return l.actor.Name
	}
	return ""
}

// mayTake says why a listing can be neither claimed nor created now.
func (l *listing) mayTake() error {
	if err := l.free(); err != nil {
		return err
	}
	switch {
	case l.state.Control == verification.Held:
		return conflict("We hold this listing already.")
	case l.book.Connector.URL == "":
		return l.connected()
	case l.state.SearchedAt == nil:
		return conflict("Search %s first: it may have this location already.", l.book.Name)
	}
	return nil
}

// connected says that a directory cannot be asked by a program, where it cannot.
func (l *listing) connected() error {
	if l.book.Connector.URL == "" {
		return conflict("%s has no interface: it is worked %s.", l.book.Name, l.book.Worked.Words())
	}
	return nil
}

// first are the values that the directory must have before anything else, or what is
// missing of them.
func (l *listing) first(ctx context.Context) (fit.Values, error) {
	s, err := fitSubject(ctx, l.q, l.location)
	if err != nil {
		return nil, err
	}
	all, out := fit.Compose(s, &l.book), fit.Values{}
	for _, f := range l.book.Account.First {
		if f.Fact == "" {
			continue // the record cannot hold it
		}
		v, ok := all.Find(f.Fact)
		if !ok {
			return nil, conflict("%s wants %s first, and the record has none.", l.book.Name, f.Says)
		}
		out = append(out, v)
	}
	return out, nil
}

// CopyFrom makes a listing out of ours on another directory, as far as it carries.
func (d *Desk) CopyFrom(ctx context.Context, actor Actor, at Place, from string) (call uuid.UUID, err error) {
	theirs, err := d.Book(from)
	if err != nil {
		return call, err
	}
	err = d.change(ctx, actor, at, func(l *listing) error {
		if err := l.mayTake(); err != nil {
			return err
		}
		if !slices.ContainsFunc(l.book.Copies, func(c rulebook.Copying) bool { return c.From == from && c.OnRequest }) {
			return conflict("%s does not copy from %s when it is asked to.", l.book.Name, theirs.Name)
		}
		row, err := l.q.Listing(ctx, db.ListingParams{LocationID: at.Location, DirectoryID: from})
		if ignoreNoRows(err) != nil {
			return err
		}
		if err != nil || row.State.VerifiedAt == nil {
			return conflict("%s copies a verified listing, and that on %s is not.", l.book.Name, theirs.Name)
		}
		first, err := l.first(ctx)
		if err != nil {
			return err
		}
		call, err = d.ask(ctx, l, verification.CopyAsked, question{From: from, Page: row.State.Page, Values: first}, verification.Event{Ref: from})
		return err
	})
	return call, err
}

// pageName is the name for a listing's page: the one that is wished for, or the best that
// is free as far as is known. Empty where the directory makes none of a name.
func (l *listing) pageName(wish string) (string, error) {
	p := l.book.PageAddress
	if p.Begins == "" {
		return "", nil
	}
	if wish != "" {
		name := link.Slug(wish)
		switch {
		case name == "":
			return "", &Problem{Kind: Invalid, Detail: "A page’s name has letters, digits and hyphens."}
		case p.MostCharacters > 0 && len(name) > p.MostCharacters:
			return "", &Problem{Kind: Invalid, Detail: fmt.Sprintf("The page’s name has %d characters; %s takes %d.", len(name), l.book.Name, p.MostCharacters)}
		}
		return name, nil
	}
	for _, name := range p.Propose(l.location.Record) {
		if !slices.Contains(l.state.Taken, name) {
			return name, nil
		}
	}
	return "", conflict("Every name that was thought of for the page is taken. Write one.")
}
