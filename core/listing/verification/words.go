package verification

import (
	"strings"

	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

var trackWords = map[string]string{
	string(NoControl): "not held", string(AskedFor): "asked for", string(Held): "held", string(HeldByAnother): "held by another", string(Lost): "lost",
	string(NotBegun): "verification not begun", string(CodeOnItsWay): "code on its way", string(CodeAtHand): "code at hand",
	string(InReview): "in review", string(Verified): "verified", string(Refused): "verification refused", string(Lapsed): "code lapsed",
	string(Absent): "not there", string(Hidden): "hidden", string(Publishing): "being published", string(Public): "public",
	string(Withdrawn): "withdrawn by us", string(Suspended): "suspended", string(Removed): "removed",
}

// Words says where a listing stands on all three tracks: "held, code on its
// way, hidden".
func (s State) Words() string {
	return strings.Join([]string{trackWords[string(s.Control)], trackWords[string(s.Verification)], trackWords[string(s.Visibility)]}, ", ")
}

// StateWord is a state of a location as a sentence about a listing has it.
func StateWord(kind record.StateKind) string {
	switch kind {
	case record.ClosedForATime:
		return "closed for a time"
	case record.ClosedForGood:
		return "closed for good"
	case record.Moved:
		return "moved away"
	}
	return "open again"
}

func stateWord(kind string) string { return StateWord(record.StateKind(kind)) }

// offeredThen is what the directory offered when one of its ways was asked for.
func offeredThen(methods []rulebook.MethodName) string {
	if len(methods) == 0 {
		return ""
	}
	titles := make([]string, len(methods))
	for i, m := range methods {
		titles[i] = strings.ToLower(Title(m))
	}
	return " Offered then: " + strings.Join(titles, ", ") + "."
}
