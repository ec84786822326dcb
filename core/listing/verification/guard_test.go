package verification

import (
	"strings"
	"testing"
	"time"

	"uvent/core/fact/address"
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
				all += "\n" + l.About + " | " + l.Leave + " | " + l.Instead
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

// Whatever is asked, in any order and at any time, an attempt is only ever ended by another where that was guarded.
func TestOnlyWhatIsGuardedIsReplaced(t *testing.T) {
	methods := []rulebook.MethodName{rulebook.Postcard, rulebook.Call, rulebook.Text, rulebook.Video}
	book := bookOf(t, "fernlook")
	for seed := range 64 {
		var events []Event
		for i, n := 0, seed; i < 3; i, n = i+1, n/4 {
			at, id := start.AddDate(0, 0, 7*i), string(rune('a'+i))
			s, open := whatGuards(t, book, events, at)
			guards := false
			for _, w := range open {
				guards = guards || w.Guard != nil
			}
			if m := methods[n%4]; m == rulebook.Video {
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
			replaced := len(s.Attempts) > 0 && after.Attempts[len(s.Attempts)-1].State == AttemptReplaced && s.Attempts[len(s.Attempts)-1].State != AttemptReplaced
			if replaced != guards {
				t.Fatalf("%d, step %d: guarded %v, replaced %v: %+v", seed, i, guards, replaced, s.Attempts)
			}
			if n%3 == 0 {
				events = append(events, Event{At: at.AddDate(0, 0, 2), What: AttemptExpired{Attempt: id}})
			}
		}
	}
}
