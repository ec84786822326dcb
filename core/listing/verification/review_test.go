package verification

import (
	"strings"
	"testing"
	"time"

	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

func bookOf(t *testing.T, id string) rulebook.Rulebook {
	t.Helper()
	b, err := rulebooks.Read(id)
	if err != nil {
		t.Fatal(err)
	}
	return b
}

// A review from the asking to the decision, and what is waited for meanwhile.
func TestAReview(t *testing.T) {
	book := bookOf(t, "waywren")
	ev := func(kind Kind, days int) Event {
		return kept(
			t,
			start.AddDate(0, 0, days),
			kind,
			facts{"attempt": "a", "method": rulebook.Papers, "to": "the licence", "ref": "r1", "says": "The paper shows another address.",
				"terms": Terms{Expires: start.AddDate(0, 0, 6)}},
		)
	}
	held := []Event{{At: start, What: CreateAsked{}}, {At: start, What: Created{Ref: "w1", Page: "/p"}}}
	s := Derive(book, append(held, ev("review_asked", 0)))
	if s.Busy != (ReviewAsked{}).Kind() || s.Attempt().State != AttemptAsked {
		t.Errorf("%+v", s)
	}
	s = s.After(book, ev("review_begun", 0))
	if s.Busy != "" || s.Verification != InReview || s.Attempt().ReviewID != "r1" || s.Attempt().Window.Latest.String() != "2026-11-30" {
		t.Fatalf("%+v, %+v", s, s.Attempt())
	}
	// It is asked after as often as the directory's page is looked at.
	if d := s.Deadlines(book); len(d) != 1 || d[0].Kind != AskStatus || !d[0].At.Equal(start.Add(24*time.Hour)) {
		t.Errorf("%+v", d)
	}
	s = s.After(book, ev("still_in_review", 1))
	if d := s.Deadlines(book); len(d) != 1 || !d[0].At.Equal(start.AddDate(0, 0, 2)) {
		t.Errorf("%+v", d)
	}
	no := s.After(book, ev("review_failed", 2))
	if no.Verification != Refused || no.Trouble == "" || no.Attempt().Says != no.Trouble || len(no.Deadlines(book)) != 0 {
		t.Errorf("%+v", no)
	}
	yes := s.After(book, ev("review_passed", 2))
	if yes.Verification != Verified || yes.Visibility != Publishing || yes.Attempt().State != AttemptAccepted || yes.PublicBy == nil {
		t.Errorf("%+v", yes)
	}
	if d := yes.Deadlines(book); len(d) != 1 || d[0].Kind != Look {
		t.Errorf("%+v", d)
	}
	// Another try ends the one in review, and what is heard of that later changes nothing.
	other := Event{At: start.AddDate(0, 0, 2), What: CodeAsked{Attempt: "b", Method: rulebook.Postcard}}
	both := s.After(book, other)
	if both.Attempts[0].State != AttemptReplaced || both.Verification != CodeOnItsWay {
		t.Errorf("%+v", both)
	}
}

// A right code may be looked into all the same.
func TestASecondLook(t *testing.T) {
	book := bookOf(t, "murmurhall")
	at := func(kind Kind, days int) Event {
		return kept(
			t,
			start.AddDate(0, 0, days),
			kind,
			facts{"attempt": "a", "method": rulebook.Text, "ref": "v1", "terms": Terms{Digits: 6, Tries: 3, Expires: start.AddDate(0, 0, 5)}},
		)
	}
	s := Derive(book, []Event{{At: start, What: Created{}}, at("code_asked", 0), at("code_sent", 0), at("code_entered", 0), at("second_look", 0)})
	if s.Verification != InReview || s.Attempt().Entering || s.Busy != "" || s.VerifiedAt != nil {
		t.Fatalf("%+v", s)
	}
	if s = s.After(book, at("review_passed", 4)); s.Verification != Verified {
		t.Errorf("%+v", s)
	}
}

// What people tell of a directory that they work on themselves.
func TestByHand(t *testing.T) {
	given := func(days int) Event { return Event{At: start.AddDate(0, 0, days), What: Given{Page: "/p"}} }
	// Live at once: nobody asks for proof.
	chamber := bookOf(t, "sound-chamber")
	s := Derive(chamber, []Event{{At: start, What: Searched{}}, given(0)})
	if s.Control != Held || s.Verification != Verified || s.Visibility != Publishing || s.Page != "/p" || s.AnswerBy != nil {
		t.Errorf("%+v", s)
	}
	if again := s.After(chamber, given(9)); again.VerifiedAt != s.VerifiedAt || again.GivenAt == s.GivenAt {
		t.Errorf("a change proves it anew: %+v", again)
	}
	// Written: held once its staff have taken it in.
	wire := bookOf(t, "brasswire")
	s = Derive(wire, []Event{{At: start, What: Searched{}}, given(0)})
	if s.Control != AskedFor || s.AnswerBy == nil || s.AnswerBy.Latest.String() != "2026-12-03" {
		t.Errorf("%+v", s)
	}
	if no := s.After(wire, Event{At: start, What: RefusedThere{Says: "Not in our town."}}); no.Control != NoControl || no.Trouble != "Not in our town." ||
		no.AnswerBy != nil {
		t.Errorf("%+v", no)
	}
	s = s.After(wire, Event{At: start.AddDate(0, 0, 8), What: TakenIn{}})
	if s.Control != Held || s.Verification != NotBegun || s.Visibility != Hidden || s.AnswerBy != nil {
		t.Errorf("%+v", s)
	}
	s = s.After(wire, Event{At: start.AddDate(0, 0, 9), What: VerifiedThere{}})
	if s.Verification != Verified || s.Visibility != Publishing {
		t.Errorf("%+v", s)
	}
}

// Ways without a code are open by what they need.
func TestWaysWithoutACode(t *testing.T) {
	shop := record.Record{Kind: record.Premises, Name: "Spokeshave"}
	way := func(id string, m rulebook.MethodName, papers ...string) Way {
		for _, w := range Ways(Question{Book: bookOf(t, id), Record: shop, State: Start(), Now: start, Papers: ofKinds(papers)}) {
			if w.Method == m {
				return w
			}
		}
		t.Fatalf("%s has no %s", id, m)
		return Way{}
	}
	for _, c := range []struct {
		way   Way
		open  bool
		there bool
		says  string
	}{
		{way("waywren", rulebook.Papers), false, false, "It takes one of these, and there is none yet: company registration, licence, utility bill."},
		{way("waywren", rulebook.Papers, "lease"), false, false, "there is none yet"},
		{way("waywren", rulebook.Papers, "lease", "utility_bill"), true, false, "With the utility bill. Their answer comes by Mon 30 Nov."},
		{way("hithermap", rulebook.Card), true, false, "USD 1.00 is charged to a card in the business’s name and paid back; whoever pays confirms it. At once."},
		{way("fernlook-facts", rulebook.StaffSay), true, false, "Somebody there looks into it. Their answer comes by"},
		{way("fernlook", rulebook.Video), false, false, "There is no video yet. It has to be one take of up to 120 seconds that shows the street and its number; the sign; a door"},
		{way("fernlook", rulebook.Video, VideoKind), true, false, "With the video. Their answer comes by"},
		{way("spanner-register", rulebook.Papers, "phone_bill"), false, true, "On their own pages"},
	} {
		if c.way.Open != c.open || c.way.There != c.there || !strings.Contains(c.way.Says, c.says) || c.open == (c.way.To == "") {
			t.Errorf("%+v, want open %v, there %v, %q", c.way, c.open, c.there, c.says)
		}
	}
}

func ofKinds(kinds []string) (out []Paper) {
	for _, k := range kinds {
		out = append(out, Paper{ID: k, Kind: k})
	}
	return out
}

// The paper is sent in which least is minded.
func TestTheBestPaperIsSent(t *testing.T) {
	old, bad, good := Paper{ID: "1", Kind: "utility_bill", Doubts: []string{"It is old."}}, Paper{
		ID:     "2",
		Kind:   "utility_bill",
		Doubts: []string{"It names Suite 2.", "It is old."},
	}, Paper{ID: "3", Kind: "lease", Doubts: nil}
	for _, c := range []struct {
		papers []Paper
		kinds  []string
		want   string
	}{
		{[]Paper{old, bad}, []string{"utility_bill"}, "1"}, {[]Paper{old, {ID: "4", Kind: "utility_bill", Doubts: []string{"It is no good."}}}, []string{"utility_bill"}, "4"},
		{[]Paper{bad, good}, []string{"utility_bill", "lease"}, "3"}, {[]Paper{{ID: "5", Kind: "utility_bill", Doubts: nil}, good}, []string{"utility_bill", "lease"}, "5"}, {[]Paper{good}, []string{"licence"}, ""},
	} {
		got := ""
		if b := Best(c.papers, c.kinds); b != nil {
			got = b.ID
		}
		if got != c.want {
			t.Errorf("%v of %v: %q, want %q", c.kinds, c.papers, got, c.want)
		}
	}
}
