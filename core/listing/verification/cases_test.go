package verification

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"
)

func TestCases(t *testing.T) {
	book := fernlook(t) // two appeals in all
	at := func(hours int) time.Time { return start.Add(time.Duration(hours) * time.Hour) }
	public := []Event{
		{At: at(0), What: CreateAsked{}},
		{At: at(0), What: Created{Ref: "n", Page: "/p"}},
		{At: at(0), What: ReviewPassed{}},
		{At: at(1), What: SeenPublic{}},
	}
	begun := func(h int, id string) Event {
		return Event{At: at(h), What: AppealBegun{Ref: id, Text: "Please.", Terms: &Terms{Expires: at(h + 240)}}}
	}
	for _, c := range []struct {
		name   string
		events []Event
		want   string // kind:outcome of each, and where the listing shows
	}{
		{"suspended", []Event{{At: at(5), What: SuspendedThere{Says: "No."}}}, "suspended: suspended"},
		{"told twice", []Event{{At: at(5), What: SuspendedThere{}}, {At: at(6), What: SuspendedThere{}}}, "suspended: suspended"},
		{"gone, then known why", []Event{{At: at(5), What: NotSeen{}}, {At: at(6), What: SuspendedThere{}}}, "removed:won suspended: suspended"},
		{"won", []Event{{At: at(5), What: SuspendedThere{}}, begun(6, "a"), {At: at(8), What: AppealGranted{}}}, "suspended:won publishing"},
		{"refused once", []Event{{At: at(5), What: SuspendedThere{}}, begun(6, "a"), {At: at(8), What: AppealRefused{}}}, "suspended: suspended"},
		{"refused twice", []Event{{At: at(5), What: SuspendedThere{}}, begun(6, "a"), {At: at(8), What: AppealRefused{}}, begun(9, "b"), {At: at(10), What: AppealRefused{Says: "Final."}}}, "suspended:lost suspended"},
		{"won at the second", []Event{{At: at(5), What: SuspendedThere{}}, begun(6, "a"), {At: at(8), What: AppealRefused{}}, begun(9, "b"), {At: at(10), What: AppealGranted{}}}, "suspended:won publishing"},
		{"shows again by itself", []Event{{At: at(5), What: SuspendedThere{}}, {At: at(9), What: SeenPublic{}}}, "suspended:won public"},
		{"given up", []Event{{At: at(5), What: SuspendedThere{}}, {At: at(9), What: CaseDropped{Ref: "1", Says: "Closed."}}}, "suspended:given_up suspended"},
		{"gone and back", []Event{{At: at(5), What: NotSeen{}}, {At: at(9), What: SeenPublic{}}}, "removed:won public"},
		{"twice gone", []Event{{At: at(5), What: NotSeen{}}, {At: at(9), What: SeenPublic{}}, {At: at(10), What: NotSeen{}}}, "removed:won removed: removed"},
		{"a change refused", []Event{{At: at(5), What: ChangeFailed{Says: "No."}}}, "refused_change: public"},
		{"and taken", []Event{{At: at(5), What: ChangeFailed{}}, {At: at(9), What: ChangePassed{}}}, "refused_change:won public"},
		{"duplicates", []Event{{At: at(5), What: DuplicateBegun{Ref: "x", Terms: &Terms{}}}, {At: at(5), What: DuplicateBegun{Ref: "y", Terms: &Terms{}}}, {At: at(6), What: DuplicateGone{Ref: "y"}}, {At: at(7), What: DuplicateStays{Ref: "x"}}}, "duplicate:lost duplicate:won public"},
	} {
		s := Derive(book, append(public[:len(public):len(public)], c.events...))
		var got []string
		for _, x := range s.Cases {
			got = append(got, fmt.Sprintf("%s:%s", x.Kind, x.Outcome))
		}
		if all := strings.Join(append(got, string(s.Visibility)), " "); all != c.want {
			t.Errorf("%s: %s, want %s", c.name, all, c.want)
		}
	}
	held := Derive(
		book,
		[]Event{{At: at(0), What: ClaimRefused{HeldBy: "somebody"}}, {At: at(1), What: AccessBegun{Ref: "r"}}, {At: at(9), What: AccessGranted{}}},
	)
	if len(held.Cases) != 1 || held.Cases[0].Kind != CaseHeld || held.Cases[0].Outcome != Won {
		t.Errorf("%+v", held.Cases)
	}
}

// draws is how many cases a law draws: a quarter where tests are to be short.
func draws(all int) int {
	if testing.Short() {
		return all / 4
	}
	return all
}

// Whatever happens: of one trouble there is one open case, what has ended stays so, an
// appeal waits only in an open case, and no earlier state is changed.
func TestCasesKeepTheirLaws(t *testing.T) {
	book := fernlook(t)
	kinds := strings.Fields(
		`created review_passed seen_public not_seen suspended_there appeal_asked appeal_begun appeal_waiting appeal_granted appeal_refused appeal_failed case_dropped change_failed change_passed duplicate_begun duplicate_gone duplicate_stays claim_refused claim_granted sent`,
	)
	r := rand.New(rand.NewPCG(3, 9))
	for range draws(400) {
		s := Start()
		for i := range 40 {
			e := kept(
				t,
				start.Add(time.Duration(i)*time.Hour),
				Kind(kinds[r.IntN(len(kinds))]),
				facts{"ref": fmt.Sprint(r.IntN(3)), "held_by": "x", "terms": Terms{Expires: start}, "met": Met{}},
			)
			was, before := s, fmt.Sprintf("%+v", s.Cases)
			s = s.After(book, e)
			if after := fmt.Sprintf("%+v", was.Cases); len(after) != len(before) {
				t.Fatalf("%s changes an earlier state", e.Kind())
			}
			open := map[string]int{}
			for j, c := range s.Cases {
				if c.Open() {
					open[string(c.Kind)+c.Other]++
				}
				if c.Open() != (c.Outcome == "") || !c.Open() && c.Waiting() != nil && c.Outcome == LostIt {
					t.Fatalf("after %s: %+v", e.Kind(), c)
				}
				if j < len(was.Cases) && !was.Cases[j].Open() && s.Cases[j].Outcome != was.Cases[j].Outcome {
					t.Fatalf("%s opens what had ended", e.Kind())
				}
			}
			for kind, n := range open {
				if n > 1 {
					t.Fatalf("after %s %d cases of %s are open", e.Kind(), n, kind)
				}
			}
			if s.Visibility == Public && (s.OpenCase(CaseSuspended) != nil || s.OpenCase(CaseRemoved) != nil) {
				t.Fatalf("after %s it is public and in trouble", e.Kind())
			}
			for _, d := range s.Deadlines(book) {
				if d.Kind == AskAppeal && s.OpenCase(CaseSuspended).Waiting() == nil {
					t.Fatalf("after %s an appeal is asked after that nobody made", e.Kind())
				}
			}
		}
	}
}
