package verification

import (
	"slices"

	"uvent/core/rule/rulebook"
)

// Duplicates: other listings of the same business, that are to go.

type (
	// DuplicateAsked is that one is reported.
	DuplicateAsked struct {
		asking
		still
		Ref string `json:"ref,omitempty"` // the other listing
	}
	// DuplicateBegun is that they are looking into it.
	DuplicateBegun struct {
		answering
		Ref    string `json:"ref,omitempty"`     // the other listing
		Report string `json:"attempt,omitempty"` // the directory's own key of the report
		Terms  *Terms `json:"terms,omitempty"`
	}
	// DuplicateGone is that it is merged into ours.
	DuplicateGone struct {
		passing
		Ref  string `json:"ref,omitempty"`  // the other listing
		Says string `json:"says,omitempty"` // in words, for people
	}
	// DuplicateStays is that it stays.
	DuplicateStays struct {
		passing
		Ref  string `json:"ref,omitempty"`  // the other listing
		Says string `json:"says,omitempty"` // in words, for people
	}
	// DuplicateWaiting is that asked: they have not decided.
	DuplicateWaiting struct {
		passing
		Ref string `json:"ref,omitempty"` // the other listing
	}
)

var _ = family(of[DuplicateAsked], of[DuplicateBegun], of[DuplicateGone], of[DuplicateStays], of[DuplicateWaiting])

// Kind names it.
func (DuplicateAsked) Kind() Kind { return "duplicate_asked" }

// Kind names it.
func (DuplicateBegun) Kind() Kind { return "duplicate_begun" }

// Kind names it.
func (DuplicateGone) Kind() Kind { return "duplicate_gone" }

// Kind names it.
func (DuplicateStays) Kind() Kind { return "duplicate_stays" }

// Kind names it.
func (DuplicateWaiting) Kind() Kind { return "duplicate_waiting" }

// Tell says it in words.
func (DuplicateAsked) Tell(rulebook.Rulebook) string { return "Reported a second listing." }

// Tell says it in words.
func (DuplicateBegun) Tell(rulebook.Rulebook) string {
	return "They are looking into the second listing."
}

// Tell says it in words.
func (e DuplicateGone) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e DuplicateStays) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (DuplicateWaiting) Tell(rulebook.Rulebook) string {
	return "Asked: there is no answer on the second listing yet."
}

func (e DuplicateBegun) happen(s *State, c circumstances) {
	s.open(Case{Kind: CaseDuplicate, Other: e.Ref}, c)
	if e.Terms == nil {
		return
	}
	others := slices.DeleteFunc(slices.Clone(s.Duplicates), func(d Duplicate) bool { return d.Ref == e.Ref })
	s.Duplicates = append(others, Duplicate{Ref: e.Ref, Report: e.Report, Step: Reported, CheckedAt: c.at, Window: c.until(*e.Terms)})
}

func (e DuplicateGone) happen(s *State, c circumstances) {
	s.reported(c, e.Ref, e.Says, Merged)
	s.end(CaseDuplicate, e.Ref, Won, c, e.Says)
}

func (e DuplicateStays) happen(s *State, c circumstances) {
	s.reported(c, e.Ref, e.Says, Stays)
	s.end(CaseDuplicate, e.Ref, LostIt, c, e.Says)
}

func (e DuplicateWaiting) happen(s *State, c circumstances) { s.reported(c, e.Ref, "", Reported) }
