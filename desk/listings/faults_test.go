package listings_test

import (
	"strings"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/e2e/rig"
	"uvent/outside/visit"
)

var slow = visit.Faults{SlowMS: 300}

// Whatever is lost on the way, what was asked once is done once.
func TestNothingIsDoneTwiceWhenAnswersAreLost(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	rig.Must(t, r.World.Misbehave(ctx, visit.Faults{FailPercent: 25, LosePercent: 25}))
	who := r.Who.Actor()
	settled := func(at ledger.Place, what verification.Kind) verification.State {
		t.Helper()
		for tries := range 2400 { // a run of bad luck takes a while, since the tries grow apart
			if s := r.State(t, at); s.Busy == "" {
				return s
			}
			if tries%40 == 39 { // and it is then left alone
				rig.Must(t, r.Desk.Doors.TryNow(ctx, at.Directory))
			}
			time.Sleep(25 * time.Millisecond)
		}
		t.Fatalf("%s is not answered", what)
		return verification.State{}
	}
	towns := []string{"Minnow Bay", "Port Sable", "Three Herons", "Larkspur Falls"}
	for _, town := range towns {
		at := r.Add(t, rig.Shop(town))
		_, err := r.Desk.Listings.Search(ctx, who, at)
		rig.Must(t, err)
		settled(at, verification.SearchAsked{}.Kind())
		_, err = r.Desk.Listings.Create(ctx, who, at, "")
		rig.Must(t, err)
		if s := settled(at, verification.CreateAsked{}.Kind()); s.Control != verification.Held {
			t.Fatalf("%s: %+v", town, s)
		}
		_, err = r.Desk.Listings.AskCode(ctx, who, at, rulebook.Postcard)
		rig.Must(t, err)
		if s := settled(at, verification.CodeAsked{}.Kind()); s.Verification != verification.CodeOnItsWay {
			t.Fatalf("%s: %+v", town, s)
		}
	}
	listings, codes, err := r.World.Count(ctx)
	if err != nil || listings != len(towns) || codes != len(towns) {
		t.Errorf("the outside made %d listings and %d codes for %d locations, %v", listings, codes, len(towns), err)
	}
}

func TestADirectoryThatDoesNotAnswer(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	rig.Must(t, r.World.Misbehave(ctx, visit.Faults{FailPercent: 100}))
	call, err := r.Desk.Listings.Search(ctx, r.Who.Actor(), at)
	rig.Must(t, err)
	if done, err := r.Desk.Ledger.Await(ctx, call); err != nil || done {
		t.Fatalf("answered: %v, %v", done, err)
	}
	_, err = r.Desk.Listings.Search(ctx, r.Who.Actor(), at)
	rig.Refused(t, err, problem.Conflict, "is being asked already")
	for range 2000 {
		if r.State(t, at).Trouble != "" {
			break
		}
		time.Sleep(20 * time.Millisecond)
	}
	if s := r.State(t, at); s.Trouble != "Fernlook does not answer. Uvent keeps asking; you need do nothing." {
		t.Fatalf("it says %q", s.Trouble)
	}
	rig.Must(t, r.Desk.Ledger.StopAsking(ctx, r.Who.Actor(), at))
	if s := r.State(t, at); s.Busy != "" || !strings.Contains(s.Trouble, "is not asked any more") {
		t.Errorf("stopped, it is busy with %q and says %q", s.Busy, s.Trouble)
	}
	rig.Refused(t, r.Desk.Ledger.StopAsking(ctx, r.Who.Actor(), at), problem.NotFound, "Nothing is being asked")
	_, err = r.Desk.Listings.Search(ctx, r.Who.Actor(), at)
	rig.Must(t, err)
	rig.Must(t, r.World.Misbehave(ctx, visit.Faults{}))
	rig.Must(t, r.Desk.Doors.TryNow(ctx, at.Directory))
	for range 2400 { // a run of bad luck takes a while, since the tries grow apart
		if s := r.State(t, at); s.Busy == "" && s.SearchedAt != nil {
			return
		}
		time.Sleep(25 * time.Millisecond)
	}
	t.Fatal("it is not asked again")
}
