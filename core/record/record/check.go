package record

import (
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"uvent/core/fact/address"
	"uvent/core/fact/category"
	"uvent/core/fact/contact"
	"uvent/core/fact/hours"
)

// Problem is a fact that cannot be kept as it is.
type Problem struct {
	Path    string `json:"path"`    // of the fact: address.postal_code, phones.0.e164
	Message string `json:"message"` // what is wrong, and what to do
}

// mostCharacters bounds every text of a record.
const mostCharacters = 300

// Normal tidies a record and checks it: spaces trimmed, phones in E.164, hours
// in their normal form, the country and region in capitals, an empty label made
// from the town, lists empty rather than nil. The problems are in the order of the facts.
func Normal(r Record) (Record, []Problem) {
	c := checker{}
	for path, text := range r.texts() {
		*text = strings.TrimSpace(visible(*text))
		c.length(path, *text)
	}
	r.FormerNames, r.Former = c.lines("former_names", r.FormerNames), c.lines("former_addresses", r.Former)
	c.need("name", r.Name, "a location needs its trading name")
	r.State = c.state(r.State)
	c.when("opened", &r.Opened, "2006-01-02", "2006-01", "2006")
	switch r.Kind {
	case Premises, GoesToCustomers, Both:
	default:
		c.add("kind", "%q is no kind of location; choose premises, goes_to_customers or both", string(r.Kind))
	}
	c.address("address", &r.Address)
	if !r.Mailing.Address.Empty() {
		c.address("mailing.address", &r.Mailing.Address)
	}
	if r.Label == "" {
		r.Label = r.Address.Locality
	}
	c.need("label", r.Label, "say what you call this location among its client's others")
	if p := r.Pin; p != nil && (math.IsNaN(p.Latitude) || math.IsNaN(p.Longitude)) {
		half, other := "latitude", "longitude"
		if !math.IsNaN(p.Latitude) {
			half, other = other, half
		}
		c.add("pin."+half, "a pin has both; give its %s too, or take its %s out", half, other)
	}
	if p := r.Pin; p != nil && (p.Latitude < -90 || p.Latitude > 90) {
		c.add("pin.latitude", "%g is no latitude; it lies between -90 and 90", p.Latitude)
	}
	if p := r.Pin; p != nil && (p.Longitude < -180 || p.Longitude > 180) {
		c.add("pin.longitude", "%g is no longitude; it lies between -180 and 180", p.Longitude)
	}
	r.Phones = c.phones(r.Phones, r.Address.Country)
	if r.Email != "" {
		c.said("email", contact.Email(r.Email))
	}
	if r.Website != "" {
		c.said("website", contact.Website(r.Website))
	}
	if r.Category != "" {
		if found, ok := category.Find(r.Category); ok {
			r.Category = found.ID
		} else {
			c.add("category", "%q is not in our list of categories", r.Category)
		}
	}
	r.Others = c.others(r.Others, r.Category)
	r.Attributes = c.attributes(r.Attributes)
	c.long("words.tagline", &r.Words.Tagline, MostTagline)
	c.long("words.short", &r.Words.Short, MostShort)
	c.long("words.medium", &r.Words.Medium, MostMedium)
	c.long("words.long", &r.Words.Long, MostLong)
	c.long("words.story", &r.Words.Story, MostStory)
	r.Words.Keywords = c.list("words.keywords", r.Words.Keywords)
	r.Words.Specialities = c.list("words.specialities", r.Words.Specialities)
	c.long("directions", &r.Directions, MostDirections)
	c.long("parking", &r.Parking, MostDirections)
	if r.Hours != "" {
		r.Hours = c.hours(r.Hours)
	}
	if r.Zone != "" {
		if _, err := time.LoadLocation(r.Zone); err != nil || r.Zone == "Local" {
			c.add("zone", "%q is no time zone; write it as America/Los_Angeles", r.Zone)
		}
	} else if address.Zone(r.Address.Country, r.Address.Region, r.Address.PostalCode) == "" {
		c.add("zone", "the address does not tell the time zone; write it as America/Los_Angeles")
	}
	c.more(&r)
	return r, c.problems
}

// visible is a text without marks of direction, soft hyphens and byte order marks, which come with what is pasted and
// are not seen. Joiners stay, which some scripts need.
func visible(text string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == '\u00ad', r == '\ufeff', r == '\u200e', r == '\u200f', r >= '\u202a' && r <= '\u202e', r >= '\u2066' && r <= '\u2069', r == '\u061c':
			return -1
		}
		return r
	}, text)
}

// texts yields each plain text of the record with its path.
func (r *Record) texts() func(yield func(string, *string) bool) {
	return func(yield func(string, *string) bool) {
		_ = yield("label", &r.Label) && yield("store_code", &r.StoreCode) && yield("name", &r.Name) && yield("legal_name", &r.LegalName) &&
			yield("email", &r.Email) && yield("website", &r.Website) && yield("category", &r.Category) && yield("zone", &r.Zone) &&
			yield("mailing.contact", &r.Mailing.Contact) && parts("address", &r.Address, yield) && parts("mailing.address", &r.Mailing.Address, yield)
	}
}

func parts(path string, a *address.Address, yield func(string, *string) bool) bool {
	return yield(path+".street", &a.Street) && yield(path+".unit", &a.Unit) && yield(path+".locality", &a.Locality) &&
		yield(path+".region", &a.Region) && yield(path+".postal_code", &a.PostalCode) && yield(path+".country", &a.Country)
}

type checker struct{ problems []Problem }

func (c *checker) add(path, format string, a ...any) {
	c.problems = append(c.problems, Problem{path, fmt.Sprintf(format, a...)})
}

func (c *checker) said(path, message string) {
	if message != "" {
		c.add(path, "%s", message)
	}
}

