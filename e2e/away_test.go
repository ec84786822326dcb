package e2e

import (
	"testing"

	"uvent/e2e/rig"
)

// A location that is no longer looked after is put away: out of the lists, found again, and brought back.
func TestPuttingAwayAndBringingBack(t *testing.T) {
	s := open(t)
	held, idle := s.rig.Add(t, rig.Shop("Minnow Bay")), s.rig.Add(t, rig.Shop("Cinder Point"))
	s.rig.Held(t, held)
	record := func(location string) string { return s.at("/record/l/" + location) }
	s.do(s.Open(record(held.Location.String())), s.Press("Put away"), s.See("1 listing is held and stays as it is: Fernlook."))
	s.do(s.Until(`!!document.querySelector(".modal a[href$='/course']") && !document.querySelector(".modal").innerText.includes("Delete for good")`))
	s.do(s.Press("Put away"), s.See("Minnow Bay is put away."))
	s.do(s.all(), s.Until(`![...document.querySelectorAll(".scope a")].some(a => a.innerText.trim() === "Minnow Bay")`))
	s.do(s.Press("Record"), s.Press("What is put away"), s.See("In no list and no count"), s.See("kept; the client is here"))
	s.do(s.Press("Minnow Bay"), s.See("Minnow Bay is put away since 24 Nov 2026"), s.Press("Bring it back"), s.See("Minnow Bay is back."))
	s.do(s.NotSee("is put away since"), s.Press("Put away"), s.See("is held"))

	// With one nothing was begun: it can be deleted, and added again.
	s.do(s.Open(record(idle.Location.String())), s.Press("Put away"), s.Press("Delete for good"), s.See("Cinder Point is deleted."))
	s.do(s.Press("Undo"), s.See("Cinder Point is back."))

	// A client goes with all that it has, and it is said what is erased then.
	s.do(
		s.Press("Client of Cinder Point"),
		s.See("Record, Client of Cinder Point"),
		s.Press("Put away"),
		s.See("It and its 1 location are out of all lists"),
		s.See("After 90 days its papers"),
	)
	s.do(s.Press("Put away"), s.See("Client of Cinder Point is put away."), s.Press("What is put away"), s.See("erased on 22 Feb 2027"))
	s.do(s.Press("Bring the client back"), s.See("Client of Cinder Point is back."), s.See("Nothing is put away"))
}
