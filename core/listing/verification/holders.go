package verification

import (
	"cmp"
	"fmt"
	"uvent/core/fact/address"
	"uvent/core/fact/calendar"

	"uvent/core/rule/rulebook"
)

// Holders: a listing that somebody else holds is asked for, from them and then from the directory;
// and other accounts get roles for one of ours.

type (
	// AccessAsked is that its holder is to hand it over.
	AccessAsked struct {
		asking
		still
	}
	// AccessBegun is that the request was passed on.
	AccessBegun struct {
		answering
		Ref   string `json:"ref,omitempty"` // the directory's own key of the request
		Terms *Terms `json:"terms,omitempty"`
	}
	// StillNoAccess is that asked: there is no answer.
	StillNoAccess struct {
		passing
	}
	// AccessGranted is that it is ours.
	AccessGranted struct {
		answering
		Says string           `json:"says,omitempty"` // in words, for people
		At   *address.Address `json:"at,omitempty"`   // where the record had the location then
	}
	// AccessRefused is that the holder, or the directory's people, say no.
	AccessRefused struct {
		answering
		Says string `json:"says,omitempty"` // in words, for people
	}
	// AccessSilent is that the holder did not answer.
	AccessSilent struct {
		answering
		Says string `json:"says,omitempty"` // in words, for people
	}
	// EscalateAsked is that the directory's people are to decide.
	EscalateAsked struct {
		asking
		still
		To    string `json:"to,omitempty"`    // the paper that goes with it
		Paper string `json:"paper,omitempty"` // its kind
	}
	// EscalateBegun is that they are looking into it.
	EscalateBegun struct {
		answering
		Ref   string `json:"ref,omitempty"` // the directory's own key of the request
		Terms *Terms `json:"terms,omitempty"`
	}
	// RequestFailed is that it could not be asked for, or not be put before them.
	RequestFailed struct {
		answering
		Says string `json:"says,omitempty"` // in words, for people
	}
	// RoleAsked is that another account is to have a role.
	RoleAsked struct {
		asking
		still
		To   string `json:"to,omitempty"`   // the account
		Says string `json:"says,omitempty"` // the role
	}
	// RoleGiven is that it has it.
	RoleGiven struct {
		answering
		To    string `json:"to,omitempty"`    // the account
		Role  string `json:"role,omitempty"`  // the role
		Owner bool   `json:"owner,omitempty"` // it is the owner's, who has it back
	}
	// HandedBack is that somebody has handed a listing to its owner, where no program could.
	HandedBack struct {
		passing
		To string `json:"to,omitempty"` // the owner's email; empty where it is not known
	}
	// KeptYet is that it is ours to work on after all.
	KeptYet struct{ passing }
	// RoleRefused is that it has not.
	RoleRefused struct {
		answering
		Says string `json:"says,omitempty"` // in words, for people
	}
)

var _ = family(
	of[AccessAsked],
	of[AccessBegun],
	of[StillNoAccess],
	of[AccessGranted],
	of[AccessRefused],
	of[AccessSilent],
	of[EscalateAsked],
	of[EscalateBegun],
	of[RequestFailed],
	of[RoleAsked],
	of[RoleGiven],
	of[RoleRefused],
	of[HandedBack],
	of[KeptYet],
)

// Kind names it.
func (AccessAsked) Kind() Kind { return "access_asked" }

// Kind names it.
func (AccessBegun) Kind() Kind { return "access_begun" }

// Kind names it.
func (StillNoAccess) Kind() Kind { return "still_no_access" }

// Kind names it.
func (AccessGranted) Kind() Kind { return "access_granted" }

// Kind names it.
func (AccessRefused) Kind() Kind { return "access_refused" }

// Kind names it.
func (AccessSilent) Kind() Kind { return "access_silent" }

// Kind names it.
func (EscalateAsked) Kind() Kind { return "escalate_asked" }

// Kind names it.
func (EscalateBegun) Kind() Kind { return "escalate_begun" }

// Kind names it.
func (RequestFailed) Kind() Kind { return "access_failed" }

