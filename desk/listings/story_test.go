package listings_test

import (
	"strings"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/core/record/match"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/desk/boards"
	"uvent/desk/clockwork"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/e2e/rig"
	"uvent/outside/visit"
)

func TestFromASearchToAPublicListing(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	who := r.Who.Actor()

	_, err := r.Desk.Listings.Create(ctx, who, at, "")
	rig.Refused(t, err, problem.Conflict, "Search Fernlook first")
	if s := r.Answered(t, at)(r.Desk.Listings.Search(ctx, who, at)); s.SearchedAt == nil || len(s.Candidates) != 0 {
		t.Fatalf("searched: %+v", s)
	}
	if s := r.Answered(t, at)(r.Desk.Listings.Create(ctx, who, at, "")); s.Control != verification.Held || s.Visibility != verification.Hidden {
		t.Fatalf("created: %+v", s)
	}
	_, err = r.Desk.Listings.Search(ctx, who, at)
	rig.Refused(t, err, problem.Conflict, "hold this listing already")

	s := r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, who, at, rulebook.Postcard))
	a := s.Attempt()
	if s.Verification != verification.CodeOnItsWay || a.Window.Earliest.String() != "2026-12-03" || a.Window.Latest.String() != "2026-12-11" {
		t.Fatalf("asked: %+v", a)
	}
	if _, err := r.World.Code(ctx, "18 Tern Street"); err == nil {
		t.Fatal("the postcard is there at once")
	}
	r.Move(t, 17*24*time.Hour)
	code, err := r.World.Code(ctx, "18 Tern Street")
	rig.Must(t, err)
	rig.Must(t, r.Desk.Listings.Arrived(ctx, who, at, a.ID))
	if s := r.State(t, at); s.Verification != verification.CodeAtHand {
		t.Fatalf("arrived: %+v", s)
	}
	s = r.Answered(t, at)(r.Desk.Listings.EnterCode(ctx, who, at, a.ID, code[:3]+" "+code[3:]))
	if s.Verification != verification.Verified || s.Visibility != verification.Publishing {
		t.Fatalf("verified is not public: %+v", s)
	}
	r.Move(t, 6*24*time.Hour)
	if s := r.State(t, at); s.Visibility != verification.Public || s.Sighting == nil || s.Sighting.Name != "Spokeshave Cycle Works" {
		t.Fatalf("looked again: %+v", s)
	}
	v, err := r.Desk.Boards.Listing(ctx, at)
	rig.Must(t, err)
	for _, f := range v.Facts {
		if f.Mark == "≠" || f.Mark == "∅" {
			t.Errorf("what we sent comes back otherwise: %+v", f)
		}
	}
	if today, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{})); err != nil || len(today) != 0 {
		t.Errorf("a public listing asks for %+v, %v", today, err)
	}
	var said []string
	for _, e := range v.History {
		said = append(said, e.Tell(*v.Book))
	}
	for _, want := range []string{"Searched Fernlook.", "Found nothing like it.", "Created a listing", "The code is in hand.", "verified", "does not show", "is public"} {
		if !strings.Contains(strings.Join(said, "\n"), want) {
			t.Errorf("the history does not say %q:\n%s", want, strings.Join(said, "\n"))
		}
	}
	// The present is what the events come to.
	if again := verification.Derive(
		*v.Book,
		v.History,
	); again.Visibility != v.State.Visibility || again.Control != v.State.Control || again.Verification != v.State.Verification ||
		len(again.Attempts) != 1 {
		t.Errorf("derived anew: %+v", again)
	}
}

