package verification

import (
	"slices"
	"strings"
	"uvent/core/fact/address"

	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// How a listing becomes ours: one that is there is claimed, or one is created, or copied from
// another directory.

type (
	// ClaimAsked is that a listing that was found is claimed.
	ClaimAsked struct {
		asking
		Ref string `json:"ref,omitempty"` // the directory's own key of the listing
	}
	// ClaimGranted is that the claim is granted.
	ClaimGranted struct {
		answering
		Ref  string           `json:"ref,omitempty"`  // the directory's own key of the listing
		Page string           `json:"page,omitempty"` // its public page, as the connector gave it
		At   *address.Address `json:"at,omitempty"`   // where the record had the location then
	}
	// ClaimRefused is that it is not, or somebody else holds the listing.
	ClaimRefused struct {
		answering
		Ref    string `json:"ref,omitempty"`  // the directory's own key of the listing
		Says   string `json:"says,omitempty"` // in words, for people
		HeldBy string `json:"held_by,omitempty"`
	}
	// CreateAsked is that a listing is created from the record.
	CreateAsked struct {
		asking
	}
	// Created is that it was taken in.
	Created struct {
		answering
		Ref    string     `json:"ref,omitempty"`    // the directory's own key of the listing
		Page   string     `json:"page,omitempty"`   // its public page, as the connector gave it
		Values fit.Values `json:"values,omitempty"` // as they were given
	}
	// CreateRefused is that it was not.
	CreateRefused struct {
		answering
		Says  string `json:"says,omitempty"`  // in words, for people
		Taken string `json:"taken,omitempty"` // a page's name that is another's already
	}
	// CopyAsked is that a listing is copied from another directory.
	CopyAsked struct {
		asking
		Ref string `json:"ref,omitempty"` // that directory
	}
	// Copied is that it was, as far as it carries.
	Copied struct {
		answering
		Ref    string     `json:"ref,omitempty"`    // the directory's own key of the listing
		Page   string     `json:"page,omitempty"`   // its public page, as the connector gave it
		Values fit.Values `json:"values,omitempty"` // that came along
	}
	// CopyRefused is that it was not.
	CopyRefused struct {
		answering
		Says string `json:"says,omitempty"` // in words, for people
	}
)

var _ = family(of[ClaimAsked], of[ClaimGranted], of[ClaimRefused], of[CreateAsked], of[Created], of[CreateRefused], of[CopyAsked], of[Copied], of[CopyRefused])

// Kind names it.
func (ClaimAsked) Kind() Kind { return "claim_asked" }

// Kind names it.
func (ClaimGranted) Kind() Kind { return "claim_granted" }

// Kind names it.
func (ClaimRefused) Kind() Kind { return "claim_refused" }

// Kind names it.
func (CreateAsked) Kind() Kind { return "create_asked" }

// Kind names it.
func (Created) Kind() Kind { return "created" }

// Kind names it.
func (CreateRefused) Kind() Kind { return "create_refused" }

// Kind names it.
func (CopyAsked) Kind() Kind { return "copy_asked" }

// Kind names it.
func (Copied) Kind() Kind { return "copied" }

// Kind names it.
func (CopyRefused) Kind() Kind { return "copy_refused" }

// Tell says it in words.
func (e ClaimAsked) Tell(rulebook.Rulebook) string { return "Claimed a listing that was there." }

// Tell says it in words.
func (ClaimGranted) Tell(rulebook.Rulebook) string { return "The claim was granted." }

// Tell says it in words.
func (e ClaimRefused) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (CreateAsked) Tell(rulebook.Rulebook) string { return "Created a listing from the record." }

// Tell says it in words.
func (Created) Tell(rulebook.Rulebook) string { return "The listing was created." }

// Tell says it in words.
func (e CreateRefused) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (CopyAsked) Tell(rulebook.Rulebook) string {
	return "Asked it to copy the listing from another directory."
}

// Tell says it in words.
func (e Copied) Tell(rulebook.Rulebook) string {
	if len(e.Values) == 0 {
		return "Copied, as far as it carries."
	}
	return "Copied: " + strings.Join(e.Values.Labels(), ", ") + "."
}

// Tell says it in words.
func (e CopyRefused) Tell(rulebook.Rulebook) string { return e.Says }

func (ClaimAsked) happen(s *State, _ circumstances) { s.Control = AskedFor }

func (e ClaimGranted) happen(s *State, c circumstances) {
	s.take(c, e.Ref, e.Page, "")
	s.takenAt(e.At)
}

func (e ClaimRefused) happen(s *State, c circumstances) {
	s.Trouble = e.Says
	if e.HeldBy == "" {
		s.Control = NoControl
		return
	}
	if s.Control != HeldByAnother {
		s.open(Case{Kind: CaseHeld, Notice: e.Says}, c)
	}
	s.Control, s.HeldBy, s.Ref = HeldByAnother, e.HeldBy, e.Ref
}

func (CreateAsked) happen(s *State, _ circumstances) { s.Control = AskedFor }

func (e Created) happen(s *State, c circumstances) {
	s.take(c, e.Ref, e.Page, "")
	s.stands(e.Values)
}

func (e CreateRefused) happen(s *State, _ circumstances) {
	s.Control, s.Trouble = NoControl, e.Says
	if e.Taken != "" {
		s.Taken = append(slices.Clone(s.Taken), e.Taken)
	}
}

func (e CopyAsked) happen(s *State, _ circumstances) { s.Control, s.CopiedFrom = AskedFor, e.Ref }

func (e Copied) happen(s *State, c circumstances) {
	s.take(c, e.Ref, e.Page, "")
	s.stands(e.Values)
}

func (e CopyRefused) happen(s *State, _ circumstances) {
	s.Control, s.Trouble, s.CopiedFrom = NoControl, e.Says, ""
}
