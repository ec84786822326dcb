package agenda

import (
	"strings"
	"testing"
	"time"

	"uvent/core/record"
	"uvent/core/rulebook"
	"uvent/core/verification"
	"uvent/rulebooks"
)

var start = time.Date(2026, 11, 24, 17, 12, 0, 0, time.UTC)

func TestWhatIsNext(t *testing.T) {
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		t.Fatal(err)
	}
	ev := func(kind verification.Kind) verification.Event {
		none := 0
		return verification.Event{At: start, Kind: kind, Attempt: "a", Method: rulebook.Postcard, To: "18 Tern Street", Says: "They say no.", Ref: "f1", TriesLeft: &none,
			Terms: &verification.Terms{Digits: 6, Tries: 3, Expires: start.AddDate(0, 0, 30)}}
	}
	held := []verification.Event{ev(verification.SearchAsked), ev(verification.Searched), ev(verification.ClaimAsked), ev(verification.ClaimGranted)}
	with := func(events ...verification.Event) []verification.Event {
		return append(held[:len(held):len(held)], events...)
	}
	sent := with(ev(verification.CodeAsked), ev(verification.CodeSent))
	accepted := append(sent[:len(sent):len(sent)], ev(verification.CodeAccepted))
	elsewhere := ev(verification.ClaimRefused)
	elsewhere.HeldBy = "a former agency"
	for _, c := range []struct {
		name   string
		events []verification.Event
		days   int
		group  Group
		act    Act
		says   string
	}{
		{"nothing yet", nil, 0, Mine, Search, "Search before"},
		{"searching", held[:1], 0, Directory, OpenIt, "on its way"},
		{"searched", held[:2], 0, Mine, Decide, "nothing like it"},
		{"held elsewhere", append(held[:3:3], elsewhere), 0, Mine, OpenIt, "a former agency"},
		{"held", held, 0, Mine, Verify, "Nothing shows until"},
		{"in the post", sent, 1, Directory, EnterCode, "there from Thu 3 Dec"},
		{"due", sent, 10, Owner, EnterCode, "Has Dov Marsh got it?"},
		{"late", sent, 20, Mine, AskAgain, "It was due by Fri 11 Dec"},
		{"at hand", append(sent[:6:6], ev(verification.CodeArrived)), 29, Mine, EnterCode, "stops working on Thu 24 Dec"},
		{"about to lapse", append(sent[:6:6], ev(verification.CodeArrived)), 30, Mine, EnterCode, "in 1 minute"},
		{"lapsed", append(sent[:6:6], ev(verification.AttemptExpired)), 31, Mine, AskAgain, "stopped working on Thu 24 Dec"},
		{"used up", append(sent[:6:6], ev(verification.CodeRefused)), 1, Mine, AskAgain, "No tries are left"},
		{"not sent", with(ev(verification.CodeAsked), ev(verification.CodeAskRefused)), 1, Mine, AskAgain, "They say no."},
		{"publishing", accepted, 1, Directory, LookAgain, "public by Mon 30 Nov"},
		{"not public", accepted, 8, Mine, LookAgain, "ended on Mon 30 Nov"},
		{"gone", append(accepted[:7:7], ev(verification.SeenPublic), ev(verification.NotSeen)), 9, Mine, LookAgain, "gone from the page"},
		{"no answer", append(held[:3:3], ev(verification.CallUnanswered)), 0, Directory, OpenIt, "They say no."},
	} {
		l := Listing{Label: "Minnow Bay", Owner: "Dov Marsh", Record: record.Record{Kind: record.Premises}, Book: book, State: verification.Derive(book, c.events)}
		l.Record.Address.Country = "US"
		got, ok := For(l, start.AddDate(0, 0, c.days))
		if !ok || got.Group != c.group || got.Act != c.act || !strings.Contains(got.Says, c.says) || !strings.Contains(got.Title, "Minnow Bay") {
			t.Errorf("%s: %v %+v, want %s, %s, %q", c.name, ok, got, c.group, c.act, c.says)
		}
	}
	public := Listing{Record: record.Record{Kind: record.Premises}, Book: book, State: verification.State{Control: verification.Held, Visibility: verification.Public}}
	if task, ok := For(public, start); ok {
		t.Errorf("a public listing asks for %+v", task)
	}
	public.Record.Address.Country, public.State = "FR", verification.Start()
	if task, ok := For(public, start); ok {
		t.Errorf("a location that cannot be listed asks for %+v", task)
	}
}

func TestTheSoonestLossComesFirst(t *testing.T) {
	soon, late := start.Add(3*time.Hour), start.AddDate(0, 0, 20)
	l := Listing{Book: rulebook.Rulebook{Weight: 10}}
	tasks := []Task{{Title: "b", Group: Mine, Until: &late}, {Title: "c", Group: Mine, Until: &soon}, {Title: "a", Group: Mine}}
	for i := range tasks {
		tasks[i].Loss = loss(l, tasks[i], start)
	}
	Sort(tasks, func(t Task) Task { return t })
	if tasks[0].Title != "c" || tasks[1].Title != "b" || tasks[2].Title != "a" {
		t.Errorf("%+v", tasks)
	}
}