func TestClaimWhatIsThere(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	free, err := r.World.Place(
		ctx,
		"fernlook",
		"",
		visit.Facts{"name": "Spokeshave Cycles", "street": "18 Tern St", "locality": "Minnow Bay", "region": "WA", "postal_code": "98990",
			"country": "US", "phone": "+13605550142", "category": "Bike store", "hours": "Tu-Fr 09:00-18:00"},
	)
	rig.Must(t, err)
	held, err := r.World.Place(
		ctx,
		"fernlook",
		"maps@northlightmedia.example",
		visit.Facts{"name": "Spokeshave Cycle Works", "street": "2 Mill Lane", "locality": "Quillcote", "region": "WA",
			"country": "US", "category": "Bike store"},
	)
	rig.Must(t, err)

	at := r.Add(t, rig.Shop("Minnow Bay"))
	s := r.Answered(t, at)(r.Desk.Listings.Search(ctx, who, at))
	if len(s.Candidates) != 1 || s.Candidates[0].Ref != free || s.Candidates[0].Verdict == match.Unlikely || len(s.Candidates[0].Reasons) < 3 {
		t.Fatalf("found %+v", s.Candidates)
	}
	_, err = r.Desk.Listings.Claim(ctx, who, at, held)
	rig.Refused(t, err, problem.Conflict, "search again")
	if s = r.Answered(t, at)(r.Desk.Listings.Claim(ctx, who, at, free)); s.Control != verification.Held || s.Ref != free {
		t.Fatalf("claimed: %+v", s)
	}

	elsewhere := rig.Shop("Quillcote")
	elsewhere.Address.Street = "2 Mill Lane"
	at = r.Add(t, elsewhere)
	s = r.Answered(t, at)(r.Desk.Listings.Search(ctx, who, at))
	if len(s.Candidates) == 0 || s.Candidates[0].Status != verification.HeldElse {
		t.Fatalf("found %+v", s.Candidates)
	}
	s = r.Answered(t, at)(r.Desk.Listings.Claim(ctx, who, at, held))
	if s.Control != verification.HeldByAnother || s.HeldBy != "ma…@northlightmedia.example" {
		t.Fatalf("claimed: %+v", s)
	}
	today, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{Location: &at.Location}, boards.TodayPage{}))
	if err != nil || len(today) != 1 || today[0].Task.Group != agenda.Mine {
		t.Errorf("today: %+v, %v", today, err)
	}
}

func TestWhenTheWindowPassesItIsATask(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	s := r.Held(t, at)
	rig.Must(t, r.World.Late(ctx, s.Ref, 10))
	s = r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Text))
	code, err := r.World.Code(ctx, "+13605550142")
	rig.Must(t, err)
	r.Answered(t, at)(r.Desk.Listings.EnterCode(ctx, r.Who.Actor(), at, s.Attempt().ID, code))
	r.Move(t, 8*24*time.Hour)
	today, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{}))
	if err != nil || len(today) != 1 || today[0].Task.Act != agenda.LookAgain || today[0].Task.Group != agenda.Mine {
		t.Fatalf("today: %+v, %v", today, err)
	}
	rig.Must(t, r.Desk.Sightings.Look(ctx, r.Who.Actor(), at))
	if s := r.State(t, at); s.Visibility != verification.Publishing {
		t.Errorf("looked by hand: %+v", s)
	}
	r.Move(t, 9*24*time.Hour)
	if s := r.State(t, at); s.Visibility != verification.Public {
		t.Errorf("it shows at last: %s", s.Visibility)
	}
}

func TestWaysThatAreShut(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	silent := rig.Shop("Minnow Bay")
	silent.Phones = []record.Phone{{E164: "+13605550142", Voice: true}}
	silent.Email = "shop@tidemail.example"
	at := r.Add(t, silent)
	r.Held(t, at)
	_, err := r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Text)
	rig.Refused(t, err, problem.Conflict, "No phone in the record takes text messages.")
	_, err = r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Email)
	rig.Refused(t, err, problem.Conflict, "not on the website's domain")
	r.Move(t, 3*time.Hour) // 12:12, the lunch break
	_, err = r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Call)
	rig.Refused(t, err, problem.Conflict, "Next open today 13:00–18:00")
	r.Move(t, time.Hour)
	if s := r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Call)); s.Verification != verification.CodeAtHand {
		t.Errorf("called: %+v", s)
	}
	// Fernlook does not offer Cinder Point texts today, though the rulebook would.
	at = r.Add(t, rig.Shop("Cinder Point"))
	r.Held(t, at)
	_, err = r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Text)
	rig.Refused(t, err, problem.Conflict, "does not offer it today")
}

func TestWhatCannotBeListedOrCreated(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	bare := rig.Shop("Minnow Bay")
	bare.Category = ""
	at := r.Add(t, bare)
	r.Answered(t, at)(r.Desk.Listings.Search(ctx, r.Who.Actor(), at))
	_, err := r.Desk.Listings.Create(ctx, r.Who.Actor(), at, "")
	rig.Refused(t, err, problem.Conflict, "no category")
	abroad := rig.Shop("Elsewhere")
	abroad.Address.Country, abroad.Zone, abroad.Phones = "FR", "Europe/Paris", nil
	at = r.Add(t, abroad)
	_, err = r.Desk.Listings.Search(ctx, r.Who.Actor(), at)
	rig.Refused(t, err, problem.Conflict, "does not list locations in FR")
	_, err = r.Desk.Listings.Search(ctx, r.Who.Actor(), ledger.Place{Location: at.Location, Directory: "nowhere"})
	rig.Refused(t, err, problem.NotFound, "no directory")
	rig.Must(t, r.Store.Pool.Ping(ctx))
	err = r.Desk.Sightings.Look(ctx, r.Who.Actor(), at)
	rig.Refused(t, err, problem.NotFound, "no listing there yet")
}

