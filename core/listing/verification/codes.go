package verification

import (
	"fmt"

	"uvent/core/rule/rulebook"
)

// Codes: asked for, sent, come, entered.

type (
	// CodeAsked is that a code is asked for.
	CodeAsked struct {
		asking
		Attempt string                `json:"attempt,omitempty"`
		Method  rulebook.MethodName   `json:"method,omitempty"`
		To      string                `json:"to,omitempty"`      // where it goes, as people write it
		Offered []rulebook.MethodName `json:"offered,omitempty"` // the ways that the directory offered then
	}
	// CodeSent is that it was sent.
	CodeSent struct {
		answering
		Attempt string `json:"attempt,omitempty"`
		Ref     string `json:"ref,omitempty"` // the directory's own key of it
		Terms   *Terms `json:"terms,omitempty"`
	}
	// CodeAskRefused is that it was not.
	CodeAskRefused struct {
		answering
		Attempt string `json:"attempt,omitempty"`
		Says    string `json:"says,omitempty"` // in words, for people
	}
	// CodeArrived is that somebody has it in hand.
	CodeArrived struct {
		passing
		Attempt string `json:"attempt,omitempty"`
	}
	// CodeBounced is that the email with it came back.
	CodeBounced struct {
		passing
		Attempt string `json:"attempt,omitempty"`
		Says    string `json:"says,omitempty"` // in words, for people
	}
	// CodeEntered is that it is given to the directory.
	CodeEntered struct {
		asking
		Attempt string `json:"attempt,omitempty"`
	}
	// CodeAccepted is that it was right.
	CodeAccepted struct {
		answering
		Attempt string `json:"attempt,omitempty"`
	}
	// CodeRefused is that it was not.
	CodeRefused struct {
		answering
		Attempt   string `json:"attempt,omitempty"`
		Says      string `json:"says,omitempty"`       // in words, for people
		TriesLeft *int   `json:"tries_left,omitempty"` // nil: not told
	}
	// AttemptExpired is that its code works no more.
	AttemptExpired struct {
		passing
		Attempt string `json:"attempt,omitempty"`
	}
)

var _ = family(
	of[CodeAsked],
	of[CodeSent],
	of[CodeAskRefused],
	of[CodeArrived],
	of[CodeBounced],
	of[CodeEntered],
	of[CodeAccepted],
	of[CodeRefused],
	of[AttemptExpired],
)

// Kind names it.
func (CodeAsked) Kind() Kind { return "code_asked" }

// Kind names it.
func (CodeSent) Kind() Kind { return "code_sent" }

// Kind names it.
func (CodeAskRefused) Kind() Kind { return "code_ask_refused" }

// Kind names it.
func (CodeArrived) Kind() Kind { return "code_arrived" }

// Kind names it.
func (CodeBounced) Kind() Kind { return "code_bounced" }

// Kind names it.
func (CodeEntered) Kind() Kind { return "code_entered" }

// Kind names it.
func (CodeAccepted) Kind() Kind { return "code_accepted" }

// Kind names it.
func (CodeRefused) Kind() Kind { return "code_refused" }

// Kind names it.
func (AttemptExpired) Kind() Kind { return "attempt_expired" }

// Tell says it in words.
func (e CodeAsked) Tell(rulebook.Rulebook) string {
	return fmt.Sprintf("Asked for a code: %s to %s.", Title(e.Method), e.To) + offeredThen(e.Offered)
}

// Tell says it in words.
func (CodeSent) Tell(rulebook.Rulebook) string { return "The code was sent." }

// Tell says it in words.
func (e CodeAskRefused) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (CodeArrived) Tell(rulebook.Rulebook) string { return "The code is in hand." }

// Tell says it in words.
func (e CodeBounced) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e CodeEntered) Tell(rulebook.Rulebook) string { return "Entered a code." }

// Tell says it in words.
func (CodeAccepted) Tell(rulebook.Rulebook) string { return "The code was right: verified." }

// Tell says it in words.
func (e CodeRefused) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (AttemptExpired) Tell(rulebook.Rulebook) string { return "The code stopped working." }

func (e CodeAsked) happen(s *State, c circumstances) { s.begin(c, e.Attempt, e.Method, e.To) }

func (e CodeSent) happen(s *State, c circumstances) {
	a := s.Named(e.Attempt)
	if a == nil || a.State != AttemptAsked || e.Terms == nil {
		return
	}
	a.State, a.Digits, a.TriesLeft, a.Expires = AttemptSent, e.Terms.Digits, e.Terms.Tries, e.Terms.Expires
	if m, ok := c.book.Way(a.Method); ok && !m.AtOnce() {
		w := c.book.Calendar.Place().Window(m.Window, a.AskedAt)
		a.Window = &w
	} else {
		a.ArrivedAt = &c.at
	}
}

func (e CodeAskRefused) happen(s *State, c circumstances) {
	s.Trouble = e.Says
	if a := s.Named(e.Attempt); a != nil {
		a.end(AttemptRefused, c, e.Says)
	}
}

func (e CodeArrived) happen(s *State, c circumstances) {
	if a := s.Named(e.Attempt); a != nil && a.ArrivedAt == nil {
		a.ArrivedAt = &c.at
		if !a.Live() {
			return // it came too late to be of use, and is known not to be on its way any more
		}
		if m, ok := c.book.Way(a.Method); ok && m.Code.WorksFrom == rulebook.FromArrival {
			a.Expires = c.at.Add(m.Code.Works())
		}
	}
}

func (e CodeBounced) happen(s *State, c circumstances) {
	if a := s.Named(e.Attempt); a != nil && a.Live() {
		s.Trouble = e.Says
		a.end(AttemptRefused, c, e.Says)
	}
}

func (e CodeEntered) happen(s *State, _ circumstances) {
	if a := s.Named(e.Attempt); a != nil {
		a.Entering = true
	}
}

func (e CodeAccepted) happen(s *State, c circumstances) {
	if a := s.Named(e.Attempt); a != nil {
		a.end(AttemptAccepted, c, "")
		a.Entering, a.Says = false, "" // what was said to a wrong code before it holds no more
	}
	s.proved(c)
}

func (e CodeRefused) happen(s *State, c circumstances) {
	s.Trouble = e.Says
	a := s.Named(e.Attempt)
	if a == nil {
		return
	}
	a.Entering, a.Says = false, e.Says
	if e.TriesLeft != nil {
		if a.TriesLeft = *e.TriesLeft; a.TriesLeft == 0 && a.Live() {
			a.end(AttemptUsedUp, c, e.Says)
		}
	}
}

func (e AttemptExpired) happen(s *State, c circumstances) {
	if a := s.Named(e.Attempt); a != nil && a.Live() {
		a.end(AttemptLapsed, c, "")
	}
}
