package e2e

import (
	"testing"
	"time"

	"uvent/core/record/record"
	"uvent/e2e/rig"
)

// A preview is laid out as its directory's pages are, on a phone and wide; of a location that goes to customers it
// shows no street, and says that the directory has it.
func TestAPreviewOnScreen(t *testing.T) {
	s := open(t, "fernlook", "brasswire")
	van := rig.Shop("Minnow Bay")
	van.Kind, van.Area = record.GoesToCustomers, record.Area{Towns: []record.Town{{Name: "Fennick"}}}
	at := s.rig.Add(t, van)
	look := s.at("/verification/l/" + at.Location.String())
	s.do(s.Open(look+"/fernlook"), s.Press("Preview"), s.See("Minnow Bay, WA and around"), s.See("Its public page has not been seen yet."))
	s.do(s.See("Given, and not seen by the public"), s.See("given, and not shown"), s.See("In a list of results"), s.See("What is posted stands here."))
	order := func(pieces string) error {
		return s.Until(`[...document.querySelectorAll(".public-page:not(.result-row) .pp-piece")].map(p => p.classList[1].slice(3)).join(" ") === "` + pieces + `"`)
	}
	columns := func(n string) error {
		return s.Until(`getComputedStyle(document.querySelector(".pp-band:nth-child(2)")).gridTemplateColumns.split(" ").length === ` + n)
	}
	s.do(order("title kind hours reach links way posts"), columns("1"), s.Press("Wide"), columns("2"))
	s.do(s.Until(`location.search.includes("as=wide")`), s.NotSee("18 Tern Street"))
	s.do(s.Open(look+"/brasswire?look=preview"), order("title reach way kind hours links"), s.NotSee("18 Tern Street"))

	// What differs from the page as it is, is marked on both.
	shop := rig.Shop("Port Sable")
	there := s.rig.Add(t, shop)
	s.rig.Held(t, there)
	s.rig.Verified(t, there)
	s.rig.Move(t, 9*24*time.Hour)
	shop.Phones[0].E164 = "+13605550177"
	_, err := s.rig.Desk.Records.SaveLocation(t.Context(), s.rig.Who.Actor(), there.Location, 1, shop)
	s.do(err, s.Open(s.at("/verification/l/"+there.Location.String()+"/fernlook?look=preview")), s.See("As it is, seen"))
	s.do(s.Until(`[...document.querySelectorAll(".pp-differs")].filter(e => e.innerText.includes("≠")).length === 2`))
	s.do(s.See("(360) 555-0177"), s.See("(360) 555-0142"))
}