// Kind names it.
func (RoleAsked) Kind() Kind { return "role_asked" }

// Kind names it.
func (RoleGiven) Kind() Kind { return "role_given" }

// Kind names it.
func (HandedBack) Kind() Kind { return "handed_back" }

// Kind names it.
func (KeptYet) Kind() Kind { return "kept_yet" }

// Kind names it.
func (RoleRefused) Kind() Kind { return "role_refused" }

// Tell says it in words.
func (AccessAsked) Tell(rulebook.Rulebook) string { return "Asked its holder for the listing." }

// Tell says it in words.
func (AccessBegun) Tell(book rulebook.Rulebook) string {
	return book.Name + " has passed the request on."
}

// Tell says it in words.
func (StillNoAccess) Tell(rulebook.Rulebook) string { return "Asked: there is no answer yet." }

// Tell says it in words.
func (e AccessGranted) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e AccessRefused) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e AccessSilent) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e EscalateAsked) Tell(book rulebook.Rulebook) string {
	return fmt.Sprintf("Put it before the people of %s, with %s.", book.Name, e.To)
}

// Tell says it in words.
func (EscalateBegun) Tell(rulebook.Rulebook) string { return "They are looking into it." }

// Tell says it in words.
func (e RequestFailed) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (e RoleAsked) Tell(rulebook.Rulebook) string {
	return "Gave " + e.To + " the role of " + e.Says + "."
}

// Tell says it in words.
func (RoleGiven) Tell(rulebook.Rulebook) string { return "It was taken." }

// Tell says it in words.
func (e HandedBack) Tell(rulebook.Rulebook) string {
	return "Handed it over to " + cmp.Or(e.To, "the owner") + "."
}

// Tell says it in words.
func (KeptYet) Tell(rulebook.Rulebook) string {
	return "It is not handed over after all; we go on with it."
}

// Tell says it in words.
func (e RoleRefused) Tell(rulebook.Rulebook) string { return e.Says }

func (e AccessBegun) happen(s *State, c circumstances) {
	s.AccessAt, s.Access = &c.at, nil
	s.waitFor(c, e.Ref, e.Terms, HolderAsked)
}

func (StillNoAccess) happen(s *State, c circumstances) {
	if s.Access != nil {
		a := *s.Access
		a.CheckedAt, s.Access = &c.at, &a
	}
}

func (e AccessGranted) happen(s *State, c circumstances) {
	s.Access = nil
	if s.Control == Held {
		return
	}
	page := s.Page
	for _, k := range s.Candidates {
		if k.Ref == s.Ref {
			page = k.Page
		}
	}
	s.take(c, s.Ref, page, e.Says)
	s.takenAt(e.At)
}

func (e AccessRefused) happen(s *State, c circumstances) {
	s.hear(c, e.Says, HolderRefused, StaffRefused)
}

func (e AccessSilent) happen(s *State, c circumstances) {
	s.hear(c, e.Says, HolderSilent, HolderSilent)
}

func (e EscalateBegun) happen(s *State, c circumstances) { s.waitFor(c, e.Ref, e.Terms, StaffAsked) }

func (e RequestFailed) happen(s *State, _ circumstances) { s.Trouble = e.Says }

// Handed is that a listing's owner has it back.
type Handed struct {
	To   string        `json:"to,omitempty"`
	Role string        `json:"role,omitempty"` // that they were given; empty where it was handed over whole
	On   calendar.Date `json:"on"`             // by the directory's days
}

func (e RoleGiven) happen(s *State, c circumstances) {
	if e.Owner {
		s.Handed = &Handed{e.To, e.Role, c.day()}
	}
}

func (e HandedBack) happen(s *State, c circumstances) { s.Handed = &Handed{To: e.To, On: c.day()} }

func (KeptYet) happen(s *State, _ circumstances) { s.Handed = nil }

// day is the day at the directory.
func (c circumstances) day() calendar.Date {
	return calendar.DateIn(c.at, c.book.Calendar.Place().Zone)
}

func (e RoleRefused) happen(s *State, _ circumstances) { s.Trouble = e.Says }
