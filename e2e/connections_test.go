package e2e

import (
	"strings"
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

// What a directory is entered with is set on the screen, where it is never shown again, and is taken off.
func TestWhatADirectoryIsEnteredWith(t *testing.T) {
	s := open(t)
	book, err := s.rig.Desk.Shelf.Book("fernlook")
	s.do(err)
	text := strings.NewReplacer("id: fernlook", "id: pierbook", "name: Fernlook", "name: Pierbook", book.Connector.URL, "https://pierbook.example/api")
	_, err = s.rig.Desk.SaveRulebook(t.Context(), s.rig.Who, "", text.Replace(book.Source))
	s.do(err, s.Open(s.at("/directories?look=connections")), s.Press("Set", "Pierbook"))
	s.do(s.Choose("Pierbook is entered with", "oauth2"), s.Type("Where tokens are given", "https://pierbook.example/token"))
	s.do(s.Type("Client id", "agency"), s.Press("Keep it"), s.See("it is missing"))
	s.do(
		s.Type("Client secret", "curlew-secret"),
		s.Press("Keep it"),
		s.See("It is kept, sealed. Pierbook is entered with it from now on."),
		s.Press("Change", "Pierbook"),
	)
	if now[bool](s, `document.documentElement.outerHTML.includes("curlew") || [...document.querySelectorAll("input")].some(i => i.value.includes("curlew"))`) {
		t.Error("the secret is shown again")
	}
	s.do(s.Press("Take it off"), s.See("Pierbook is entered with nothing."))
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
