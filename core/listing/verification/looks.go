package verification

import (
	"slices"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/listing/shown"
	"uvent/core/record/sighting"
	"uvent/core/rule/rulebook"
)

// Looks at the public page.

type (
	// SeenPublic is that it shows.
	SeenPublic struct {
		passing
		Page     string             `json:"page,omitempty"` // where a person saw it
		Says     string             `json:"says,omitempty"` // in words, for people
		Sighting *sighting.Sighting `json:"sighting,omitempty"`
		Read     bool               `json:"read,omitempty"` // the page was read for all that it shows
		Same     bool               `json:"same,omitempty"` // it shows what it did; then Sighting is not said again
		Next     float64            `json:"next,omitempty"` // days until it is looked at again; 0: as all are
	}
	// Told is that somebody told what it shows: who saw it, read it aloud, or brought a file.
	Told struct {
		passing
		Source   Source            `json:"source"`
		Sighting sighting.Sighting `json:"sighting"` // with the facts that were spoken of
	}
	// NotSeen is that it does not.
	NotSeen struct {
		passing
		Page string `json:"page,omitempty"` // where a person looked
		Says string `json:"says,omitempty"` // in words, for people
	}
	// LookUnanswered is that the page could not be read.
	LookUnanswered struct {
		passing
		Says string `json:"says,omitempty"` // in words, for people
	}
)

// Source is from whom it is known what a page shows, besides our own looks.
type Source string

const (
	Typed  Source = "typed"  // on the form beside the record
	Pasted Source = "pasted" // as text, and read
	Filed  Source = "file"   // a file that somebody brought
	Aloud  Source = "aloud"  // a directory that answers spoken questions was asked
)

// Sources are all of them, with what they are called.
var Sources = map[Source]string{Typed: "typed in", Pasted: "pasted", Filed: "from a file", Aloud: "asked aloud"}

var _ = family(of[SeenPublic], of[Told], of[NotSeen], of[LookUnanswered])

// Kind names it.
func (SeenPublic) Kind() Kind { return "seen_public" }

// Kind names it.
func (NotSeen) Kind() Kind { return "not_seen" }

// Kind names it.
func (LookUnanswered) Kind() Kind { return "look_unanswered" }

// Kind names it.
func (Told) Kind() Kind { return "sighting_told" }

// Tell says it in words.
func (e Told) Tell(rulebook.Rulebook) string { return "What it shows was " + Sources[e.Source] + "." }

// Tell says it in words.
func (SeenPublic) Tell(rulebook.Rulebook) string { return "Looked: the listing is public." }

// Tell says it in words.
func (NotSeen) Tell(rulebook.Rulebook) string { return "Looked: the listing does not show." }

// Tell says it in words.
func (e LookUnanswered) Tell(rulebook.Rulebook) string { return e.Says }

func (e SeenPublic) happen(s *State, c circumstances) {
	if e.Page != "" {
		s.Page = e.Page
	}
	now := e.Sighting
	if e.Same {
		now = s.Sighting
	}
	if e.Read && now != nil {
		s.shows(*now, c)
	}
	s.LookedAt, s.SeenAt, s.Sighting, s.LookDays = &c.at, &c.at, now, e.Next
	s.show(c, e.Says)
}

// show notes that it is public.
func (s *State) show(c circumstances, says string) {
	s.Visibility = Public
	s.end(CaseRemoved, "", Won, c, says)
	s.end(CaseSuspended, "", Won, c, says)
}

// shows notes since when each fact shows what it does.
func (s *State) shows(now sighting.Sighting, c circumstances) {
	zone := c.book.Calendar.Place().Zone
	var last *shown.Look
	sent := false
	if s.Sighting != nil && s.SeenAt != nil {
		last = &shown.Look{At: *s.SeenAt, Today: calendar.DateOf(s.SeenAt.In(zone)), Showing: *s.Sighting}
		for _, at := range []*time.Time{s.SentAt, s.GivenAt, s.PhotosAt} {
			sent = sent || at != nil && at.After(*s.SeenAt)
		}
	}
	s.Shown = shown.Next(s.Shown, last, shown.Look{At: c.at, Today: calendar.DateOf(c.at.In(zone)), Showing: now}, sent)
}

func (e Told) happen(s *State, c circumstances) {
	now := e.Sighting
	if s.Sighting != nil {
		now = *s.Sighting
		for _, f := range sighting.Facts {
			if e.Sighting.Says(f.Key) {
				f.Take(&now, e.Sighting)
			}
		}
		if len(now.Only) > 0 { // of more facts than before
			now.Only = slices.Concat(now.Only, e.Sighting.Only)
			slices.Sort(now.Only)
			now.Only = slices.Compact(now.Only)
		}
	}
	s.shows(now, c)
	s.SeenAt, s.Sighting = &c.at, &now
	s.show(c, "")
}

func (NotSeen) happen(s *State, c circumstances) {
	s.LookedAt = &c.at
	if s.Visibility == Public {
		s.Visibility = Removed
		s.open(Case{Kind: CaseRemoved, Notice: "It no longer shows."}, c)
	}
}

func (LookUnanswered) happen(s *State, c circumstances) { s.LookedAt = &c.at }
