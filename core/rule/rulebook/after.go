package rulebook

import (
	"cmp"
	"slices"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/record/record"
)

// Review is what the directory's people do with what they are given.
type Review struct {
	Window  calendar.Rule `yaml:"window"` // from giving until they answer; none: nobody looks
	Answers string        `yaml:"answers"`
}

// Reviewed reports whether somebody there looks at what is given.
func (r Review) Reviewed() bool { return r.Window.Unit != "" }

// Publishing says how long after verification the public sees the listing.
type Publishing struct {
	Window         calendar.Rule `yaml:"window"`
	LookEveryHours int           `yaml:"look_every_hours"`
	LooksPerDay    int           `yaml:"looks_per_day"` // most looks at its public pages, for all locations; 0: one a week for each
	Withdrawn      bool          `yaml:"withdrawn"`     // a new listing stays out of public view until somebody shows it there
}

// SecondLook is what its people do now and then though the proof was right.
type SecondLook struct {
	Chance float64       `yaml:"chance"` // of it, 0 to 1; 0: never
	Window calendar.Rule `yaml:"window"`
}

// Edit is what a change of some facts sets off.
type Edit struct {
	Facts   []string      `yaml:"facts"` // keys of Fields
	SetsOff SetsOff       `yaml:"sets_off"`
	Window  calendar.Rule `yaml:"window"` // until it is settled; none: at once
}

// SetsOff is what a change leads to.
type SetsOff string

const (
	OffReview       SetsOff = "review"
	OffSuspension   SetsOff = "suspension"
	OffVerification SetsOff = "verification"
	OffWriting      SetsOff = "writing" // it is only taken in writing
	OffRefusal      SetsOff = "refusal"
)

// Meets is what a directory does with such a change, in words.
func (e Edit) Meets() string {
	switch e.SetsOff {
	case OffReview:
		return "looked at first, " + Span(e.Window)
	case OffVerification:
		return "needs a new verification"
	case OffWriting:
		return "only in writing"
	}
	return "not changed any more"
}

// Settles is what has to be over before something else is changed, in words.
func (e Edit) Settles() string {
	if e.SetsOff == OffVerification {
		return "once it is verified again"
	}
	if e.Window.Unit == "" {
		return "once it is settled"
	}
	return "once it is settled, " + Span(e.Window)
}

// Closing is how a directory learns that a location has closed, or has gone elsewhere.
type Closing struct {
	ForATime Turn `yaml:"for_a_time"`
	ForGood  Turn `yaml:"for_good"`
	Moved    Turn `yaml:"moved"`
}

// Turn is how one such change is made there.
type Turn struct {
	By    TurnBy `yaml:"by"`    // empty: in words
	Final bool   `yaml:"final"` // it cannot be taken back there
	Note  string `yaml:"note"`
}

// TurnBy is what brings such a change about.
type TurnBy string

const (
	ByMark TurnBy = "mark"  // its interface takes a mark, which the public sees
	ByView TurnBy = "view"  // it has no mark; the listing is taken out of public view, and brought back
	InWord TurnBy = "words" // people are told, or tell it on their pages
)

// Turn is how a location's closing, or its going elsewhere, is made known there; the zero
// Turn for one that is open.
func (r Rulebook) Turn(state record.StateKind) (t Turn) {
	switch state {
	case record.ClosedForATime:
		t = r.Closing.ForATime
	case record.ClosedForGood:
		t = r.Closing.ForGood
	case record.Moved:
		t = r.Closing.Moved
	default:
		return Turn{}
	}
	if t.By == "" {
		t.By = InWord
	}
	return t
}

// Moving says which moves a directory takes for another location: the listing stays with the place where it was, and the new
// place wants one of its own.
type Moving struct {
	Another Another `yaml:"another"` // empty: an address is changed as any fact is
	Note    string  `yaml:"note"`
}

// Another is which moves want another listing.
type Another string

const (
	AnotherTown   Another = "town"   // into another town
	AnotherStreet Another = "street" // any, but for another unit of the same house
)

// AnotherAt reports whether what stood at an address is, for the directory, another location at the other. How an address is
// written, its unit and its postal code make none.
func (m Moving) AnotherAt(from, to address.Address) bool {
	c := address.Compare(from, to)
	country := from.Country != "" && to.Country != "" && !strings.EqualFold(from.Country, to.Country)
	town := country || c.Region == address.Different || c.Locality == address.Different
	switch m.Another {
	case AnotherTown:
		return town
	case AnotherStreet:
		return town || c.Street == address.Different
	}
	return false
}

