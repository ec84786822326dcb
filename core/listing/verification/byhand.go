package verification

import (
	"fmt"
	"uvent/core/fact/prose"

	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// What people do on a directory themselves, and tell.

type (
	// Given is that values were entered there, or written to its staff.
	Given struct {
		answering
		Values fit.Values `json:"values,omitempty"`
		How    How        `json:"how,omitempty"`
		Page   string     `json:"page,omitempty"` // its public page, as the connector gave it
		To     string     `json:"to,omitempty"`   // who was written to
	}
	// TakenIn is that its staff have entered them.
	TakenIn struct {
		answering
		Page string `json:"page,omitempty"` // its public page, as the connector gave it
		Says string `json:"says,omitempty"` // in words, for people
	}
	// VerifiedThere is that verified on its own pages.
	VerifiedThere struct {
		answering
		Page string `json:"page,omitempty"` // its public page, as the connector gave it
		Says string `json:"says,omitempty"` // in words, for people
	}
	// RefusedThere is that it said no.
	RefusedThere struct {
		answering
		Page string `json:"page,omitempty"` // its public page, as the connector gave it
		Says string `json:"says,omitempty"` // in words, for people
	}
)

var _ = family(of[Given], of[TakenIn], of[VerifiedThere], of[RefusedThere])

// Kind names it.
func (Given) Kind() Kind { return "given" }

// Kind names it.
func (TakenIn) Kind() Kind { return "taken_in" }

// Kind names it.
func (VerifiedThere) Kind() Kind { return "verified_there" }

// Kind names it.
func (RefusedThere) Kind() Kind { return "refused_there" }

// Tell says it in words.
func (e Given) Tell(rulebook.Rulebook) string {
	switch e.How {
	case ByLetter:
		return fmt.Sprintf("Wrote to %s, with %s.", e.To, prose.Count(len(e.Values), "value"))
	case ByFile:
		return "Handed it in with a file."
	}
	return "Gave " + prose.Count(len(e.Values), "value") + " by hand."
}

// Tell says it in words.
func (TakenIn) Tell(rulebook.Rulebook) string { return "Its staff have taken it in." }

// Tell says it in words.
func (VerifiedThere) Tell(rulebook.Rulebook) string { return "Verified on their own pages." }

// Tell says it in words.
func (e RefusedThere) Tell(rulebook.Rulebook) string { return e.Says }

func (e Given) happen(s *State, c circumstances) {
	s.GivenAt = &c.at
	s.stands(e.Values)
	s.shownAt(e.Page)
	if c.book.Review.Reviewed() {
		w := c.book.Calendar.Place().Window(c.book.Review.Window, c.at)
		s.AnswerBy = &w
	}
	switch {
	case s.Control == Held:
	case c.book.Worked == rulebook.Written:
		s.Control = AskedFor
	default:
		s.heldByHand(c)
	}
}

func (e TakenIn) happen(s *State, c circumstances) {
	s.AnswerBy, s.FromStaff = nil, nil
	s.shownAt(e.Page)
	if s.Control != Held {
		s.heldByHand(c)
	}
}

func (e VerifiedThere) happen(s *State, c circumstances) {
	s.AnswerBy, s.FromStaff = nil, nil
	s.shownAt(e.Page)
	if a := s.Attempt(); a != nil && a.Live() {
		a.end(AttemptAccepted, c, e.Says)
	}
	s.proved(c)
}

func (e RefusedThere) happen(s *State, c circumstances) {
	s.Trouble, s.AnswerBy, s.FromStaff = e.Says, nil, nil
	switch a := s.Attempt(); {
	case a != nil && a.Live():
		a.end(AttemptUsedUp, c, e.Says)
	case s.Control == AskedFor:
		s.Control = NoControl
	}
}

// How values were given.
type How string

const (
	ByWorksheet How = "worksheet" // on the directory's pages
	ByLetter    How = "letter"    // in writing, to its staff
	ByFile      How = "file"
)
