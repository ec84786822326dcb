package verification

import "strings"

var trackWords = map[string]string{
	string(NoControl): "not held", string(Asked): "asked for", string(Held): "held", string(HeldByAnother): "held by another", string(Lost): "lost",
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
