// Package record is the one set of facts on a location that every directory is
// compared with.
package record

import (
	"cmp"
	"encoding/json"
	"math"
	"sync"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/fact/zone"
)

// Kind is how a location meets its customers.
type Kind string

const (
	Premises        Kind = "premises"          // people come
	GoesToCustomers Kind = "goes_to_customers" // a service-area business
	Both            Kind = "both"
)

// Words is the kind as people say it.
func (k Kind) Words() string {
	switch k {
	case GoesToCustomers:
		return "goes to customers"
	case Both:
		return "premises, and goes to customers"
	}
	return string(k)
}

// Record holds a location's facts. Empty means that nothing is said.
type Record struct {
	Label       string          `json:"label"`            // what we call the location among its client's others: Port Sable
	StoreCode   string          `json:"store_code"`       // the client's own code for it, unique among its locations
	Name        string          `json:"name"`             // trading name
	LegalName   string          `json:"legal_name"`       //
	FormerNames []string        `json:"former_names"`     //
	Former      []string        `json:"former_addresses"` // where it was before, each on one line
	Kind        Kind            `json:"kind"`
	State       State           `json:"state"`
	Opened      string          `json:"opened"` // when it opened or will: 2026-12-01, 2026-12 or 2026
	Address     address.Address `json:"address"`
	Mailing     Mailing         `json:"mailing"`
	Pin         *Pin            `json:"pin"`
	Phones      []Phone         `json:"phones"` // the first is the main one
	Email       string          `json:"email"`
	Website     string          `json:"website"`
	Category    string          `json:"category"` // the main one: an id of package category
	Others      []string        `json:"other_categories"`
	Attributes  map[string]bool `json:"attributes"` // yes or no by id of package category; what is missing is not said
	Words       Words           `json:"words"`
	Directions  string          `json:"directions"`
	Parking     string          `json:"parking"`
	Hours       string          `json:"hours"` // OpenStreetMap opening_hours
	Zone        string          `json:"zone"`  // IANA time zone; empty: by the address
	Area        Area            `json:"area"`  // where it goes to its customers
	Links       Links           `json:"links"`
	Socials     []Social        `json:"socials"`
	Videos      []string        `json:"videos"` // addresses of films
	Tags        Tags            `json:"tags"`
	Payments    []string        `json:"payments"` // ids of PaymentKinds
	Licences    []Licence       `json:"licences"`
	Team        []Member        `json:"team"`
	Offerings   []Section       `json:"offerings"`
	Company     Company         `json:"company"`
	Own         []string        `json:"own"` // paths of Inheritable facts that the location says for itself though its client says them too
}

// Mailing is where post for the location goes. It is never published.
type Mailing struct {
	Contact string          `json:"contact"` // the name on the envelope
	Address address.Address `json:"address"` // empty: the location's own
}

// StateKind is whether a location does business.
type StateKind string

const (
	Open           StateKind = "open"
	OpeningSoon    StateKind = "opening_soon"
	ClosedForATime StateKind = "closed_for_a_time"
	ClosedForGood  StateKind = "closed_for_good"
	Moved          StateKind = "moved"
)

// State is whether a location does business, until when not, and where it went.
type State struct {
	Kind  StateKind `json:"kind"`
	Until string    `json:"until"` // closed for a time: the last date, 2026-12-31; empty when it is not known
	To    string    `json:"to"`    // moved: where, on one line
}

// Words are what a business says of itself, in several lengths.
type Words struct {
	Tagline      string   `json:"tagline"`
	Short        string   `json:"short"`
	Medium       string   `json:"medium"`
	Long         string   `json:"long"`
	Story        string   `json:"story"` // in a warmer voice
	Keywords     []string `json:"keywords"`
	Specialities []string `json:"specialities"`
}

// Limits of a record's longer texts, in characters, and of its lists.
const (
	MostTagline    = 120
	MostShort      = 250
	MostMedium     = 750
	MostLong       = 4000
	MostStory      = 4000
	MostDirections = 500
	MostOthers     = 9
	MostListed     = 30
)

// Pin is a position in degrees, WGS 84.
type Pin struct {
	Latitude  float64 `json:"latitude"`
	Longitude float64 `json:"longitude"`
}

// UnmarshalJSON reads a pin. A half that is missing is no number, which Normal tells.
func (p *Pin) UnmarshalJSON(data []byte) error {
	var halves struct{ Latitude, Longitude *float64 }
	if err := json.Unmarshal(data, &halves); err != nil {
		return err
	}
	*p = Pin{math.NaN(), math.NaN()}
	if halves.Latitude != nil {
		p.Latitude = *halves.Latitude
	}
	if halves.Longitude != nil {
		p.Longitude = *halves.Longitude
	}
	return nil
}

// Phone is a number and what it can do.
type Phone struct {
	E164  string `json:"e164"`
	Voice bool   `json:"voice"` // somebody picks up
	Text  bool   `json:"text"`  // takes text messages
}

// MostPhones is how many phones a record holds.
const MostPhones = 3

// Today is the date at the location; where its zone is not known, that of Greenwich.
func (r Record) Today(now time.Time) calendar.Date {
	if zone, known := r.Location(); known {
		return calendar.DateIn(now, zone)
	}
	return calendar.DateIn(now, time.UTC)
}

// Location is the record's time zone: from the record, or else from the address; from the pin where the address does not
// tell, or lies in a region with two kinds of clocks. It is false when none tells.
func (r Record) Location() (*time.Location, bool) {
	name := r.Zone
	if name == "" {
		name = address.Zone(r.Address.Country, r.Address.Region, r.Address.PostalCode)
		if p := r.Pin; p != nil && (name == "" || address.Divided(r.Address.Country, r.Address.Region)) {
			name = cmp.Or(zone.At(p.Latitude, p.Longitude), name)
		}
	}
	if name == "" {
		return nil, false
	}
	if known, ok := zones.Load(name); ok {
		return known.(*time.Location), true
	}
	loaded, err := time.LoadLocation(name)
	if err == nil {
		zones.Store(name, loaded)
	}
	return loaded, err == nil
}

// zones are time zones that were read, by name: reading one takes longer than all else
// that is asked of it.
var zones sync.Map

// Post is where a postcard to the location goes, and to whom.
func (r Record) Post() (to address.Address, contact string) {
	if !r.Mailing.Address.Empty() {
		return r.Mailing.Address, r.Mailing.Contact
	}
	return r.Address, r.Mailing.Contact
}

// MainPhone is the first phone, or nothing.
func (r Record) MainPhone() string {
	if len(r.Phones) == 0 {
		return ""
	}
	return r.Phones[0].E164
}

// PhoneFor is the first phone that can do what is wanted.
func (r Record) PhoneFor(can func(Phone) bool) (Phone, bool) {
	for _, p := range r.Phones {
		if can(p) {
			return p, true
		}
	}
	return Phone{}, false
}
