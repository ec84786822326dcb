package verification

import (
	"slices"
	"time"

	"uvent/core/rule/rulebook"
)

// Decision is that somebody has decided to leave something as it is.
type Decision struct {
	Kind  string    `json:"kind"`            // of what is left, as the agenda names it
	Cause string    `json:"cause,omitempty"` // which of that kind
	At    time.Time `json:"at"`
	By    string    `json:"by"`
	Why   string    `json:"why"`
}

type (
	// DecidedOn is that somebody decided that nothing is done about something, and why.
	DecidedOn struct {
		passing
		Matter string `json:"matter"` // the kind of it, as the agenda names it
		Cause  string `json:"cause,omitempty"`
		Title  string `json:"title"` // what it was called then
		Why    string `json:"why"`
	}
	// ReopenedOn is that somebody took such a decision back.
	ReopenedOn struct {
		passing
		Matter string `json:"matter"`
		Cause  string `json:"cause,omitempty"`
		Title  string `json:"title"`
	}
)

var _ = family(of[DecidedOn], of[ReopenedOn])

// Kind names it.
func (DecidedOn) Kind() Kind { return "decided_on" }

// Kind names it.
func (ReopenedOn) Kind() Kind { return "reopened_on" }

// Tell says it in words.
func (e DecidedOn) Tell(rulebook.Rulebook) string {
	return e.Title + ": nothing more is done. " + e.Why
}

// Tell says it in words.
func (e ReopenedOn) Tell(rulebook.Rulebook) string { return e.Title + ": it is looked at again." }

func (e DecidedOn) happen(s *State, c circumstances) {
	s.undecide(e.Matter, e.Cause)
	s.Decisions = append(s.Decisions, Decision{e.Matter, e.Cause, c.at, c.by, e.Why})
}

func (e ReopenedOn) happen(s *State, _ circumstances) { s.undecide(e.Matter, e.Cause) }

// undecide forgets a decision, and leaves the state that it was copied from as it is.
func (s *State) undecide(kind, cause string) {
	kept := slices.Clone(s.Decisions)
	s.Decisions = slices.DeleteFunc(kept, func(d Decision) bool { return d.Kind == kind && d.Cause == cause })
	if len(s.Decisions) == 0 {
		s.Decisions = nil
	}
}

// HasDecided reports whether somebody has decided to leave something as it is.
func (s State) HasDecided(kind, cause string) bool {
	return slices.ContainsFunc(s.Decisions, func(d Decision) bool { return d.Kind == kind && d.Cause == cause })
}
