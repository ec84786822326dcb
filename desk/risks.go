package desk

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/rule/fit"
	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
	"uvent/store/db"
)

// riskSubject reads what a location is held against risks with: its record, and who else
// has its address and its phone.
func riskSubject(ctx context.Context, q *db.Queries, l Location) (risk.Subject, error) {
	r := l.Record
	s := risk.Subject{Record: r}
	var err error
	if r.Address.Street != "" {
		if s.Adjacent, err = q.Neighbours(ctx, db.NeighboursParams{ClientID: l.ClientID, Street: r.Address.Street, Locality: r.Address.Locality, Unit: r.Address.Unit}); err != nil {
			return s, err
		}
	}
	if phone := r.MainPhone(); phone != "" {
		others, err := q.PhoneElsewhere(ctx, db.PhoneElsewhereParams{ClientID: l.ClientID, Phone: phone})
		if err != nil {
			return s, err
		}
		for _, o := range others {
			s.Phones = append(s.Phones, o.Name+", "+o.Label)
		}
	}
	sites, err := q.ClientSites(ctx, l.ClientID)
	if err != nil {
		return s, err
	}
	count := map[string]int{}
	for _, site := range sites {
		if host := risk.Host(site.Website); host != "" && host != risk.Host(r.Website) {
			count[host]++
		}
		if _, domain, ok := strings.Cut(site.Email, "@"); ok {
			count[strings.ToLower(domain)]++
		}
	}
	for host := range count {
		s.Sites = append(s.Sites, host)
	}
	slices.SortFunc(s.Sites, func(a, b string) int { return cmp.Or(count[b]-count[a], strings.Compare(a, b)) })
	return s, nil
}

// Danger is what is likely to be set off on one directory.
type Danger struct {
	Book   *rulebook.Rulebook
	Risks  []risk.Risk
	Worst  rulebook.SetsOff
	Chance float64
}

// Risks lists what in a location's record is a risk, by directory, the most dangerous
// first; of directories on which it is wanted or begun.
func (d *Desk) Risks(ctx context.Context, location uuid.UUID) ([]Danger, error) {
	l, err := d.Location(ctx, location)
	if err != nil {
		return nil, err
	}
	s, err := riskSubject(ctx, d.store.Queries, l)
	if err != nil {
		return nil, err
	}
	var out []Danger
	books := d.Books()
	for i := range books {
		b := &books[i]
		if b.MayList(l.Record) != "" {
			continue
		}
		x := Danger{Book: b, Risks: risk.Find(b, s)}
		if x.Worst, x.Chance = risk.Expect(x.Risks); len(x.Risks) > 0 {
			out = append(out, x)
		}
	}
	slices.SortStableFunc(out, func(a, b Danger) int {
		return int(1000*b.Chance*float64(b.Book.Weight)) - int(1000*a.Chance*float64(a.Book.Weight))
	})
	return out, nil
}

// Caution is what a change may set off on a directory, and the gentlest way to make it.
type Caution struct {
	Risks  []risk.Risk
	Worst  rulebook.SetsOff
	Chance float64
	Steps  []risk.Step
}

// caution weighs the change that a listing would be sent.
func caution(b *rulebook.Rulebook, s risk.Subject, keys []string, st verification.State) (c Caution) {
	if len(keys) == 0 {
		return c
	}
	s.Changed = keys
	var settling *rulebook.Edit
	if st.Change != nil {
		s.Before = st.Change.Keys
		if len(s.Before) == 0 {
			s.Before = []string{""} // it is not known which
		}
		settling = &rulebook.Edit{SetsOff: rulebook.OffReview}
		for _, e := range b.Edits {
			if slices.ContainsFunc(e.Facts, func(f string) bool { return slices.Contains(s.Before, f) }) {
				settling = &e
			}
		}
	}
	c.Risks = risk.Find(b, s)
	c.Worst, c.Chance = risk.Expect(c.Risks)
	c.Steps = risk.Order(b, keys, settling)
	return c
}

// titles are what a directory calls some of its fields.
func titles(b *rulebook.Rulebook, keys []string) (out []string) {
	for _, k := range keys {
		out = append(out, b.FieldTitle(k))
	}
	return out
}

// keysOfChanged are the keys of changed values.
func keysOfChanged(changed []Changed) (out []string) {
	for _, c := range changed {
		out = append(out, c.Key)
	}
	return out
}

// only are the values whose keys are named; all where none is.
func only(values fit.Values, keys []string) fit.Values {
	if len(keys) == 0 {
		return values
	}
	return slices.DeleteFunc(slices.Clone(values), func(v fit.Value) bool { return !slices.Contains(keys, v.Key) })
}

// over lays values over those that were given before.
func over(given, values fit.Values) fit.Values {
	out := slices.Clone(given)
	for _, v := range values {
		if i := slices.IndexFunc(out, func(o fit.Value) bool { return o.Key == v.Key }); i >= 0 {
			out[i] = v
		} else {
			out = append(out, v)
		}
	}
	return out
}
