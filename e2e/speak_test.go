package e2e

import (
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/demo"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
	"uvent/outside/visit"
)

// What is said, who may work on a listing, and what is suggested, all on the screen.
func TestSpeakingOnTheScreen(t *testing.T) {
	s := open(t, "murmurhall", "waywren", "skerry")
	r := s.rig
	_, err := r.Desk.Records.AddRegion(t.Context(), r.Who.Actor(), "Tamarack Sound", demo.Map)
	s.do(err)
	rec := rig.Shop("Port Sable")
	rec.LegalName, rec.Company.Registration = "Spokeshave Cycle Works LLC", "604 117 220"
	here := r.Add(t, rec).Location
	for _, d := range []string{"murmurhall", "waywren", "skerry"} {
		r.Held(t, ledger.Place{Location: here, Directory: d})
	}
	page := s.at("/verification/l/" + here.String())
	s.do(s.Open(page+"/murmurhall?look=speaking"), s.See("3 of 3 posts left this month"), s.Press("Send the post"), s.See("Give it a title."))
	s.do(s.Type("Title", "Lights before the clocks change"), s.Type("Words", "We test yours while you wait."), s.Choose("Button", "visit"))
	s.do(
		s.Until(`document.querySelector("#say-link").value === "https://spokeshave.example/shop"`),
		s.Until(`document.querySelector(".said-preview").innerText.includes("Lights before")`),
	)
	s.do(s.Choose("Shown within, up to 50 km", "20"), s.Until(`/20 km: [1-9]/.test(document.querySelector(".say-people").innerText)`))

	// What is written is there still after the tab was closed.
	s.do(s.Close(), s.Open(page+"/murmurhall?look=speaking"), s.Until(`document.querySelector("#say-title")?.value === "Lights before the clocks change"`))
	s.do(
		s.Press("Send the post"),
		s.See("2 of 3 posts left this month"),
		s.Until(`document.querySelector(".said b").innerText === "Lights before the clocks change"`),
		s.Until(`document.querySelector("#say-title").value === ""`),
	)

	s.do(s.Open(page+"/waywren"), s.See("Who else may work on it"), s.Type("Account", "dov@spokeshave.example"), s.Choose("Role", "editor"), s.Press("Give role"))
	s.do(
		s.Until(`document.querySelector("[aria-label='Role of dov@spokeshave.example']")?.value === "editor"`),
		s.Choose("Role of dov@spokeshave.example", "reader"),
	)
	s.do(s.See("Gave dov@spokeshave.example the role of reader."))

	s.do(s.Open(page+"/skerry?look=speaking"), s.Type("Title", "Repair evening"), s.Press("Send the event"), s.See("Say when it ends."))
	ends := r.Desk.Now().Add(7 * 24 * time.Hour).Format(time.DateOnly)
	s.do(s.Choose("Ends on, within 21 days", ends), s.Press("Send the event"), s.Until(`document.querySelector(".said b")?.innerText === "Repair evening"`))
	if st := r.State(t, ledger.Place{Location: here, Directory: "skerry"}); st.Control != verification.Held || st.Trouble != "" {
		t.Errorf("%+v", st)
	}
}

// A suggestion goes with the public page that helps most, or with another one.
func TestSuggestingOnTheScreen(t *testing.T) {
	s := open(t, "fernlook-facts")
	r, ctx := s.rig, t.Context()
	who, rec := r.Who.Actor(), rig.Workshop("Port Sable")
	here := rig.On(r.Add(t, rec), "fernlook-facts")
	_, err := r.World.Place(ctx, "fernlook-facts", "", visit.Facts{
		"name": rec.Name, "street": rec.Address.Street, "locality": "Port Sable", "region": "WA", "postal_code": "98991", "country": "US",
		"phone": "+13605550199", "website": rec.Website,
	})
	rig.Must(t, err)
	st := r.Answered(t, here)(r.Desk.Listings.Search(ctx, who, here))
	r.Answered(t, here)(r.Desk.Listings.Claim(ctx, who, here, st.Candidates[0].Ref))
	st = r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, who, here, rulebook.Email))
	var code string
	r.Eventually(t, func() bool { code, err = r.World.Code(ctx, rec.Email); return err == nil })
	r.Answered(t, here)(r.Desk.Listings.EnterCode(ctx, who, here, st.Attempt().ID, code))
	r.Move(t, 4*24*time.Hour)
	rig.Must(t, r.Desk.Sightings.Look(ctx, who, here))
	s.do(
		s.Open(s.at("/verification/l/"+here.Location.String()+"/fernlook-facts")),
		s.See("Suggest a change"),
		s.Choose("Page that shows the phone", ""),
		s.Type("Another public page", "https://blog.example/"),
		s.Press("Suggest phone"),
		s.See("A suggestion is looked at"),
	)
	r.Move(t, 12*24*time.Hour)
	s.do(
		s.See("The page that you named does not show it."),
		s.Choose("Page that shows the phone", rec.Website),
		s.Press("Suggest phone"),
		s.See("A suggestion is looked at"),
	)
	r.Move(t, 12*24*time.Hour)
	s.do(s.Press("Look again"), s.NotSee("Suggest phone"), s.See("Suggest category"))
}
