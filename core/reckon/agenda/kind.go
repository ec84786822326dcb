package agenda

import (
	"crypto/sha256"
	"encoding/hex"
	"slices"
)

// Kind is what a listing wants somebody to know or to do. Each has a word of its own, so that what is said and decided about
// it is kept with it, and not with whatever the listing asks for next.
type Kind string

// What listings want.
const (
	ToSearch     Kind = "to_search"
	ToDecide     Kind = "to_decide"     // claim or create
	ToWrite      Kind = "to_write"      // to the directory's staff
	ToBring      Kind = "to_bring"      // by hand
	ToHandIn     Kind = "to_hand_in"    // with its file
	ToVerify     Kind = "to_verify"     // choose a way
	ToAskAgain   Kind = "to_ask_again"  // the last attempt came to nothing
	CodeAtHand   Kind = "code_at_hand"  // to be entered
	CodeComes    Kind = "code_comes"    // in the post, and not due yet
	CodeDue      Kind = "code_due"      // the owner may have it
	CodeLate     Kind = "code_late"     // it should have come
	InReview     Kind = "in_review"     // somebody there decides
	ReviewLate   Kind = "review_late"   // and should have
	OwnerAsked   Kind = "owner_asked"   // for something of theirs
	OwnerSilent  Kind = "owner_silent"  // who was asked, and does not answer
	OwnerSent    Kind = "owner_sent"    // what nobody has looked at
	Unproved     Kind = "unproved"      // it shows, and nobody has proved that it is ours
	ToShow       Kind = "to_show"       // verified, and soon public
	ShowLate     Kind = "show_late"     // and should be
	Gone         Kind = "gone"          // from its page
	OutOfView    Kind = "out_of_view"   // on purpose, and for long
	SuspendedNow Kind = "suspended"     // and nothing was said to it yet
	Appealed     Kind = "appealed"      // somebody there looks at the appeal
	AppealLate   Kind = "appeal_late"   // and should have answered
	AppealLost   Kind = "appeal_lost"   // another can be made
	SuspendedYet Kind = "suspended_yet" // no appeal is left
	NotTaken     Kind = "not_taken"     // a change
	Troubled     Kind = "troubled"      // the last thing asked for came to nothing
	Second       Kind = "second"        // there is another listing of the business
	SecondTold   Kind = "second_told"   // which was reported
	SecondLate   Kind = "second_late"   // and is not answered
	Elsewhere    Kind = "elsewhere"     // somebody else holds it
	AccessAsked  Kind = "access_asked"
	AccessLate   Kind = "access_late"
	AccessNo     Kind = "access_refused"
	StaffAsked   Kind = "staff_asked" // the directory's staff were written to
	StaffLate    Kind = "staff_late"
	StaffWrote   Kind = "staff_wrote"   // and a person has to read it
	Asking       Kind = "asking"        // the directory, just now
	Unanswered   Kind = "unanswered"    // it does not answer
	Turned       Kind = "turned"        // it does not say what has become of the location
	AnotherPlace Kind = "another_place" // for its directory the location is another now, and it says that it has moved
	Several      Kind = "several"       // listings of a location that nobody has begun
	Stale        Kind = "stale"         // it has not been given what the record says
	OwnInDoubt   Kind = "own_in_doubt"  // a value of its own, under which the record has changed
)

// Decidable are the kinds that a person may end by a decision, with a reason; all others end when what they want is so.
var Decidable = []Kind{OutOfView, SuspendedYet, Troubled, Second, OwnerSilent, Gone, NotTaken, Unproved}

// MayDecide reports whether a person may end a matter of the kind by a decision.
func (k Kind) MayDecide() bool { return slices.Contains(Decidable, k) }

// Fleeting reports whether the kind is over in a moment, so that nothing is said about it.
func (k Kind) Fleeting() bool { return k == Asking }

// Rest is why a listing wants nothing.
type Rest string

// Why a listing wants nothing.
const (
	NotFor    Rest = "not_for"    // the directory does not list such a location
	InOrder   Rest = "in_order"   // it is public, ours, and as it should be
	OnPurpose Rest = "on_purpose" // it is out of view, for a while
	Decided   Rest = "decided"    // somebody has decided that nothing is done
)

// brief is a cause by what a directory says, which may be of any length: a long one by its digest.
func brief(says string) string {
	const most = 64
	if len(says) <= most {
		return says
	}
	sum := sha256.Sum256([]byte(says))
	return hex.EncodeToString(sum[:16])
}
