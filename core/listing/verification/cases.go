package verification

import (
	"slices"
	"strconv"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/rule/rulebook"
)

// CaseKind is what sort of trouble a listing is in.
type CaseKind string

const (
	CaseSuspended CaseKind = "suspended"
	CaseRemoved   CaseKind = "removed" // it was public, and does not show any more
	CaseDuplicate CaseKind = "duplicate"
	CaseHeld      CaseKind = "held_by_another"
	CaseChange    CaseKind = "refused_change"
)

// Outcome is how a case ended.
type Outcome string

const (
	Won     Outcome = "won"
	LostIt  Outcome = "lost"
	GivenUp Outcome = "given_up" // by us
)

// Case is trouble on a listing that needs an argument.
type Case struct {
	ID       string     `json:"id"` // of this listing's: "1", "2"
	Kind     CaseKind   `json:"kind"`
	OpenedAt time.Time  `json:"opened_at"`
	By       string     `json:"by"`               // who noticed it
	Notice   string     `json:"notice,omitempty"` // what the directory wrote of it
	Other    string     `json:"other,omitempty"`  // the other listing's key, of a duplicate
	Cause    string     `json:"cause,omitempty"`  // the likeliest, when it was opened
	Appeals  []Appeal   `json:"appeals,omitempty"`
	ClosedAt *time.Time `json:"closed_at,omitempty"`
	Outcome  Outcome    `json:"outcome,omitempty"`
	Says     string     `json:"says,omitempty"` // the last word on it
}

// Appeal is one time that a case was argued.
type Appeal struct {
	ID         string          `json:"id"` // the directory's own key
	Text       string          `json:"text"`
	Papers     string          `json:"papers"` // what went with it, in words
	AskedAt    time.Time       `json:"asked_at"`
	AskedBy    string          `json:"asked_by"`
	Window     calendar.Window `json:"window"` // when they should answer
	CheckedAt  time.Time       `json:"checked_at"`
	AnsweredAt *time.Time      `json:"answered_at,omitempty"`
	Granted    bool            `json:"granted"`
	Says       string          `json:"says,omitempty"`
}

// Open reports whether the case has not ended.
func (c Case) Open() bool { return c.ClosedAt == nil }

// Waiting is the appeal that is before the directory's people; nil for none.
func (c Case) Waiting() *Appeal {
	if n := len(c.Appeals); n > 0 && c.Appeals[n-1].AnsweredAt == nil {
		return &c.Appeals[n-1]
	}
	return nil
}

// OpenCase is the latest open case of a kind; nil for none.
func (s State) OpenCase(kind CaseKind) *Case {
	for i := len(s.Cases) - 1; i >= 0; i-- {
		if c := &s.Cases[i]; c.Kind == kind && c.Open() {
			return c
		}
	}
	return nil
}

// open begins a case, unless one like it is open already.
func (s *State) open(c Case, e Event) {
	for _, o := range s.Cases {
		if o.Open() && o.Kind == c.Kind && o.Other == c.Other {
			return
		}
	}
	c.ID, c.OpenedAt, c.By = strconv.Itoa(len(s.Cases)+1), e.At, e.Actor
	s.Cases = append(s.Cases, c)
}

// end ends the open cases of a kind; of a duplicate, that of one listing.
func (s *State) end(kind CaseKind, other string, how Outcome, e Event) {
	for i := range s.Cases {
		if c := &s.Cases[i]; c.Open() && c.Kind == kind && c.Other == other {
			c.ClosedAt, c.Outcome = &e.At, how
			if e.Says != "" {
				c.Says = e.Says
			}
		}
	}
}

// track opens and ends cases by what an event has changed.
func (s *State) track(was State, e Event) {
	switch e.Kind {
	case SuspendedThere:
		s.open(Case{Kind: CaseSuspended, Notice: e.Says, Cause: e.Cause}, e)
		s.end(CaseRemoved, "", Won, Event{At: e.At, Says: "It is suspended."})
	case ChangeFailed:
		s.open(Case{Kind: CaseChange, Notice: e.Says}, e)
	case ChangePassed:
		s.end(CaseChange, "", Won, e)
	case DuplicateBegun:
		s.open(Case{Kind: CaseDuplicate, Other: e.Ref}, e)
	case DuplicateGone:
		s.end(CaseDuplicate, e.Ref, Won, e)
	case DuplicateStays:
		s.end(CaseDuplicate, e.Ref, LostIt, e)
	case CaseDropped:
		for _, c := range was.Cases {
			if c.ID == e.Ref && c.Open() {
				s.end(c.Kind, c.Other, GivenUp, e)
			}
		}
	}
	switch {
	case s.Control == HeldByAnother && was.Control != HeldByAnother:
		s.open(Case{Kind: CaseHeld, Notice: e.Says}, e)
	case s.Control == Held && was.Control != Held:
		s.end(CaseHeld, "", Won, e)
	}
	switch {
	case s.Visibility == Removed && was.Visibility == Public:
		s.open(Case{Kind: CaseRemoved, Notice: "It no longer shows."}, e)
	case s.Visibility == Public:
		s.end(CaseRemoved, "", Won, e)
		s.end(CaseSuspended, "", Won, e)
	}
}

// copied are cases that can be changed without changing those of an earlier state.
func copied(cases []Case) []Case {
	out := slices.Clone(cases)
	for i := range out {
		out[i].Appeals = slices.Clone(out[i].Appeals)
	}
	return out
}

// appealSteps are what events do to the case that is argued.
var appealSteps = map[Kind]func(s *State, book rulebook.Rulebook, e Event){
	SuspendedThere: func(s *State, _ rulebook.Rulebook, _ Event) { s.Visibility = Suspended },
	AppealFailed:   troubled,
	AppealBegun: func(s *State, book rulebook.Rulebook, e Event) {
		c := s.OpenCase(CaseSuspended)
		if c == nil || e.Terms == nil {
			return
		}
		c.Appeals = append(c.Appeals, Appeal{ID: e.Ref, Text: e.Text, Papers: e.To, AskedAt: e.At, AskedBy: e.By, CheckedAt: e.At, Window: until(book, e)})
	},
	AppealWaiting: func(s *State, _ rulebook.Rulebook, e Event) {
		if c := s.OpenCase(CaseSuspended); c != nil && c.Waiting() != nil {
			c.Waiting().CheckedAt = e.At
		}
	},
	AppealGranted: func(s *State, book rulebook.Rulebook, e Event) {
		if c := s.OpenCase(CaseSuspended); c != nil && c.Waiting() != nil {
			a := c.Waiting()
			a.AnsweredAt, a.Granted, a.Says = &e.At, true, e.Says
			s.end(CaseSuspended, "", Won, e)
			w := book.Calendar.Place().Window(book.Publishing.Window, e.At)
			s.Visibility, s.PublicBy = Publishing, &w
		}
	},
	AppealRefused: func(s *State, book rulebook.Rulebook, e Event) {
		if c := s.OpenCase(CaseSuspended); c != nil && c.Waiting() != nil {
			a := c.Waiting()
			a.AnsweredAt, a.Says = &e.At, e.Says
			if c.Says = e.Says; len(c.Appeals) >= book.Appeal.Most {
				s.end(CaseSuspended, "", LostIt, e)
			}
		}
	},
}
