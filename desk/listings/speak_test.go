package listings_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/core/rule/saying"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/problem"
	"uvent/e2e/rig"
	"uvent/outside/visit"
)

func TestSayingThroughListings(t *testing.T) {
	r, ctx := rig.Start(t, "murmurhall", "skerry", "candourbox"), t.Context()
	who, rec := r.Who.Actor(), rig.Workshop("Port Sable")
	here := r.Add(t, rec).Location
	on := func(directory string) ledger.Place { return ledger.Place{Location: here, Directory: directory} }
	_, err := r.Desk.Records.PeopleWithin(ctx, here, 15)
	rig.Refused(t, err, problem.Conflict, "No towns are known around here")
	network, err := r.Desk.Records.AddRegion(ctx, who, "Sound", `{"type":"FeatureCollection","features":[
		{"type":"Feature","properties":{"name":"Port Sable","population":21000},"geometry":{"type":"Point","coordinates":[-124.95,48.61]}},
		{"type":"Feature","properties":{"name":"Fennick","population":900},"geometry":{"type":"Point","coordinates":[-124.95,48.75]}}]}`)
	rig.Must(t, err)
	if network.Towns != 2 {
		t.Fatalf("%+v", network)
	}
	for km, want := range map[int]int{0: 21000, 15: 21000, 16: 21900} { // 0.14 degrees are 15.6 km
		if got, err := r.Desk.Records.PeopleWithin(ctx, here, km); err != nil || got != want {
			t.Errorf("within %d km live %d, want %d (%v)", km, got, want, err)
		}
	}
	post := saying.Draft{Kind: saying.Post, Title: "Lights", Radius: 20, Button: "visit", Link: "https://spokeshave.example/lights"}
	_, err = r.Desk.Listings.Say(ctx, who, on("murmurhall"), post)
	rig.Refused(t, err, problem.Conflict, "Claim or create the listing first.")
	for _, d := range []string{"murmurhall", "skerry", "candourbox"} {
		if s := r.Held(t, on(d)); d == "candourbox" {
			rig.Must(t, r.World.Opinion(ctx, s.Ref, "Aino P.", 4, "Quick.", r.Desk.Now()))
		}
	}
	far := post
	far.Radius, far.Title = 51, ""
	_, err = r.Desk.Listings.Say(ctx, who, on("murmurhall"), far)
	rig.Refused(t, err, problem.Invalid, "title: Give it a title. radius: It reaches 50 km at most.")

	// Three a month, and what the fourth is told; the next month there are three again.
	for i := range 3 {
		if s := r.Answered(t, on("murmurhall"))(r.Desk.Listings.Say(ctx, who, on("murmurhall"), post)); s.Trouble != "" {
			t.Fatalf("post %d: %s", i, s.Trouble)
		}
	}
	s := r.Answered(t, on("murmurhall"))(r.Desk.Listings.Say(ctx, who, on("murmurhall"), post))
	if !strings.Contains(s.Trouble, "3 times this month") {
		t.Errorf("after the fourth: %q", s.Trouble)
	}
	said, err := r.Desk.Listings.Spoken(ctx, on("murmurhall"))
	if err != nil || said.Left != 0 || len(said.Posts) != 3 || said.Posts[0].Link != post.Link {
		t.Errorf("%+v, %v", said, err)
	}
	r.Move(t, 8*24*time.Hour)
	if said, err = r.Desk.Listings.Spoken(ctx, on("murmurhall")); err != nil || said.Left != 3 {
		t.Errorf("in December: %+v, %v", said, err)
	}
	v, err := r.Desk.Boards.Listing(ctx, on("murmurhall"))
	rig.Must(t, err)
	if i := slices.IndexFunc(v.History, func(e verification.Event) bool { return e.Kind() == "said_there" }); !strings.Contains(
		v.History[i].Tell(*v.Book),
		"2 of 3 posts are left this month",
	) {
		t.Errorf("after the first: %q", v.History[i].Tell(*v.Book))
	}

	event := saying.Draft{Kind: saying.Event, Title: "Fair", Until: calendar.Date{Year: 2026, Month: 12, Day: 24}}
	_, err = r.Desk.Listings.Say(ctx, who, on("skerry"), event)
	rig.Refused(t, err, problem.Invalid, "until: An event ends within 21 days there.")
	event.Until.Day = 22
	r.Answered(t, on("skerry"))(r.Desk.Listings.Say(ctx, who, on("skerry"), event))
	if said, err = r.Desk.Listings.Spoken(ctx, on("skerry")); err != nil || len(said.Posts) != 1 || said.Posts[0].Until != "2026-12-22" {
		t.Errorf("%+v, %v", said, err)
	}
	if s = r.Answered(t, on("candourbox"))(
		r.Desk.Listings.Say(ctx, who, on("candourbox"), saying.Draft{Kind: saying.Offer, Title: "Tune-up", Percent: 30}),
	); s.Trouble != "" {
		t.Error(s.Trouble)
	}
	if said, err = r.Desk.Listings.Spoken(ctx, on("candourbox")); err != nil || len(said.Opinions) != 1 || said.Opinions[0].By != "Aino P." {
		t.Errorf("%+v, %v", said, err)
	}
}

