package e2e

import (
	"testing"

	"uvent/core/record/record"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
)

// Many locations are closed at once, with what that comes to shown beforehand, and opened
// again by one undo; a single one moves.
func TestClosingAndMovingOnTheScreen(t *testing.T) {
	s := open(t)
	r := s.rig
	var places []ledger.Place
	for _, town := range []string{"Minnow Bay", "Fennick", "Saltgrass"} {
		at := r.Add(t, rig.Shop(town))
		r.Held(t, at)
		places = append(places, at)
	}
	marked := func(want ...record.StateKind) func() bool {
		return func() bool {
			for i, at := range places {
				if r.State(t, at).Marked != want[i] {
					return false
				}
			}
			return true
		}
	}
	const closed = record.ClosedForATime
	s.do(s.Open(s.at("/record")), s.Press("Close or reopen"), s.See("Choose locations."), s.Press("Choose all 3"), s.See("3 steps: Uvent does 3 by itself."))
	s.do(
		s.Tick("Fennick Client of Fennick"),
		s.See("2 steps"),
		s.See("Mark it closed for a time."),
		s.Press("Do it now"),
		s.See("2 records changed."),
		s.See("2 listings: 2 done"),
	)
	s.do(s.eventually(marked(closed, "", closed)))
	s.do(s.Press("Undo"), s.See("Directories that were told are told so again."), s.eventually(marked("", "", "")))

	s.do(s.Open(s.at("/record/l/"+places[0].Location.String())), s.Press("Close or move"), s.Choose("What", "moves"), s.See("Say where it moves to"))
	s.do(
		s.Type("Street and number", "2 Anvil Lane"),
		s.Type("Town", "Minnow Bay"),
		s.See("It wants a new verification"),
		s.See("new verification"),
		s.Press("Do it now"),
		s.See("1 listing: 1 done"),
	)
	if l, err := r.Desk.Ledger.Location(t.Context(), places[0].Location); err != nil || l.Record.Address.Street != "2 Anvil Lane" || l.Record.Pin != nil {
		t.Errorf("%+v, %v", l.Record.Address, err)
	}
}

// A move for which a directory wants another listing: the one that is there is left with the old house and another is made; or
// it turns out to be the same place.
func TestLeavingAListingWithTheOldHouseOnTheScreen(t *testing.T) {
	s := open(t, "candourbox")
	r := s.rig
	first := r.Add(t, rig.Shop("Minnow Bay"))
	at := ledger.Place{Location: first.Location, Directory: "candourbox"}
	r.Held(t, at)
	page := s.at("/verification/l/" + at.Location.String() + "/candourbox")
	s.do(
		s.Open(s.at("/record/l/"+at.Location.String()+"/course")),
		s.Choose("What", "moves"),
		s.Type("Street and number", "2 Anvil Lane"),
		s.Type("Town", "Minnow Bay"),
	)
	s.do(s.See("Candourbox takes another house for another location"), s.Press("Do it now"), s.See("1 record changed."))
	s.do(s.Open(s.at("/today")), s.See("wants another listing on Candourbox"))
	s.do(
		s.Open(page), s.See("It wants another listing"), s.Press("Leave it there"), s.See("Look for it first"), s.See("The listing before"),
		s.Press("Take it up again"), s.See("It wants another listing"), s.Press("Leave it there"), s.Press("Search Candourbox"),
		s.See("Nothing else like it is there"), s.Press("Create listing"), s.See("Choose a way below."), s.See("The listing before"),
		s.NotSee("Take it up again"),
	)
	if st := r.State(t, at); len(st.Left) != 1 || st.Stands.Street != "2 Anvil Lane" {
		t.Errorf("%+v", st)
	}
	l, err := r.Desk.Ledger.Location(t.Context(), at.Location)
	rig.Must(t, err)
	rec := l.Record
	rec.Address.Street = "2a Anvil Lane"
	_, err = r.Desk.Records.SaveLocation(t.Context(), r.Who.Actor(), l.ID, l.Version, rec)
	rig.Must(t, err)
	s.do(s.Open(page), s.See("It wants another listing"), s.Press("It is the same place"), s.See("Choose a way below."), s.NotSee("It wants another listing"))
}
