// Package rulebook reads a directory's rules: one YAML file a directory,
// checked by a JSON Schema (draft 2020-12) that ships beside this code.
package rulebook

import (
	"crypto/sha256"
	"encoding/hex"
	"time"

	"uvent/core/fact/calendar"
)

// Rulebook is a directory's rules as data.
type Rulebook struct {
	ID      string `yaml:"id"`      // its key: lower-case letters, digits and hyphens
	Name    string `yaml:"name"`    // as people call the directory
	Kind    string `yaml:"kind"`    // what sort of directory it is, in words
	Summary string `yaml:"summary"` // what a colleague should know, in a sentence or two
	Weight  int    `yaml:"weight"`  // how much it counts, 0 to 100

	Worked    Worked    `yaml:"worked"`
	Page      string    `yaml:"page"`  // where people work on it by hand: http(s), or outside:/path for the stand-ins
	Staff     string    `yaml:"staff"` // the email that written requests go to
	Calendar  Calendar  `yaml:"calendar"`
	Connector Connector `yaml:"connector"`
	Account   Account   `yaml:"account"`
	Listing   Listing   `yaml:"listing"`

	Facts       []Fact      `yaml:"facts"`
	Texts       []Prose     `yaml:"texts"`
	Areas       Areas       `yaml:"areas"`
	Photos      []Photos    `yaml:"photos"`
	Hours       Hours       `yaml:"hours"`
	Categories  Categories  `yaml:"categories"`
	Attributes  Attributes  `yaml:"attributes"`
	Form        []string    `yaml:"form"` // keys of Fields in the order of its form
	PageAddress PageAddress `yaml:"page_address"`

	Methods    []Method   `yaml:"verification"` // none: whoever adds a listing is believed
	Together   bool       `yaml:"together"`     // asking in another way ends nothing: each way's latest try goes on
	Review     Review     `yaml:"review"`
	SecondLook SecondLook `yaml:"second_look"`
	Publishing Publishing `yaml:"publishing"`
	Edits      []Edit     `yaml:"edits"`
	Closing    Closing    `yaml:"closing"`
	Moving     Moving     `yaml:"moving"`
	Copies     []Copying  `yaml:"copies"`
	Speaks     Speaks     `yaml:"speaks"`
	Suggesting Suggesting `yaml:"suggesting"`
	Access     Access     `yaml:"access"`
	Appeal     Appeal     `yaml:"appeal"`
	Notices    Notices    `yaml:"notices"`
	Risks      []Risk     `yaml:"risks"`
	Layout     Layout     `yaml:"layout"`
	Reads      []Read     `yaml:"reads"` // where facts stand on its pages, as far as these do not mark them up

	Source string `yaml:"-"` // the file as it was written
}

// Worked is how listings on a directory are worked on.
type Worked string

const (
	Connected   Worked = "connected"   // through its interface
	ByHand      Worked = "by_hand"     // on its own pages
	Written     Worked = "written"     // by writing to its staff
	File        Worked = "file"        // by handing in a file
	Fed         Worked = "fed"         // not at all: it takes all from others
	Suggestions Worked = "suggestions" // by suggesting changes that somebody reviews
)

// Words is how it is worked, as people say it.
func (w Worked) Words() string {
	return map[Worked]string{
		Connected: "connected", ByHand: "by hand", Written: "by hand, written request", File: "file", Fed: "fed only", Suggestions: "suggestions",
	}[w]
}

// People reports whether people, not programs, bring values there.
func (w Worked) People() bool { return w == ByHand || w == Written }

// Calendar is where the directory counts its days.
type Calendar struct {
	Country    string `yaml:"country"`      // ISO 3166-1 alpha-2
	Region     string `yaml:"region"`       // ISO 3166-2 without the country; empty for the whole country
	Zone       string `yaml:"zone"`         // IANA
	CutOffHour int    `yaml:"cut_off_hour"` // local hour from which a request counts from the next business day; 0 for none

	settled *calendar.Place // once the rulebook has been read
}

// Place is the calendar to count windows in.
func (c Calendar) Place() calendar.Place {
	if c.settled != nil {
		return *c.settled
	}
	zone, err := time.LoadLocation(c.Zone)
	if err != nil {
		zone = time.UTC // Parse has refused unknown zones
	}
	return calendar.Place{Zone: zone, Holidays: calendar.HolidaysOf(c.Country, c.Region), CutOffHour: c.CutOffHour}
}

// Connector says where the directory's own interface is.
type Connector struct {
	URL string `yaml:"url"` // http(s), or outside:/path for the stand-ins
}

// Account is what a directory wants of the account that works on its listings.
type Account struct {
	Personal       bool    `yaml:"personal"`        // a person's own account stands behind it
	EmailConfirmed bool    `yaml:"email_confirmed"` // its email has to be confirmed first
	Classes        []Class `yaml:"classes"`         // by the number of locations, fewest first; none: one class for all
	Attests        bool    `yaml:"attests"`         // whoever claims or creates a listing attests that they may
	First          []First `yaml:"first"`           // what must be had before a listing is claimed or created
}

// Class is a kind of account.
type Class struct {
	From int    `yaml:"from_locations"`
	Name string `yaml:"name"`
}

// Class is the one that a number of locations calls for; empty where there is only one.
func (a Account) Class(locations int) string {
	name := ""
	for _, c := range a.Classes {
		if locations >= c.From {
			name = c.Name
		}
	}
	return name
}

// First is something that must be had first.
type First struct {
	Fact string `yaml:"fact"` // the ID of one of Keys; empty where the record cannot hold it
	Says string `yaml:"says"` // what is wanted, in words
}

// Version tells this text of a rulebook from any other: the first 12 bytes of its SHA-256, in hex.
func (r Rulebook) Version() string {
	sum := sha256.Sum256([]byte(r.Source))
	return hex.EncodeToString(sum[:12])
}