func TestRolesOfOthers(t *testing.T) {
	r, ctx := rig.Start(t, "waywren", "murmurhall"), t.Context()
	who := r.Who.Actor()
	here := rig.On(r.Add(t, rig.Workshop("Port Sable")), "waywren")
	r.Held(t, here)
	_, err := r.Desk.Listings.SetRole(ctx, who, here, "dov@spokeshave.example", "captain")
	rig.Refused(t, err, problem.Invalid, "role: choose one of reader, editor, manager")
	_, err = r.Desk.Listings.SetRole(ctx, who, here, rig.Account, "editor")
	rig.Refused(t, err, problem.Invalid, "account: name the account of somebody else")
	for _, role := range []string{"editor", "manager"} {
		if s := r.Answered(t, here)(r.Desk.Listings.SetRole(ctx, who, here, " dov@spokeshave.example ", role)); s.Trouble != "" {
			t.Fatal(s.Trouble)
		}
		if said, err := r.Desk.Listings.Spoken(ctx, here); err != nil || len(said.Roles) != 1 || said.Roles[0].Account != "dov@spokeshave.example" ||
			said.Roles[0].Role != role {
			t.Errorf("%+v, %v", said, err)
		}
	}
	there := rig.On(here, "murmurhall")
	r.Held(t, there)
	_, err = r.Desk.Listings.SetRole(ctx, who, there, "dov@spokeshave.example", "editor")
	rig.Refused(t, err, problem.Conflict, "knows one holder of a listing, and no roles")
}

// A panel that a directory makes by itself is changed by suggestions, each with a public
// page that shows what it says.
func TestSuggesting(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook-facts"), t.Context()
	who, rec := r.Who.Actor(), rig.Workshop("Port Sable")
	here := rig.On(r.Add(t, rec), "fernlook-facts")
	_, err := r.World.Place(
		ctx,
		"fernlook-facts",
		"",
		visit.Facts{
			"name":        rec.Name,
			"street":      rec.Address.Street,
			"locality":    "Port Sable",
			"region":      "WA",
			"postal_code": "98991",
			"country":     "US",
			"phone":       "+13605550199",
			"website":     rec.Website,
		},
	)
	rig.Must(t, err)
	s := r.Answered(t, here)(r.Desk.Listings.Search(ctx, who, here))
	r.Answered(t, here)(r.Desk.Listings.Claim(ctx, who, here, s.Candidates[0].Ref))
	s = r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, who, here, rulebook.Email))
	var code string
	r.Eventually(t, func() bool { code, err = r.World.Code(ctx, rec.Email); return err == nil })
	r.Answered(t, here)(r.Desk.Listings.EnterCode(ctx, who, here, s.Attempt().ID, code))
	r.Move(t, 4*24*time.Hour)
	shown := func() string {
		rig.Must(t, r.Desk.Sightings.Look(ctx, who, here))
		return r.State(t, here).Sighting.Phone
	}
	if got := shown(); got != "+13605550199" {
		t.Fatalf("it shows %q at first", got)
	}
	_, err = r.Desk.Listings.Send(ctx, who, here, nil)
	rig.Refused(t, err, problem.Conflict, "a change is suggested there")
	for _, bad := range []string{"", "spokeshave", "javascript://spokeshave.example/", "ftp://spokeshave.example"} {
		_, err = r.Desk.Listings.Suggest(ctx, who, here, "phone", bad)
		rig.Refused(t, err, problem.Invalid, "evidence: give the address of a public page")
	}
	_, err = r.Desk.Listings.Suggest(ctx, who, here, "menu", rec.Website)
	rig.Refused(t, err, problem.Conflict, "no such value")

	s = r.Answered(t, here)(r.Desk.Listings.Suggest(ctx, who, here, "phone", "https://blog.example/"))
	if s.Change == nil || s.Change.Facts[0] != "Phone" {
		t.Fatalf("%+v", s)
	}
	_, err = r.Desk.Listings.Suggest(ctx, who, here, "phone", rec.Website)
	rig.Refused(t, err, problem.Conflict, "still looking at the last suggestion: Phone")
	r.Move(t, 12*24*time.Hour)
	if s = r.State(t, here); s.Change != nil || !strings.Contains(s.Trouble, "does not show it") || shown() != "+13605550199" {
		t.Errorf("with a page that does not show it: %+v", s)
	}
	r.Answered(t, here)(r.Desk.Listings.Suggest(ctx, who, here, "phone", rec.Website))
	r.Move(t, 12*24*time.Hour)
	if s = r.State(t, here); s.Change != nil || shown() != rec.MainPhone() {
		t.Errorf("with the business's own site: %+v", s)
	}
	// What came of both is known the next time.
	v, err := r.Desk.Boards.Listing(ctx, here)
	rig.Must(t, err)
	if h, err := r.Desk.Boards.Hearings(
		ctx,
		v,
	); err != nil || len(h.Pages) != 1 || h.Pages[0].Address != rec.Website || h.Pages[0].Won != 1 ||
		h.Pages[0].Lost != 0 {
		t.Errorf("%+v, %v", h, err)
	}
	if past, err := listings.HeardOf(ctx, r.Store.Queries, v.Book); err != nil || fmt.Sprint(past.Suggestions) != "[{ [own_site] true} { [page] false}]" {
		t.Errorf("%+v, %v", past, err)
	}
}
