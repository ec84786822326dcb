package verification

import (
	"time"

	"uvent/core/rule/rulebook"
)

// Silence: what comes when a directory does not answer.

type (
	// CallUnanswered is that it does not answer, and is asked again.
	CallUnanswered struct {
		passing
		Says string `json:"says,omitempty"` // in words, for people
	}
	// CallGivenUp is that nor will it be asked again on its own.
	CallGivenUp struct {
		answering
		Says string `json:"says,omitempty"` // in words, for people
	}
)

var _ = family(of[CallUnanswered], of[CallGivenUp])

// Patience is how long a directory that does not answer is asked: a search is soon made again by whoever still wants to know,
// and all else waits for as long as a directory may be away.
func Patience(asked Kind) time.Duration {
	if asked == (SearchAsked{}).Kind() {
		return 6 * time.Hour
	}
	return 4 * 24 * time.Hour
}

// Kind names it.
func (CallUnanswered) Kind() Kind { return "call_unanswered" }

// Kind names it.
func (CallGivenUp) Kind() Kind { return "call_given_up" }

// Tell says it in words.
func (e CallUnanswered) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e CallGivenUp) Tell(rulebook.Rulebook) string { return e.Says }

func (e CallUnanswered) happen(s *State, _ circumstances) { s.Trouble = e.Says }

func (e CallGivenUp) happen(s *State, c circumstances) {
	s.Trouble = e.Says
	if s.Control == AskedFor {
		// It may have been done all the same: a new search will tell.
		s.Control, s.SearchedAt, s.Candidates = NoControl, nil, nil
	}
	for i := range s.Attempts {
		if a := &s.Attempts[i]; a.State == AttemptAsked {
			a.end(AttemptRefused, c, e.Says)
		}
		s.Attempts[i].Entering = false
	}
}
