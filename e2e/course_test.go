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
