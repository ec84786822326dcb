package e2e

import (
	"context"
	"net/http"
	"strings"
	"testing"

	"uvent/desk/people"
	"uvent/e2e/browser"
	"uvent/e2e/rig"
)

// Somebody is invited, comes in, sees what is theirs, and confirms it; a key asks; and all of it
// stands in the log.
func TestPeopleOnTheScreen(t *testing.T) {
	s := open(t)
	r, ctx := s.rig, t.Context()
	here, there := r.Add(t, rig.Shop("Minnow Bay")), r.Add(t, rig.Shop("Fennick"))
	l, err := r.Desk.Ledger.Location(ctx, here.Location)
	s.do(err)
	s.do(
		s.Open(s.at("/people")),
		s.See("1 person may sign in."),
		s.Type("Email", "oda@spokeshave.example"),
		s.Choose("Role", "client"),
		s.Choose("Of which client", l.ClientID.String()),
		s.Press("Send invitation"),
		s.See("oda@spokeshave.example has been written to."),
	)
	address := now[string](s, `[...document.querySelectorAll(".mono")].map(e => e.innerText).find(t => t.includes("/invitation/"))`)

	tab, stop, err := browser.Start(context.Background())
	s.do(err)
	t.Cleanup(stop)
	oda := &screen{tab, t, r, s.base}
	s.do(
		oda.Open(address),
		oda.See("Ines Roake invites you, as client"),
		oda.Type("Your name", "Oda Kettering"),
		oda.Type("New password", "harbour-lantern-thimble"),
		oda.Press("Come in"),
		oda.See("Today"),
	)
	s.do(
		oda.Until(`!document.body.innerText.includes("Fennick") && !document.body.innerText.includes("Verification")`),
		oda.Open(oda.at("/record/l/"+here.Location.String())),
		oda.See("18 Tern Street, Minnow Bay"),
		oda.Press("It is right"),
		oda.See("Noted, with your name and the time."),
	)
	s.do(oda.Open(oda.at("/record/l/"+there.Location.String())), oda.See("it is not yours"))

	s.do(
		s.Open(s.at("/you")),
		s.See("Where you are signed in"),
		s.See("this one"),
		s.Press("Make a key"),
		s.Type("What it is for", "Nightly export"),
		s.Type("Your password", rig.Password),
		s.Press("Make it"),
		s.See("Keep this now; it is told once"),
	)
	key := now[string](s, `document.querySelector(".note .mono").innerText`)
	for method, want := range map[string]int{http.MethodGet: http.StatusOK, http.MethodPost: http.StatusForbidden} {
		req, err := http.NewRequest(method, s.base+"/api/clients", strings.NewReader("{}"))
		s.do(err)
		req.Header.Set("Authorization", "Bearer "+key)
		req.Header.Set("Content-Type", "application/json")
		resp, err := http.DefaultClient.Do(req)
		s.do(err)
		if resp.Body.Close(); resp.StatusCode != want {
			t.Errorf("%s with the key answers %s", method, resp.Status)
		}
	}
	s.do(
		s.Open(s.at("/log")),
		s.See("Made the key “Nightly export” ("),
		s.See("Oda Kettering"),
		s.Choose("What kind", "record_confirmed"),
		s.Until(`document.querySelectorAll("tbody tr").length === 1`),
		s.See("Client of Minnow Bay, Minnow Bay"),
		s.Choose("What kind", ""),
		s.Type("Words in it", "nightly"),
		s.Until(`[...document.querySelectorAll("tbody tr")].every(r => r.innerText.includes("Nightly"))`),
	)
	s.do(s.Open(s.at("/interface")), s.Type("Find", "/api/today"), s.Press("GET /api/today"), s.Press("Ask"), s.See("200 OK"))
	s.do(
		s.Open(s.at("/people")),
		s.See("client, of Client of Minnow Bay"),
		s.Press("Take over"),
		s.Press("Take over from Oda Kettering"),
		s.See("Oda Kettering can no longer sign in"),
	)
}

// Whoever is limited to some clients sees nothing of the others, in a window that is open as well, and no more of what
// all clients share.
func TestLimitsOnTheScreen(t *testing.T) {
	s := open(t)
	r := s.rig
	r.Add(t, rig.Shop("Minnow Bay"))
	there := r.Add(t, rig.Shop("Fennick"))
	_, err := r.Desk.People.AddPerson(
		t.Context(),
		people.Person{Name: "Hob Ames", Email: "hob@agency.example", Zone: "America/Los_Angeles", Role: people.Specialist},
		rig.Password,
	)
	s.do(err)
	hob := s.beside("hob@agency.example")
	s.do(hob.Open(hob.at("/record")), hob.See("2 clients, 2 locations"), hob.See("Add a client"))
	s.do(
		s.Open(s.at("/people")),
		s.Press("Clients"),
		s.Until(`(() => { // the form for inviting somebody has one like it
			const some = [...document.querySelectorAll("td label")].find(l => l.innerText.startsWith("only some"))
			if (some) some.click()
			return !!some
		})()`),
		s.See("Choose at least one client, or all of them."),
		s.Tick("Client of Minnow Bay 1 location"),
		s.Press("Save"),
		s.See("Hob Ames works for Client of Minnow Bay now."),
	)
	s.do(
		hob.Until(`!document.body.innerText.includes("Fennick") && document.body.innerText.includes("All your clients")`),
		hob.See("1 client, 1 location"),
		hob.Until(`!document.body.innerText.includes("Add a client") && !document.body.innerText.includes("Bring in")`),
		hob.Open(hob.at("/verification/l/"+there.Location.String()+"/fernlook")),
		hob.See("it is not yours"),
		hob.Open(hob.at("/directories?look=accounts")),
		hob.See("Who copies from whom"),
		hob.NotSee("Accounts"),
	)
	s.do(s.Press("Undo"), s.See("Hob Ames works for all clients again."), hob.Open(hob.at("/record")), hob.See("2 clients, 2 locations"))
}
