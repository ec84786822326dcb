package agenda

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

var start = time.Date(2026, 11, 24, 17, 12, 0, 0, time.UTC)

func TestWhatIsNext(t *testing.T) {
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		t.Fatal(err)
	}
	ev := func(kind verification.Kind) verification.Event {
		data, err := json.Marshal(
			map[string]any{"attempt": "a", "method": rulebook.Postcard, "to": "18 Tern Street", "says": "They say no.", "ref": "f1", "tries_left": 0,
				"terms": verification.Terms{Digits: 6, Tries: 3, Expires: start.AddDate(0, 0, 30)}},
		)
		if err != nil {
			t.Fatal(err)
		}
		what, err := verification.Read(kind, data)
		if err != nil {
			t.Fatal(err)
		}
		return verification.Event{At: start, What: what}
	}
	held := []verification.Event{ev("search_asked"), ev("searched"), ev("claim_asked"), ev("claim_granted")}
	with := func(events ...verification.Event) []verification.Event {
		return append(held[:len(held):len(held)], events...)
	}
	sent := with(ev("code_asked"), ev("code_sent"))
	accepted := append(sent[:len(sent):len(sent)], ev("code_accepted"))
	elsewhere := verification.Event{At: start, What: verification.ClaimRefused{Ref: "f1", Says: "They say no.", HeldBy: "a former agency"}}
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
		{"at hand", append(sent[:6:6], ev("code_arrived")), 29, Mine, EnterCode, "stops working on Thu 24 Dec"},
		{"about to lapse", append(sent[:6:6], ev("code_arrived")), 30, Mine, EnterCode, "in 1 minute"},
		{"lapsed", append(sent[:6:6], ev("attempt_expired")), 31, Mine, AskAgain, "stopped working on Thu 24 Dec"},
		{"used up", append(sent[:6:6], ev("code_refused")), 1, Mine, AskAgain, "No tries are left"},
		{"not sent", with(ev("code_asked"), ev("code_ask_refused")), 1, Mine, AskAgain, "They say no."},
		{"publishing", accepted, 1, Directory, LookAgain, "public by Mon 30 Nov"},
		{"not public", accepted, 8, Mine, LookAgain, "ended on Mon 30 Nov"},
		{"gone", append(accepted[:7:7], ev("seen_public"), ev("not_seen")), 9, Mine, LookAgain, "gone from the page"},
		{"suspended", append(accepted[:7:7], ev("seen_public"), ev("suspended_there")), 9, Mine, Argue, "They say no."},
		{"appealed", append(accepted[:7:7], ev("seen_public"), ev("suspended_there"), ev("appeal_begun")), 9, Directory, Argue, "they answer by Thu 24 Dec"},
		{"appeal not answered", append(accepted[:7:7], ev("seen_public"), ev("suspended_there"), ev("appeal_begun")), 35, Mine, Argue, "should have by Thu 24 Dec"},
		{"appeal refused", append(accepted[:7:7], ev("seen_public"), ev("suspended_there"), ev("appeal_begun"), ev("appeal_refused")), 9, Mine, Argue, "1 appeal left"},
		{"change refused", append(accepted[:7:7], ev("seen_public"), ev("change_failed")), 9, Mine, Argue, "They say no."},
		{"no answer", append(held[:3:3], ev("call_unanswered")), 0, Directory, OpenIt, "They say no."},
	} {
		l := Listing{Label: "Minnow Bay", Owner: "Dov Marsh", Record: &record.Record{Kind: record.Premises}, Book: &book, State: verification.Derive(book, c.events)}
		l.Record.Address.Country = "US"
		got, ok := For(l, start.AddDate(0, 0, c.days))
		if !ok || got.Group != c.group || got.Act != c.act || !strings.Contains(got.Says, c.says) || !strings.Contains(got.Title, "Minnow Bay") {
			t.Errorf("%s: %v %+v, want %s, %s, %q", c.name, ok, got, c.group, c.act, c.says)
		}
		holdsUntilItChanges(t, c.name, l, start.AddDate(0, 0, c.days))
	}
	public := Listing{
		Record: &record.Record{Kind: record.Premises},
		Book:   &book,
		State:  verification.State{Control: verification.Held, Visibility: verification.Public},
	}
	if task, ok := For(public, start); ok {
		t.Errorf("a public listing asks for %+v", task)
	}
	public.Record.Address.Country, public.State = "FR", verification.Start()
	if task, ok := For(public, start); ok {
		t.Errorf("a location that cannot be listed asks for %+v", task)
	}
}

