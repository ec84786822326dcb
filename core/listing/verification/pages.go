package verification

import (
	"strings"
	"time"

	"uvent/core/rule/rulebook"
)

// Pages for owners.

type (
	// LinkMade is that a private page for the owner.
	LinkMade struct {
		passing
		still
		To   string `json:"to,omitempty"`   // who was written to; empty: it was handed on
		Says string `json:"says,omitempty"` // what it is for
	}
	// LinkOpened is that it was opened.
	LinkOpened struct {
		passing
		still
	}
	// LinkWithdrawn is that it was shut.
	LinkWithdrawn struct {
		passing
		still
	}
	// OwnerSent is that the owner has sent something through it.
	OwnerSent struct {
		passing
		Task   OwnerTask `json:"task"`
		Paper  string    `json:"paper"`            // its id
		What   string    `json:"what"`             // in words: the utility bill
		Doubts []string  `json:"doubts,omitempty"` // what the directory is likely to mind in it, in sentences
		Told   []string  `json:"told,omitempty"`   // the same, as the owner was told
		Claims []string  `json:"claims,omitempty"` // what the owner may say to that, in their words
	}
	// OwnerSaid is what the owner says instead of doing it.
	OwnerSaid struct {
		passing
		Task   OwnerTask `json:"task"`
		Says   string    `json:"says"`             // in words, for people
		Letter string    `json:"letter,omitempty"` // the id of the letter in which they wrote it
	}
	// OwnerSeen is that somebody has seen what the owner sent.
	OwnerSeen struct{ passing }
	// CallChosen is when the owner can be called.
	CallChosen struct {
		passing
		still
		Says string `json:"says,omitempty"` // in words, for people
	}
)

var _ = family(of[LinkMade], of[LinkOpened], of[LinkWithdrawn], of[OwnerSent], of[OwnerSaid], of[OwnerSeen], of[CallChosen])

// Kind names it.
func (LinkMade) Kind() Kind { return "link_made" }

// Kind names it.
func (LinkOpened) Kind() Kind { return "link_opened" }

// Kind names it.
func (LinkWithdrawn) Kind() Kind { return "link_withdrawn" }

// Kind names it.
func (OwnerSent) Kind() Kind { return "owner_sent" }

// Kind names it.
func (OwnerSaid) Kind() Kind { return "owner_said" }

// Kind names it.
func (OwnerSeen) Kind() Kind { return "owner_seen" }

// Kind names it.
func (CallChosen) Kind() Kind { return "call_chosen" }

// Tell says it in words.
func (e LinkMade) Tell(rulebook.Rulebook) string {
	if e.To == "" {
		return "Made a private page for the owner: " + e.Says + "."
	}
	return "Wrote to " + e.To + " with a private page: " + e.Says + "."
}

// Tell says it in words.
func (e LinkOpened) Tell(rulebook.Rulebook) string { return "Opened the private page." }

// Tell says it in words.
func (e LinkWithdrawn) Tell(rulebook.Rulebook) string { return "Withdrew the private page." }

// Tell says it in words.
func (e CallChosen) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e OwnerSaid) Tell(rulebook.Rulebook) string { return "The owner says: “" + e.Says + "”" }

// Tell says it in words.
func (e OwnerSent) Tell(rulebook.Rulebook) string {
	return plus("Sent what was asked for: "+e.What+".", strings.Join(e.Doubts, " "))
}

// Tell says it in words.
func (OwnerSeen) Tell(rulebook.Rulebook) string { return "Has seen what the owner sent." }

// FromOwner is what an owner has sent and nobody has seen yet.
type FromOwner struct {
	Task   OwnerTask `json:"task"`
	Paper  string    `json:"paper"` // its id
	What   string    `json:"what"`
	Doubts []string  `json:"doubts,omitempty"`
	Told   []string  `json:"told,omitempty"`   // the same, as the owner was told
	Claims []string  `json:"claims,omitempty"` // what the owner may say to that, in their words
	Says   string    `json:"says,omitempty"`   // what the owner has said instead of doing it
	Letter string    `json:"letter,omitempty"` // the id of the letter in which they wrote it, which may tell a code
	At     time.Time `json:"at"`
}

func (e OwnerSent) happen(s *State, c circumstances) {
	s.FromOwner = &FromOwner{Task: e.Task, Paper: e.Paper, What: e.What, Doubts: e.Doubts, Told: e.Told, Claims: e.Claims, At: c.at}
}

func (e OwnerSaid) happen(s *State, c circumstances) {
	f := FromOwner{Task: e.Task, At: c.at, Says: e.Says, Letter: e.Letter}
	if was := s.FromOwner; was != nil && was.Task == e.Task { // what is said is said of what was sent
		f.Paper, f.What, f.Doubts, f.Told, f.Claims = was.Paper, was.What, was.Doubts, was.Told, was.Claims
	}
	s.FromOwner = &f
}

func (OwnerSeen) happen(s *State, _ circumstances) { s.FromOwner = nil }
