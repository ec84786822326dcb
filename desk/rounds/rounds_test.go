package rounds_test

import (
	"uvent/core/reckon/agenda"
	"uvent/core/rule/rulebook"
	"uvent/desk/records"

	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/desk/rounds"
	"uvent/e2e/rig"
	"uvent/outside/visit"
)

// finished waits until a round has nothing left to do, and counts its lines by state.
func finished(t *testing.T, r *rig.Rig, id uuid.UUID) (map[string]int, rounds.Round) {
	t.Helper()
	for range 1200 {
		round, err := r.Desk.Rounds.Round(t.Context(), id)
		rig.Must(t, err)
		count := map[string]int{}
		for _, l := range round.Lines {
			count[l.State]++
		}
		if count["waiting"]+count["asked"] == 0 {
			return count, round
		}
		time.Sleep(50 * time.Millisecond)
	}
	t.Fatal("the round never ends")
	return nil, rounds.Round{}
}

// Many are searched, and many verified, each in the way that is best for it; what cannot
// be done is told first.
// A round says what its own search came to, and not what an earlier one found.
func TestARoundThatIsNotAnswered(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	r.Answered(t, at)(r.Desk.Listings.Search(ctx, r.Who.Actor(), at)) // nothing like it is there
	rig.Must(t, r.World.Misbehave(ctx, visit.Faults{FailPercent: 100}))
	id, err := r.Desk.Rounds.StartRound(ctx, r.Who.Actor(), rounds.ToSearch, []rounds.RoundItem{{Place: at}})
	rig.Must(t, err)
	line := func() rounds.RoundLine {
		round, err := r.Desk.Rounds.Round(ctx, id)
		rig.Must(t, err)
		return round.Lines[0]
	}
	r.Eventually(t, func() bool { return line().State == "asked" && strings.Contains(line().Says, "does not answer") })
	rig.Must(t, r.Desk.Ledger.StopAsking(ctx, r.Who.Actor(), at))
	if l := line(); l.State != "refused" || !strings.Contains(l.Says, "is not asked any more") {
		t.Errorf("%+v", l)
	}
}

func TestRounds(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "murmurhall"), t.Context()
	who := r.Who.Actor()
	rig.Must(t, r.World.Misbehave(ctx, visit.Faults{FailPercent: 20}))
	var places []ledger.Place
	for i := range 6 {
		rec := rig.Shop(fmt.Sprint("Town ", i))
		rec.Name = fmt.Sprint("Spokeshave ", i)
		places = append(places, r.Add(t, rec))
	}
	list, err := r.Desk.Boards.ProposeRound(ctx, ledger.Scope{}, rounds.ToSearch)
	rig.Must(t, err)
	if len(list) != 12 {
		t.Fatalf("%d can be searched", len(list))
	}
	var items []rounds.RoundItem
	for _, p := range list {
		items = append(items, rounds.RoundItem{Place: p.Place})
	}
	id, err := r.Desk.Rounds.StartRound(ctx, who, rounds.ToSearch, append(items, items[0])) // one twice is one
	rig.Must(t, err)
	if count, _ := finished(t, r, id); count["done"] != 12 {
		t.Errorf("searched: %v", count)
	}
	if list, err = r.Desk.Boards.ProposeRound(ctx, ledger.Scope{}, rounds.ToSearch); err != nil || len(list) != 0 {
		t.Errorf("%d are still to be searched, %v", len(list), err)
	}
	rig.Must(t, r.World.Misbehave(ctx, visit.Faults{}))
	for _, p := range places[:5] {
		r.Answered(t, p)(r.Desk.Listings.Create(ctx, who, p, ""))
	}
	rig.Must(t, r.World.Misbehave(ctx, visit.Faults{FailPercent: 20}))
	list, err = r.Desk.Boards.ProposeRound(ctx, ledger.Scope{}, rounds.ToVerify)
	rig.Must(t, err)
	items = nil
	for _, p := range list {
		if p.Why != "" || p.Way.Method == "" || p.Way.Days <= 0 {
			t.Errorf("%+v", p)
		}
		items = append(items, rounds.RoundItem{Place: p.Place, Method: p.Way.Method})
	}
	if len(list) != 5 {
		t.Fatalf("%d can be verified", len(list))
	}
	items = append(items, rounds.RoundItem{Place: places[5]})
	id, err = r.Desk.Rounds.StartRound(ctx, who, rounds.ToVerify, items)
	rig.Must(t, err)
	count, round := finished(t, r, id)
	if count["done"] != 5 || count["left"] != 1 {
		t.Errorf("verified: %v, %+v", count, round.Lines)
	}
	for _, p := range places[:5] {
		if s := r.State(t, p); len(s.Attempts) != 1 || !s.Attempt().Live() && s.Attempt().State != verification.AttemptReview {
			t.Errorf("%+v", s.Attempts)
		}
	}
	_, codes, err := r.World.Count(ctx)
	if rig.Must(t, err); codes != 5 {
		t.Errorf("%d codes were sent", codes)
	}
	// One that is under way is not asked again.
	id, err = r.Desk.Rounds.StartRound(ctx, who, rounds.ToVerify, items[:1])
	rig.Must(t, err)
	if count, round = finished(t, r, id); count["left"] != 1 || round.Lines[0].Says != "A proof is under way there already." {
		t.Errorf("%+v", round.Lines)
	}
	rig.Must(t, r.Desk.Rounds.StopRound(ctx, id))
	_, err = r.Desk.Rounds.StartRound(ctx, who, rounds.ToVerify, nil)
	rig.Refused(t, err, problem.Invalid, "Choose at least one listing.")
	_, err = r.Desk.Rounds.Round(ctx, uuid.New())
	rig.Refused(t, err, problem.NotFound, "no such round")
}

