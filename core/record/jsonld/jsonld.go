// Package jsonld writes a record as JSON-LD in schema.org's words
// (https://schema.org/LocalBusiness, https://www.w3.org/TR/json-ld11/) and
// reads it back.
package jsonld

import (
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/fact/category"
	"uvent/core/fact/hours"
	"uvent/core/record/record"
)

// business is a LocalBusiness as far as a record fills it.
type business struct {
	Context     string         `json:"@context"`
	Type        string         `json:"@type"`
	Name        string         `json:"name"`
	LegalName   string         `json:"legalName,omitempty"`
	Alternate   []string       `json:"alternateName,omitempty"`
	BranchCode  string         `json:"branchCode,omitempty"`
	Slogan      string         `json:"slogan,omitempty"`
	Description string         `json:"description,omitempty"`
	Short       string         `json:"disambiguatingDescription,omitempty"`
	Keywords    []string       `json:"keywords,omitempty"`
	KnowsAbout  []string       `json:"knowsAbout,omitempty"`
	Category    string         `json:"additionalType,omitempty"`
	Founded     string         `json:"foundingDate,omitempty"`
	Telephone   string         `json:"telephone,omitempty"`
	Contacts    []contactPoint `json:"contactPoint,omitempty"`
	Email       string         `json:"email,omitempty"`
	URL         string         `json:"url,omitempty"`
	Address     *postalAddress `json:"address,omitempty"`
	Geo         *geo           `json:"geo,omitempty"`
	Features    []feature      `json:"amenityFeature,omitempty"`
	Hours       specifications `json:"openingHoursSpecification,omitempty"`
	Dates       specifications `json:"specialOpeningHoursSpecification,omitempty"`
	AreaServed  list[served]   `json:"areaServed,omitempty"`
	SameAs      list[string]   `json:"sameAs,omitempty"`
	Menu        list[string]   `json:"hasMenu,omitempty"`
	Actions     list[action]   `json:"potentialAction,omitempty"`
	Payments    list[string]   `json:"paymentAccepted,omitempty"`
	Employees   list[employee] `json:"employee,omitempty"`
	Catalog     list[catalog]  `json:"hasOfferCatalog,omitempty"`
}

type contactPoint struct {
	Type      string `json:"@type"`
	Telephone string `json:"telephone"`
}

type postalAddress struct {
	Type     string `json:"@type"`
	Street   string `json:"streetAddress,omitempty"`
	Extended string `json:"extendedAddress,omitempty"`
	Locality string `json:"addressLocality,omitempty"`
	Region   string `json:"addressRegion,omitempty"`
	Postal   string `json:"postalCode,omitempty"`
	Country  string `json:"addressCountry,omitempty"`
}

type geo struct {
	Type      string  `json:"@type"`
	Latitude  float64 `json:"latitude"`
	Longitude float64 `json:"longitude"`
}

type feature struct {
	Type  string `json:"@type"`
	Name  string `json:"name"`
	Value bool   `json:"value"`
}

type specification struct {
	Type string `json:"@type"`
	hours.Specification
}

// Write writes a record. lost names what of it the format has no place for.
func Write(r record.Record) (data []byte, lost []string, err error) {
	b := business{
		Context: "https://schema.org", Type: "LocalBusiness", Name: r.Name, LegalName: r.LegalName, Alternate: r.FormerNames, BranchCode: r.StoreCode,
		Slogan: r.Words.Tagline, Description: r.Words.Medium, Short: r.Words.Short, Keywords: r.Words.Keywords, KnowsAbout: r.Words.Specialities,
		Founded: r.Opened, Telephone: r.MainPhone(), Email: r.Email, URL: r.Website,
	}
	if r.Category != "" {
		b.Category = category.Name(r.Category)
	}
	for _, p := range r.Phones[min(1, len(r.Phones)):] {
		b.Contacts = append(b.Contacts, contactPoint{"ContactPoint", p.E164})
	}
	if a := r.Address; !a.Empty() {
		b.Address = &postalAddress{"PostalAddress", a.Street, a.Unit, a.Locality, a.Region, a.PostalCode, a.Country}
	}
	if r.Pin != nil {
		b.Geo = &geo{"GeoCoordinates", r.Pin.Latitude, r.Pin.Longitude}
	}
	for _, a := range category.AllAttributes() {
		if value, said := r.Attributes[a.ID]; said {
			b.Features = append(b.Features, feature{"LocationFeatureSpecification", a.Name, value})
		}
	}
	b.more(r)
	if r.Hours != "" {
		schedule, _, err := hours.Parse(r.Hours)
		if err != nil {
			return nil, nil, fmt.Errorf("hours: %w", err)
		}
		week, dates, some := schedule.Specifications()
		b.Hours, b.Dates, lost = typed(week), typed(dates), some
	}
	data, err = json.MarshalIndent(b, "", "  ")
	return data, append(lost, noPlace(r)...), err
}

// specifications are read as others write them, too.
type specifications []specification

