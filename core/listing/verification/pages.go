package verification

import "uvent/core/rule/rulebook"

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
	// CallChosen is when the owner can be called.
	CallChosen struct {
		passing
		still
		Says string `json:"says,omitempty"` // in words, for people
	}
)

var _ = family(of[LinkMade], of[LinkOpened], of[LinkWithdrawn], of[CallChosen])

// Kind names it.
func (LinkMade) Kind() Kind { return "link_made" }

// Kind names it.
func (LinkOpened) Kind() Kind { return "link_opened" }

// Kind names it.
func (LinkWithdrawn) Kind() Kind { return "link_withdrawn" }

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
