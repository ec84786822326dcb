package boards_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/desk/rounds"
	"uvent/desk/sightings"
	"uvent/e2e/rig"
	"uvent/store/storetest"
)

// differing lists a scope's differences of a standing, as "directory fact mark seen, of source".
func differing(t *testing.T, r *rig.Rig, standing string) (out []string, all boards.Differences) {
	t.Helper()
	all, err := r.Desk.Boards.Differences(t.Context(), ledger.Scope{}, boards.DifferenceFilter{Standings: []string{standing}})
	rig.Must(t, err)
	for _, d := range all.Rows {
		out = append(out, fmt.Sprintf("%s %s %s %s, of %s", d.Directory, d.Kept.Fact, d.Kept.Mark, d.Kept.Seen, d.Kept.Source))
	}
	return out, all
}

// From a page that somebody changed to one that is right again: it is found by the next look, told with its cost and since
// when, accepted for as long as it shows the same, and sent.
func TestADifferenceFromItsBeginningToItsEnd(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	r.Held(t, at)
	r.Verified(t, at)
	r.Move(t, 9*24*time.Hour)
	if s := r.State(t, at); s.Visibility != verification.Public || s.Shown["phone"].After != nil || s.Shown["phone"].From.IsZero() {
		t.Fatalf("it is not looked at: %+v", s)
	}
	if open, all := differing(t, r, boards.StandingOpen); open != nil || all.Agree != 1 {
		t.Fatalf("a page that shows the record differs: %v, %v", open, all)
	}
	edit := func(phone string) {
		t.Helper()
		_, err := storetest.Owner(t, r.Store).Exec(ctx, `update outside.listing set facts = facts || jsonb_build_object('phone', $1::text)`, phone)
		rig.Must(t, err)
		rig.Must(t, r.Desk.Sightings.Look(ctx, who, at))
	}
	is := func(standing string, want ...string) boards.Differences {
		t.Helper()
		got, all := differing(t, r, standing)
		if fmt.Sprint(got) != fmt.Sprint(want) {
			t.Fatalf("%s: %v, want %v", standing, got, want)
		}
		return all
	}
	events := func() int {
		t.Helper()
		list, err := r.Desk.Ledger.Events(ctx, at)
		rig.Must(t, err)
		return len(list)
	}
	const wrong = "fernlook phone ≠ (360) 555-0199, of fernlook"
	r.Move(t, 24*time.Hour)
	edit("+13605550199")
	all := is(boards.StandingOpen, wrong)
	if d := all.Rows[0].Kept; d.SinceAfter == nil || d.Since == nil || !d.SinceAfter.Before(*d.Since) || d.People < 1 || all.People != d.People || all.Pages != 1 {
		t.Errorf("%+v of %+v", d, all)
	}
	if all.Agree > 0.7 || all.Agree < 0.6 || len(all.Parts) != 1 || all.Parts[0].Phone != 0 || all.Parts[0].Name != 1 {
		t.Errorf("two of three agree: %+v", all)
	}
	// Another look that sees the same keeps the time, and what it saw once.
	before := events()
	r.Move(t, time.Hour)
	rig.Must(t, r.Desk.Sightings.Look(ctx, who, at))
	if again := is(boards.StandingOpen, wrong); !again.Rows[0].Kept.Since.Equal(*all.Rows[0].Kept.Since) {
		t.Errorf("it began anew: %+v", again.Rows[0].Kept)
	}
	list, err := r.Desk.Ledger.Events(ctx, at)
	rig.Must(t, err)
	if last, ok := list[len(list)-1].What.(verification.SeenPublic); len(list) != before+1 || !ok || !last.Same || last.Sighting != nil {
		t.Errorf("what was seen is kept again: %+v", list[len(list)-1])
	}

	one := []sightings.Differing{{Place: at, Fact: "phone"}}
	rig.Refused(t, r.Desk.Sightings.Accept(ctx, who, one, " ", nil), problem.Invalid, "Say why")
	rig.Refused(t, r.Desk.Sightings.Accept(ctx, who, one, "So.", &calendar.Date{Year: 2020, Month: 1, Day: 1}), problem.Invalid, "is past")
	rig.Refused(t, r.Desk.Sightings.Accept(ctx, who, []sightings.Differing{{Place: at, Fact: "name"}}, "So.", nil), problem.NotFound, "gone meanwhile")
	rig.Refused(t, r.Desk.Sightings.TakeUp(ctx, who, one), problem.Conflict, "not accepted")
	rig.Must(t, r.Desk.Sightings.Accept(ctx, who, one, "The owner’s other line.", nil))
	is(boards.StandingOpen)
	is(boards.StandingAccepted, wrong)
	edit("+13605550198") // it was not this that was accepted
	is(boards.StandingAccepted)
	is(boards.StandingOpen, "fernlook phone ≠ (360) 555-0198, of fernlook")
	rig.Must(t, r.Desk.Sightings.Accept(ctx, who, one, "For now.", new(calendar.DateOf(r.Desk.Now()).Add(3))))
	is(boards.StandingOpen)
	rig.Must(t, r.Desk.Sightings.TakeUp(ctx, who, one))
	is(boards.StandingOpen, "fernlook phone ≠ (360) 555-0198, of fernlook")

	sendAndWait(t, r, at, []string{"phone"})
	is(boards.StandingOpen)
	is(boards.StandingSent, "fernlook phone ≠ (360) 555-0198, of fernlook")
	r.Move(t, 6*24*time.Hour) // past its review, and past the night's look
	is(boards.StandingSent)
	is(boards.StandingOpen)
	if s := r.State(t, at); s.Sighting.Phone != "+13605550142" {
		t.Errorf("it shows %+v", s.Sighting)
	}
}