func (l *specifications) UnmarshalJSON(data []byte) error {
	var list hours.Specifications
	if err := json.Unmarshal(data, &list); err != nil {
		return err
	}
	*l = typed(list)
	return nil
}

// asRead are a record's hours as they come back from a document, without what that has no place for: where it says
// the same, the record's own stand.
func asRead(text string) string {
	s, _, err := hours.Parse(text)
	if err != nil {
		return ""
	}
	week, dates, _ := s.Specifications()
	return hours.FromSpecifications(slices.Concat(week, dates)).String()
}

func typed(list []hours.Specification) (out []specification) {
	for _, s := range list {
		out = append(out, specification{"OpeningHoursSpecification", s})
	}
	return out
}

// noPlace names the facts of a record that the format has no place for.
func noPlace(r record.Record) (lost []string) {
	for _, f := range []struct {
		said bool
		what string
	}{
		{r.Label != "", "what we call the location"}, {r.Kind != record.Premises, "the kind of location"}, {r.State.Kind != record.Open, "the state of business"},
		{!r.Mailing.Address.Empty() || r.Mailing.Contact != "", "where post goes"}, {len(r.Former) > 0, "former addresses"},
		{len(r.Phones) > 0, "what the phones can do"}, {len(r.Others) > 0,
			"the other categories"},
		{r.Words.Long != "", "the long description"}, {r.Words.Story != "", "the story"}, {r.Directions != "", "the directions"}, {r.Parking != "",
			"the words on parking"}, {r.Zone != "", "the time zone"},
		{len(r.Area.Towns) > 0, "populations and travel times of the towns served"}, {r.Links.Quote+r.Links.GiftCard+r.Links.App != "",
			"links for quotes, gift cards and the app"},
		{len(r.Socials) > 0, "which social profiles to show"}, {len(r.Videos) > 0, "the videos"}, {r.Tags != record.Tags{},
			"the campaign tags"}, {len(r.Licences) > 0, "the licences"},
		{!reflect.DeepEqual(r.Company, record.Company{Domains: []string{}}), "the company behind the location"}, {len(r.Own) > 0,
			"which facts are the location’s own"},
	} {
		if f.said {
			lost = append(lost, f.what)
		}
	}
	return lost
}

// ErrNoBusiness means that a document describes no business.
var ErrNoBusiness = errors.New("the document describes no business: it has no name")

// Read lays what a document says over a record; what it does not say stays as
// it is. The record is not checked.
func Read(data []byte, over record.Record) (record.Record, error) {
	var b business
	if err := json.Unmarshal(data, &b); err != nil {
		return over, fmt.Errorf("the document cannot be read as JSON-LD: %w", err)
	}
	if strings.TrimSpace(b.Name) == "" {
		return over, ErrNoBusiness
	}
	r := over
	for into, text := range map[*string]string{
		&r.Name: b.Name, &r.LegalName: b.LegalName, &r.StoreCode: b.BranchCode, &r.Words.Tagline: b.Slogan, &r.Words.Medium: b.Description, &r.Words.Short: b.Short,
		&r.Opened: b.Founded, &r.Email: b.Email, &r.Website: b.URL, &r.Category: b.Category,
	} {
		if text != "" {
			*into = text
		}
	}
	for into, list := range map[*[]string][]string{&r.FormerNames: b.Alternate, &r.Words.Keywords: b.Keywords, &r.Words.Specialities: b.KnowsAbout} {
		if list != nil {
			*into = list
		}
	}
	if found, ok := category.Find(r.Category); ok {
		r.Category = found.ID
	}
	if b.Telephone != "" {
		numbers := []string{b.Telephone}
		for _, c := range b.Contacts {
			numbers = append(numbers, c.Telephone)
		}
		r.Phones = phones(numbers, over.Phones)
	}
	if a := b.Address; a != nil {
		r.Address = address.Address{Street: a.Street, Unit: a.Extended, Locality: a.Locality, Region: a.Region, PostalCode: a.Postal, Country: a.Country}
	}
	if b.Geo != nil {
		r.Pin = &record.Pin{Latitude: b.Geo.Latitude, Longitude: b.Geo.Longitude}
	}
	if b.Features != nil {
		r.Attributes = map[string]bool{}
		for _, f := range b.Features {
			if a, ok := category.FindAttribute(f.Name); ok {
				r.Attributes[a.ID] = f.Value
			}
		}
	}
	b.readMore(&r)
	if b.Hours != nil || b.Dates != nil {
		var list []hours.Specification
		for _, s := range slices.Concat(b.Hours, b.Dates) {
			list = append(list, s.Specification)
		}
		if read := hours.FromSpecifications(list).String(); read != asRead(r.Hours) {
			r.Hours = read
		}
	}
	return r, nil
}

// phones are the numbers, with what is known of what each can do.
func phones(numbers []string, known []record.Phone) (out []record.Phone) {
	for _, n := range numbers {
		p := record.Phone{E164: n, Voice: true}
		if i := slices.IndexFunc(known, func(k record.Phone) bool { return k.E164 == n }); i >= 0 {
			p = known[i]
		}
		out = append(out, p)
	}
	return out
}