// A listing that shows is to say what the record says of the location.
func TestClosedAndOpenAgain(t *testing.T) {
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		t.Fatal(err)
	}
	l := Listing{
		Label:  "Minnow Bay",
		Record: &record.Record{Kind: record.Premises, State: record.State{Kind: record.ClosedForATime}},
		Book:   &book,
		State:  verification.State{Control: verification.Held, Visibility: verification.Public, VerifiedAt: &start},
	}
	l.Record.Address.Country = "US"
	if task, ok := For(l, start); !ok || task.Act != Follow || task.Title != "Minnow Bay on Fernlook is to be shown as closed for a time" {
		t.Errorf("closed: %+v", task)
	}
	l.State.Marked = record.ClosedForATime
	if task, ok := For(l, start); ok {
		t.Errorf("marked: %+v", task)
	}
	l.Record.State.Kind = record.Open
	if task, ok := For(l, start); !ok || task.Title != "Minnow Bay on Fernlook is to be shown as open again" {
		t.Errorf("open again: %+v", task)
	}
}

// holdsUntilItChanges follows a listing through forty days in which nothing happens: its
// task's group, act and loss are the same until the moment that the task names.
func holdsUntilItChanges(t *testing.T, name string, l Listing, now time.Time) {
	t.Helper()
	last, _ := For(l, now)
	for at := now; at.Before(now.AddDate(0, 0, 40)); at = at.Add(17 * time.Minute) {
		task, _ := For(l, at)
		if last.Changes != nil && !at.Before(*last.Changes) {
			last = task
		}
		if task.Group != last.Group || task.Act != last.Act || task.Loss != last.Loss {
			t.Fatalf("%s: %+v at %s, where %+v was to hold until %v", name, task, at, last, last.Changes)
		}
	}
}

func TestTheSoonestLossComesFirst(t *testing.T) {
	soon, late := start.Add(3*time.Hour), start.AddDate(0, 0, 20)
	l := Listing{Book: &rulebook.Rulebook{Weight: 10}}
	tasks := []Task{{Title: "b", Group: Mine, Until: &late}, {Title: "c", Group: Mine, Until: &soon}, {Title: "a", Group: Mine}}
	for i := range tasks {
		tasks[i].Loss = loss(l, tasks[i], start)
	}
	Sort(tasks, func(t Task) Task { return t })
	if tasks[0].Title != "c" || tasks[1].Title != "b" || tasks[2].Title != "a" {
		t.Errorf("%+v", tasks)
	}
}

// Directories that people work on, and those who decide.
func TestWhatIsNextByHand(t *testing.T) {
	days := func(n int) time.Time { return start.AddDate(0, 0, n) }
	searched := verification.Event{At: start, What: verification.Searched{Candidates: []verification.Candidate{}}}
	given := verification.Event{At: start, What: verification.Given{}}
	review := []verification.Event{{At: start, What: verification.Created{}}, {At: start, What: verification.ReviewAsked{Attempt: "a", Method: rulebook.Papers}},
		{At: start, What: verification.ReviewBegun{Attempt: "a", Terms: &verification.Terms{Expires: days(6)}}}}
	for _, c := range []struct {
		book   string
		events []verification.Event
		days   int
		group  Group
		act    Act
		title  string
	}{
		{"lanefolk", nil, 0, Mine, Search, "Look for Minnow Bay on Lanefolk"},
		{"lanefolk", []verification.Event{searched}, 0, Mine, Give, "Bring Minnow Bay to Lanefolk"},
		{"brasswire", []verification.Event{searched}, 0, Mine, Give, "Write to Brasswire about Minnow Bay"},
		{"brasswire", []verification.Event{searched, given}, 1, Directory, OpenIt, "Minnow Bay on Brasswire"},
		{"brasswire", []verification.Event{searched, given}, 20, Mine, Give, "Brasswire has not answered about Minnow Bay"},
		{"plotline", nil, 0, Mine, Give, "Hand Minnow Bay in to Plotline"},
		{"waywren", review, 1, Directory, OpenIt, "Minnow Bay on Waywren"},
		{"waywren", review, 9, Mine, OpenIt, "Waywren has not decided on Minnow Bay"},
	} {
		book, err := rulebooks.Read(c.book)
		if err != nil {
			t.Fatal(err)
		}
		l := Listing{Label: "Minnow Bay", Record: &record.Record{}, Book: &book, State: verification.Derive(book, c.events)}
		l.Record.Kind, l.Record.Address.Country, l.Record.Address.Region = record.Premises, "US", "WA"
		task, ok := For(l, days(c.days))
		if !ok || task.Group != c.group || task.Act != c.act || task.Title != c.title || task.Says == "" {
			t.Errorf("%s after %d days: %+v, want %s, %s, %q", c.book, c.days, task, c.group, c.act, c.title)
		}
		holdsUntilItChanges(t, c.book, l, days(c.days))
	}
	together := Together("Minnow Bay", []string{"Fernlook", "Waywren", "Skerry", "Lanefolk", "Brasswire"}, 100)
	if together.Title != "Begin 5 listings of Minnow Bay" || together.Says != "Fernlook, Waywren, Skerry and 2 more. Nothing is known of them yet." ||
		together.Loss != 100 {
		t.Errorf("%+v", together)
	}
	if one := Unsent("Minnow Bay", []string{"Fernlook"}, 100); one.Title != "Minnow Bay on Fernlook has not been given what the record says" || one.Act != Follow {
		t.Errorf("%+v", one)
	}
	if many := Unsent("Minnow Bay", []string{"Fernlook", "Waywren"}, 100); many.Title != "2 listings of Minnow Bay have not been given what the record says" ||
		!strings.HasPrefix(many.Says, "Fernlook, Waywren. ") {
		t.Errorf("%+v", many)
	}
	if two := Together("X", []string{"A", "B"}, 1); two.Says != "A, B. Nothing is known of them yet." {
		t.Errorf("%+v", two)
	}
}