// Copying is what a directory takes over from another.
type Copying struct {
	From       string        `yaml:"from"`       // the other's id
	OnRequest  bool          `yaml:"on_request"` // once, when it is asked to; otherwise over and over
	Window     calendar.Rule `yaml:"window"`
	Carries    []string      `yaml:"carries"` // keys of Fields; none means all that both take
	Omits      []string      `yaml:"omits"`   // keys that are left behind though both take them
	Overwrites bool          `yaml:"overwrites"`
	OptOut     string        `yaml:"opt_out"` // how to keep it from copying; empty: it cannot be kept from it
}

// Carry reports whether a field that both take comes along.
func (c Copying) Carry(key string) bool {
	return !slices.Contains(c.Omits, key) && (len(c.Carries) == 0 || slices.Contains(c.Carries, key))
}

// Speaks is what a business can say through a listing.
type Speaks struct {
	PostsPerMonth  int      `yaml:"posts_per_month"`
	PostRadius     int      `yaml:"post_radius_kilometres"`
	EventsMostDays int      `yaml:"events_most_days"`
	OffersMost     int      `yaml:"offers_most_percent"`
	Buttons        []string `yaml:"buttons"` // of which one is chosen
	ReviewsToRead  bool     `yaml:"reviews"`
	AnswersByVoice bool     `yaml:"voice"`
}

// Access is how a listing that somebody else holds may be had from them.
type Access struct {
	Window   calendar.Rule `yaml:"window"`   // in which its holder should answer; none: it cannot be asked for there
	Escalate calendar.Rule `yaml:"escalate"` // in which the directory's people decide where the holder did not hand it over; none: they do not
	Papers   []string      `yaml:"papers"`   // of which they want one
	Roles    []string      `yaml:"roles"`    // that an account besides the holder's may have, the least first; none: it knows one holder
	Chance   float64       `yaml:"chance"`   // that the holder hands it over, as far as is known; 0: not known
	Decided  float64       `yaml:"decided"`  // that its people decide for us by a paper that adds nothing; 0: not known
	Evidence []Evidence    `yaml:"evidence"` // what papers add to that
}

// Suggesting is how likely a suggestion is to be taken.
type Suggesting struct {
	Chance   float64    `yaml:"chance"`   // with any public page that shows it, as far as is known; 0: not known
	Evidence []Evidence `yaml:"evidence"` // what such pages add to that
}

// Appeal is how to argue with the directory.
type Appeal struct {
	How            string        `yaml:"how"` // in words: by a form, by email
	Window         calendar.Rule `yaml:"window"`
	Most           int           `yaml:"most"` // appeals in all; 0: none is heard
	MostCharacters int           `yaml:"most_characters"`
	Papers         []string      `yaml:"papers"`
	Chance         float64       `yaml:"chance"`   // that one is granted which no paper goes with, as far as is known; 0: not known
	Evidence       []Evidence    `yaml:"evidence"` // what papers add to that
}

// Evidence is how likely something is to be granted with which a paper, or a public page, goes.
type Evidence struct {
	Paper  string   `yaml:"paper"`  // its kind; empty for a page
	Page   PageKind `yaml:"page"`   // empty for a paper
	Causes []string `yaml:"causes"` // for which it counts; none: whatever the cause
	Chance float64  `yaml:"chance"`
}

// PageKind is whose public page shows what is suggested.
type PageKind string

const (
	OwnSite      PageKind = "own_site" // the business's own
	OtherListing PageKind = "listing"  // a listing on another directory
	OtherPage    PageKind = "page"     // any
)

// What is what the evidence is: a kind of paper, or of page.
func (e Evidence) What() string { return cmp.Or(e.Paper, string(e.Page)) }

// Notices is how its letters about a listing are known.
type Notices struct {
	From      string `yaml:"from"`      // the address that they come from
	Suspended string `yaml:"suspended"` // words that say that a listing is suspended
	TakenIn   string `yaml:"taken_in"`  // words that say that what its staff were written to has been done
	Refused   string `yaml:"refused"`   // words that say that it has not, and will not be as it was written
}

// Risk is a reason for which it is likely to suspend a listing, to refuse a change or to
// want a new proof.
type Risk struct {
	Cause   string  `yaml:"cause"`  // one of package risk
	Weight  float64 `yaml:"weight"` // how likely, 0 to 1
	SetsOff SetsOff `yaml:"sets_off"`
	Notice  string  `yaml:"notice"` // words of its letters that point to this cause
}