func (c *checker) need(path, value, message string) {
	if value == "" {
		c.add(path, "%s", message)
	}
}

// lines tidies texts of a list, each on one line; those that are empty go.
func (c *checker) lines(path string, list []string) []string {
	out := []string{}
	for _, text := range list {
		if text = strings.TrimSpace(visible(text)); text != "" {
			c.length(fmt.Sprintf("%s.%d", path, len(out)), text)
			out = append(out, text)
		}
	}
	return out
}

func (c *checker) length(path, text string) {
	if n := utf8.RuneCountInString(text); n > mostCharacters {
		c.add(path, "it has %d characters; %d are kept", n, mostCharacters)
	}
	if strings.ContainsFunc(text, func(r rune) bool { return r < ' ' }) {
		c.add(path, "it holds a line break or another control character; write it on one line")
	}
}

func (c *checker) address(path string, a *address.Address) {
	a.Country, a.Region = strings.ToUpper(a.Country), strings.ToUpper(a.Region)
	c.need(path+".street", a.Street, "an address needs its street and number, also where it is not shown to the public")
	c.need(path+".locality", a.Locality, "an address needs its town")
	switch {
	case a.Country == "":
		c.add(path+".country", "an address needs its country, as two letters: US, CA")
	case len(a.Country) != 2 || strings.Trim(a.Country, "ABCDEFGHIJKLMNOPQRSTUVWXYZ") != "":
		c.add(path+".country", "%q is no country code; write two letters (ISO 3166-1): US, CA", a.Country)
	}
}

func (c *checker) phones(in []Phone, country string) []Phone {
	out := []Phone{}
	for i, p := range in {
		path := fmt.Sprintf("phones.%d.e164", i)
		if strings.TrimSpace(p.E164) == "" {
			continue
		}
		if e164, reason := contact.E164(p.E164, country); reason != "" {
			c.add(path, "%q: %s", p.E164, reason)
		} else {
			p.E164 = e164
		}
		if slices.ContainsFunc(out, func(o Phone) bool { return o.E164 == p.E164 }) {
			c.add(path, "%q stands twice", p.E164)
		}
		out = append(out, p)
	}
	if len(out) > MostPhones {
		c.add(fmt.Sprintf("phones.%d.e164", MostPhones), "%d phones are given; a record holds %d", len(out), MostPhones)
	}
	return out
}

func (c *checker) hours(text string) string {
	s, _, err := hours.Parse(text)
	var errs hours.Errors
	if errors.As(err, &errs) {
		for _, e := range errs {
			c.add("hours", "column %d: %s", e.Column, e.Message)
		}
		return text
	}
	return s.String()
}

func (c *checker) state(s State) State {
	s.Until, s.To = strings.TrimSpace(s.Until), strings.TrimSpace(s.To)
	c.length("state.to", s.To)
	c.when("state.until", &s.Until, "2006-01-02")
	switch s.Kind {
	case "":
		s.Kind = Open
	case Open, OpeningSoon, ClosedForATime, ClosedForGood, Moved:
	default:
		c.add("state.kind", "%q is no state; choose open, opening_soon, closed_for_a_time, closed_for_good or moved", string(s.Kind))
	}
	if s.Kind != ClosedForATime {
		s.Until = ""
	}
	if s.Kind != Moved {
		s.To = ""
	}
	return s
}

// when checks a date, written as one of the layouts.
func (c *checker) when(path string, date *string, layouts ...string) {
	*date = strings.TrimSpace(*date)
	if *date == "" || slices.ContainsFunc(layouts, func(l string) bool { _, err := time.Parse(l, *date); return err == nil }) {
		return
	}
	c.add(path, "%q is not a date; write it as 2026-12-31", *date)
}

// long tidies and checks a text that may have several lines.
func (c *checker) long(path string, text *string, most int) {
	*text = strings.TrimSpace(strings.ReplaceAll(visible(*text), "\r\n", "\n"))
	if n := utf8.RuneCountInString(*text); n > most {
		c.add(path, "it has %d characters; %d are kept", n, most)
	}
	if strings.ContainsFunc(*text, func(r rune) bool { return r < ' ' && r != '\n' }) {
		c.add(path, "it holds a control character; take it out")
	}
}

// list tidies a list of short texts: no empty ones, none twice.
func (c *checker) list(path string, in []string) []string {
	out := []string{}
	for i, s := range in {
		s = strings.TrimSpace(s)
		c.length(fmt.Sprintf("%s.%d", path, i), s)
		if s != "" && !slices.ContainsFunc(out, func(o string) bool { return strings.EqualFold(o, s) }) {
			out = append(out, s)
		}
	}
	if len(out) > MostListed {
		c.add(path, "%d are given; a record holds %d", len(out), MostListed)
	}
	return out
}

func (c *checker) others(in []string, main string) []string {
	out := []string{}
	for i, s := range in {
		found, ok := category.Find(s)
		switch {
		case strings.TrimSpace(s) == "":
		case !ok:
			c.add(fmt.Sprintf("other_categories.%d", i), "%q is not in our list of categories", s)
			out = append(out, s)
		case found.ID != main && !slices.Contains(out, found.ID):
			out = append(out, found.ID)
		}
	}
	if len(out) > MostOthers {
		c.add("other_categories", "%d are given; a record holds %d besides the main one", len(out), MostOthers)
	}
	return out
}

func (c *checker) attributes(in map[string]bool) map[string]bool {
	out := map[string]bool{}
	for _, id := range slices.Sorted(maps.Keys(in)) {
		if found, ok := category.FindAttribute(id); ok {
			out[found.ID] = in[id]
		} else {
			c.add("attributes."+id, "%q is not in our list of attributes", id)
		}
	}
	return out
}
