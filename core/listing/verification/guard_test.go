package verification

import (
	"strings"
	"testing"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// whatGuards are the open ways of a shop on Fernlook that holds an attempt.
func whatGuards(t *testing.T, book rulebook.Rulebook, events []Event, now time.Time) (State, []Way) {
	t.Helper()
	r := record.Record{
		Kind: record.Premises, Name: "Spokeshave Cycle Works", Zone: "America/Los_Angeles", Website: "https://spokeshave.example",
		Address: address.Address{Street: "18 Tern Street", Locality: "Minnow Bay", Region: "WA", PostalCode: "98990", Country: "US"},
		Phones:  []record.Phone{{E164: "+13605550137", Voice: true, Text: true}}, Hours: "Mo-Su 08:00-20:00",
	}
	s := Derive(book, append([]Event{{At: start, What: CreateAsked{}}, {At: start, What: Created{Ref: "f1", Page: "/p"}}}, events...))
	var open []Way
	for _, w := range Ways(Question{Book: book, Record: r, State: s, Now: now}) {
		if w.Guard != nil && !w.Open {
			t.Errorf("%s is shut and guarded", w.Title)
		}
		if w.Open {
			open = append(open, w)
		}
	}
	return s, open
}

// Nothing that lives is ended without a word: each open way says what it would end, and what is lost by that.
func TestWhatLivesIsGuarded(t *testing.T) {
	card := func(more ...Event) []Event {
		return append([]Event{
			{At: start, What: CodeAsked{Attempt: "card", Method: rulebook.Postcard, To: "18 Tern Street"}},
			{At: start, What: CodeSent{Attempt: "card", Terms: &Terms{Digits: 5, Tries: 5, Expires: start.AddDate(0, 0, 30)}}},
		}, more...)
	}
	book := bookOf(t, "fernlook")
	book.Together = false
	for name, c := range map[string]struct {
		events []Event
		days   int
		says   []string // of every open way; none: nothing is guarded
	}{
		"nothing asked":   {nil, 0, nil},
		"on its way":      {card(), 1, []string{"The postcard is on its way. Have", "is due", "its code works until", "its code is void once", "it comes all the same, and its code is refused"}},
		"at hand":         {card(Event{At: start.AddDate(0, 0, 8), What: CodeArrived{Attempt: "card"}}), 8, []string{"The postcard is at hand.", "The postcard | its code works until"}},
		"late":            {card(), 20, []string{"The postcard is late.", "should have come by", "not to be told: it is late"}},
		"lapsed":          {card(Event{At: start.AddDate(0, 0, 30), What: AttemptExpired{Attempt: "card"}}), 31, nil},
		"refused":         {[]Event{{At: start, What: CodeAsked{Attempt: "card", Method: rulebook.Postcard}}, {At: start, What: CodeAskRefused{Attempt: "card", Says: "No."}}}, 1, nil},
		"looked at there": {[]Event{{At: start, What: ReviewAsked{Attempt: "film", Method: rulebook.Video}}, {At: start, What: ReviewBegun{Attempt: "film", Ref: "r", Terms: &Terms{Expires: start.AddDate(0, 0, 5)}}}}, 1, []string{"The video is looked at there.", "they answer by", "is not looked at any more"}},
		"late there":      {[]Event{{At: start, What: ReviewAsked{Attempt: "film", Method: rulebook.Video}}, {At: start, What: ReviewBegun{Attempt: "film", Ref: "r", Terms: &Terms{Expires: start.AddDate(0, 0, 5)}}}}, 9, []string{"The video is looked at there.", "they should have answered by", "not to be told: it is late", "is not looked at any more"}},
	} {
		s, open := whatGuards(t, book, c.events, start.AddDate(0, 0, c.days))
		if len(open) == 0 {
			t.Fatalf("%s: no way is open", name)
		}
		for _, w := range open {
			if (w.Guard != nil) != (c.says != nil) {
				t.Errorf("%s: %s is guarded by %+v", name, w.Title, w.Guard)
				continue
			}
			if w.Guard == nil {
				continue
			}
			all := w.Guard.Title
			for _, l := range w.Guard.Lines {
				all += "\n" + l.About + " | " + l.Leave + " | " + l.Ask
			}
			for _, want := range c.says {
				if !strings.Contains(all, want) {
					t.Errorf("%s: %s does not say %q:\n%s", name, w.Title, want, all)
				}
			}
			if w.Guard.Attempt != s.Attempt().ID || strings.Contains(all, "<nil>") || strings.Contains(all, "  ") {
				t.Errorf("%s: %s is guarded by\n%s", name, w.Title, all)
			}
		}
	}
}

// Whatever is asked, in any order and at any time, an attempt is only ever ended by another where that was guarded; where a
// directory lets tries run beside each other that is by the same way alone. What is waited for is one that is under way.
func TestOnlyWhatIsGuardedIsReplaced(t *testing.T) {
	methods := []rulebook.MethodName{rulebook.Postcard, rulebook.Call, rulebook.Text, rulebook.Video}
	book := bookOf(t, "fernlook")
	for seed := range 128 {
		book.Together = seed%2 == 0
		var events []Event
		for i, n := 0, seed/2; i < 3; i, n = i+1, n/4 {
			at, id, m := start.AddDate(0, 0, 7*i), string(rune('a'+i)), methods[n%4]
			s, open := whatGuards(t, book, events, at)
			want := map[string]bool{}
			for _, a := range s.Attempts {
				if a.UnderWay() && (!book.Together || a.Method == m) {
					want[a.ID] = true
				}
			}
			for _, w := range open {
				if ends := w.Method == m && w.Guard != nil && !w.Guard.Keeps; w.Method == m && ends != (len(want) > 0) {
					t.Fatalf("%d, step %d: %v would end, and is guarded by %+v", seed, i, want, w.Guard)
				}
			}
			if m == rulebook.Video {
				events = append(
					events,
					Event{At: at, What: ReviewAsked{Attempt: id, Method: m}},
					Event{At: at, What: ReviewBegun{Attempt: id, Ref: "r", Terms: &Terms{Expires: at.AddDate(0, 0, 9)}}},
				)
			} else {
				events = append(
					events,
					Event{At: at, What: CodeAsked{Attempt: id, Method: m}},
					Event{At: at, What: CodeSent{Attempt: id, Terms: &Terms{Expires: at.AddDate(0, 0, 1+n%20)}}},
				)
			}
			after, _ := whatGuards(t, book, events, at)
			for _, a := range s.Attempts {
				if now := after.Named(a.ID); (now.State == AttemptReplaced && a.State != AttemptReplaced) != want[a.ID] {
					t.Fatalf("%d, step %d: %s was to end: %v, and is %s", seed, i, a.ID, want[a.ID], now.State)
				}
			}
			if a := after.Attempt(); !a.UnderWay() || after.Latest().ID != id {
				t.Fatalf("%d, step %d: %+v is waited for", seed, i, a)
			}
			if n%3 == 0 {
				events = append(events, Event{At: at.AddDate(0, 0, 2), What: AttemptExpired{Attempt: id}})
			}
		}
	}
}

// A call beside a card: both are waited for, each has its own end, and whichever proves it makes the other needless. A card
// that comes then, or after another was asked for, is told from the one that is waited for.
func TestTriesBesideEachOther(t *testing.T) {
	book, day := bookOf(t, "fernlook"), func(n int) time.Time { return start.AddDate(0, 0, n) }
	card := []Event{
		{At: start, What: CodeAsked{Attempt: "card", Method: rulebook.Postcard, To: "18 Tern Street"}},
		{At: start, What: CodeSent{Attempt: "card", Terms: &Terms{Digits: 6, Tries: 3, Expires: day(30)}}},
	}
	call := append(card[:2:2],
		Event{At: day(2), What: CodeAsked{Attempt: "call", Method: rulebook.Call, To: "(360) 555-0137"}},
		Event{At: day(2), What: CodeSent{Attempt: "call", Terms: &Terms{Digits: 6, Tries: 3, Expires: day(2).Add(30 * time.Minute)}}},
	)
	_, open := whatGuards(t, book, card, day(2))
	for _, w := range open {
		if w.Guard == nil || w.Guard.Keeps != (w.Method != rulebook.Postcard) {
			t.Errorf("%s is guarded by %+v", w.Title, w.Guard)
		}
		if w.Method == rulebook.Call && (w.Guard.Title != "The postcard is on its way. Have the call as well?" || len(w.Guard.Lines) != 4 ||
			w.Guard.Lines[0].Ask != "the same: nothing of it is lost" || w.Guard.Lines[2].Ask != "type its code, or throw it away where the call did it") {
			t.Errorf("the call is guarded by %+v", w.Guard)
		}
	}
	s, _ := whatGuards(t, book, call, day(2))
	if a := s.Attempt(); a.ID != "call" || s.Verification != CodeAtHand || s.Attempts[0].State != AttemptSent {
		t.Errorf("%+v is waited for; %s", a, s.Words())
	}
	due := s.Deadlines(book)
	if len(due) != 1 || due[0] != (Deadline{CodeLapses, day(2).Add(30 * time.Minute)}) {
		t.Errorf("due: %+v", due)
	}
	zone := book.Calendar.Place().Zone
	if says := s.Mistaken(
		s.Attempts[1],
		day(2),
		zone,
	); says != "Or is it the code of the postcard asked for on "+Day(
		calendar.DateIn(start, zone),
	)+"? That is still to be typed." {
		t.Errorf("a wrong code: %q", says)
	}
	missed, _ := whatGuards(t, book, append(call, Event{At: day(2).Add(time.Hour), What: AttemptExpired{Attempt: "call"}}), day(3))
	if a := missed.Attempt(); a.ID != "card" || missed.Verification != CodeOnItsWay || missed.Late(missed.Attempts[1], day(3), zone) != "" {
		t.Errorf("after a call that was missed %+v is waited for; %s", a, missed.Words())
	}
	proved := append(call, Event{At: day(2).Add(time.Minute), What: CodeAccepted{Attempt: "call"}})
	s, _ = whatGuards(t, book, proved, day(3))
	if s.Attempts[0].State != AttemptNeedless || s.Verification != Verified {
		t.Errorf("%+v", s.Attempts[0])
	}
	for _, d := range s.Deadlines(book) {
		if d.Kind == CodeLapses {
			t.Errorf("the code of a card that is not needed lapses at %s", d.At)
		}
	}
	comes, came := s.Late(s.Attempts[0], day(3), zone), "The postcard asked for on "+Day(calendar.DateIn(start, zone))
	if comes != came+" may still come. Its code is not needed: the listing was verified on "+Day(calendar.DateIn(day(2), zone))+"." {
		t.Errorf("late: %q", comes)
	}
	s, _ = whatGuards(t, book, append(proved, Event{At: day(12), What: CodeArrived{Attempt: "card"}}), day(13))
	if says := s.Late(s.Attempts[0], day(13), zone); !strings.HasPrefix(says, came+" came on "+Day(calendar.DateIn(day(12), zone))) || s.Verification != Verified {
		t.Errorf("late: %q, %s", says, s.Words())
	}
	book.Together = false
	s, _ = whatGuards(t, book, append(call, Event{At: day(12), What: CodeArrived{Attempt: "card"}}), day(13))
	if says := s.Late(s.Attempts[0], day(13), zone); !strings.Contains(says, "when the call was asked for. It can be thrown away.") || s.Attempt().ID != "call" {
		t.Errorf("replaced: %q, %+v", says, s.Attempt())
	}
	if says := s.Mistaken(s.Attempts[1], day(13), zone); !strings.HasPrefix(says, "Perhaps it is another one’s. "+came) {
		t.Errorf("a wrong code: %q", says)
	}
	if says := s.Late(s.Attempts[0], day(90), zone); says == "" {
		t.Error("what came is forgotten")
	}
	s, _ = whatGuards(t, book, call, day(13))
	if s.Late(s.Attempts[0], day(20), zone) == "" || s.Late(s.Attempts[0], day(90), zone) != "" {
		t.Error("a card is looked out for too long, or not long enough")
	}
}
