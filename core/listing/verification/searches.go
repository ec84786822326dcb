package verification

import (
	"fmt"
	"uvent/core/record/sighting"

	"uvent/core/record/match"
	"uvent/core/rule/rulebook"
)

// Searches: what was looked for, and what was found.

type (
	// SearchAsked is that a directory is searched.
	SearchAsked struct {
		asking
		still
		Says string `json:"says,omitempty"` // by what
	}
	// Searched is what the search found.
	Searched struct {
		answering
		Candidates []Candidate `json:"candidates,omitempty"`
	}
)

var _ = family(of[SearchAsked], of[Searched])

// Kind names it.
func (SearchAsked) Kind() Kind { return "search_asked" }

// Kind names it.
func (Searched) Kind() Kind { return "searched" }

// Tell says it in words.
func (e SearchAsked) Tell(book rulebook.Rulebook) string {
	return plus("Searched "+book.Name+".", e.Says)
}

// Tell says it in words.
func (e Searched) Tell(rulebook.Rulebook) string {
	switch len(e.Candidates) {
	case 0:
		return "Found nothing like it."
	case 1:
		return "Found one listing that may be it."
	}
	return fmt.Sprintf("Found %d listings that may be it.", len(e.Candidates))
}

func (e Searched) happen(s *State, c circumstances) { s.SearchedAt, s.Candidates = &c.at, e.Candidates }

// Candidate is a listing that a search found.
type Candidate struct {
	Ref     string            `json:"ref"`
	Page    string            `json:"page"`
	Shown   sighting.Sighting `json:"shown"`
	Status  CandidateStatus   `json:"status"`
	Score   float64           `json:"score"`
	Verdict match.Verdict     `json:"verdict"`
	Reasons []string          `json:"reasons"`
}

// CandidateStatus says who holds a listing that was found.
type CandidateStatus string

const (
	FreeToClaim CandidateStatus = "free_to_claim"
	Ours        CandidateStatus = "ours"
	HeldElse    CandidateStatus = "held_by_another"
)
