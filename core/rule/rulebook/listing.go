package rulebook

import (
	"slices"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/fact/category"
	"uvent/core/record/record"
)

// Listing says who may be listed.
type Listing struct {
	Kinds       []record.Kind `yaml:"kinds"`
	Countries   []string      `yaml:"countries"`    // ISO 3166-1 alpha-2; none means everywhere
	Regions     []string      `yaml:"regions"`      // ISO 3166-2 without the country; none means all
	Towns       []string      `yaml:"towns"`        // none means all
	Streets     []string      `yaml:"streets"`      // none means all
	Trades      []string      `yaml:"trades"`       // groups or ids of our categories; none means all
	HideAddress []record.Kind `yaml:"hide_address"` // kinds whose street address is not shown
}

// MayList says why a location cannot be listed; nothing means that it can. A fact
// that the record does not hold yet speaks against nothing.
func (r Rulebook) MayList(rec record.Record) string {
	l := r.Listing
	switch a := rec.Address; {
	case !slices.Contains(l.Kinds, rec.Kind):
		return r.Name + " does not list this kind of location: " + rec.Kind.Words() + "."
	case len(l.Countries) > 0 && !slices.Contains(l.Countries, a.Country):
		return r.Name + " does not list locations in " + a.Country + "."
	case len(l.Regions) > 0 && a.Region != "" && !slices.Contains(l.Regions, a.Region):
		return r.Name + " lists locations in " + oneOf(l.Regions) + " only, and this one is in " + a.Region + "."
	case len(l.Towns) > 0 && a.Locality != "" && !slices.ContainsFunc(l.Towns, func(t string) bool { return strings.EqualFold(t, a.Locality) }):
		return r.Name + " lists locations in " + oneOf(l.Towns) + " only."
	case len(l.Streets) > 0 && a.Street != "" && !slices.ContainsFunc(l.Streets, func(s string) bool { return onStreet(a, s) }):
		return r.Name + " lists locations on its own streets only: " + oneOf(l.Streets) + "."
	case len(l.Trades) > 0 && rec.Category != "" && !slices.ContainsFunc(append([]string{rec.Category}, rec.Others...), l.trade):
		return r.Name + " lists one trade only: " + oneOf(tradeNames(l.Trades)) + "."
	}
	return ""
}

// trade reports whether one of our categories is of a trade that is listed.
func (l Listing) trade(id string) bool {
	c, _ := category.Find(id)
	return c.ID != "" && (slices.Contains(l.Trades, c.ID) || slices.Contains(l.Trades, c.Group))
}

func tradeNames(trades []string) []string {
	out := make([]string, len(trades))
	for i, t := range trades {
		if out[i] = category.GroupName(t); out[i] == "" {
			out[i] = category.Name(t)
		}
	}
	return out
}

// onStreet reports whether an address lies on a street, whatever its number.
func onStreet(a address.Address, street string) bool {
	return strings.Contains(" "+address.Spell(a.Street)+" ", " "+address.Spell(street)+" ")
}

// HidesAddress reports whether the public sees no street address of the location.
func (r Rulebook) HidesAddress(rec record.Record) bool {
	return slices.Contains(r.Listing.HideAddress, rec.Kind)
}

// ShowsStreet reports whether the public may see the street address and the pin of the location: nobody is to
// come where a business only sets out from, whatever a directory would show.
func (r Rulebook) ShowsStreet(rec record.Record) bool {
	return rec.Kind != record.GoesToCustomers && !r.HidesAddress(rec)
}

// GivesStreet reports whether a directory is told the street address at all: one that would show it is not.
func (r Rulebook) GivesStreet(rec record.Record) bool {
	return r.ShowsStreet(rec) || r.HidesAddress(rec)
}

// oneOf joins words: "a, b or c".
func oneOf(words []string) string {
	if len(words) < 2 {
		return strings.Join(words, "")
	}
	return strings.Join(words[:len(words)-1], ", ") + " or " + words[len(words)-1]
}
