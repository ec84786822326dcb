package e2e

import (
	"testing"

	"github.com/google/uuid"

	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/owners"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

// A client that leaves gets back what is its own: what a program can give is given at once, the rest is ticked by whoever has
// done it, and the owner's pages are shut.
func TestHandingAClientBack(t *testing.T) {
	s := open(t, "waywren", "fernlook", "sound-chamber")
	r, ctx := s.rig, t.Context()
	who := r.Who.Actor()
	c, err := r.Desk.Records.AddClient(ctx, who, records.ClientFacts{Name: "Spokeshave", OwnerName: "Dov Marsh", OwnerEmail: "dov@spokeshave.example"})
	rig.Must(t, err)
	rec := rig.Shop("Minnow Bay")
	rec.Words = record.Words{Short: "Bicycles, mended by the ferry.", Keywords: []string{"bicycles", "repair"}}
	l, err := r.Desk.Records.AddLocation(ctx, who, c.ID, rec)
	rig.Must(t, err)
	on := func(directory string) ledger.Place { return ledger.Place{Location: l.ID, Directory: directory} }
	r.Held(t, on("waywren"))
	r.Held(t, on("fernlook"))
	rig.Must(t, r.Desk.Listings.Found(ctx, who, on("sound-chamber"), listings.NothingThere, "", ""))
	rig.Must(t, r.Desk.Listings.Give(ctx, who, on("sound-chamber"), "", ""))
	r.Answered(t, on("fernlook"))(r.Desk.Listings.AskCode(ctx, who, on("fernlook"), rulebook.Postcard))
	_, err = r.Desk.Owners.MakeLink(ctx, r.Who, on("fernlook"), owners.LinkFor{Task: "code", Mail: true})
	rig.Must(t, err)

	_, err = r.Desk.Records.SaveAccount(ctx, who, nil, records.AccountFacts{Directory: "waywren", Email: "maps@agency.example", Holder: "Oda Tern"})
	rig.Must(t, err)
	s.do(
		s.Open(s.at("/record/c/"+c.ID.String())), s.Press("Hand back"), s.See("3 of 3 are left"), s.See("Hello Dov,"),
		s.See("Give dov@spokeshave.example the role of manager; it is the most that Waywren gives."), s.See("1 page still works"),
	)
	s.do(s.Press("Shut them"), s.See("1 page shut."), s.See("none works any more"))
	s.do(s.Press("It is handed over"), s.See("Handed over to dov@spokeshave.example on"), s.Press("Not after all"), s.Press("It is handed over"))
	s.do(s.Press("Hand back the 1 that Uvent can"))
	s.do(s.See("dov@spokeshave.example has the role of manager since"))
	s.do(s.See("Waywren, maps@agency.example, held by Oda Tern"))
	limited := r.Who
	limited.Clients = []uuid.UUID{c.ID}
	if h, err := r.Desk.Boards.Handover(ctx, limited, c.ID); err != nil || len(h.Accounts) != 0 || len(h.Listings) != 3 {
		t.Errorf("whoever sees this client alone sees %d accounts, %v", len(h.Accounts), err)
	}
	role, err := r.Desk.Listings.Spoken(ctx, on("waywren"))
	if err != nil || len(role.Roles) != 1 || role.Roles[0].Account != "dov@spokeshave.example" || role.Roles[0].Role != "manager" {
		t.Errorf("there: %+v, %v", role.Roles, err)
	}
}
