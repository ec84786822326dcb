package agenda

import (
	"encoding/json"
	"math/rand/v2"
	"slices"
	"testing"
	"time"
	"uvent/core/record/sighting"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/record/match"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

// walk is a listing to which things happen at random.
type walk struct {
	*rand.Rand
	l   Listing
	now time.Time
}

// happens moves the listing on by an event of any kind, of which much fits its state.
func (w *walk) happens(t *testing.T, kind verification.Kind) {
	t.Helper()
	terms := verification.Terms{Digits: 6, Tries: 3, Expires: w.now.Add(time.Duration(1+w.IntN(40*24)) * time.Hour)}
	window := calendar.Window{From: w.now, Earliest: calendar.DateOf(w.now), Latest: calendar.DateOf(w.now.AddDate(0, 0, 1+w.IntN(20)))}
	of := map[string]any{
		"attempt":    string(rune('a' + w.IntN(2))),
		"method":     []rulebook.MethodName{rulebook.Postcard, rulebook.Text, rulebook.Papers}[w.IntN(3)],
		"says":       "They say no.",
		"held_by":    "a former agency",
		"page":       "/p",
		"terms":      terms,
		"tries_left": w.IntN(3),
		"ref":        []string{"ours", "second"}[w.IntN(2)],
		"window":     window,
		"case":       "1",
		"facts":      []string{"Phone"},
		"unread":     w.IntN(2) == 0,
		"title":      "It",
		"why":        "So.",
		"values": []map[string]any{
			{"key": "address", "data": map[string]any{"street": "18 Tern Street", "locality": []string{"Minnow Bay", "Quillcote"}[w.IntN(2)]}},
		},
		"candidates": []verification.Candidate{{Ref: "second", Verdict: match.Probably, Shown: sighting.Sighting{Name: "Marsh Bikes"}}},
	}
	data, err := json.Marshal(of)
	if err != nil {
		t.Fatal(err)
	}
	what, err := verification.Read(kind, data)
	if err != nil { // it has something of that name that is something else
		if what, err = verification.Read(kind, []byte(`{"says": "They say no."}`)); err != nil {
			t.Fatal(err)
		}
	}
	w.l.State = w.l.State.After(*w.l.Book, verification.Event{At: w.now, Actor: "Ines", What: what})
	w.now = w.now.Add([]time.Duration{time.Hour, 24 * time.Hour, time.Duration(w.IntN(24*20)) * time.Hour}[w.IntN(3)])
}

// asked gives the listing a page by which its owner was asked for something, or none.
func (w *walk) asked() {
	if w.l.Page = nil; w.IntN(3) == 0 {
		made := w.now.Add(-time.Duration(w.IntN(30*24)) * time.Hour)
		w.l.Page = &OwnerPage{
			ID: "p", Task: []verification.OwnerTask{verification.TypeCode, verification.SendPaper, verification.TakeCall, verification.FilmIt}[w.IntN(4)],
			MadeAt: made, Opened: w.IntN(2) == 0, Expires: made.AddDate(0, 0, 14),
		}
		if w.IntN(2) == 0 {
			w.l.Page.Letters, w.l.Page.LastLetter = 1+w.IntN(6), &made
		}
	}
}

// ways are how far a listing may have come before anything happens to it.
var ways = [][]verification.Kind{
	nil,
	{"searched", "created"},
	{"searched", "created", "code_asked", "code_sent"},
	{"searched", "created", "code_asked", "code_sent", "code_accepted", "seen_public"},
	{"searched", "created", "code_asked", "code_sent", "code_accepted", "seen_public", "searched", "duplicate_begun"},
	{"searched", "created", "code_asked", "code_sent", "code_accepted", "seen_public", "suspended_there", "appeal_begun", "appeal_refused"},
}

// Whatever happens, in whatever order: a listing wants something of somebody, waits for something that ends, or rests for a
// reason that is so. Nothing is forgotten.
func TestNothingIsForgotten(t *testing.T) {
	kinds := verification.Kinds()
	r := rand.New(rand.NewPCG(11, 17))
	met, rests := map[Kind]bool{}, map[Rest]bool{}
	var books []rulebook.Rulebook
	for _, id := range []string{"fernlook", "waywren", "sound-chamber", "brasswire", "plotline", "candourbox", "fernlook-facts"} {
		book, err := rulebooks.Read(id)
		if err != nil {
			t.Fatal(err)
		}
		books = append(books, book)
	}
	for range 2000 {
		w := &walk{
			Rand: r,
			now:  start,
			l:    Listing{Label: "Minnow Bay", Record: &record.Record{Kind: record.Premises}, Book: &books[r.IntN(len(books))], State: verification.Start()},
		}
		w.l.Record.Address.Locality, w.l.Record.Address.Country, w.l.Record.Address.Region = "Minnow Bay", "US", "WA"
		w.l.Record.State.Kind = []record.StateKind{record.Open, record.Open, record.Open, record.ClosedForATime}[r.IntN(4)]
		for _, kind := range ways[r.IntN(len(ways))] {
			w.happens(t, kind)
		}
		for range 20 {
			kind := kinds[r.IntN(len(kinds))]
			w.happens(t, kind)
			w.asked()
			task, rest := wants(w.l, w.now)
			if rest == "" {
				met[task.Kind] = true
				w.holds(t, kind, task)
			} else {
				rests[rest] = true
				w.rests(t, kind, task, rest)
			}
		}
	}
	for _, k := range []Kind{
		ToSearch, ToDecide, ToWrite, ToBring, ToHandIn, ToVerify, ToAskAgain, CodeAtHand, CodeComes, CodeDue, CodeLate, InReview, ReviewLate, OwnerAsked, OwnerSilent, OwnerSent,
		Unproved, ToShow, ShowLate, Gone, OutOfView, SuspendedNow, Appealed, AppealLate, AppealLost, SuspendedYet, NotTaken, Troubled, Second, SecondTold, SecondLate,
		Elsewhere, AccessAsked, AccessLate, AccessNo, Asking, Unanswered, Turned, AnotherPlace, StaffWrote,
	} {
		if !met[k] {
			t.Errorf("it never came to %q", k)
		}
	}
	for _, rest := range []Rest{InOrder, OnPurpose} {
		if !rests[rest] {
			t.Errorf("nothing ever rested because it is %q", rest)
		}
	}
}

// holds checks a task against the state that it is about.
func (w *walk) holds(t *testing.T, kind verification.Kind, task Task) {
	t.Helper()
	switch ends := task.Window != nil || task.Until != nil || task.Changes != nil || w.l.State.Busy != ""; {
	case task.Kind == "" || task.Title == "" || task.Says == "" || task.Act == "" || !slices.Contains([]Group{Mine, Owner, Directory}, task.Group):
		t.Fatalf("after %s: %+v", kind, task)
	case task.Group == Mine && task.Minutes() == 0:
		t.Fatalf("after %s nobody knows how long it takes: %+v", kind, task)
	case task.Group != Mine && !ends:
		t.Fatalf("after %s it waits for what does not end: %+v", kind, task)
	case task.Group == Mine && task.Kind.MayDecide():
		decided := w.l
		decided.State = w.l.State.After(
			*w.l.Book,
			verification.Event{At: w.now, Actor: "Ines", What: verification.DecidedOn{Matter: string(task.Kind), Cause: task.Cause}},
		)
		if again, rest := wants(decided, w.now); rest == "" && again.Kind == task.Kind && again.Cause == task.Cause {
			t.Fatalf("after %s it was decided on, and is still asked: %+v", kind, again)
		}
		decided.State = decided.State.After(*w.l.Book, verification.Event{At: w.now, What: verification.ReopenedOn{Matter: string(task.Kind), Cause: task.Cause}})
		if again, rest := wants(decided, w.now); rest != "" || again.Kind != task.Kind || again.Cause != task.Cause {
			t.Fatalf("after %s the decision was taken back, and it wants %+v, %q", kind, again, rest)
		}
	}
}

// rests checks why a listing wants nothing.
func (w *walk) rests(t *testing.T, kind verification.Kind, task Task, rest Rest) {
	t.Helper()
	s := w.l.State
	sound := false
	switch rest {
	case InOrder:
		sound = s.Visibility == verification.Public && s.Control == verification.Held && s.VerifiedAt != nil && s.Trouble == "" && s.Busy == "" &&
			s.FromOwner == nil &&
			(s.OpenCase(verification.CaseChange) == nil || s.Change != nil) &&
			s.OpenCase(verification.CaseSuspended) == nil
	case OnPurpose:
		sound = s.Visibility == verification.Withdrawn && task.Changes != nil && task.Changes.After(w.now)
	case Decided:
		sound = len(s.Decisions) > 0
	case NotFor:
		sound = w.l.Book.MayList(*w.l.Record) != ""
	}
	if !sound {
		t.Fatalf("after %s it rests because it is %q, and is %+v", kind, rest, s)
	}
}
