package e2e

import (
	"testing"

	"uvent/desk/people"
	"uvent/e2e/rig"
	"uvent/outside/visit"
)

// A directory that does not answer is seen to be silent, with what waits for it; it is tried at once, and answers.
func TestConnectionsOnTheScreen(t *testing.T) {
	s := open(t)
	ctx := t.Context()
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.do(s.Open(s.at("/directories?look=connections")), s.See("Nobody is silent."), s.See("our account, as a stand-in"))
	s.do(s.rig.World.Misbehave(ctx, visit.Faults{PagePercent: 100}))
	_, err := s.rig.Desk.Listings.Search(ctx, s.rig.Who.Actor(), at)
	s.do(err, s.See("Silent for"), s.See("not as the protocol has it"), s.See("asked again in"))
	s.do(
		s.Until(`(document.querySelector("td [aria-expanded=false]")?.click(), !!document.querySelector("td [aria-expanded=true]"))`),
		s.See("Client of Minnow Bay: searching for"),
	)
	s.do(s.rig.World.Misbehave(ctx, visit.Faults{}), s.Press("Try now"), s.See("Nobody is silent."), s.See("It has answered all of them."))
}

// A letter that did not arrive stands on Today, and is sent to a better address.
func TestALetterThatDidNotArrive(t *testing.T) {
	s := open(t)
	s.rig.Add(t, rig.Shop("Minnow Bay"))
	_, _, err := s.rig.Desk.People.Invite(t.Context(), s.rig.Who, "gone@agency.example", people.Bounds{Role: people.Helper})
	s.do(err, s.Open(s.at("/today")), s.See("Letters that did not arrive"), s.See("nobody of that name"))
	s.do(s.Type("Address for “Come to Uvent”", "hob@agency.example"), s.Press("Send again"), s.NotSee("Letters that did not arrive"))
	s.do(s.Open(s.at("/letters")), s.See("hob@agency.example"), s.See("refused, put aside"))
	s.do(s.eventually(func() bool {
		arrived, err := s.rig.World.Arrivals(t.Context(), "hob@agency.example")
		return err == nil && len(arrived) == 1
	}))
}
