package e2e

import (
	"testing"

	"uvent/core/listing/verification"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
)

// Which directories a location is wanted on is chosen with the reckoning before one's
// eyes, for one or for all at once, and taken back.
func TestChoosingDirectories(t *testing.T) {
	s := open(t, "fernlook", "waywren", "brasswire", "sound-chamber", "roadwhistle", "plotline", "old-wharf-merchants")
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.rig.Add(t, rig.Shop("Quillcote"))
	s.do(s.Open(s.at("/coverage")), s.See("10 listings wanted, 0 public, 0 under way, 10 not begun."))
	// For all locations in scope at once.
	s.do(
		s.Press("Brasswire"),
		s.Press("Do without it"),
		s.See("Brasswire is not wanted for 2 locations."),
		s.See("8 listings wanted"),
		s.Press("Undo"),
		s.See("10 listings wanted"),
	)
	// For one, with the reckoning.
	s.do(
		s.Open(s.at("/coverage/l/"+at.Location.String())),
		s.See("Which directories"),
		s.See("none"),
		s.See("Old Wharf Merchants lists locations in Port Sable only."),
	)
	s.do(s.Press("Why", "Plotline"), s.See("It feeds Roadwhistle, which adds"), s.Until(`document.querySelector('[aria-label="Want Roadwhistle"]').disabled`))
	s.do(
		s.Until(`(document.querySelector('[aria-label="Want Waywren"]').click(), true)`),
		s.See("Waywren is not wanted."),
		s.See("4 listings wanted"),
		s.See("decided"),
	)
	s.do(s.Press("decided"), s.See("Waywren is as reckoned."), s.See("5 listings wanted"))
	// What fits, and what to fill in next.
	s.do(s.Press("How it fits"), s.See("Fill in next"), s.Until(`document.querySelector("table.coverage").textContent.includes("per cent")`))
}

// The register of accounts warns of what will go wrong.
func TestAccountsOnScreen(t *testing.T) {
	s := open(t, "fernlook", "murmurhall")
	s.do(
		s.Open(s.at("/directories?look=accounts")),
		s.See("No account is listed yet"),
		s.Press("Add an account"),
		s.Press("Keep the account"),
		s.See("Say who can sign in with it."),
	)
	s.do(
		s.Choose("Directory", "murmurhall"),
		s.Type("Email it signs in with", "pages@agency.example"),
		s.Type("Who can sign in", "Juno Abara"),
		s.Tick("Its holder has left, and nobody else can sign in"),
		s.Press("Keep the account"),
	)
	s.do(
		s.See("Juno Abara is nobody here any more."),
		s.See("Its email is not confirmed"),
		s.Press("Change"),
		s.Tick("Its email is confirmed"),
		s.Press("Keep the account"),
		s.NotSee("Its email is not confirmed"),
	)
	s.do(s.Press("Take out"), s.See("is out of the list"), s.See("No account is listed yet"), s.Press("Undo"), s.See("Juno Abara"))
	s.do(s.Press("Who copies from whom"), s.See("Nobody copies from anybody"))
}

// A listing is copied from another directory, and what did not come along is listed.
func TestCopyingOnScreen(t *testing.T) {
	s := open(t, "fernlook", "skerry")
	rec := rig.Shop("Minnow Bay")
	rec.LegalName, rec.Company.Registration = "Spokeshave Cycle Works LLC", "604 117 220"
	first := s.rig.Add(t, rec)
	s.rig.Held(t, first)
	st := s.rig.Answered(t, first)(s.rig.Desk.Listings.AskCode(t.Context(), s.rig.Who.Actor(), first, "text"))
	code, err := s.rig.World.Code(t.Context(), rec.MainPhone())
	s.do(err)
	s.rig.Answered(t, first)(s.rig.Desk.Listings.EnterCode(t.Context(), s.rig.Who.Actor(), first, st.Attempt().ID, code))
	s.do(
		s.Open(s.at("/verification/l/"+first.Location.String()+"/skerry")),
		s.Press("Search Skerry"),
		s.See("Copy it from Fernlook"),
		s.See("To send afterwards: Website, Category."),
		s.Press("Copy", "Copy it from Fernlook"),
	)
	// What came along counts as given.
	s.do(s.See("2 values to send"), s.See("What did not come along from Fernlook"), s.See("Bicycle mechanic"), s.See("Copied: "))
	if st := s.rig.State(t, ledger.Place{Location: first.Location, Directory: "skerry"}); st.Control != verification.Held || st.CopiedFrom != "fernlook" {
		t.Errorf("%+v", st)
	}
}
