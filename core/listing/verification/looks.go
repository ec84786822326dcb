package verification

import (
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

var _ = family(of[SeenPublic], of[NotSeen], of[LookUnanswered])

// Kind names it.
func (SeenPublic) Kind() Kind { return "seen_public" }

// Kind names it.
func (NotSeen) Kind() Kind { return "not_seen" }

// Kind names it.
func (LookUnanswered) Kind() Kind { return "look_unanswered" }

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
	s.LookedAt, s.SeenAt, s.Sighting = &c.at, &c.at, e.Sighting
	s.Visibility = Public
	s.end(CaseRemoved, "", Won, c, e.Says)
	s.end(CaseSuspended, "", Won, c, e.Says)
}

func (NotSeen) happen(s *State, c circumstances) {
	s.LookedAt = &c.at
	if s.Visibility == Public {
		s.Visibility = Removed
		s.open(Case{Kind: CaseRemoved, Notice: "It no longer shows."}, c)
	}
}

func (LookUnanswered) happen(s *State, c circumstances) { s.LookedAt = &c.at }
