// Package rulebook reads a directory's rules: one YAML file a directory,
// checked by a JSON Schema (draft 2020-12) that ships beside this code.
package rulebook

import (
	"slices"
	"time"

	"uvent/core/calendar"
	"uvent/core/record"
)

// Rulebook is a directory's rules as data.
type Rulebook struct {
	ID      string `yaml:"id"`      // its key: lower-case letters, digits and hyphens
	Name    string `yaml:"name"`    // as people call the directory
	Kind    string `yaml:"kind"`    // what sort of directory it is, in words
	Summary string `yaml:"summary"` // what a colleague should know, in a sentence or two
	Weight  int    `yaml:"weight"`  // how much it counts, 0 to 100

	Calendar   Calendar   `yaml:"calendar"`
	Connector  Connector  `yaml:"connector"`
	Listing    Listing    `yaml:"listing"`
	Facts      []Fact     `yaml:"facts"`
	Texts      []Prose    `yaml:"texts"`
	Areas      Areas      `yaml:"areas"`
	Photos     []Photos   `yaml:"photos"`
	Hours      Hours      `yaml:"hours"`
	Categories Categories `yaml:"categories"`
	Methods    []Method   `yaml:"verification"`
	Publishing Publishing `yaml:"publishing"`

	Source string `yaml:"-"` // the file as it was written
}

// Calendar is where the directory counts its days.
type Calendar struct {
	Country    string `yaml:"country"`      // ISO 3166-1 alpha-2
	Region     string `yaml:"region"`       // ISO 3166-2 without the country; empty for the whole country
	Zone       string `yaml:"zone"`         // IANA
	CutOffHour int    `yaml:"cut_off_hour"` // local hour from which a request counts from the next business day; 0 for none
}

// Place is the calendar to count windows in.
func (c Calendar) Place() calendar.Place {
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

// Listing says who may be listed.
type Listing struct {
	Kinds       []record.Kind `yaml:"kinds"`
	Countries   []string      `yaml:"countries"`    // ISO 3166-1 alpha-2; none means everywhere
	HideAddress []record.Kind `yaml:"hide_address"` // kinds whose street address is not shown
}

// MayList says why a location cannot be listed; nothing means that it can.
func (r Rulebook) MayList(rec record.Record) string {
	if !slices.Contains(r.Listing.Kinds, rec.Kind) {
		return r.Name + " does not list this kind of location: " + rec.Kind.Words() + "."
	}
	if len(r.Listing.Countries) > 0 && !slices.Contains(r.Listing.Countries, rec.Address.Country) {
		return r.Name + " does not list locations in " + rec.Address.Country + "."
	}
	return ""
}

// HidesAddress reports whether the public sees no street address of the location.
func (r Rulebook) HidesAddress(rec record.Record) bool {
	return slices.Contains(r.Listing.HideAddress, rec.Kind)
}

// Fact is what the directory does with one fact.
type Fact struct {
	Fact           string `yaml:"fact"` // a key of package compare
	Required       bool   `yaml:"required"`
	MostCharacters int    `yaml:"most_characters"` // 0 for no limit
	Note           string `yaml:"note"`
}

// Takes finds the rule on a fact; false when the directory does not take it.
func (r Rulebook) Takes(fact string) (Fact, bool) {
	i := slices.IndexFunc(r.Facts, func(f Fact) bool { return f.Fact == fact })
	if i < 0 {
		return Fact{}, false
	}
	return r.Facts[i], true
}

// Hours is what opening hours the directory can express.
type Hours struct {
	SittingsPerDay int  `yaml:"sittings_per_day"`
	PastMidnight   bool `yaml:"past_midnight"`
}

// Categories maps our categories to the directory's own.
type Categories struct {
	Most int               `yaml:"most"`
	Map  map[string]string `yaml:"map"` // our id to their name
}

// MethodName is a way to verify.
type MethodName string

const (
	Postcard MethodName = "postcard"
	Call     MethodName = "call"
	Text     MethodName = "text"
	Email    MethodName = "email"
)

// Method is one way to verify and its conditions.
type Method struct {
	Method MethodName      `yaml:"method"`
	Kinds  []record.Kind   `yaml:"kinds"`  // that it is offered to; none means all
	Window calendar.Rule   `yaml:"window"` // from asking until the code is there; none means at once
	Code   Code            `yaml:"code"`
	Again  Again           `yaml:"again"`
	Needs  MethodCondition `yaml:"needs"`
}

// AtOnce reports whether the code comes within minutes.
func (m Method) AtOnce() bool { return m.Window.Unit == "" }

// MethodCondition is what a location must have for a method to be open.
type MethodCondition struct {
	EmailOnDomain bool `yaml:"email_on_domain"` // the email lies on the website's domain
	OpenMinutes   int  `yaml:"open_minutes"`    // at least so long open from now on, for a call
}

// Code says what the code is like.
type Code struct {
	Digits       int `yaml:"digits"`
	WorksDays    int `yaml:"works_days"`    // from asking; 0 when WorksMinutes is given
	WorksMinutes int `yaml:"works_minutes"` // from asking
	Tries        int `yaml:"tries"`
}

// Works is how long after asking the code can be entered.
func (c Code) Works() time.Duration {
	return time.Duration(c.WorksDays)*24*time.Hour + time.Duration(c.WorksMinutes)*time.Minute
}

// Again says when another code may be asked for.
type Again struct {
	AfterDays    int `yaml:"after_days"`
	AfterMinutes int `yaml:"after_minutes"`
	Most         int `yaml:"most"` // codes by this method in all; 0 for no limit
}

// After is how long after asking another code may be asked for.
func (a Again) After() time.Duration {
	return time.Duration(a.AfterDays)*24*time.Hour + time.Duration(a.AfterMinutes)*time.Minute
}

// Way finds a method's rule.
func (r Rulebook) Way(name MethodName) (Method, bool) {
	i := slices.IndexFunc(r.Methods, func(m Method) bool { return m.Method == name })
	if i < 0 {
		return Method{}, false
	}
	return r.Methods[i], true
}

// Publishing says how long after verification the public sees the listing.
type Publishing struct {
	Window         calendar.Rule `yaml:"window"`
	LookEveryHours int           `yaml:"look_every_hours"`
}
