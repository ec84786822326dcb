package listings_test

import (
	"fmt"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/demo/paint"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/e2e/rig"
	"uvent/outside/visit"
)

// A listing that somebody else holds is asked for, waited for, and put before the
// directory's people where its holder does not hand it over.
func TestAccess(t *testing.T) {
	r, ctx := rig.Start(t, "candourbox"), t.Context()
	who := r.Who.Actor()
	met := map[verification.AccessStep]bool{}
	gave, kept := 0, 0
	for i := range 14 {
		town := fmt.Sprint("Town ", i)
		rec := rig.Shop(town)
		rec.Address.Locality, rec.Address.PostalCode = town, fmt.Sprint(98900+i)
		here := rig.On(r.Add(t, rec), "candourbox")
		_, err := r.World.Place(
			ctx,
			"candourbox",
			"maps@northlightmedia.example",
			visit.Facts{
				"name":        rec.Name,
				"street":      "18 Tern Street",
				"locality":    town,
				"region":      "WA",
				"postal_code": rec.Address.PostalCode,
				"country":     "US",
				"phone":       rec.MainPhone(),
				"category":    "Bicycles",
			},
		)
		rig.Must(t, err)
		_, err = r.Desk.Listings.AskAccess(ctx, who, here)
		rig.Refused(t, err, problem.Conflict, "Nobody else holds this listing")
		s := r.Answered(t, here)(r.Desk.Listings.Search(ctx, who, here))
		s = r.Answered(t, here)(r.Desk.Listings.Claim(ctx, who, here, s.Candidates[0].Ref))
		if s.Control != verification.HeldByAnother {
			t.Fatalf("%+v", s)
		}
		_, err = r.Desk.Listings.Escalate(ctx, who, here)
		rig.Refused(t, err, problem.Conflict, "Ask its holder first.")
		s = r.Answered(t, here)(r.Desk.Listings.AskAccess(ctx, who, here))
		if !s.Access.Waiting() || s.Access.Window == nil {
			t.Fatalf("%+v", s.Access)
		}
		_, err = r.Desk.Listings.AskAccess(ctx, who, here)
		rig.Refused(t, err, problem.Conflict, "has been asked already")
		_, err = r.Desk.Listings.Escalate(ctx, who, here)
		rig.Refused(t, err, problem.Conflict, "Wait for the answer first.")
		if v, err := r.Desk.Boards.Listing(ctx, here); err != nil || v.Task.Group != agenda.Directory || v.Task.Window == nil {
			t.Errorf("%+v, %v", v.Task, err)
		}
		r.Move(t, 11*24*time.Hour)
		if s = r.State(t, here); s.Control == verification.Held {
			met["handed over"] = true
			gave++
			if s.Page == "" || s.Access != nil || s.HeldBy != "" {
				t.Errorf("handed over: %+v", s)
			}
			continue
		}
		met[s.Access.Step] = true
		kept++
		v, err := r.Desk.Boards.Listing(ctx, here)
		rig.Must(t, err)
		if h, err := r.Desk.Boards.Hearings(ctx, v); err != nil || h.Holder.Won != gave || h.Holder.Lost != kept || len(h.Papers) != 3 ||
			h.Papers[0].Kind != "lease" || h.Papers[0].Chance <= h.Papers[2].Chance {
			t.Errorf("after %d gave and %d did not: %+v, %v", gave, kept, h, err)
		}
		if v, err := r.Desk.Boards.Listing(ctx, here); err != nil || v.Task.Group != agenda.Mine || v.Task.Says == "" {
			t.Errorf("%+v, %v", v.Task, err)
		}
		_, err = r.Desk.Listings.Escalate(ctx, who, here)
		rig.Refused(t, err, problem.Conflict, "Candourbox wants a paper with it: company registration")
		_, err = r.Desk.Files.AddPaper(
			ctx,
			who,
			ledger.Scope{Location: &here.Location},
			"bill.pdf",
			paint.Letter("Sound County Electric", "Utility bill, October 2026", rec.Name, "18 Tern Street"),
		)
		rig.Must(t, err)
		s = r.Answered(t, here)(r.Desk.Listings.Escalate(ctx, who, here))
		if s.Access.Step != verification.StaffAsked {
			t.Fatalf("%+v", s.Access)
		}
		r.Move(t, 11*24*time.Hour)
		if s = r.State(t, here); s.Control != verification.Held || s.Verification != verification.NotBegun {
			t.Errorf("after a good paper: %+v", s)
		}
		if len(met) == 3 {
			break
		}
	}
	if len(met) != 3 {
		t.Errorf("only these came: %v", met)
	}
}

// The forecast of a scope tells what is left, what holds back the last, and what a fee
// would make faster.
func TestForecast(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "skerry", "murmurhall"), t.Context()
	rec := rig.Shop("Minnow Bay")
	rec.Words.Story = "It began with a bell."
	here := r.Add(t, rec)
	f, err := r.Desk.Boards.Forecast(ctx, ledger.Scope{}, false)
	rig.Must(t, err)
	if len(f.Left) != 3 || len(f.Never) != 0 || f.FeeFor != 1 || f.Holds[0].Name != "registration number" || f.Left[f.Holds[0].Listing].Book.ID != "skerry" {
		t.Fatalf("%d left, %d never, fee for %d, %+v", len(f.Left), len(f.Never), f.FeeFor, f.Holds)
	}
	paid, err := r.Desk.Boards.Forecast(ctx, ledger.Scope{}, true)
	rig.Must(t, err)
	if !paid.All.Sure.Before(f.All.Sure) {
		t.Errorf("with a fee by %v, without by %v", paid.All, f.All)
	}
	// A code on its way, and then one at hand, brings it nearer.
	of := func() string {
		f, err := r.Desk.Boards.Forecast(ctx, ledger.Scope{}, false)
		rig.Must(t, err)
		for i, c := range f.Left {
			if c.Book.ID == "fernlook" {
				return f.Listings[i].Sure.String()
			}
		}
		return "public"
	}
	r.Held(t, here)
	s := r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), here, "text"))
	asked := of()
	code, err := r.World.Code(ctx, rec.MainPhone())
	rig.Must(t, err)
	r.Answered(t, here)(r.Desk.Listings.EnterCode(ctx, r.Who.Actor(), here, s.Attempt().ID, code))
	entered := of()
	r.Move(t, 8*24*time.Hour)
	if after := of(); entered > asked || after != "public" {
		t.Errorf("asked %s, entered %s, then %s", asked, entered, after)
	}
}
