// Package sighting is what a directory showed of a location at a moment, whoever saw it: a program on its
// public page, a person, a file.
package sighting

import (
	"uvent/core/fact/address"
	"uvent/core/fact/hours"
	"uvent/core/record/record"
)

// Sighting is what was shown. Empty means not shown.
type Sighting struct {
	Name     string          `json:"name"`
	Address  address.Address `json:"address"`
	Phone    string          `json:"phone"`
	Email    string          `json:"email"`
	Website  string          `json:"website"`
	Category string          `json:"category"` // as the directory calls it
	Hours    string          `json:"hours"`    // opening_hours with the special dates; as it was written where it cannot be read
	More
}

// More are the facts that few pages show.
type More struct {
	LegalName       string            `json:"legal_name,omitempty"`
	FormerNames     []string          `json:"former_names,omitempty"`
	Registration    string            `json:"registration,omitempty"`
	StoreCode       string            `json:"store_code,omitempty"`
	Opened          string            `json:"opened,omitempty"`
	State           record.StateKind  `json:"state,omitempty"` // empty: nothing is said, so open
	CompanySize     string            `json:"company_size,omitempty"`
	CompanyKind     string            `json:"company_kind,omitempty"`
	Industry        string            `json:"industry,omitempty"`
	Founded         string            `json:"founded,omitempty"`
	Pin             *record.Pin       `json:"pin,omitempty"`
	Directions      string            `json:"directions,omitempty"`
	Parking         string            `json:"parking,omitempty"`
	OtherPhones     []string          `json:"other_phones,omitempty"`
	OtherCategories []string          `json:"other_categories,omitempty"`
	Attributes      map[string]bool   `json:"attributes,omitempty"` // by the directory's own words
	Texts           map[string]string `json:"texts,omitempty"`      // by which of ours they are: tagline, short, medium, long, story
	Keywords        []string          `json:"keywords,omitempty"`
	Specialities    []string          `json:"specialities,omitempty"`
	Links           map[string]string `json:"links,omitempty"` // by fact: booking, ordering, quote, menu, gift_card, app
	Button          string            `json:"button,omitempty"`
	Socials         []Social          `json:"socials,omitempty"`
	Videos          []string          `json:"videos,omitempty"`
	Offerings       []Offering        `json:"offerings,omitempty"`
	Payments        []string          `json:"payments,omitempty"`
	Team            []string          `json:"team,omitempty"`
	Licence         []string          `json:"licence,omitempty"`
	Areas           []string          `json:"areas,omitempty"`
	Photos          []Photo           `json:"photos,omitempty"`
	Reviews         *int              `json:"reviews,omitempty"` // how many are shown; nil: nothing is said

	// Only are the facts that whoever saw it spoke of; of the others nothing is known. Empty: all.
	Only []string `json:"only,omitempty"`
}

// Social is a profile elsewhere that is shown.
type Social struct {
	Name string `json:"name,omitempty"` // empty: only its address is shown
	URL  string `json:"url"`
}

// Offering is one thing that is offered.
type Offering struct {
	Section string `json:"section,omitempty"`
	Name    string `json:"name"`
	Price   string `json:"price,omitempty"` // as it is shown
}

// Photo is a picture that is shown.
type Photo struct {
	URL    string `json:"url"`
	Place  string `json:"place,omitempty"` // a group of photos, where the page tells: logo, cover
	Width  int    `json:"width,omitempty"` // pixels; 0: it was not looked at
	Height int    `json:"height,omitempty"`
	Hash   string `json:"hash,omitempty"`  // perceptual, 16 hexadecimal digits; empty: it was not looked at
	Sharp  int    `json:"sharp,omitempty"` // variance of its Laplacian, as package photo measures it
}

// Schedule is what its hours come to; false where they cannot be read, or none are shown.
func (s Sighting) Schedule() (hours.Schedule, bool) {
	if s.Hours == "" {
		return hours.Schedule{}, false
	}
	schedule, _, err := hours.Parse(s.Hours)
	return schedule, err == nil
}

// Says reports whether whoever saw it spoke of a fact: where they did, and it is empty, it is not shown.
func (s Sighting) Says(fact string) bool {
	for _, f := range s.Only {
		if f == fact {
			return true
		}
	}
	return len(s.Only) == 0
}
