package agenda

import (
	"strconv"
	"strings"
)

// together is by what tasks of a kind are done once.
type together int

const (
	alone       together = iota // each by itself
	everywhere                  // one act for all, wherever they are
	byDirectory                 // one act for all that are on a directory
	byClient                    // one letter to an owner, or one call
)

// once is how tasks of a kind are done once; those that are not here are done one by one. The words are for several, with
// {count} for how many, {what} for what, {directory} for the directory, and {owner} for who is asked.
var once = map[Kind]struct {
	by    together
	words string
}{
	ToSearch:    {everywhere, "Look for {what}: one round"},
	Several:     {everywhere, "Look for {what}: one round"},
	ToVerify:    {everywhere, "Verify {what}: one round"},
	Stale:       {everywhere, "Give {what} what the record says: one send"},
	ToDecide:    {everywhere, "Claim or create where {what} were looked for"},
	OwnInDoubt:  {everywhere, "Say whether values of {what} still hold"},
	ShowLate:    {everywhere, "Look again for {what}, verified and not public"},
	OwnerSent:   {everywhere, "Read what the owners of {what} have sent"},
	Unanswered:  {byDirectory, "{directory} does not answer about {what}"},
	Asking:      {byDirectory, "{directory} is asked about {what}"},
	ToHandIn:    {byDirectory, "Hand {what} in to {directory}: one file"},
	ToBring:     {byDirectory, "Bring {what} to {directory} by hand"},
	ToWrite:     {byDirectory, "Write to {directory} about {what}"},
	ToShow:      {byDirectory, "{directory} is to show {what}"},
	InReview:    {byDirectory, "{directory} looks at {what}"},
	CodeComes:   {byDirectory, "Postcards of {directory} for {what} are in the post"},
	StaffAsked:  {byDirectory, "The staff of {directory} have {what} before them"},
	Appealed:    {byDirectory, "{directory} looks at the appeals for {what}"},
	AccessAsked: {byDirectory, "Access to {what} on {directory} was asked for"},
	SecondTold:  {byDirectory, "{directory} looks at second listings of {what}"},
	CodeDue:     {byClient, "Ask {owner} about {count} postcards: one letter"},
	OwnerAsked:  {byClient, "{owner} was asked about {what}"},
	OwnerSilent: {byClient, "Ring {owner} about {what}: one call"},
}

// Fold names what a task is done once with: tasks of one fold are one row of Today.
func (t Task) Fold(client, location, directory string) string {
	switch kind := t.Kind; once[kind].by {
	case everywhere:
		if kind == Several {
			kind = ToSearch // one round for both
		}
		return string(kind)
	case byDirectory:
		return string(kind) + " " + directory
	case byClient:
		return string(kind) + " " + client
	}
	return string(t.Kind) + " " + location + " " + directory
}

// Folded says what is done once for so many tasks of a kind: of what, such as “8 places”, on which directory, by whom.
func Folded(kind Kind, count int, what, directory, owner string) string {
	if owner == "" {
		owner = "the owner"
	}
	said := strings.NewReplacer("{count}", strconv.Itoa(count), "{what}", what, "{directory}", directory, "{owner}", owner).Replace(once[kind].words)
	return strings.ToUpper(said[:1]) + said[1:]
}

// minutes are what one of a kind takes a specialist, in minutes: what people say that it takes them, to be corrected by what
// it turns out to.
var minutes = map[Kind]float64{
	ToSearch:     0.2,
	Several:      0.5,
	ToDecide:     1.5,
	ToWrite:      4,
	ToBring:      6,
	ToHandIn:     0.5,
	ToVerify:     1,
	ToAskAgain:   2,
	CodeAtHand:   2,
	CodeLate:     3,
	ReviewLate:   3,
	OwnerSilent:  4,
	OwnerSent:    2,
	Unproved:     2,
	ShowLate:     0.5,
	Gone:         5,
	OutOfView:    3,
	SuspendedNow: 12,
	AppealLate:   4,
	AppealLost:   12,
	SuspendedYet: 8,
	NotTaken:     6,
	Troubled:     3,
	Second:       3,
	SecondLate:   3,
	Elsewhere:    3,
	AccessLate:   3,
	AccessNo:     6,
	StaffLate:    3,
	StaffWrote:   3,
	AnotherPlace: 4,
	Turned:       2,
	Stale:        0.3,
	OwnInDoubt:   1,
	CodeDue:      1.5,
}

// Minutes are what the task takes a specialist; what others are to do takes none.
func (t Task) Minutes() float64 {
	if t.Group == Directory {
		return 0
	}
	return minutes[t.Kind]
}
