package verification

import (
	"slices"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/record/match"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
)

// Control is who holds the listing.
type Control string

const (
	NoControl     Control = "none"
	Asked         Control = "asked"
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

// State is where a listing stands.
type State struct {
	Control      Control      `json:"control"`
	Verification Verification `json:"verification"`
	Visibility   Visibility   `json:"visibility"`

	Ref    string `json:"ref"`
	Page   string `json:"page"`
	HeldBy string `json:"held_by"`
	// Busy is what the directory is being asked right now; empty for nothing.
	Busy       Kind              `json:"busy"`
	Trouble    string            `json:"trouble"` // why the last request came to nothing
	SearchedAt *time.Time        `json:"searched_at,omitempty"`
	Candidates []Candidate       `json:"candidates"`
	HeldSince  *time.Time        `json:"held_since,omitempty"`
	Attempts   []Attempt         `json:"attempts"` // oldest first
	VerifiedAt *time.Time        `json:"verified_at,omitempty"`
	PublicBy   *calendar.Window  `json:"public_by,omitempty"` // from verification
	LookedAt   *time.Time        `json:"looked_at,omitempty"`
	SeenAt     *time.Time        `json:"seen_at,omitempty"`
	Sighting   *compare.Sighting `json:"sighting,omitempty"`
	Taken      []string          `json:"taken,omitempty"`       // names for its page that are another's already
	CopiedFrom string            `json:"copied_from,omitempty"` // the directory that the listing was copied from
	PhotosAt   *time.Time        `json:"photos_at,omitempty"`   // when photos were last given
	Photos     int               `json:"photos,omitempty"`      // how many then
	GivenAt    *time.Time        `json:"given_at,omitempty"`    // when values were last brought there by people
	AnswerBy   *calendar.Window  `json:"answer_by,omitempty"`   // when its staff should answer; none when nothing is asked of them
	SentAt     *time.Time        `json:"sent_at,omitempty"`     // when changed facts were last given
	Change     *Change           `json:"change,omitempty"`      // those of them that somebody there looks at
	Withdrawal string            `json:"withdrawal,omitempty"`  // why we took it out of public view
	Marked     record.StateKind  `json:"marked,omitempty"`      // what it was told of the location's closing or moving away; empty: nothing, so that it says open
	Cases      []Case            `json:"cases,omitempty"`       // oldest first
	Duplicates []Duplicate       `json:"duplicates,omitempty"`  // other listings of the same business, that were reported
	AccessAt   *time.Time        `json:"access_at,omitempty"`   // when its holder was asked for it
	Access     *Access           `json:"access,omitempty"`      // the request for it, until it is ours
	ChangedAt  time.Time         `json:"changed_at"`
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
		gone := slices.ContainsFunc(s.Duplicates, func(d Duplicate) bool { return d.Ref == c.Ref && d.Step == Merged })
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

// Attempt is the latest attempt, or nil.
func (s *State) Attempt() *Attempt {
	if len(s.Attempts) == 0 {
		return nil
	}
	return &s.Attempts[len(s.Attempts)-1]
}

// Derive folds a listing's events, oldest first, into its state.
func Derive(book rulebook.Rulebook, events []Event) State {
	s := Start()
	for _, e := range events {
		s = s.After(book, e)
	}
	return s
}

// After is the state once an event has happened. Events that do not fit the
// state, such as an answer for an attempt that has ended, change nothing but
// what they say themselves.
func (s State) After(book rulebook.Rulebook, e Event) State {
	was := s
	s.Attempts = append([]Attempt(nil), s.Attempts...)
	s.ChangedAt = e.At
	s.Cases = copied(s.Cases)
	switch e.Kind {
	case SearchAsked, ClaimAsked, CreateAsked, CodeEntered, CodeAsked, ReviewAsked, CopyAsked, PhotosAsked, AccessAsked, EscalateAsked, SendAsked, SuggestAsked, SayAsked, RoleAsked, DuplicateAsked, AppealAsked, WithdrawAsked, BackAsked, MarkAsked:
		s.Busy, s.Trouble = e.Kind, ""
	case CallUnanswered:
		s.Trouble = e.Says
	case CodeArrived, CodeBounced, AttemptExpired, StillInReview, StillNoAccess, ChangeWaiting, ChangePassed, ChangeFailed, DuplicateGone, DuplicateStays, DuplicateWaiting, LinkMade, LinkOpened, LinkWithdrawn, CallChosen, SeenPublic, NotSeen, LookUnanswered, SuspendedThere, AppealWaiting, AppealGranted, AppealRefused, CaseDropped, NoticeCame:
		// These come while the directory may be asked something.
	default:
		s.Busy, s.Trouble = "", ""
	}
	if step, ok := steps[e.Kind]; ok {
		step(&s, book, e)
	}
	if step, ok := appealSteps[e.Kind]; ok {
		step(&s, book, e)
	}
	s.track(was, e)
	s.Verification = s.verification()
	return s
}

var steps = map[Kind]func(s *State, book rulebook.Rulebook, e Event){
	Searched: func(s *State, _ rulebook.Rulebook, e Event) {
		s.SearchedAt, s.Candidates = &e.At, e.Candidates
	},
	ClaimAsked:   func(s *State, _ rulebook.Rulebook, _ Event) { s.Control = Asked },
	CreateAsked:  func(s *State, _ rulebook.Rulebook, _ Event) { s.Control = Asked },
	CopyAsked:    func(s *State, _ rulebook.Rulebook, e Event) { s.Control, s.CopiedFrom = Asked, e.Ref },
	ClaimGranted: taken,
	Created:      taken,
	Copied:       taken,
	CreateRefused: func(s *State, book rulebook.Rulebook, e Event) {
		refusedControl(s, book, e)
		if e.Taken != "" {
			s.Taken = append(slices.Clone(s.Taken), e.Taken)
		}
	},
	CopyRefused: func(s *State, book rulebook.Rulebook, e Event) {
		refusedControl(s, book, e)
		s.CopiedFrom = ""
	},
	Sent: func(s *State, book rulebook.Rulebook, e Event) {
		s.SentAt = &e.At
		if e.Met == nil {
			return
		}
		if e.Terms != nil && len(e.Met.Reviewed) > 0 {
			s.Change = &Change{ID: e.Ref, Keys: lookedAt(book, e.Facts), Facts: e.Met.Reviewed, AskedAt: e.At, CheckedAt: e.At, Window: until(book, e)}
		}
		if e.Met.Again && s.VerifiedAt != nil {
			s.VerifiedAt, s.PublicBy, s.Attempts, s.Visibility = nil, nil, nil, Hidden
		}
	},
	ViewRefused: troubled,
	WithdrawnThere: func(s *State, _ rulebook.Rulebook, e Event) {
		s.Withdrawal, s.Visibility, s.Marked = e.Says, Withdrawn, record.StateKind(e.To)
	},
	BackThere: func(s *State, book rulebook.Rulebook, e Event) {
		if s.Visibility == Withdrawn { // it shows as soon as it did when it was new
			w := book.Calendar.Place().Window(book.Publishing.Window, e.At)
			s.Withdrawal, s.Visibility, s.PublicBy, s.Marked = "", Publishing, &w, ""
		}
	},
	MarkedThere:  func(s *State, _ rulebook.Rulebook, e Event) { s.Marked = record.StateKind(e.To) },
	ToldThere:    func(s *State, _ rulebook.Rulebook, e Event) { s.Marked = record.StateKind(e.To) },
	MarkRefused:  troubled,
	SendRefused:  troubled,
	SayRefused:   troubled,
	RoleRefused:  troubled,
	ChangePassed: func(s *State, _ rulebook.Rulebook, e Event) { s.Change = nil },
	ChangeFailed: func(s *State, _ rulebook.Rulebook, e Event) { s.Change, s.Trouble = nil, e.Says },
	ChangeWaiting: func(s *State, _ rulebook.Rulebook, e Event) {
		if s.Change != nil {
			c := *s.Change
			c.CheckedAt, s.Change = e.At, &c
		}
	},
	DuplicateBegun: func(s *State, book rulebook.Rulebook, e Event) {
		if e.Terms == nil {
			return
		}
		s.Duplicates = append(slices.DeleteFunc(slices.Clone(s.Duplicates), func(d Duplicate) bool { return d.Ref == e.Ref }), Duplicate{Ref: e.Ref, Report: e.Attempt, Step: Reported, CheckedAt: e.At, Window: until(book, e)})
	},
	DuplicateGone:    reported,
	DuplicateStays:   reported,
	DuplicateWaiting: reported,
	AccessBegun: func(s *State, book rulebook.Rulebook, e Event) {
		s.AccessAt, s.Access = &e.At, nil
		waitFor(s, book, e, HolderAsked)
	},
	EscalateBegun: func(s *State, book rulebook.Rulebook, e Event) { waitFor(s, book, e, StaffAsked) },
	StillNoAccess: func(s *State, _ rulebook.Rulebook, e Event) {
		if s.Access != nil {
			a := *s.Access
			a.CheckedAt, s.Access = &e.At, &a
		}
	},
	AccessSilent: func(s *State, _ rulebook.Rulebook, e Event) { answered(s, e, HolderSilent, HolderSilent) },
	AccessRefused: func(s *State, _ rulebook.Rulebook, e Event) {
		answered(s, e, HolderRefused, StaffRefused)
	},
	AccessGranted: func(s *State, book rulebook.Rulebook, e Event) {
		s.Access = nil
		if s.Control != Held {
			page := s.Page
			for _, c := range s.Candidates {
				if c.Ref == s.Ref {
					page = c.Page
				}
			}
			taken(s, book, Event{At: e.At, Ref: s.Ref, Page: page})
		}
	},
	RequestFailed: func(s *State, _ rulebook.Rulebook, e Event) { s.Trouble = e.Says },
	PhotosGiven:   func(s *State, _ rulebook.Rulebook, e Event) { s.PhotosAt, s.Photos = &e.At, e.Photos },
	PhotosRefused: func(s *State, _ rulebook.Rulebook, e Event) { s.Trouble = e.Says },
	Given: func(s *State, book rulebook.Rulebook, e Event) {
		s.GivenAt = &e.At
		if e.Page != "" {
			s.Page = e.Page
		}
		if book.Review.Reviewed() {
			w := book.Calendar.Place().Window(book.Review.Window, e.At)
			s.AnswerBy = &w
		}
		switch {
		case s.Control == Held:
		case book.Worked == rulebook.Written:
			s.Control = Asked
		default:
			heldByHand(s, book, e)
		}
	},
	TakenIn: func(s *State, book rulebook.Rulebook, e Event) {
		s.AnswerBy = nil
		if e.Page != "" {
			s.Page = e.Page
		}
		if s.Control != Held {
			heldByHand(s, book, e)
		}
	},
	VerifiedThere: func(s *State, book rulebook.Rulebook, e Event) {
		s.AnswerBy = nil
		if e.Page != "" {
			s.Page = e.Page
		}
		if a := s.Attempt(); a != nil && a.Live() {
			a.end(AttemptAccepted, e)
		}
		s.proved(book, e)
	},
	RefusedThere: func(s *State, _ rulebook.Rulebook, e Event) {
		s.Trouble, s.AnswerBy = e.Says, nil
		switch a := s.Attempt(); {
		case a != nil && a.Live():
			a.end(AttemptUsedUp, e)
		case s.Control == Asked:
			s.Control = NoControl
		}
	},
	ClaimRefused: func(s *State, _ rulebook.Rulebook, e Event) {
		s.Control, s.Trouble = NoControl, e.Says
		if e.HeldBy != "" {
			s.Control, s.HeldBy, s.Ref = HeldByAnother, e.HeldBy, e.Ref
		}
	},
	CodeAsked:   begin,
	ReviewAsked: begin,
	ReviewBegun: inReview,
	SecondLook:  inReview,
	StillInReview: func(s *State, _ rulebook.Rulebook, e Event) {
		if a := s.named(e.Attempt); a != nil {
			a.CheckedAt = &e.At
		}
	},
	ReviewPassed: func(s *State, book rulebook.Rulebook, e Event) {
		if a := s.named(e.Attempt); a != nil {
			a.end(AttemptAccepted, e)
		}
		s.proved(book, e)
	},
	ReviewFailed: func(s *State, _ rulebook.Rulebook, e Event) {
		s.Trouble = e.Says
		if a := s.named(e.Attempt); a != nil {
			a.end(AttemptRefused, e)
		}
	},
	CodeSent: func(s *State, book rulebook.Rulebook, e Event) {
		a := s.named(e.Attempt)
		if a == nil || a.State != AttemptAsked || e.Terms == nil {
			return
		}
		a.State, a.Digits, a.TriesLeft, a.Expires = AttemptSent, e.Terms.Digits, e.Terms.Tries, e.Terms.Expires
		if m, ok := book.Way(a.Method); ok && !m.AtOnce() {
			w := book.Calendar.Place().Window(m.Window, a.AskedAt)
			a.Window = &w
		} else {
			a.ArrivedAt = &e.At
		}
	},
	CodeAskRefused: func(s *State, _ rulebook.Rulebook, e Event) {
		s.Trouble = e.Says
		if a := s.named(e.Attempt); a != nil {
			a.end(AttemptRefused, e)
		}
	},
	CodeArrived: func(s *State, _ rulebook.Rulebook, e Event) {
		if a := s.named(e.Attempt); a != nil && a.Live() && a.ArrivedAt == nil {
			a.ArrivedAt = &e.At
		}
	},
	CodeBounced: func(s *State, _ rulebook.Rulebook, e Event) {
		if a := s.named(e.Attempt); a != nil && a.Live() {
			s.Trouble = e.Says
			a.end(AttemptRefused, e)
		}
	},
	CodeEntered: func(s *State, _ rulebook.Rulebook, e Event) {
		if a := s.named(e.Attempt); a != nil {
			a.Entering = true
		}
	},
	CodeAccepted: func(s *State, book rulebook.Rulebook, e Event) {
		if a := s.named(e.Attempt); a != nil {
			a.end(AttemptAccepted, e)
			a.Entering = false
		}
		s.proved(book, e)
	},
	CodeRefused: func(s *State, _ rulebook.Rulebook, e Event) {
		s.Trouble = e.Says
		a := s.named(e.Attempt)
		if a == nil {
			return
		}
		a.Entering, a.Says = false, e.Says
		if e.TriesLeft != nil {
			if a.TriesLeft = *e.TriesLeft; a.TriesLeft == 0 && a.Live() {
				a.end(AttemptUsedUp, e)
			}
		}
	},
	AttemptExpired: func(s *State, _ rulebook.Rulebook, e Event) {
		if a := s.named(e.Attempt); a != nil && a.Live() {
			a.end(AttemptLapsed, e)
		}
	},
	SeenPublic: func(s *State, _ rulebook.Rulebook, e Event) {
		if e.Page != "" { // where a person saw it
			s.Page = e.Page
		}
		s.LookedAt, s.SeenAt, s.Sighting = &e.At, &e.At, e.Sighting
		s.Visibility = Public
	},
	NotSeen: func(s *State, _ rulebook.Rulebook, e Event) {
		s.LookedAt = &e.At
		if s.Visibility == Public {
			s.Visibility = Removed
		}
	},
	LookUnanswered: func(s *State, _ rulebook.Rulebook, e Event) { s.LookedAt = &e.At },
	CallGivenUp: func(s *State, _ rulebook.Rulebook, e Event) {
		s.Trouble = e.Says
		if s.Control == Asked {
			// It may have been done all the same: a new search will tell.
			s.Control, s.SearchedAt, s.Candidates = NoControl, nil, nil
		}
		if a := s.Attempt(); a != nil {
			if a.Entering = false; a.State == AttemptAsked {
				a.end(AttemptRefused, e)
			}
		}
	},
}

func troubled(s *State, _ rulebook.Rulebook, e Event) { s.Trouble = e.Says }

// lookedAt are those of some facts that somebody there looks at before they are taken.
func lookedAt(book rulebook.Rulebook, keys []string) []string {
	return slices.DeleteFunc(slices.Clone(keys), func(key string) bool {
		return !slices.ContainsFunc(book.Edits, func(e rulebook.Edit) bool {
			return e.SetsOff == rulebook.OffReview && slices.Contains(e.Facts, key)
		})
	})
}

// reported takes the answer to a report of a duplicate.
func reported(s *State, _ rulebook.Rulebook, e Event) {
	s.Duplicates = slices.Clone(s.Duplicates)
	d := s.Report(e.Ref)
	if d == nil || d.Step != Reported {
		return
	}
	d.CheckedAt, d.Says = e.At, e.Says
	switch e.Kind {
	case DuplicateGone:
		d.Step = Merged
	case DuplicateStays:
		d.Step = Stays
	}
}

// until is the wait for an answer, to the day that the directory names.
func until(book rulebook.Rulebook, e Event) calendar.Window {
	zone := book.Calendar.Place().Zone
	return calendar.Window{From: e.At, Earliest: calendar.DateOf(e.At.In(zone)), Latest: calendar.DateOf(e.Terms.Expires.In(zone))}
}

// waitFor puts a request for access before somebody, until the day that the directory
// names.
func waitFor(s *State, book rulebook.Rulebook, e Event, who AccessStep) {
	a := Access{ID: e.Ref, Step: who, AskedAt: e.At, CheckedAt: &e.At}
	if e.Terms != nil {
		w := until(book, e)
		a.Window = &w
	}
	s.Access = &a
}

// answered takes a no: the holder's, or that of the directory's people.
func answered(s *State, e Event, holder, staff AccessStep) {
	if s.Access == nil {
		return
	}
	a := *s.Access
	a.Says, a.CheckedAt = e.Says, &e.At
	if a.Step == StaffAsked {
		a.Step = staff
	} else {
		a.Step = holder
	}
	s.Access = &a
}

// begin begins an attempt, which takes the place of one that is under way.
func begin(s *State, _ rulebook.Rulebook, e Event) {
	if a := s.Attempt(); a != nil && (a.Live() || a.State == AttemptAsked || a.State == AttemptReview) {
		a.end(AttemptReplaced, e)
	}
	s.Attempts = append(s.Attempts, Attempt{ID: e.Attempt, Method: e.Method, To: e.To, AskedAt: e.At, AskedBy: e.Actor, State: AttemptAsked})
}

// inReview puts an attempt before somebody who decides, until the day that the
// directory names.
func inReview(s *State, book rulebook.Rulebook, e Event) {
	a := s.named(e.Attempt)
	if a == nil || e.Terms == nil || a.State != AttemptAsked && a.State != AttemptSent {
		return
	}
	w := until(book, e)
	a.State, a.Entering, a.ReviewID, a.CheckedAt, a.Window = AttemptReview, false, e.Ref, &e.At, &w
}

func refusedControl(s *State, _ rulebook.Rulebook, e Event) { s.Control, s.Trouble = NoControl, e.Says }

// proved is a listing of which it has been proved that we may speak for it.
func (s *State) proved(book rulebook.Rulebook, e Event) {
	if s.VerifiedAt != nil {
		return
	}
	w := book.Calendar.Place().Window(book.Publishing.Window, e.At)
	s.VerifiedAt, s.PublicBy, s.Visibility = &e.At, &w, Publishing
}

// heldByHand is a listing that people have made, or taken over, on the directory's
// pages. Where it asks for no proof it is verified by that.
func heldByHand(s *State, book rulebook.Rulebook, e Event) {
	s.Control, s.HeldBy, s.HeldSince = Held, "", &e.At
	if s.Visibility == Absent {
		s.Visibility = Hidden
	}
	if len(book.Methods) == 0 {
		s.proved(book, e)
	}
}

// taken is what a granted claim and a created listing have in common.
func taken(s *State, _ rulebook.Rulebook, e Event) {
	s.Control, s.Ref, s.Page, s.HeldBy, s.HeldSince, s.Access = Held, e.Ref, e.Page, "", &e.At, nil
	if s.Visibility == Absent {
		s.Visibility = Hidden
	}
}

func (s *State) named(id string) *Attempt {
	for i := range s.Attempts {
		if s.Attempts[i].ID == id {
			return &s.Attempts[i]
		}
	}
	return nil
}

func (a *Attempt) end(state AttemptState, e Event) {
	a.State, a.EndedAt = state, &e.At
	if e.Says != "" {
		a.Says = e.Says
	}
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

// Deadline is a moment at which something falls due by the clock.
type Deadline struct {
	Kind Kind // AttemptExpired, Look, AskStatus, AskAccess or AskChange
	At   time.Time
}

// A page that is public is looked at every so many days, at night, so that many are
// looked at together.
const (
	publicEvery = 7
	atNight     = 4 * 60 // minutes since midnight
)

// bounceAfter is when it is asked whether an email with a code came back.
const bounceAfter = 5 * time.Minute

// Deadlines are what the state waits for by the clock.
func (s State) Deadlines(book rulebook.Rulebook) []Deadline {
	var out []Deadline
	if a := s.Attempt(); a != nil && a.Live() {
		out = append(out, Deadline{AttemptExpired, a.Expires})
	}
	every := time.Duration(book.Publishing.LookEveryHours) * time.Hour
	if a := s.Attempt(); a != nil && a.State == AttemptReview && a.CheckedAt != nil && s.VerifiedAt == nil {
		out = append(out, Deadline{AskStatus, a.CheckedAt.Add(every)})
	}
	if a := s.Attempt(); a != nil && a.Live() && a.Method == rulebook.Email && a.CheckedAt == nil {
		out = append(out, Deadline{AskStatus, a.AskedAt.Add(bounceAfter)})
	}
	for _, d := range s.Duplicates {
		if d.Step == Reported { // all of them are asked after at once
			out = append(out, Deadline{AskDuplicate, d.CheckedAt.Add(every)})
			break
		}
	}
	if s.Change != nil {
		out = append(out, Deadline{AskChange, s.Change.CheckedAt.Add(every)})
	}
	if c := s.OpenCase(CaseSuspended); c != nil && c.Waiting() != nil {
		out = append(out, Deadline{AskAppeal, c.Waiting().CheckedAt.Add(every)})
	}
	if s.Access.Waiting() && s.Access.CheckedAt != nil {
		out = append(out, Deadline{AskAccess, s.Access.CheckedAt.Add(every)})
	}
	if s.Visibility == Public && s.LookedAt != nil && s.Page != "" {
		zone := book.Calendar.Place().Zone
		out = append(out, Deadline{Look, calendar.DateOf(s.LookedAt.In(zone)).Add(publicEvery).At(atNight, zone)})
	}
	if s.Visibility == Publishing {
		from := s.PublicBy.From
		if s.LookedAt != nil && s.LookedAt.After(from) {
			from = *s.LookedAt
		}
		out = append(out, Deadline{Look, from.Add(every)})
	}
	return out
}
