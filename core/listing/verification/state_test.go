package verification

import (
	"encoding/json"
	"math/rand/v2"
	"strings"
	"testing"
	"time"
	"uvent/core/record/sighting"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

func fernlook(t *testing.T) rulebook.Rulebook {
	t.Helper()
	b, err := rulebooks.Read("fernlook")
	if err != nil {
		t.Fatal(err)
	}
	return b
}

var start = time.Date(2026, 11, 24, 17, 12, 0, 0, time.UTC) // Tuesday 09:12 Pacific

func tries(n int) *int { return &n }

// facts are what is kept of an event, whatever its kind makes of them.
type facts map[string]any

// kept is an event as it is read from what is kept.
func kept(t *testing.T, at time.Time, kind Kind, f facts) Event {
	t.Helper()
	data, err := json.Marshal(f)
	if err != nil {
		t.Fatal(err)
	}
	what, err := Read(kind, data)
	if err != nil {
		t.Fatal(err)
	}
	return Event{At: at, What: what}
}

// step is an event a number of hours after the last, and where it leads.
type step struct {
	hours int
	event Event
	want  string // control, verification, visibility
}

func terms(days int) *Terms {
	return &Terms{Digits: 6, Tries: 3, Expires: start.AddDate(0, 0, days)}
}

func TestStories(t *testing.T) {
	book := fernlook(t)
	asked := Event{What: CodeAsked{Attempt: "a", Method: rulebook.Postcard, To: "18 Tern Street"}}
	claimed := []step{
		{0, Event{What: SearchAsked{}}, "none not_begun absent"},
		{0, Event{What: Searched{Candidates: []Candidate{{Ref: "f1"}}}}, "none not_begun absent"},
		{0, Event{What: ClaimAsked{Ref: "f1"}}, "asked not_begun absent"},
		{0, Event{What: ClaimGranted{Ref: "f1", Page: "/p/f1"}}, "held not_begun hidden"},
	}
	sent := append(
		claimed[:4:4],
		step{0, asked, "held code_on_its_way hidden"},
		step{0, Event{What: CodeSent{Attempt: "a", Terms: terms(30)}}, "held code_on_its_way hidden"},
	)
	for name, story := range map[string][]step{
		"to public": append(sent[:6:6],
			step{200, Event{What: CodeArrived{Attempt: "a"}}, "held code_at_hand hidden"},
			step{1, Event{What: CodeEntered{Attempt: "a"}}, "held code_at_hand hidden"},
			step{0, Event{What: CodeRefused{Attempt: "a", Says: "wrong", TriesLeft: tries(2)}}, "held code_at_hand hidden"},
			step{0, Event{What: CodeEntered{Attempt: "a"}}, "held code_at_hand hidden"},
			step{0, Event{What: CodeAccepted{Attempt: "a"}}, "held verified publishing"},
			step{12, Event{What: NotSeen{}}, "held verified publishing"},
			step{12, Event{What: SeenPublic{Sighting: &sighting.Sighting{Name: "x"}}}, "held verified public"},
			step{12, Event{What: NotSeen{}}, "held verified removed"},
			step{12, Event{What: SeenPublic{}}, "held verified public"}),
		"held by another": append(claimed[:3:3],
			step{0, Event{What: ClaimRefused{Ref: "f1", HeldBy: "a former agency", Says: "held"}}, "held_by_another not_begun absent"}),
		"claim refused":  append(claimed[:3:3], step{0, Event{What: ClaimRefused{Says: "no"}}, "none not_begun absent"}),
		"create refused": {{0, Event{What: CreateAsked{}}, "asked not_begun absent"}, {0, Event{What: CreateRefused{Says: "no"}}, "none not_begun absent"}},
		"created":        {{0, Event{What: CreateAsked{}}, "asked not_begun absent"}, {0, Event{What: Created{Ref: "n"}}, "held not_begun hidden"}},
		"used up": append(sent[:6:6],
			step{0, Event{What: CodeRefused{Attempt: "a", TriesLeft: tries(0)}}, "held refused hidden"},
			step{0, Event{What: CodeAsked{Attempt: "b", Method: rulebook.Text}}, "held code_on_its_way hidden"},
			step{0, Event{What: CodeSent{Attempt: "b", Terms: terms(1)}}, "held code_at_hand hidden"}),
		"expired": append(sent[:6:6],
			step{720, Event{What: AttemptExpired{Attempt: "a"}}, "held lapsed hidden"},
			step{0, Event{What: CodeArrived{Attempt: "a"}}, "held lapsed hidden"}),
		"replaced": append(sent[:6:6],
			step{400, Event{What: CodeAsked{Attempt: "b", Method: rulebook.Postcard}}, "held code_on_its_way hidden"},
			step{0, Event{What: AttemptExpired{Attempt: "a"}}, "held code_on_its_way hidden"}),
		"refused to send":     append(claimed[:4:4], step{0, asked, "held code_on_its_way hidden"}, step{0, Event{What: CodeAskRefused{Attempt: "a", Says: "no"}}, "held refused hidden"}),
		"given up on a claim": append(claimed[:3:3], step{9, Event{What: CallUnanswered{Says: "?"}}, "asked not_begun absent"}, step{9, Event{What: CallGivenUp{}}, "none not_begun absent"}),
		"given up on a code":  append(claimed[:4:4], step{0, asked, "held code_on_its_way hidden"}, step{9, Event{What: CallGivenUp{}}, "held refused hidden"}),
	} {
		s, at := Start(), start
		var events []Event
		for i, step := range story {
			at = at.Add(time.Duration(step.hours) * time.Hour)
			step.event.At = at
			events = append(events, step.event)
			s = s.After(book, step.event)
			if got := strings.Join([]string{string(s.Control), string(s.Verification), string(s.Visibility)}, " "); got != step.want {
				t.Errorf("%s, step %d (%s): %s, want %s", name, i+1, step.event.Kind(), got, step.want)
			}
		}
		if again := Derive(book, events); again.Control != s.Control || again.Verification != s.Verification || len(again.Attempts) != len(s.Attempts) {
			t.Errorf("%s: derived at once it is %+v", name, again)
		}
	}
}

func TestWindowsAndDeadlines(t *testing.T) {
	book := fernlook(t)
	s := Derive(book, []Event{
		{At: start, What: CreateAsked{}}, {At: start, What: Created{Ref: "n"}},
		{At: start, What: CodeAsked{Attempt: "a", Method: rulebook.Postcard}}, {At: start, What: CodeSent{Attempt: "a", Terms: terms(30)}},
	})
	a := s.Attempt()
	if a.Window.Earliest.String() != "2026-12-03" || a.Window.Latest.String() != "2026-12-11" {
		t.Errorf("the postcard is due %s to %s", a.Window.Earliest, a.Window.Latest)
	}
	if d := s.Deadlines(book); len(d) != 1 || d[0].Kind != CodeLapses || !d[0].At.Equal(start.AddDate(0, 0, 30)) {
		t.Errorf("deadlines %+v", d)
	}
	later := start.AddDate(0, 0, 10)
	s = s.After(book, Event{At: later, What: CodeAccepted{Attempt: "a"}})
	if s.PublicBy.Earliest.String() != "2026-12-07" || s.PublicBy.Latest.String() != "2026-12-09" {
		t.Errorf("public between %s and %s", s.PublicBy.Earliest, s.PublicBy.Latest)
	}
	if d := s.Deadlines(book); len(d) != 1 || d[0].Kind != Look || !d[0].At.Equal(later.Add(12*time.Hour)) {
		t.Errorf("deadlines %+v", d)
	}
	s = s.After(book, Event{At: later.Add(12 * time.Hour), What: NotSeen{}})
	if d := s.Deadlines(book); len(d) != 1 || !d[0].At.Equal(later.Add(24*time.Hour)) {
		t.Errorf("deadlines %+v", d)
	}
	if s = s.After(book, Event{At: later, What: SeenPublic{}}); len(s.Deadlines(book)) != 0 {
		t.Error("it is public and still waits")
	}
}

// Whatever happens in whatever order, a verified listing stays verified, and
// only one attempt is live.
func TestLaws(t *testing.T) {
	book := fernlook(t)
	kinds := strings.Fields(
		`search_asked searched claim_asked claim_granted claim_refused create_asked created create_refused code_asked code_sent code_ask_refused code_arrived code_entered code_accepted code_refused attempt_expired seen_public not_seen look_unanswered call_unanswered call_given_up`,
	)
	r := rand.New(rand.NewPCG(7, 7))
	for range draws(3000) {
		s, verified := Start(), false
		for i := range 30 {
			of := facts{"attempt": string(rune('a' + r.IntN(3))), "method": rulebook.Postcard}
			if r.IntN(2) == 0 {
				of["terms"], of["tries_left"] = terms(r.IntN(40)), r.IntN(4)
			}
			e := kept(t, start.Add(time.Duration(i)*time.Hour), Kind(kinds[r.IntN(len(kinds))]), of)
			before := s
			s = s.After(book, e)
			live := 0
			for _, a := range s.Attempts {
				if a.Live() {
					live++
				}
				if a.Live() && a.Window == nil && a.ArrivedAt == nil {
					t.Fatalf("%s leaves a live attempt with no window that has not arrived", e.Kind())
				}
			}
			if live > 1 {
				t.Fatalf("%s leaves %d attempts live", e.Kind(), live)
			}
			if verified = verified || s.VerifiedAt != nil; verified && s.Verification != Verified {
				t.Fatalf("%s undoes the verification", e.Kind())
			}
			if s.Visibility == Publishing && s.PublicBy == nil {
				t.Fatalf("%s publishes with no window", e.Kind())
			}
			if len(before.Attempts) > 0 && len(s.Attempts) > 0 && &before.Attempts[0] == &s.Attempts[0] {
				t.Fatal("the state before is shared with the state after")
			}
		}
	}
}

func TestWays(t *testing.T) {
	book := fernlook(t)
	shop := record.Record{
		Kind: record.Premises, Address: address.Address{Street: "18 Tern Street", Locality: "Minnow Bay", Region: "WA", Country: "US"},
		Mailing: record.Mailing{Contact: "Dov Marsh"}, Phones: []record.Phone{{E164: "+13605550142", Voice: true}},
		Email: "spokeshave@mail.example", Website: "https://spokeshave.example", Hours: "Tu-Fr 09:00-12:00,13:00-18:00",
	}
	with := func(f func(*record.Record)) record.Record { r := shop; f(&r); return r }
	waysOf := func(r record.Record, s State, now time.Time, offered map[rulebook.MethodName]string) map[rulebook.MethodName]Way {
		out := map[rulebook.MethodName]Way{}
		for _, w := range Ways(Question{Book: book, Record: r, State: s, Now: now, Offered: offered}) {
			if w.Says == "" || w.Title == "" {
				t.Errorf("%+v says nothing", w)
			}
			out[w.Method] = w
		}
		return out
	}
	noon := start.Add(3 * time.Hour)
	asked := func(m rulebook.MethodName, n int) State {
		s := Start()
		for i := range n {
			s = s.After(book, Event{At: start, What: CodeAsked{Attempt: string(rune('a' + i)), Method: m}})
		}
		return s
	}
	for _, c := range []struct {
		name    string
		r       record.Record
		s       State
		now     time.Time
		offered map[rulebook.MethodName]string
		method  rulebook.MethodName
		open    bool
		says    string
	}{
		{"post", shop, Start(), start, nil, rulebook.Postcard, true, "To Dov Marsh, 18 Tern Street, Minnow Bay, WA. There between Thu 3 Dec and Fri 11 Dec."},
		{"open shop", shop, Start(), start, nil, rulebook.Call, true, "To (360) 555-0142, at once."},
		{"lunch", shop, Start(), noon, nil, rulebook.Call, false, "Next open today 13:00–18:00 PST."},
		{"five minutes to lunch", shop, Start(), noon.Add(-17 * time.Minute), nil, rulebook.Call, false, "nobody would pick up"},
		{"no hours", with(func(r *record.Record) { r.Hours = "" }), Start(), start, nil, rulebook.Call, false, "does not say when"},
		{"never open", with(func(r *record.Record) { r.Hours = "Mo 09:00-09:05" }), Start(), start, nil, rulebook.Call, false, "never open for 10 minutes"},
		{"a van", with(func(r *record.Record) { r.Kind = record.GoesToCustomers }), Start(), start, nil, rulebook.Call, false, "kind of location"},
		{"landline", shop, Start(), start, nil, rulebook.Text, false, "takes text messages"},
		{"no phone", with(func(r *record.Record) { r.Phones = nil }), Start(), start, nil, rulebook.Text, false, "has no phone"},
		{"other domain", shop, Start(), start, nil, rulebook.Email, false, "not on the website's domain"},
		{"own domain", with(func(r *record.Record) { r.Email = "shop@spokeshave.example" }), Start(), start, nil, rulebook.Email, true, "within minutes"},
		{"no website", with(func(r *record.Record) { r.Website = "" }), Start(), start, nil, rulebook.Email, false, "no website"},
		{"no email", with(func(r *record.Record) { r.Email = "" }), Start(), start, nil, rulebook.Email, false, "no email"},
		{"not offered", shop, Start(), start, map[rulebook.MethodName]string{rulebook.Postcard: "No post to your street today."}, rulebook.Postcard, false, "No post"},
		{"not listed", shop, Start(), start, map[rulebook.MethodName]string{}, rulebook.Postcard, false, "does not offer"},
		{"offered", shop, Start(), start, map[rulebook.MethodName]string{rulebook.Postcard: ""}, rulebook.Postcard, true, "There between"},
		{"asked already", shop, asked(rulebook.Postcard, 1), start.Add(time.Hour), nil, rulebook.Postcard, false, "again from Tue 8 Dec"},
		{"asked long ago", shop, asked(rulebook.Postcard, 1), start.AddDate(0, 0, 15), nil, rulebook.Postcard, true, "There between"},
		{"asked too often", shop, asked(rulebook.Postcard, 3), start.AddDate(0, 2, 0), nil, rulebook.Postcard, false, "sends no more"},
	} {
		w := waysOf(c.r, c.s, c.now, c.offered)[c.method]
		if w.Open != c.open || !strings.Contains(w.Says, c.says) {
			t.Errorf("%s: open %v, %q; want %v, %q", c.name, w.Open, w.Says, c.open, c.says)
		}
	}
	if list := Ways(Question{Book: book, Record: shop, State: Start(), Now: start}); list[0].Method != rulebook.Call || list[1].Method != rulebook.Postcard ||
		list[2].Open {
		t.Errorf("the order is %+v", list)
	}
}

// Where a code's life counts from its arrival, it lapses so long after it is said to be there.
func TestACodeLapsesAfterItsArrival(t *testing.T) {
	book := fernlook(t)
	post := &book.Methods[0]
	post.Window.Min, post.Window.Max = 0, 1
	post.Code = rulebook.Code{Digits: 6, WorksMinutes: 20, WorksFrom: rulebook.FromArrival, Tries: 3}
	s := Start()
	told := &Terms{Digits: 6, Tries: 3, Expires: post.Lapses(start, book.Calendar.Place())}
	for _, e := range []Event{
		{At: start, What: ClaimAsked{Ref: "f1"}}, {At: start, What: ClaimGranted{Ref: "f1", Page: "/p/f1"}},
		{At: start, What: CodeAsked{Attempt: "a", Method: rulebook.Postcard, To: "18 Tern Street"}}, {At: start, What: CodeSent{Attempt: "a", Terms: told}},
	} {
		s = s.After(book, e)
	}
	lapses := func() time.Time {
		for _, d := range s.Deadlines(book) {
			if d.Kind == CodeLapses {
				return d.At
			}
		}
		return time.Time{}
	}
	if a := s.Attempt(); a.ArrivedAt != nil || !lapses().Equal(told.Expires) {
		t.Errorf("on its way it lapses %v: %+v", lapses(), a)
	}
	there := start.Add(26 * time.Hour)
	s = s.After(book, Event{At: there, What: CodeArrived{Attempt: "a"}})
	if !lapses().Equal(there.Add(20 * time.Minute)) {
		t.Errorf("in hand at %v, it lapses %v", there, lapses())
	}
}
