package verification

import (
	"fmt"
	"strings"

	"uvent/core/rule/rulebook"
)

// Reviews: somebody at the directory decides on a proof.

type (
	// ReviewAsked is that somebody there is to decide.
	ReviewAsked struct {
		asking
		Attempt string                `json:"attempt,omitempty"`
		Method  rulebook.MethodName   `json:"method,omitempty"`
		To      string                `json:"to,omitempty"`      // with what, in words
		Offered []rulebook.MethodName `json:"offered,omitempty"` // the ways that the directory offered then
	}
	// ReviewBegun is that they are looking into it.
	ReviewBegun struct {
		answering
		Attempt string `json:"attempt,omitempty"`
		Ref     string `json:"ref,omitempty"` // the directory's own key of its review
		Terms   *Terms `json:"terms,omitempty"`
	}
	// SecondLook is that the code was right, and they look into it all the same.
	SecondLook struct {
		answering
		Attempt string `json:"attempt,omitempty"`
		Ref     string `json:"ref,omitempty"` // the directory's own key of its review
		Terms   *Terms `json:"terms,omitempty"`
	}
	// StillInReview is that asked: they have not decided.
	StillInReview struct {
		passing
		Attempt string `json:"attempt,omitempty"`
	}
	// ReviewPassed is that they said yes.
	ReviewPassed struct {
		answering
		Attempt string `json:"attempt,omitempty"`
	}
	// ReviewFailed is that they said no.
	ReviewFailed struct {
		answering
		Attempt string `json:"attempt,omitempty"`
		Says    string `json:"says,omitempty"` // in words, for people
	}
)

var _ = family(of[ReviewAsked], of[ReviewBegun], of[SecondLook], of[StillInReview], of[ReviewPassed], of[ReviewFailed])

// Kind names it.
func (ReviewAsked) Kind() Kind { return "review_asked" }

// Kind names it.
func (ReviewBegun) Kind() Kind { return "review_begun" }

// Kind names it.
func (SecondLook) Kind() Kind { return "second_look" }

// Kind names it.
func (StillInReview) Kind() Kind { return "still_in_review" }

// Kind names it.
func (ReviewPassed) Kind() Kind { return "review_passed" }

// Kind names it.
func (ReviewFailed) Kind() Kind { return "review_failed" }

// Tell says it in words.
func (e ReviewAsked) Tell(rulebook.Rulebook) string {
	return fmt.Sprintf("Asked for verification: %s, with %s.", strings.ToLower(Title(e.Method)), e.To) + offeredThen(e.Offered)
}

// Tell says it in words.
func (ReviewBegun) Tell(rulebook.Rulebook) string { return "They are looking into it." }

// Tell says it in words.
func (SecondLook) Tell(rulebook.Rulebook) string {
	return "The code was right; they take a second look."
}

// Tell says it in words.
func (StillInReview) Tell(rulebook.Rulebook) string { return "Asked: they are still looking into it." }

// Tell says it in words.
func (ReviewPassed) Tell(rulebook.Rulebook) string { return "They said yes: verified." }

// Tell says it in words.
func (e ReviewFailed) Tell(rulebook.Rulebook) string { return e.Says }

func (e ReviewAsked) happen(s *State, c circumstances) {
	s.FromOwner = nil // whoever asks has chosen among the papers
	s.begin(c, e.Attempt, e.Method, e.To)
}

func (e ReviewBegun) happen(s *State, c circumstances) { s.review(c, e.Attempt, e.Ref, e.Terms) }

func (e SecondLook) happen(s *State, c circumstances) { s.review(c, e.Attempt, e.Ref, e.Terms) }

func (e StillInReview) happen(s *State, c circumstances) {
	if a := s.Named(e.Attempt); a != nil {
		a.CheckedAt = &c.at
	}
}

func (e ReviewPassed) happen(s *State, c circumstances) {
	if a := s.Named(e.Attempt); a != nil {
		a.end(AttemptAccepted, c, "")
	}
	s.proved(c)
}

func (e ReviewFailed) happen(s *State, c circumstances) {
	s.Trouble = e.Says
	if a := s.Named(e.Attempt); a != nil {
		a.end(AttemptRefused, c, e.Says)
	}
}
