package verification

import (
	"strings"

	"uvent/core/rule/rulebook"
)

// Trouble: suspensions, appeals, and what else opens and ends cases.

type (
	// SuspendedThere is that it is suspended.
	SuspendedThere struct {
		passing
		Says  string `json:"says,omitempty"`  // the notice
		Cause string `json:"cause,omitempty"` // the likeliest, of a rulebook's risks
		// Causes are those that were thought of then, with what they rested on, the likeliest first; Unnamed is the share of
		// what no rule names.
		Causes  []Cause `json:"causes,omitempty"`
		Unnamed float64 `json:"unnamed,omitempty"`
	}
	// AppealAsked is that that is argued.
	AppealAsked struct {
		asking
		still
		To string `json:"to,omitempty"` // the papers that go with it, in words
	}
	// AppealBegun is that it is before their people.
	AppealBegun struct {
		answering
		Ref   string   `json:"ref,omitempty"` // the directory's own key of the appeal
		Terms *Terms   `json:"terms,omitempty"`
		Text  string   `json:"text,omitempty"`
		To    string   `json:"to,omitempty"`    // the papers, in words
		Kinds []string `json:"kinds,omitempty"` // of these papers
		By    string   `json:"by,omitempty"`    // who asked
	}
	// AppealFailed is that it was not taken up.
	AppealFailed struct {
		answering
		Says string `json:"says,omitempty"` // in words, for people
	}
	// AppealWaiting is that asked: they have not decided.
	AppealWaiting struct {
		passing
	}
	// AppealGranted is that it is granted.
	AppealGranted struct {
		passing
		Says string `json:"says,omitempty"` // in words, for people
	}
	// AppealRefused is that it is refused.
	AppealRefused struct {
		passing
		Says  string `json:"says,omitempty"`  // in words, for people
		Final bool   `json:"final,omitempty"` // no other is heard
	}
	// CaseDropped is that a case is given up.
	CaseDropped struct {
		passing
		Ref  string `json:"ref,omitempty"`  // the case
		Says string `json:"says,omitempty"` // why
	}
	// NoticeCame is that they wrote about the listing.
	NoticeCame struct {
		passing
		Says   string `json:"says,omitempty"`   // in words, for people
		Unread bool   `json:"unread,omitempty"` // it answers what its staff were written to, and a person has to say how
	}
)

var _ = family(
	of[SuspendedThere],
	of[AppealAsked],
	of[AppealBegun],
	of[AppealFailed],
	of[AppealWaiting],
	of[AppealGranted],
	of[AppealRefused],
	of[CaseDropped],
	of[NoticeCame],
)

// Kind names it.
func (SuspendedThere) Kind() Kind { return "suspended_there" }

// Kind names it.
func (AppealAsked) Kind() Kind { return "appeal_asked" }

// Kind names it.
func (AppealBegun) Kind() Kind { return "appeal_begun" }

// Kind names it.
func (AppealFailed) Kind() Kind { return "appeal_failed" }

// Kind names it.
func (AppealWaiting) Kind() Kind { return "appeal_waiting" }

// Kind names it.
func (AppealGranted) Kind() Kind { return "appeal_granted" }

// Kind names it.
func (AppealRefused) Kind() Kind { return "appeal_refused" }

// Kind names it.
func (CaseDropped) Kind() Kind { return "case_dropped" }

// Kind names it.
func (NoticeCame) Kind() Kind { return "notice_came" }

// Tell says it in words.
func (e SuspendedThere) Tell(rulebook.Rulebook) string { return "Suspended. " + e.Says }

// Tell says it in words.
func (e AppealAsked) Tell(rulebook.Rulebook) string {
	if e.To == "" {
		return "Appealed, without a paper."
	}
	return "Appealed, with the " + e.To + "."
}

// Tell says it in words.
func (e AppealBegun) Tell(rulebook.Rulebook) string { return "The appeal is before their people." }

// Tell says it in words.
func (e AppealFailed) Tell(rulebook.Rulebook) string { return e.Says }

// Tell says it in words.
func (AppealWaiting) Tell(rulebook.Rulebook) string {
	return "Asked: they have not decided on the appeal."
}

// Tell says it in words.
func (e AppealGranted) Tell(rulebook.Rulebook) string { return "The appeal is granted. " + e.Says }

// Tell says it in words.
func (e AppealRefused) Tell(rulebook.Rulebook) string { return "The appeal is refused. " + e.Says }

// Tell says it in words.
func (e CaseDropped) Tell(rulebook.Rulebook) string { return plus("Gave the case up.", e.Says) }

// Tell says it in words.
func (e NoticeCame) Tell(rulebook.Rulebook) string {
	return "They write: " + strings.TrimPrefix(e.Says, "They write: ")
}

func (e SuspendedThere) happen(s *State, c circumstances) {
	s.Visibility = Suspended
	s.open(Case{Kind: CaseSuspended, Notice: e.Says, Cause: e.Cause, Causes: e.Causes, Unnamed: e.Unnamed}, c)
	s.end(CaseRemoved, "", Won, c, "It is suspended.")
}

func (e AppealBegun) happen(s *State, c circumstances) {
	k := s.OpenCase(CaseSuspended)
	if k == nil || e.Terms == nil {
		return
	}
	k.Appeals = append(
		k.Appeals,
		Appeal{ID: e.Ref, Text: e.Text, Papers: e.To, Kinds: e.Kinds, AskedAt: c.at, AskedBy: e.By, CheckedAt: c.at, Window: c.until(*e.Terms)},
	)
}

func (e AppealFailed) happen(s *State, _ circumstances) { s.Trouble = e.Says }

func (AppealWaiting) happen(s *State, c circumstances) {
	if a := s.appeal(); a != nil {
		a.CheckedAt = c.at
	}
}

func (e AppealGranted) happen(s *State, c circumstances) {
	a := s.appeal()
	if a == nil {
		return
	}
	a.AnsweredAt, a.Granted, a.Says = &c.at, true, e.Says
	s.end(CaseSuspended, "", Won, c, e.Says)
	w := c.book.Calendar.Place().Window(c.book.Publishing.Window, c.at)
	s.Visibility, s.PublicBy = Publishing, &w
}

func (e AppealRefused) happen(s *State, c circumstances) {
	a := s.appeal()
	if a == nil {
		return
	}
	a.AnsweredAt, a.Says = &c.at, e.Says
	k := s.OpenCase(CaseSuspended)
	if k.Says = e.Says; e.Final || len(k.Appeals) >= c.book.Appeal.Most {
		s.end(CaseSuspended, "", LostIt, c, e.Says)
	}
}

func (e CaseDropped) happen(s *State, c circumstances) {
	for _, k := range copied(s.Cases) {
		if k.ID == e.Ref && k.Open() {
			s.end(k.Kind, k.Other, GivenUp, c, e.Says)
		}
	}
}

func (e NoticeCame) happen(s *State, c circumstances) {
	if e.Unread {
		s.FromStaff = &FromStaff{Says: e.Says, At: c.at}
	}
}