// What is to show again on a day rests until then; where it does not come back it is asked after that morning.
func TestOutOfViewUntilADay(t *testing.T) {
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		t.Fatal(err)
	}
	back := calendar.DateIn(start, book.Calendar.Place().Zone).Add(60)
	events := []verification.Event{
		{At: start, What: verification.Created{Ref: "n", Page: "/p"}}, {At: start, What: verification.ReviewPassed{}}, {At: start, What: verification.SeenPublic{}},
		{At: start, What: verification.WithdrawnThere{Says: "The street is closed.", Back: &back}},
	}
	l := Listing{Label: "Minnow Bay", Record: &record.Record{Kind: record.Premises}, Book: &book, State: verification.Derive(book, events)}
	l.Record.Address.Country, l.Record.Address.Region = "US", "WA"
	for days := range 60 {
		if rest := Resting(l, start.AddDate(0, 0, days)); rest != OnPurpose {
			t.Fatalf("after %d days it rests because %q", days, rest)
		}
	}
	due := l.State.Deadlines(book)
	if len(due) != 1 || due[0].Kind != verification.BringBack || calendar.DateIn(due[0].At, book.Calendar.Place().Zone) != back {
		t.Errorf("due: %+v", due)
	}
	l.State = l.State.After(book, verification.Event{At: due[0].At, What: verification.BackAsked{}})
	l.State = l.State.After(book, verification.Event{At: due[0].At, What: verification.ViewRefused{Says: "Not today."}})
	if task, asks := For(l, due[0].At.Add(4*time.Hour)); !asks || task.Kind != OutOfView || task.Title != "Minnow Bay on Fernlook should show again" {
		t.Errorf("%+v", task)
	}
	if due := l.State.Deadlines(book); len(due) != 0 {
		t.Errorf("it is asked for again and again: %+v", due)
	}
}

// What we took out of view on purpose asks for nothing for a month, and then whether it is to stay so.
func TestWithdrawnIsAskedAfter(t *testing.T) {
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		t.Fatal(err)
	}
	events := []verification.Event{
		{At: start, What: verification.Created{Ref: "n", Page: "/p"}}, {At: start, What: verification.ReviewPassed{}}, {At: start, What: verification.SeenPublic{}},
		{At: start, What: verification.WithdrawnThere{Says: "The shop is rebuilt."}},
	}
	l := Listing{Label: "Minnow Bay", Record: &record.Record{Kind: record.Premises}, Book: &book, State: verification.Derive(book, events)}
	l.Record.Address.Country, l.Record.Address.Region = "US", "WA"
	rests := func(from, to int) {
		t.Helper()
		for days := from; days < to; days++ {
			if task, asks := For(l, start.AddDate(0, 0, days)); asks || Resting(l, start.AddDate(0, 0, days)) == InOrder {
				t.Fatalf("after %d days: %+v", days, task)
			}
		}
	}
	rests(0, 30)
	task, asks := For(l, start.AddDate(0, 0, 86)) // a reason that ends by itself in no time
	if !asks || task.Kind != OutOfView || task.Title != "Minnow Bay on Fernlook has been out of view for 86 days" ||
		!strings.Contains(task.Says, "The shop is rebuilt.") {
		t.Fatalf("after 86 days: %+v", task)
	}
	// Somebody says that it stays out, and is asked again after as long.
	l.State = l.State.After(book, verification.Event{
		At: start.AddDate(
			0,
			0,
			86,
		),
		Actor: "Ines",
		What:  verification.DecidedOn{Matter: string(task.Kind), Cause: task.Cause, Title: task.Title, Why: "Until spring."},
	})
	rests(86, 90)
	if task, asks := For(l, start.AddDate(0, 0, 90)); !asks || task.Kind != OutOfView {
		t.Errorf("after 90 days: %+v", task)
	}
	l.State = l.State.After(book, verification.Event{At: start.AddDate(0, 0, 90), What: verification.BackThere{}})
	if task, asks := For(l, start.AddDate(0, 0, 91)); !asks || task.Act != LookAgain {
		t.Errorf("brought back: %+v", task)
	}
}
