package verification

import (
	"slices"
	"time"
	"uvent/core/listing/shown"
	"uvent/core/record/sighting"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/record/match"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// Control is who holds the listing.
type Control string

const (
	NoControl     Control = "none"
	AskedFor      Control = "asked"
	Held          Control = "held"
	HeldByAnother Control = "held_by_another"
	Lost          Control = "lost"
)

// Verification is whether we have proved that we may.
type Verification string

const (
	NotBegun     Verification = "not_begun"
	CodeOnItsWay Verification = "code_on_its_way"
	CodeAtHand   Verification = "code_at_hand"
	InReview     Verification = "in_review"
	Verified     Verification = "verified"
	Refused      Verification = "refused"
	Lapsed       Verification = "lapsed"
)

// Visibility is whether the public can see the listing.
type Visibility string

const (
	Absent     Visibility = "absent"
	Hidden     Visibility = "hidden"
	Publishing Visibility = "publishing"
	Public     Visibility = "public"
	Withdrawn  Visibility = "withdrawn"
	Suspended  Visibility = "suspended"
	Removed    Visibility = "removed"
)

// AttemptState is where an attempt stands.
type AttemptState string

const (
	AttemptAsked    AttemptState = "asked"    // the directory has not answered yet
	AttemptSent     AttemptState = "sent"     // the code is on its way or at hand
	AttemptReview   AttemptState = "review"   // somebody there is deciding
	AttemptAccepted AttemptState = "accepted" // the code was right, or they said yes
	AttemptRefused  AttemptState = "refused"  // the directory would not send a code, or said no
	AttemptUsedUp   AttemptState = "used_up"  // no tries are left
	AttemptLapsed   AttemptState = "expired"  // the code works no more
	AttemptReplaced AttemptState = "replaced" // another code was asked for
	AttemptNeedless AttemptState = "needless" // another that was under way beside it did it
)

// Attempt is one try at verification.
type Attempt struct {
	ID        string              `json:"id"`
	Method    rulebook.MethodName `json:"method"`
	To        string              `json:"to"`
	AskedAt   time.Time           `json:"asked_at"`
	AskedBy   string              `json:"asked_by"`
	State     AttemptState        `json:"state"`
	Digits    int                 `json:"digits"`
	TriesLeft int                 `json:"tries_left"`
	Expires   time.Time           `json:"expires"`
	Window    *calendar.Window    `json:"window,omitempty"` // when the code should come; none when it comes at once
	ArrivedAt *time.Time          `json:"arrived_at,omitempty"`
	Entering  bool                `json:"entering"`             // a code is with the directory
	ReviewID  string              `json:"review_id,omitempty"`  // the directory's own key of its review
	CheckedAt *time.Time          `json:"checked_at,omitempty"` // when it was last asked how the review stands
	EndedAt   *time.Time          `json:"ended_at,omitempty"`
	Says      string              `json:"says,omitempty"` // the directory's last word on it
}

// Live reports whether a code of this attempt may still be entered.
func (a Attempt) Live() bool { return a.State == AttemptSent }

// UnderWay reports whether something may still come of it: its code may be entered, or somebody looks at it.
func (a Attempt) UnderWay() bool { return a.Live() || a.State == AttemptReview }

// State is where a listing stands.
type State struct {
	Control      Control      `json:"control"`
	Verification Verification `json:"verification"`
	Visibility   Visibility   `json:"visibility"`

	Ref    string `json:"ref"`
	Page   string `json:"page"`
	HeldBy string `json:"held_by"`
	// Busy is what the directory is being asked right now; empty for nothing.
	Busy        Kind                  `json:"busy"`
	Trouble     string                `json:"trouble"` // why the last request came to nothing
	SearchedAt  *time.Time            `json:"searched_at,omitempty"`
	Candidates  []Candidate           `json:"candidates"`
	HeldSince   *time.Time            `json:"held_since,omitempty"`
	Attempts    []Attempt             `json:"attempts"` // oldest first
	VerifiedAt  *time.Time            `json:"verified_at,omitempty"`
	PublicBy    *calendar.Window      `json:"public_by,omitempty"` // from verification
	LookedAt    *time.Time            `json:"looked_at,omitempty"`
	SeenAt      *time.Time            `json:"seen_at,omitempty"`
	Sighting    *sighting.Sighting    `json:"sighting,omitempty"`
	Shown       map[string]shown.Fact `json:"shown,omitempty"`        // of each fact on the page, since when it shows what it does
	LookDays    float64               `json:"look_days,omitempty"`    // until it is looked at again; 0: as all are
	Taken       []string              `json:"taken,omitempty"`        // names for its page that are another's already
	CopiedFrom  string                `json:"copied_from,omitempty"`  // the directory that the listing was copied from
	PhotosAt    *time.Time            `json:"photos_at,omitempty"`    // when photos were last given
	Photos      int                   `json:"photos,omitempty"`       // how many then
	GivenAt     *time.Time            `json:"given_at,omitempty"`     // when values were last brought there by people
	AnswerBy    *calendar.Window      `json:"answer_by,omitempty"`    // when its staff should answer; none when nothing is asked of them
	SentAt      *time.Time            `json:"sent_at,omitempty"`      // when changed facts were last given
	Change      *Change               `json:"change,omitempty"`       // those of them that somebody there looks at
	Withdrawal  string                `json:"withdrawal,omitempty"`   // why we took it out of public view
	WithdrawnAt *time.Time            `json:"withdrawn_at,omitempty"` // when we did
	BackOn      *calendar.Date        `json:"back_on,omitempty"`      // the day on which it is to show again
	BackTried   bool                  `json:"back_tried,omitempty"`   // it was asked for since
	Marked      record.StateKind      `json:"marked,omitempty"`       // what it was told of the location's closing or moving; empty: nothing, so that it says open
	Cases       []Case                `json:"cases,omitempty"`        // oldest first
	Duplicates  []Duplicate           `json:"duplicates,omitempty"`   // other listings of the same business, that were reported
	AccessAt    *time.Time            `json:"access_at,omitempty"`    // when its holder was asked for it
	Access      *Access               `json:"access,omitempty"`       // the request for it, until it is ours
	Own         []fit.Own             `json:"own,omitempty"`          // values of its own, that it is given in the place of the record's
	FromOwner   *FromOwner            `json:"from_owner,omitempty"`   // what the owner has sent, until somebody has seen it
	Stands      *address.Address      `json:"stands,omitempty"`       // where it was last given that the location is
	Left        []Left                `json:"left,omitempty"`         // listings that stay with places where the location was, oldest first
	Handed      *Handed               `json:"handed,omitempty"`       // that its owner has it
	FromStaff   *FromStaff            `json:"from_staff,omitempty"`   // what they have written that we could not read, until somebody has
	Decisions   []Decision            `json:"decisions,omitempty"`    // what people have decided to leave as it is, oldest first
	ChangedAt   time.Time             `json:"changed_at"`
}

// Duplicate is another listing of the same business, that was reported.
type Duplicate struct {
	Ref       string          `json:"ref"`
	Report    string          `json:"report"` // the directory's own key of the report
	Step      DuplicateStep   `json:"step"`
	Window    calendar.Window `json:"window"` // when they should answer
	CheckedAt time.Time       `json:"checked_at"`
	Says      string          `json:"says,omitempty"`
}

// DuplicateStep is what has become of a report.
type DuplicateStep string

const (
	Reported DuplicateStep = "reported"
	Merged   DuplicateStep = "merged"
	Stays    DuplicateStep = "stays"
)

// Seconds are the candidates of the last search that are likely to be the same business,
// beside the listing that is ours, and are not gone.
func (s State) Seconds() (out []Candidate) {
	for _, c := range s.Candidates {
		gone := s.LeftOne(c.Ref) || slices.ContainsFunc(s.Duplicates, func(d Duplicate) bool { return d.Ref == c.Ref && d.Step == Merged })
		if s.Control == Held && c.Ref != s.Ref && !gone && (c.Verdict == match.SameBusiness || c.Verdict == match.Probably) {
			out = append(out, c)
		}
	}
	return out
}

// Report is what has become of the report of a listing; nil where it was not reported.
func (s State) Report(ref string) *Duplicate {
	for i := range s.Duplicates {
		if s.Duplicates[i].Ref == ref {
			return &s.Duplicates[i]
		}
	}
	return nil
}

// Change is changed facts that somebody there looks at before they are taken.
type Change struct {
	Keys      []string        `json:"keys,omitempty"` // of the rulebook's fields
	ID        string          `json:"id"`
	Facts     []string        `json:"facts"` // what they are called
	AskedAt   time.Time       `json:"asked_at"`
	Window    calendar.Window `json:"window"` // when they should answer
	CheckedAt time.Time       `json:"checked_at"`
}

// Access is a request for a listing that somebody else holds.
type Access struct {
	ID        string           `json:"id"` // the directory's own key of it; empty until it has answered
	Step      AccessStep       `json:"step"`
	AskedAt   time.Time        `json:"asked_at"`
	Window    *calendar.Window `json:"window,omitempty"` // when the answer should come
	CheckedAt *time.Time       `json:"checked_at,omitempty"`
	Says      string           `json:"says,omitempty"` // the last word on it
}

// AccessStep is whose word is waited for, or what it was.
type AccessStep string

const (
	HolderAsked   AccessStep = "holder"  // the holder's
	HolderRefused AccessStep = "refused" // they said no
	HolderSilent  AccessStep = "silent"  // they said nothing
	StaffAsked    AccessStep = "staff"   // the directory's people's
	StaffRefused  AccessStep = "denied"  // they said no
)

// Waiting reports whether somebody's word is waited for.
func (a *Access) Waiting() bool { return a != nil && (a.Step == HolderAsked || a.Step == StaffAsked) }

// Start is a listing that nothing has happened to.
func Start() State {
	return State{Control: NoControl, Verification: NotBegun, Visibility: Absent}
}

// Attempt is the one that a listing waits for: of those under way the one whose code is at hand, or else the one that is due
// first; with none under way the latest. Nil where there was none.
func (s *State) Attempt() (first *Attempt) {
	for i := range s.Attempts {
		a := &s.Attempts[i]
		if first == nil || a.rank() > first.rank() || a.rank() == first.rank() && !a.after(*first) {
			first = a
		}
	}
	return first
}

// Latest is the attempt that was asked for last; nil where there was none.
func (s *State) Latest() *Attempt {
	if len(s.Attempts) == 0 {
		return nil
	}
	return &s.Attempts[len(s.Attempts)-1]
}

// rank is how close an attempt is to its end.
func (a Attempt) rank() int {
	switch {
	case a.Live() && a.ArrivedAt != nil:
		return 3
	case a.UnderWay():
		return 2
	case a.State == AttemptAsked:
		return 1
	}
	return 0
}

// after reports whether what is awaited of an attempt is due later than another's; where nothing is, the latest goes before.
func (a Attempt) after(o Attempt) bool {
	if a.rank() == 2 && a.Window != nil && o.Window != nil && a.Window.Latest != o.Window.Latest {
		return a.Window.Latest.Compare(o.Window.Latest) > 0
	}
	return false
}

// Derive folds a listing's events, oldest first, into its state, all under one rulebook.
func Derive(book rulebook.Rulebook, events []Event) State {
	s := Start()
	for _, e := range events {
		s = s.After(book, e)
	}
	return s
}

// After is the state once an event has happened, under the rulebook that was in force then.
func (s State) After(book rulebook.Rulebook, e Event) State {
	s.Attempts = append([]Attempt(nil), s.Attempts...)
	s.Cases = copied(s.Cases)
	s.ChangedAt = e.At
	switch e.effect() {
	case asks:
		s.Busy, s.Trouble = e.Kind(), ""
	case answers:
		s.Busy, s.Trouble = "", ""
	}
	e.happen(&s, circumstances{e.At, e.Actor, book})
	s.Verification = s.verification()
	return s
}

// verification is told by the latest attempt, unless one succeeded before.
func (s State) verification() Verification {
	if s.VerifiedAt != nil {
		return Verified
	}
	a := s.Attempt()
	if a == nil {
		return NotBegun
	}
	switch a.State {
	case AttemptAsked:
		return CodeOnItsWay
	case AttemptSent:
		if a.ArrivedAt != nil {
			return CodeAtHand
		}
		return CodeOnItsWay
	case AttemptReview:
		return InReview
	case AttemptLapsed:
		return Lapsed
	}
	return Refused
}
