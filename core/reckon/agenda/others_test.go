package agenda

import (
	"strings"
	"testing"
	"time"
	"uvent/core/record/sighting"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/record/match"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// at is a listing on a directory that counts days as they come.
func at(state verification.State, escalate string) Listing {
	l := Listing{
		Label:  "Minnow Bay",
		Record: &record.Record{Kind: record.Premises},
		Book:   &rulebook.Rulebook{Name: "Fernlook", Calendar: rulebook.Calendar{Country: "US", Zone: "UTC"}},
		State:  state,
	}
	l.Book.Listing.Kinds = []record.Kind{record.Premises}
	l.Book.Access.Escalate.Unit = calendar.Unit(escalate)
	return l
}

// until is a window that ends so many days after the start.
func until(days int) *calendar.Window {
	first := calendar.DateOf(start)
	return &calendar.Window{From: start, Earliest: first.Add(1), Latest: first.Add(days)}
}

func TestHeldByAnother(t *testing.T) {
	for _, c := range []struct {
		name        string
		access      *verification.Access
		escalate    string
		group       Group
		title, says string
	}{
		{"not asked", nil, "", Mine, "Minnow Bay on Fernlook is held by someone else", "Held by a former agency. Ask them for access."},
		{"asked, and no window is known", &verification.Access{Step: verification.HolderAsked, AskedAt: start}, "", Mine,
			"Minnow Bay on Fernlook is held by someone else", "Asked today; a former agency should answer."},
		{"asked", &verification.Access{Step: verification.HolderAsked, AskedAt: start, Window: until(3)}, "", Directory,
			"Minnow Bay on Fernlook", "a former agency should answer by Fri 27 Nov."},
		{"late", &verification.Access{Step: verification.HolderAsked, AskedAt: start, Window: until(1)}, "", Mine,
			"a former agency has not answered about Minnow Bay on Fernlook", "a former agency should answer by Wed 25 Nov."},
		{"before their people", &verification.Access{Step: verification.StaffAsked, AskedAt: start, Window: until(3)}, "days", Directory,
			"Minnow Bay on Fernlook", "Fernlook should answer by Fri 27 Nov."},
		{"their people are late", &verification.Access{Step: verification.StaffAsked, AskedAt: start, Window: until(1)}, "days", Mine,
			"Fernlook has not answered about Minnow Bay on Fernlook", "Fernlook should answer by Wed 25 Nov."},
		{"refused", &verification.Access{Step: verification.HolderRefused, Says: "It is ours."}, "", Mine,
			"Minnow Bay on Fernlook is held by someone else", "It is ours."},
		{"refused, and there are people to ask", &verification.Access{Step: verification.HolderRefused, Says: "It is ours."}, "days", Mine,
			"Put Minnow Bay on Fernlook before the people of Fernlook", "It is ours."},
		{"refused by all", &verification.Access{Step: verification.StaffRefused, Says: "It is theirs."}, "days", Mine,
			"Fernlook will not hand Minnow Bay on Fernlook over", "It is theirs."},
	} {
		l := at(verification.State{Control: verification.HeldByAnother, HeldBy: "a former agency", Access: c.access}, c.escalate)
		now := start
		if c.access != nil && c.access.Window != nil {
			now = start.Add(48 * time.Hour)
			if c.access.AskedAt = now; c.group == Directory {
				now = start.Add(24 * time.Hour)
			}
		}
		if task, ok := For(l, now); !ok || task.Group != c.group || task.Act != OpenIt || task.Title != c.title || task.Says != c.says {
			t.Errorf("%s: %+v, want %s, %q, %q", c.name, task, c.group, c.title, c.says)
		}
	}
}

// Once ours is public, another listing of the same business is reported and waited for.
func TestASecondListing(t *testing.T) {
	candidate := func(ref string, verdict match.Verdict) verification.Candidate {
		return verification.Candidate{Ref: ref, Verdict: verdict, Shown: sighting.Sighting{Name: "Marsh Bikes"}}
	}
	state := verification.State{
		Control: verification.Held, Visibility: verification.Public, VerifiedAt: &start, Ref: "ours",
		Candidates: []verification.Candidate{candidate("ours", match.SameBusiness), candidate("other", match.Unlikely), candidate("second", match.Probably)},
	}
	report := func(step verification.DuplicateStep, days int) []verification.Duplicate {
		return []verification.Duplicate{{Ref: "second", Step: step, Window: *until(days)}}
	}
	for _, c := range []struct {
		name    string
		reports []verification.Duplicate
		asks    bool
		group   Group
		title   string
	}{
		{"found", nil, true, Mine, "Minnow Bay on Fernlook has a second listing"},
		{"reported", report(verification.Reported, 3), true, Directory, "Minnow Bay on Fernlook"},
		{"not answered", report(verification.Reported, 1), true, Mine, "Fernlook has not answered about the second listing of Minnow Bay"},
		{"merged", report(verification.Merged, 1), false, "", ""},
		{"it stays, and nobody has read why", report(verification.Stays, 1), true, Mine, "Minnow Bay on Fernlook has a second listing"},
	} {
		state.Duplicates = c.reports
		if task, asks := For(at(state, ""), start.Add(48*time.Hour)); asks != c.asks || task.Group != c.group || task.Title != c.title {
			t.Errorf("%s: %v %+v, want %s, %q", c.name, asks, task, c.group, c.title)
		}
	}
}

// Somebody says that the other is another business: it is not asked about again, but a third one is.
func TestAnotherBusiness(t *testing.T) {
	second := func(ref string) verification.Candidate {
		return verification.Candidate{Ref: ref, Verdict: match.Probably, Shown: sighting.Sighting{Name: "Marsh Bikes"}}
	}
	state := verification.State{
		Control:    verification.Held,
		Visibility: verification.Public,
		VerifiedAt: &start,
		Ref:        "ours",
		Candidates: []verification.Candidate{second("second")},
	}
	decide := verification.DecidedOn{Matter: string(Second), Cause: "second", Title: "A second listing", Why: "It is the boat yard."}
	state = state.After(*at(state, "").Book, verification.Event{At: start, Actor: "Ines", What: decide})
	if rest := Resting(at(state, ""), start); rest != Decided {
		t.Errorf("decided: it rests because %q", rest)
	}
	state.Candidates = append(state.Candidates, second("third"))
	if task, asks := For(at(state, ""), start); !asks || task.Kind != Second || task.Cause != "third" {
		t.Errorf("a third: %+v", task)
	}
}

func TestHowFarOffAMomentIs(t *testing.T) {
	for left, want := range map[time.Duration]string{
		0:                              "in 1 minute",
		2*time.Minute + 59*time.Second: "in 2 minutes",
		time.Hour - time.Second:        "in 59 minutes",
		time.Hour:                      "today at 18:12 UTC",
		20*time.Hour - time.Second:     "tomorrow at 13:11 UTC",
		20 * time.Hour:                 "on Wed 25 Nov",
		27 * 24 * time.Hour:            "on Mon 21 Dec",
	} {
		if got := in(start.Add(left), start, time.UTC); got != want {
			t.Errorf("%v: %q, want %q", left, got, want)
		}
	}
	// In whole days, and in whole hours on the last two.
	for _, c := range []struct{ to, want, step time.Duration }{
		{3 * 24 * time.Hour, 3 * 24 * time.Hour, 24 * time.Hour}, {48*time.Hour + 1, 3 * 24 * time.Hour, 24 * time.Hour}, {48 * time.Hour, 48 * time.Hour, time.Hour},
		{time.Hour + 1, 2 * time.Hour, time.Hour}, {time.Hour, time.Hour, time.Hour}, {1, time.Hour, time.Hour},
	} {
		if got, step := left(start.Add(c.to), start); got != c.want || step != c.step {
			t.Errorf("%v: %v by %v, want %v by %v", c.to, got, step, c.want, c.step)
		}
	}
}

// What an owner has sent is asked for wherever the listing stands, and hides neither a case nor what is lost by a day.
func TestWhatAnOwnerHasSent(t *testing.T) {
	expires := start.AddDate(0, 0, 3)
	hand := start.AddDate(0, 0, -1)
	card := verification.Attempt{Method: rulebook.Postcard, State: verification.AttemptSent, Expires: expires, ArrivedAt: &hand}
	for name, c := range map[string]struct {
		state verification.State
		title string
	}{
		"not searched":    {verification.State{Control: verification.NoControl}, ""},
		"held elsewhere":  {verification.State{Control: verification.HeldByAnother, HeldBy: "a former agency"}, ""},
		"not verified":    {verification.State{Control: verification.Held, Visibility: verification.Hidden}, ""},
		"withdrawn":       {verification.State{Control: verification.Held, Visibility: verification.Withdrawn}, ""},
		"public":          {verification.State{Control: verification.Held, Visibility: verification.Public}, ""},
		"asked something": {verification.State{Control: verification.Held, Busy: "send_asked"}, ""},
		"suspended": {verification.State{Control: verification.Held, Visibility: verification.Suspended,
			Cases: []verification.Case{{Kind: verification.CaseSuspended, Notice: "The name."}}}, "Minnow Bay on Fernlook is suspended"},
		"a code at hand": {verification.State{Control: verification.Held, Visibility: verification.Hidden, Verification: verification.CodeAtHand,
			Attempts: []verification.Attempt{card}}, "Enter"},
	} {
		c.state.FromOwner = &verification.FromOwner{What: "the licence", At: start}
		task, ok := For(at(c.state, ""), start)
		if !ok || task.Group != Mine {
			t.Errorf("%s: %+v", name, task)
		}
		if c.title == "" && (task.Title != "The owner has sent the licence for Minnow Bay on Fernlook" || task.Act != OpenIt) ||
			c.title != "" && (!strings.HasPrefix(task.Title, c.title) || !strings.HasPrefix(task.Says, "The owner has sent the licence. ")) {
			t.Errorf("%s: %+v", name, task)
		}
	}
}

// A code that an owner was asked for is theirs to move, until it is nearly lost.
func TestACodeThatTheOwnerIsAskedFor(t *testing.T) {
	expires := start.AddDate(0, 0, 10)
	state := verification.State{Control: verification.Held, Visibility: verification.Hidden, Attempts: []verification.Attempt{
		{ID: "a", Method: rulebook.Postcard, State: verification.AttemptSent, Expires: expires, ArrivedAt: &start, AskedAt: start},
	}}
	l := at(state, "")
	l.Page = &OwnerPage{ID: "p", Task: verification.TypeCode, MadeAt: start, Expires: expires}
	asked, ok := For(l, start.AddDate(0, 0, 1))
	if !ok || asked.Group != Owner || asked.Kind != OwnerAsked || asked.Changes == nil || !asked.Changes.Equal(expires.Add(-48*time.Hour)) {
		t.Errorf("at first: %+v, until %v", asked, asked.Changes)
	}
	if late, ok := For(l, expires.Add(-47*time.Hour)); !ok || late.Group != Mine || late.Kind != CodeAtHand {
		t.Errorf("two days before it is lost: %+v", late)
	}
}

// An owner who was written to as often as anybody is, and does not answer, is to be rung though the page still works: at a time
// at which somebody is there.
func TestAnOwnerWhoDoesNotAnswerIsRung(t *testing.T) {
	l := at(verification.State{Control: verification.Held, Visibility: verification.Hidden, HeldSince: &start}, "")
	rec := *l.Record
	rec.Phones, rec.Hours, rec.Zone = []record.Phone{{E164: "+13605550142", Voice: true}}, "Mo-Su 09:00-18:00", "America/Los_Angeles"
	l.Record = &rec
	for letters := range 7 {
		l.Page = &OwnerPage{ID: "p", Task: verification.SendPaper, MadeAt: start, Expires: start.AddDate(0, 0, 60), Letters: letters, LastLetter: &start}
		last := verification.NextLetter(letters, start) == nil && letters > 0
		early, _ := For(l, start.AddDate(0, 0, 3))
		late, _ := For(l, start.AddDate(0, 0, 5))
		if early.Kind != OwnerAsked || (late.Kind == OwnerSilent) != last {
			t.Errorf("%d letters: %s, then %s", letters, early.Kind, late.Kind)
		}
		if last &&
			(late.Group != Mine || !strings.Contains(late.Says, "written to 5 times") && letters == 5 || !strings.Contains(late.Says, "Ring (360) 555-0142, best ")) {
			t.Errorf("%d letters: %q", letters, late.Says)
		}
		if last && (early.Changes == nil || !early.Changes.Equal(start.AddDate(0, 0, 4))) {
			t.Errorf("%d letters: it changes at %v", letters, early.Changes)
		}
	}
}

// What a directory says may be long, and a code that works no more is nobody's to type.
func TestLongCausesAndDeadCodes(t *testing.T) {
	long := at(
		verification.State{Control: verification.Held, Visibility: verification.Public, VerifiedAt: &start, Trouble: strings.Repeat("They say no. ", 500)},
		"",
	)
	task, ok := For(long, start)
	if !ok || task.Kind != Troubled || len(task.Cause) > 64 {
		t.Errorf("%+v", task)
	}
	long.State = long.State.After(*long.Book, verification.Event{At: start, What: verification.DecidedOn{Matter: string(task.Kind), Cause: task.Cause}})
	if rest := Resting(long, start); rest != Decided {
		t.Errorf("decided on, it rests because %q", rest)
	}
	dead := at(
		verification.State{
			Control:    verification.Held,
			Visibility: verification.Hidden,
			Attempts:   []verification.Attempt{{ID: "a", State: verification.AttemptUsedUp}},
		},
		"",
	)
	dead.Page = &OwnerPage{ID: "p", Task: verification.TypeCode, MadeAt: start, Expires: start.AddDate(0, 0, 30)}
	if task, ok := For(dead, start); !ok || task.Kind != ToAskAgain || task.Group != Mine {
		t.Errorf("with no tries left: %+v", task)
	}
}
