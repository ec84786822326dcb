// Package verification derives where a listing stands from what happened to
// it: who holds it (control), whether we have proved that we may (verification)
// and whether the public can see it (visibility). The three are kept apart.
package verification

import (
	"time"

	"uvent/core/record/match"
	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// Kind is what happened.
type Kind string

// The events of a listing, in the order in which a plain story brings them.
const (
	SearchAsked    Kind = "search_asked"
	Searched       Kind = "searched"         // Candidates
	ClaimAsked     Kind = "claim_asked"      // Ref
	ClaimGranted   Kind = "claim_granted"    // Ref, Page
	ClaimRefused   Kind = "claim_refused"    // Ref, Says, HeldBy when somebody else holds it
	CreateAsked    Kind = "create_asked"     //
	Created        Kind = "created"          // Ref, Page
	CreateRefused  Kind = "create_refused"   // Says, Taken
	CodeAsked      Kind = "code_asked"       // Attempt, Method, To
	CodeSent       Kind = "code_sent"        // Attempt, Terms
	CodeAskRefused Kind = "code_ask_refused" // Attempt, Says
	CodeArrived    Kind = "code_arrived"     // Attempt: somebody has it in hand
	CodeBounced    Kind = "code_bounced"     // Attempt, Says: the email with it came back
	CodeEntered    Kind = "code_entered"     // Attempt
	CodeAccepted   Kind = "code_accepted"    // Attempt
	CodeRefused    Kind = "code_refused"     // Attempt, Says, TriesLeft
	AttemptExpired Kind = "attempt_expired"  // Attempt: its code works no more
	SeenPublic     Kind = "seen_public"      // Sighting; Page where a person saw it
	NotSeen        Kind = "not_seen"         //
	LookUnanswered Kind = "look_unanswered"  // Says: the page could not be read
	CallUnanswered Kind = "call_unanswered"  // Says: the directory does not answer; it is asked again
	CallGivenUp    Kind = "call_given_up"    // Says: nor will it be asked again on its own
	ReviewAsked    Kind = "review_asked"     // Attempt, Method, To: somebody there is to decide
	ReviewBegun    Kind = "review_begun"     // Attempt, Ref, Terms: when they answer
	SecondLook     Kind = "second_look"      // Attempt, Ref, Terms: the code was right, and they look into it all the same
	StillInReview  Kind = "still_in_review"  // Attempt
	ReviewPassed   Kind = "review_passed"    // Attempt
	ReviewFailed   Kind = "review_failed"    // Attempt, Says
	CopyAsked      Kind = "copy_asked"       // Ref: the directory that is copied from
	Copied         Kind = "copied"           // Ref, Page
	CopyRefused    Kind = "copy_refused"     // Says
	PhotosAsked    Kind = "photos_asked"     // Photos: how many are being given
	PhotosGiven    Kind = "photos_given"     // Photos
	PhotosRefused  Kind = "photos_refused"   // Says

	AccessAsked   Kind = "access_asked"    // its holder is to hand it over
	AccessBegun   Kind = "access_begun"    // Ref, Terms: when they should answer
	StillNoAccess Kind = "still_no_access" //
	AccessGranted Kind = "access_granted"  // Says
	AccessRefused Kind = "access_refused"  // Says: the holder, or the directory's people, say no
	AccessSilent  Kind = "access_silent"   // Says: the holder did not answer
	EscalateAsked Kind = "escalate_asked"  // To: the paper; the directory's people are to decide
	EscalateBegun Kind = "escalate_begun"  // Ref, Terms
	RequestFailed Kind = "access_failed"   // Says: it could not be asked for, or not be put before them

	SendAsked     Kind = "send_asked"     // changed facts are being given
	Sent          Kind = "sent"           // Values, Met, Says; Ref, Terms where somebody there looks at some of them first
	SendRefused   Kind = "send_refused"   // Says
	ChangePassed  Kind = "change_passed"  // what was looked at has been taken
	ChangeFailed  Kind = "change_failed"  // Says: what was looked at has not been taken
	ChangeWaiting Kind = "change_waiting" // asked: they are still looking

	SuggestAsked Kind = "suggest_asked" // Values, Page: another value is being suggested, and the public page that shows it

	SayAsked   Kind = "say_asked"   // Says: a post, an event or an offer is being given
	SaidThere  Kind = "said_there"  // Says: what was left of the month's posts, and whom it reaches
	SayRefused Kind = "say_refused" // Says

	RoleAsked   Kind = "role_asked"   // To, Says: another account is to have a role
	RoleGiven   Kind = "role_given"   //
	RoleRefused Kind = "role_refused" // Says

	SuspendedThere Kind = "suspended_there" // Says: the notice; Cause: the likeliest
	AppealAsked    Kind = "appeal_asked"    // To: the papers
	AppealBegun    Kind = "appeal_begun"    // Ref, Terms, Text, To, By
	AppealFailed   Kind = "appeal_failed"   // Says: it was not taken up
	AppealWaiting  Kind = "appeal_waiting"  // asked: they have not decided
	AppealGranted  Kind = "appeal_granted"  // Says
	AppealRefused  Kind = "appeal_refused"  // Says
	WithdrawAsked  Kind = "withdraw_asked"  // Says: why it is to go out of public view
	WithdrawnThere Kind = "withdrawn_there" // Says; To: the state of the location that it shows no more for
	BackAsked      Kind = "back_asked"      // it is to show again
	BackThere      Kind = "back_there"      //
	ViewRefused    Kind = "view_refused"    // Says: neither was done
	MarkAsked      Kind = "mark_asked"      // To: the state of the location that it is to be marked with; empty: open
	MarkedThere    Kind = "marked_there"    // To: the same, where it was marked
	MarkRefused    Kind = "mark_refused"    // Says
	ToldThere      Kind = "told_there"      // To: the same, where somebody told them in words
	CaseDropped    Kind = "case_dropped"    // Ref: the case; Says: why it is given up
	NoticeCame     Kind = "notice_came"     // Says: a letter of the directory's about the listing

	DuplicateAsked   Kind = "duplicate_asked"   // Ref: another listing of the same business, that is to go
	DuplicateBegun   Kind = "duplicate_begun"   // Ref, Attempt: the report; Terms: when they answer
	DuplicateGone    Kind = "duplicate_gone"    // Ref
	DuplicateStays   Kind = "duplicate_stays"   // Ref, Says: why it stays
	DuplicateWaiting Kind = "duplicate_waiting" // Ref: asked, and not answered yet

	LinkMade      Kind = "link_made"      // To, Says: a private page for the owner, and what it is for
	LinkOpened    Kind = "link_opened"    //
	LinkWithdrawn Kind = "link_withdrawn" //
	CallChosen    Kind = "call_chosen"    // Says: when the owner can be called

	// What people do on a directory themselves, and tell.
	Given         Kind = "given"          // Values, How, Page, To: they were entered there, or written to its staff
	TakenIn       Kind = "taken_in"       // Page: its staff have entered them
	VerifiedThere Kind = "verified_there" // verified on its own pages
	RefusedThere  Kind = "refused_there"  // Says: it said no
)

// How values were given.
type How string

const (
	ByWorksheet How = "worksheet" // on the directory's pages
	ByLetter    How = "letter"    // in writing, to its staff
	ByFile      How = "file"
)

// Look is the deadline at which the public page is looked at again, AskStatus that at
// which the directory is asked how a review stands.
const (
	Look         Kind = "look"
	AskStatus    Kind = "ask_status"
	AskDuplicate Kind = "ask_duplicate" // the directory is asked how reports of duplicates stand
	AskChange    Kind = "ask_change"    // the directory is asked how its review of changed facts stands
	AskAccess    Kind = "ask_access"    // the directory is asked how a request for access stands
	AskAppeal    Kind = "ask_appeal"    // the directory is asked how an appeal stands
)

// Event is one thing that happened to a listing. Only the fields that its kind
// names are set.
type Event struct {
	At    time.Time `json:"-"`
	Actor string    `json:"-"` // a person's name, or the directory's, or "Uvent"
	Kind  Kind      `json:"-"`

	Ref        string              `json:"ref,omitempty"`  // the directory's own key of the listing
	Page       string              `json:"page,omitempty"` // its public page, as the connector gave it
	HeldBy     string              `json:"held_by,omitempty"`
	Says       string              `json:"says,omitempty"` // in words, for people
	Candidates []Candidate         `json:"candidates,omitempty"`
	Attempt    string              `json:"attempt,omitempty"`
	Method     rulebook.MethodName `json:"method,omitempty"`
	To         string              `json:"to,omitempty"` // where the code goes, as people write it
	Terms      *Terms              `json:"terms,omitempty"`
	TriesLeft  *int                `json:"tries_left,omitempty"`
	Sighting   *compare.Sighting   `json:"sighting,omitempty"`
	How        How                 `json:"how,omitempty"`
	Photos     int                 `json:"photos,omitempty"`
	Taken      string              `json:"taken,omitempty"`  // a page's name that is another's already
	Values     fit.Values          `json:"values,omitempty"` // as they were given
	Met        *Met                `json:"met,omitempty"`

	Facts []string `json:"facts,omitempty"` // keys of those that were changed
	Cause string   `json:"cause,omitempty"` // one of a rulebook's risks
	Text  string   `json:"text,omitempty"`  // of an appeal
	By    string   `json:"by,omitempty"`    // who asked, where the event is the answer

	Offered []rulebook.MethodName `json:"offered,omitempty"` // the ways that the directory offered when one was asked for
}

// Met is how a directory met changed facts, by what they are called.
type Met struct {
	Taken    []string          `json:"taken,omitempty"`
	Reviewed []string          `json:"reviewed,omitempty"`
	Refused  map[string]string `json:"refused,omitempty"` // and why
	Again    bool              `json:"again,omitempty"`   // a new proof is wanted
}

// Terms are the conditions of a code as the directory gave them on the day.
type Terms struct {
	Digits  int       `json:"digits"`
	Tries   int       `json:"tries"`
	Expires time.Time `json:"expires"`
}

// Candidate is a listing that a search found.
type Candidate struct {
	Ref     string           `json:"ref"`
	Page    string           `json:"page"`
	Shown   compare.Sighting `json:"shown"`
	Status  CandidateStatus  `json:"status"`
	Score   float64          `json:"score"`
	Verdict match.Verdict    `json:"verdict"`
	Reasons []string         `json:"reasons"`
}

// CandidateStatus says who holds a listing that was found.
type CandidateStatus string

const (
	FreeToClaim CandidateStatus = "free_to_claim"
	Ours        CandidateStatus = "ours"
	HeldElse    CandidateStatus = "held_by_another"
)
