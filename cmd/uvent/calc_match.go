package main

import (
	"errors"
	"fmt"

	"uvent/core/fact/address"
	"uvent/core/fact/contact"
	"uvent/core/record/match"
	"uvent/core/record/record"
)

type matchQuestion struct{ A, B described }

// described is a business as people write it; empty means not known.
type described struct {
	Name       string   `json:"name"`
	LegalName  string   `json:"legal_name"`
	Former     []string `json:"former_names"`
	Street     string   `json:"street"`
	Unit       string   `json:"unit"`
	Locality   string   `json:"locality"`
	Region     string   `json:"region"`
	PostalCode string   `json:"postal_code"`
	Country    string   `json:"country"`
	Phone      string   `json:"phone"`
	Website    string   `json:"website"`
	Lat        *float64 `json:"lat"`
	Lng        *float64 `json:"lng"`
}

func (d described) business() (match.Business, error) {
	b := match.Business{Name: d.Name, LegalName: d.LegalName, Former: d.Former, Website: d.Website,
		Address: address.Address{Street: d.Street, Unit: d.Unit, Locality: d.Locality, Region: d.Region, PostalCode: d.PostalCode, Country: d.Country}}
	if d.Phone != "" {
		phone, why := contact.E164(d.Phone, d.Country)
		if why != "" {
			return b, fmt.Errorf("phone: %q: %s", d.Phone, why)
		}
		b.Phones = []string{phone}
	}
	if (d.Lat == nil) != (d.Lng == nil) {
		return b, errors.New("lat, lng: give both or neither")
	}
	if d.Lat != nil {
		b.Pin = &record.Pin{Latitude: *d.Lat, Longitude: *d.Lng}
	}
	return b, nil
}

type matchAnswer struct {
	Score   float64       `json:"score"`
	Verdict match.Verdict `json:"verdict"`
	Reasons []string      `json:"reasons"`
}

func (q matchQuestion) answer() (any, error) {
	a, err := q.A.business()
	if err != nil {
		return nil, fmt.Errorf("a.%w", err)
	}
	b, err := q.B.business()
	if err != nil {
		return nil, fmt.Errorf("b.%w", err)
	}
	r := match.Compare(a, b)
	return matchAnswer{r.Score, r.Verdict, r.Reasons}, nil
}