// A round rings nobody: calls are booked in each shop's hours, no two at once, and their owners told before.
func TestCallsAreBooked(t *testing.T) {
	r, ctx := rig.Start(t, "hithermap"), t.Context()
	who := r.Who.Actor()
	var items []rounds.RoundItem
	for i, email := range []string{"dov@spokeshave.example", "ida@spokeshave.example", ""} {
		rec := rig.Shop(fmt.Sprint("Town ", i))
		rec.Name, rec.Phones[0].E164 = fmt.Sprint("Spokeshave ", i), fmt.Sprintf("+1360555014%d", i)
		c, err := r.Desk.Records.AddClient(ctx, who, records.ClientFacts{Name: fmt.Sprint("Client ", i), OwnerName: "Dov Marsh", OwnerEmail: email})
		rig.Must(t, err)
		l, err := r.Desk.Records.AddLocation(ctx, who, c.ID, rec)
		rig.Must(t, err)
		at := ledger.Place{Location: l.ID, Directory: "hithermap"}
		r.Held(t, at)
		items = append(items, rounds.RoundItem{Place: at})
	}
	verify := func() []rounds.RoundLine {
		t.Helper()
		id, err := r.Desk.Rounds.StartRound(ctx, who, rounds.ToVerify, items)
		rig.Must(t, err)
		_, round := finished(t, r, id)
		return round.Lines
	}
	lines := verify()
	if lines[0].State != "booked" || lines[1].State != "booked" || !strings.Contains(lines[0].Says, "the owner is told") || lines[0].Says == lines[1].Says {
		t.Fatalf("%+v", lines)
	}
	if l := lines[2]; l.State != "left" || !strings.Contains(l.Says, "whose email is not known yet") {
		t.Errorf("%+v", l)
	}
	if _, codes, err := r.World.Count(ctx); err != nil || codes != 0 {
		t.Errorf("%d were called at once, %v", codes, err)
	}
	var calls []time.Time
	for i, at := range items[:2] {
		v, err := r.Desk.Boards.Listing(ctx, at.Place)
		rig.Must(t, err)
		call := v.Links[0].CallAt
		if v.Task.Kind != agenda.OwnerAsked || call.Sub(r.Desk.Now()) < 19*time.Hour || v.Links[0].MadeFrom != r.Who.Email {
			t.Errorf("%+v, at %v by %s", v.Task, call, v.Links[0].MadeFrom)
		}
		if day := call.In(rig.Pacific); day.Hour() < 9 || day.Hour() >= 18 || day.Day() == 26 { // a public holiday, of which nobody has said anything
			t.Errorf("it is called %v", day)
		}
		calls = append(calls, *call)
		to := []string{"dov@spokeshave.example", "ida@spokeshave.example"}[i]
		r.Eventually(t, func() bool {
			mails, err := r.World.Arrivals(ctx, to)
			return err == nil && len(mails) == 1 && strings.Contains(mails[0].Body, "The call comes")
		})
	}
	if calls[0].Sub(calls[1]).Abs() < 30*time.Minute {
		t.Errorf("they come at %v", calls)
	}
	for _, l := range verify()[:2] {
		if l.State != "left" || !strings.Contains(l.Says, "asked to take a call already") {
			t.Errorf("again: %+v", l)
		}
	}
	later := calls[0]
	if calls[1].After(later) {
		later = calls[1]
	}
	r.Move(t, later.Add(time.Minute).Sub(r.Desk.Now()))
	for _, at := range items[:2] {
		r.Eventually(t, func() bool {
			st := r.State(t, at.Place)
			a := st.Attempt()
			return a != nil && a.Method == rulebook.Call
		})
	}
}