func TestTheClockMoves(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	rig.Refused(t, r.Desk.MoveClock(ctx, clockwork.Move{NextEvent: true}), problem.Conflict, "Nothing is due")
	rig.Refused(t, r.Desk.MoveClock(ctx, clockwork.Move{}), problem.Invalid, "Say how far")
	back, far := rig.Begins.Add(-time.Hour), rig.Begins.AddDate(3, 0, 0)
	rig.Refused(t, r.Desk.MoveClock(ctx, clockwork.Move{To: &back}), problem.Invalid, "only goes forward")
	rig.Refused(t, r.Desk.MoveClock(ctx, clockwork.Move{To: &far}), problem.Invalid, "400 days")
	before := r.Desk.Now()
	rig.Must(t, r.Desk.MoveClock(ctx, clockwork.Move{Day: true}))
	if moved := r.Desk.Now().Sub(before); moved < 24*time.Hour || moved > 24*time.Hour+time.Minute {
		t.Errorf("a day is %v", moved)
	}
	at := r.Add(t, rig.Shop("Minnow Bay"))
	r.Held(t, at)
	r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Postcard))
	rig.Must(t, r.Desk.MoveClock(ctx, clockwork.Move{NextEvent: true}))
	if _, err := r.World.Code(ctx, "18 Tern Street"); err != nil {
		t.Errorf("the next event is the postcard: %v", err)
	}
}

// A location is looked for by all that it is or was called, and where it was before.
func TestSearchingByAllThatIsKnown(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	rec := rig.Shop("Minnow Bay")
	rec.LegalName, rec.FormerNames = "Marsh Wheel Holdings LLC", []string{"The Penny Farthing"}
	rec.Phones = append(rec.Phones, record.Phone{E164: "+13605550177", Voice: true})
	at := r.Add(t, rec)
	moved := rec
	moved.Address.Street, moved.Address.Locality, moved.Address.PostalCode = "4 Kelp Lane", "Quillcote", "98992"
	moved.Former = []string{"7 Rope Walk, Port Sable, WA 98991", "18 Tern St., Minnow Bay, WA 98990", "9 Mill Lane"}
	_, err := r.Desk.Records.SaveLocation(ctx, who, at.Location, 1, moved)
	rig.Must(t, err)
	old := visit.Facts{
		"name":     "Spokeshave Cycle Works",
		"street":   "18 Tern St",
		"locality": "Minnow Bay",
		"region":   "WA",
		"country":  "US",
		"category": "Bike store",
	}
	ref, err := r.World.Place(ctx, "fernlook", "", old)
	rig.Must(t, err)
	byPhone, err := r.World.Place(
		ctx,
		"fernlook",
		"",
		visit.Facts{"name": "Penny Farthing", "street": "4 Kelp Lane", "locality": "Quillcote", "region": "WA", "country": "US", "phone": "+13605550177"},
	)
	rig.Must(t, err)
	s := r.Answered(t, at)(r.Desk.Listings.Search(ctx, who, at))
	if len(s.Candidates) != 2 || s.Candidates[0].Ref != byPhone || s.Candidates[1].Ref != ref || s.Candidates[1].Verdict != match.Probably {
		t.Fatalf("%+v", s.Candidates)
	}
	if reasons := strings.Join(s.Candidates[1].Reasons, " "); !strings.Contains(reasons, "It is at a former address, 18 Tern St") {
		t.Errorf("%s", reasons)
	}
	v, err := r.Desk.Boards.Listing(ctx, at)
	rig.Must(t, err)
	if says := v.History[0].Tell(
		*v.Book,
	); says != "Searched Fernlook. By “Spokeshave Cycle Works”, (360) 555-0142, 4 Kelp Lane; “Marsh Wheel Holdings LLC”; “The Penny Farthing”; (360) 555-0177; 7 Rope Walk; 18 Tern St.; 9 Mill Lane." {
		t.Errorf("the evidence says %q", says)
	}
}
