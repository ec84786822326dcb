package verification

import (
	"slices"
	"strconv"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/record/record"
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
	Causes   []Cause    `json:"causes,omitempty"` // those that were thought of then, the likeliest first
	Unnamed  float64    `json:"unnamed,omitempty"`
	Appeals  []Appeal   `json:"appeals,omitempty"`
	ClosedAt *time.Time `json:"closed_at,omitempty"`
	Outcome  Outcome    `json:"outcome,omitempty"`
	Says     string     `json:"says,omitempty"` // the last word on it
}

// Cause is one for which a listing may be in trouble, as it was thought of when the case was opened, with what it rested on.
type Cause struct {
	Cause    string   `json:"cause"` // of a rulebook's risks
	Title    string   `json:"title"`
	Says     string   `json:"says"`
	Mend     string   `json:"mend"`
	Facts    []string `json:"facts,omitempty"` // keys
	Standing bool     `json:"standing"`        // it stood in the record
	ByPaper  bool     `json:"by_paper"`        // a paper answers it
	Pointed  bool     `json:"pointed"`         // their words pointed to it
	Words    bool     `json:"words,omitempty"` // nothing but those spoke for it
	Share    float64  `json:"share"`           // how likely, among all, 0 to 1
	Evidence []string `json:"evidence,omitempty"`
}

// Appeal is one time that a case was argued.
type Appeal struct {
	ID         string          `json:"id"` // the directory's own key
	Text       string          `json:"text"`
	Papers     string          `json:"papers"`          // what went with it, in words
	Kinds      []string        `json:"kinds,omitempty"` // of these papers
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

// Mends reports whether a change of the record is of a fact that may have been minded when the case was opened.
func (c Case) Mends(change record.Change) bool {
	return slices.ContainsFunc(c.Causes, func(k Cause) bool {
		return k.Standing && slices.ContainsFunc(k.Facts, func(fact string) bool {
			return strings.HasPrefix(change.Path, fact)
		})
	})
}

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
func (s *State) open(k Case, c circumstances) {
	for _, o := range s.Cases {
		if o.Open() && o.Kind == k.Kind && o.Other == k.Other {
			return
		}
	}
	k.ID, k.OpenedAt, k.By = strconv.Itoa(len(s.Cases)+1), c.at, c.by
	s.Cases = append(s.Cases, k)
}

// end ends the open cases of a kind; of a duplicate, that of one listing.
func (s *State) end(kind CaseKind, other string, how Outcome, c circumstances, says string) {
	for i := range s.Cases {
		if k := &s.Cases[i]; k.Open() && k.Kind == kind && k.Other == other {
			k.ClosedAt, k.Outcome = &c.at, how
			if says != "" {
				k.Says = says
			}
		}
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