// sendAndWait sends facts of a listing in a round, and waits until it was asked.
func sendAndWait(t *testing.T, r *rig.Rig, at ledger.Place, facts []string) {
	t.Helper()
	id, err := r.Desk.Rounds.StartRound(t.Context(), r.Who.Actor(), rounds.ToSend, []rounds.RoundItem{{Place: at, Facts: facts}})
	rig.Must(t, err)
	r.Eventually(t, func() bool {
		round, err := r.Desk.Rounds.Round(context.Background(), id)
		rig.Must(t, err)
		if s := round.Lines[0].State; s == "left" || s == "refused" {
			t.Fatalf("%+v", round.Lines[0])
		}
		return round.Lines[0].State == "done"
	})
}

// What somebody tells of a page lies over what is known: of facts that they did not speak of nothing is changed.
func TestWhatSomebodySawIsKept(t *testing.T) {
	r, ctx := rig.Start(t, "lanefolk"), t.Context()
	who := r.Who.Actor()
	at := rig.On(r.Add(t, rig.Shop("Minnow Bay")), "lanefolk")
	tell := func(x sightings.Telling) error { return r.Desk.Sightings.Tell(ctx, who, at, x) }
	typed := func(facts map[string]string) sightings.Telling {
		return sightings.Telling{Source: verification.Typed, Facts: facts}
	}
	rig.Must(t, tell(typed(map[string]string{"phone": "(360) 555-0199", "opening_hours": "Mon to Fri 9 to 5"})))
	s := r.State(t, at)
	if s.Visibility != verification.Public || s.Sighting.Phone != "(360) 555-0199" || s.Sighting.Hours != "Mo-Fr 09:00-17:00" || s.LookedAt != nil {
		t.Fatalf("%+v", s.Sighting)
	}
	open, all := differing(t, r, boards.StandingOpen)
	if fmt.Sprint(open) != "[lanefolk phone ≠ (360) 555-0199, of lanefolk lanefolk hours ≠ Mon–Fri 9–17, of lanefolk]" || all.Rows[0].Kept.Since == nil {
		t.Errorf("%v", open)
	}
	// What is pasted says more; the phone stays as it was told.
	rig.Must(
		t,
		tell(
			sightings.Telling{
				Source: verification.Pasted,
				Text:   "Spokeshave Cycle Works\n18 Tern St, Minnow Bay, WA 98990\nAddress: 18 Tern St, Minnow Bay, WA 98990\nWebsite: old.example",
			},
		),
	)
	if s = r.State(
		t,
		at,
	); s.Sighting.Phone != "(360) 555-0199" || s.Sighting.Name != "Spokeshave Cycle Works" || s.Sighting.Website != "https://old.example" ||
		s.Sighting.Says("category") {
		t.Errorf("%+v", s.Sighting)
	}
	rig.Must(t, tell(typed(map[string]string{"phone": "+13605550142"})))
	if open, _ = differing(t, r, boards.StandingOpen); len(open) != 2 {
		t.Errorf("the phone is right, and there are %v", open)
	}
	rig.Refused(t, tell(typed(nil)), problem.Invalid, "at least one fact")
	rig.Refused(t, tell(typed(map[string]string{"fax": "1"})), problem.Invalid, "no fact that a page can show")
	rig.Refused(t, tell(sightings.Telling{Source: verification.Pasted, Text: "hello"}), problem.Invalid, "No business can be read")
	rig.Refused(t, tell(sightings.Telling{Source: "heard"}), problem.Invalid, "typed or pasted")
}
