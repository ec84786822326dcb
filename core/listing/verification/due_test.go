package verification

import (
	"testing"
	"time"

	"uvent/core/rule/rulebook"
)

// What is public is looked at again seven days after it was last looked at, in the directory's night.
func TestPublicPagesAreLookedAtWeekly(t *testing.T) {
	book := fernlook(t)
	zone := book.Calendar.Place().Zone
	s := Derive(book, []Event{{At: start, What: Created{Ref: "n", Page: "/p"}}, {At: start, What: ReviewPassed{}}, {At: start, What: SeenPublic{}}})
	due := s.Deadlines(book)
	if want := time.Date(2026, 12, 1, 4, 0, 0, 0, zone); len(due) != 1 || due[0].Kind != Look || !due[0].At.Equal(want) {
		t.Errorf("%+v, want a look at %v", due, want)
	}
	s.Page = "" // there is nothing to look at
	if due := s.Deadlines(book); len(due) != 0 {
		t.Errorf("without a page: %+v", due)
	}
}

// It is asked once, five minutes later, whether an email with a code came back, and of no other code.
func TestEmailsAreAskedAfter(t *testing.T) {
	book := fernlook(t)
	sent := func(m rulebook.MethodName) State {
		return Derive(
			book,
			[]Event{
				{At: start, What: Created{Ref: "n"}},
				{At: start, What: CodeAsked{Attempt: "a", Method: m}},
				{At: start, What: CodeSent{Attempt: "a", Terms: terms(30)}},
			},
		)
	}
	asked := func(s State) (at []time.Time) {
		for _, d := range s.Deadlines(book) {
			if d.Kind == AskStatus {
				at = append(at, d.At)
			}
		}
		return at
	}
	s := sent(rulebook.Email)
	if at := asked(s); len(at) != 1 || !at[0].Equal(start.Add(5*time.Minute)) {
		t.Errorf("asked at %v", at)
	}
	if at := asked(s.After(book, Event{At: start.Add(6 * time.Minute), What: StillInReview{Attempt: "a"}})); len(at) != 0 {
		t.Errorf("asked again at %v", at)
	}
	if at := asked(sent(rulebook.Text)); len(at) != 0 {
		t.Errorf("a text is asked after at %v", at)
	}
}

// A listing that is brought back is marked as nothing any more, and shows as soon as a new one.
func TestBackAgain(t *testing.T) {
	book := fernlook(t)
	events := []Event{
		{At: start, What: Created{Ref: "n", Page: "/p"}}, {At: start, What: ReviewPassed{}}, {At: start, What: SeenPublic{}},
		{At: start, What: WithdrawnThere{Says: "Rebuilt.", To: "closed_for_a_time"}},
	}
	s := Derive(book, events)
	if s.Visibility != Withdrawn || s.Withdrawal != "Rebuilt." || s.Marked != "closed_for_a_time" {
		t.Fatalf("%+v", s)
	}
	back := start.AddDate(0, 0, 9)
	s = s.After(book, Event{At: back, What: BackThere{}})
	if s.Visibility != Publishing || s.Withdrawal != "" || s.Marked != "" || s.PublicBy == nil || !s.PublicBy.From.Equal(back) {
		t.Errorf("%+v", s)
	}
	if again := s.After(book, Event{At: back.Add(time.Hour), What: BackThere{}}); !again.PublicBy.From.Equal(back) {
		t.Errorf("what shows already is brought back anew: %+v", again.PublicBy)
	}
}

// A directory that never answered may have done it all the same: only a new search tells, and what
// was found before is not gone by.
func TestGivenUp(t *testing.T) {
	book := fernlook(t)
	found := []Event{{At: start, What: SearchAsked{}}, {At: start, What: Searched{Candidates: []Candidate{{Ref: "f1"}}}}}
	s := Derive(book, append(found, Event{At: start, What: ClaimAsked{Ref: "f1"}}, Event{At: start, What: CallGivenUp{Says: "It did not answer."}}))
	if s.Control != NoControl || s.SearchedAt != nil || s.Candidates != nil || s.Trouble != "It did not answer." || s.Busy != "" {
		t.Errorf("a claim: %+v", s)
	}
	// Where nothing was being made, what was found stands.
	s = Derive(book, append(found, Event{At: start, What: SearchAsked{}}, Event{At: start, What: CallGivenUp{}}))
	if s.SearchedAt == nil || len(s.Candidates) != 1 {
		t.Errorf("a search: %+v", s)
	}
	entering := []Event{
		{At: start, What: Created{Ref: "n"}},
		{At: start, What: CodeAsked{Attempt: "a", Method: rulebook.Text}},
		{At: start, What: CodeSent{Attempt: "a", Terms: terms(30)}},
		{At: start, What: CodeEntered{Attempt: "a"}},
	}
	if s = Derive(book, append(entering, Event{At: start, What: CallGivenUp{}})); s.Attempt().Entering || !s.Attempt().Live() {
		t.Errorf("a code: %+v", s.Attempt())
	}
}

// Every kind that is registered says something of itself and can be read from what it writes.
func TestEveryKindTells(t *testing.T) {
	book := fernlook(t)
	quiet := map[Kind]bool{} // they only pass on what the directory says
	for _, k := range []Kind{
		"claim_refused", "create_refused", "copy_refused", "code_ask_refused", "code_bounced", "code_refused", "review_failed", "look_unanswered", "call_unanswered", "call_given_up",
		"access_granted", "access_refused", "access_silent", "access_failed", "role_refused", "sent", "send_refused", "change_failed", "photos_refused", "appeal_failed",
		"view_refused", "mark_refused", "duplicate_gone", "duplicate_stays", "call_chosen", "refused_there",
	} {
		quiet[k] = true
	}
	for kind := range readers {
		e := kept(t, start, kind, facts{"says": "They say it."})
		if e.Kind() != kind {
			t.Errorf("%s is read as %s", kind, e.Kind())
		}
		if said := e.Tell(book); quiet[kind] && said != "They say it." || !quiet[kind] && len(said) < 10 {
			t.Errorf("%s tells %q", kind, said)
		}
	}
	for _, kind := range []Kind{"say_asked", "said_there", "say_refused", "badge_asked", "badge_done", "badge_refused"} {
		e := kept(t, start, kind, facts{"says": "They say it."})
		if e.Kind() != kind || e.Tell(book) != "They say it." {
			t.Errorf("%s is read as %s and tells %q", kind, e.Kind(), e.Tell(book))
		}
	}
	for _, kind := range []Kind{"", "nonsense", "badge_nonsense"} {
		if _, err := Read(kind, []byte("{}")); err == nil {
			t.Errorf("%q is read", kind)
		}
	}
}
