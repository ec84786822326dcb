package rounds_test

import (
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
