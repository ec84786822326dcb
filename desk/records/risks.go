package records

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"uvent/core/rule/risk"
	"uvent/desk/ledger"
	"uvent/store/db"
)

// RiskSubject reads what a location is held against risks with: its record, and who else
// has its address and its phone.
func RiskSubject(ctx context.Context, q *db.Queries, l ledger.Location) (risk.Subject, error) {
	r := l.Record
	s := risk.Subject{Record: r}
	var err error
	if r.Address.Street != "" {
		if s.Adjacent, err = q.Neighbours(
			ctx,
			db.NeighboursParams{ClientID: l.ClientID, Street: r.Address.Street, Locality: r.Address.Locality, Unit: r.Address.Unit},
		); err != nil {
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
