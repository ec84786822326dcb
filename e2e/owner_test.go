package e2e

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/demo/paint"
	"uvent/desk/ledger"
	"uvent/desk/owners"
	"uvent/desk/records"
	"uvent/e2e/browser"
	"uvent/e2e/rig"
)

// phone is a browser of an owner's phone: narrow, and signed in nowhere.
func (s *screen) phone() *browser.Tab {
	s.t.Helper()
	tab, stop, err := browser.Start(context.Background())
	rig.Must(s.t, err)
	s.t.Cleanup(stop)
	rig.Must(s.t, tab.Resize(360, 740))
	return tab
}

// The specialist makes a private page; the owner opens it on a phone, without an account,
// and does its one task.
func TestTheOwnersPage(t *testing.T) {
	s := open(t, "fernlook", "waywren")
	r, ctx := s.rig, t.Context()
	c, err := r.Desk.Records.AddClient(ctx, r.Who.Actor(), records.ClientFacts{Name: "Spokeshave", OwnerName: "Dov Marsh", OwnerEmail: "dov@spokeshave.example"})
	s.do(err)
	rec := rig.Shop("Minnow Bay")
	l, err := r.Desk.Records.AddLocation(ctx, r.Who.Actor(), c.ID, rec)
	s.do(err)
	at := ledger.Place{Location: l.ID, Directory: "fernlook"}
	r.Held(t, at)
	r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Postcard))

	s.do(s.Open(s.at("/verification/l/"+l.ID.String()+"/fernlook")), s.See("Ask the owner"), s.See("Write to dov@spokeshave.example, and remind them"))
	s.do(s.Press("Make the page"), s.See("It was written to dov@spokeshave.example."), s.See("To type the code"), s.See("not opened yet"))
	address := now[string](s, `document.querySelector('.made-address').innerText`)
	if !strings.HasPrefix(address, s.base+"/o/") {
		t.Fatalf("its address is %s", address)
	}
	phone := s.phone()
	s.do(phone.Open(address), phone.See("One thing, Dov"), phone.See("Minnow Bay: the code on the card"), phone.See("please do not throw it away"))
	wide, err := browser.Ask[bool](phone, `document.documentElement.scrollWidth > 360`)
	if s.do(err); wide {
		t.Error("the page is wider than a phone")
	}
	// It has no way into anything else but a letter to whoever asks, and nobody is signed in.
	links, err := browser.Ask[int](phone, `document.querySelectorAll('a:not([href="mailto:`+r.Who.Email+`"]), nav').length`)
	if s.do(err); links != 0 {
		t.Errorf("it has %d links", links)
	}
	for _, path := range []string{"/api/session", "/api/listings/" + l.ID.String() + "/fernlook", "/api/clients"} {
		status, err := browser.Ask[int](phone, `fetch('`+path+`').then(r => r.status)`)
		if s.do(err); status != 401 {
			t.Errorf("%s answers %d", path, status)
		}
	}
	r.Move(t, 17*24*time.Hour)
	code, err := r.World.Code(ctx, "18 Tern Street")
	s.do(err)
	s.do(
		phone.Open(address),
		phone.Type("The code, 6 digits", "000000"),
		phone.Press("Send the code"),
		phone.See("This is not the code that was sent. 2 tries are left."),
	)
	s.do(phone.Type("The code, 6 digits", code), phone.Press("Send the code"), phone.See("Thank you, that is all"))
	s.do(s.Open(s.at("/verification/l/"+l.ID.String()+"/fernlook")), s.See("Verified, and not public yet."))
	s.do(phone.Open(s.base+"/o/guessed"), phone.See("This page does not open"))

	// A paper, sent as a file.
	at.Directory = "waywren"
	r.Held(t, at)
	made, err := r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.SendPaper})
	s.do(err)
	file := filepath.Join(t.TempDir(), "bill.pdf")
	s.do(os.WriteFile(file, paint.Letter("Sound County Electric", "Utility bill, November 2026", rec.Name, "18 Tern Street, Suite B"), 0o600))
	s.do(
		phone.Open(made.Address),
		phone.See("Minnow Bay: a paper"),
		phone.Upload("owner-paper-"+made.ID.String(), file),
		phone.Press("Send the paper"),
		phone.See("Read just now: not this one"),
		phone.See("It names Suite B, and the listing does not. Send one without it, or tell us that you are in Suite B. Waywren would refuse it."),
		phone.Press("Français"),
		phone.See("Lu à l’instant : pas celui-ci"),
		phone.Press("English"),
		phone.See("Read just now: not this one"),
		phone.Press("We are in Suite B"),
		phone.See("“We are in Suite B.” Ines Roake has been told."),
	)

	// The specialist is told, sees what stands on it, and mends the record.
	s.do(s.Open(s.at("/today")), s.See("The owner has answered about"))
	s.do(s.Open(s.at("/verification/l/"+l.ID.String()+"/waywren")), s.See("1 to mend before it is sent"), s.See("It names Suite B, and the record names no unit."))
	s.do(s.Press("Put “Suite B” into the record"), s.See("agrees with the record"), s.See("Suite B, Minnow Bay"))
	s.do(s.See("From the owner: “We are in Suite B.”"), s.Press("I have seen it"), s.NotSee("From the owner: “We are in Suite B.”"))
	s.do(s.Open(s.at("/today")), s.See("only you can move"), s.NotSee("The owner has answered"))
}
