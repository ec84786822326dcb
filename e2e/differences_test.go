package e2e

import (
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"

	"uvent/core/listing/verification"
	"uvent/desk/ledger"
	"uvent/desk/sightings"
	"uvent/e2e/rig"
	"uvent/store/storetest"
)

// A phone that somebody changed on a page: it is seen in Differences with what it costs, accepted and taken up again, and
// sent, from the keyboard.
func TestADifferenceIsAcceptedTakenUpAndSent(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.do(s.Open(s.at("/differences")), s.See("No page was looked at yet"))
	s.rig.Held(t, at)
	s.rig.Verified(t, at)
	s.rig.Move(t, 9*24*time.Hour)
	s.do(s.See("The one page says what the record says"))
	_, err := storetest.Owner(t, s.rig.Store).Exec(t.Context(), `update outside.listing set facts = facts || '{"phone": "+13605550199"}'`)
	rig.Must(t, err)
	rig.Must(t, s.rig.Desk.Sightings.Look(t.Context(), s.rig.Who.Actor(), at))
	s.do(s.Open(s.at("/today")), s.See("Today"), s.Key("5"), s.See("1 on 1 of 1 page, from 1 source"))
	s.do(
		s.Until(`document.querySelector("table.differences del").innerText === "99" && document.querySelector("table.differences ins").innerText === "42"`),
		s.See("One edit on Fernlook."),
		s.Until(`document.querySelector("svg.way title").textContent.includes("Fernlook showed it first between")`),
	)
	// What agrees opens to what it is made of.
	s.do(s.Press("67 %"), s.See("Name, address and phone agree on 67 % of the weight"), s.See("33.3 %"))
	// By place, and only what is asked for.
	s.do(
		s.Press("Place"),
		s.Until(`document.querySelector("table.differences .of b").innerText.startsWith("Minnow Bay, ")`),
		s.Until(`location.search.includes("by=place")`),
	)
	s.do(s.Open(s.at("/differences?search=nothing")), s.See("No difference is of that kind"))
	// Accepted from the keyboard, undone, accepted again and taken up where it lies.
	accept := func() {
		t.Helper()
		s.do(
			s.Key("j"), s.Until(`document.activeElement.dataset.row?.includes("phone")`), s.Key(" "), s.See("1 chosen, on 1 page."),
			s.Key("a"), s.Until(`document.activeElement.ariaLabel === "Why"`), s.Key("It is the owner’s other line."+kb.Enter), s.See("1 difference is accepted."),
		)
	}
	s.do(s.Open(s.at("/differences")), s.See("1 on 1 of 1 page"))
	accept()
	s.do(s.See("The one page says what the record says"), s.Press("Undo"), s.See("1 on 1 of 1 page"))
	accept()
	s.do(
		s.See("1 accepted as they are, or not to be mended there"),
		s.Until(`(document.querySelector(".differences-fold summary").click(), true)`), s.Press("Take up"), s.See("1 on 1 of 1 page"),
	)
	// Sent: it is on its way, and shows by the next look.
	s.do(s.Key("j"), s.Until(`document.activeElement.dataset.row?.includes("phone")`), s.Key(" "), s.See("Send 1"), s.Key("s"), s.See("1 on their way"))
	s.rig.Move(t, 6*24*time.Hour)
	s.do(s.NotSee("on their way"), s.See("The one page says what the record says"))
}

// Christmas is decided for all places in both countries, sent, and ends with each directory agreed or known to be unable.
func TestChristmasIsDecidedSentAndShows(t *testing.T) {
	s := open(t)
	var all []ledger.Place
	for i, region := range []string{"WA", "WA", "BC"} {
		rec := rig.Shop([]string{"Minnow Bay", "Quillcote", "Fennick"}[i])
		rec.Phones[0].E164 = []string{"+13605550142", "+13605550143", "+12505550144"}[i]
		if region == "BC" {
			rec.Address.Region, rec.Address.Country, rec.Address.PostalCode, rec.Zone = "BC", "CA", "V0N 2C0", "America/Vancouver"
		}
		at := s.rig.Add(t, rec)
		s.rig.Held(t, at)
		all = append(all, at)
	}
	_, err := storetest.Owner(t, s.rig.Store).Exec(t.Context(), "update outside.listing set verified_at = now(), public_at = now()")
	rig.Must(t, err)
	for _, at := range all {
		rig.Must(t, s.rig.Desk.Sightings.Look(t.Context(), s.rig.Who.Actor(), at))
	}
	s.rig.Move(t, time.Minute) // what is sent is sent after the look
	s.do(s.Open(s.at("/special-dates")), s.See("Fri 25 Dec Christmas Day"), s.See("3 of 3"))
	s.do(s.Press("Fri 25 Dec Christmas Day"), s.See("3 undecided: the usual hours show"), s.Press("Closed", "All 3"), s.See("1 date decided in 3 records."))
	// No page shows it yet: what that costs, and until when it can be sent, stands beside.
	s.do(
		s.See("Send to 3 pages"),
		s.See("Christmas Day differs on 3 pages; sent by Wed 23 Dec it shows in time."),
		s.See("read other hours that day; sent now, hardly anybody."),
	)
	s.do(s.Press("Send to 3 pages"), s.See("3 →"), s.NotSee("Send to 3 pages"))
	s.rig.Move(t, 48*time.Hour)
	s.do(s.NotSee("3 →"), s.See("Every page that can take it agrees"))
	for _, at := range all {
		if got := s.rig.State(t, at).Sighting.Hours; !strings.Contains(got, "2026 Dec 25 off") {
			t.Errorf("it shows %s", got)
		}
	}
}

// What somebody sees on a page that no program reads is typed in beside the record, and stands in Differences.
func TestWhatShowsIsTypedIn(t *testing.T) {
	s := open(t, "lanefolk")
	at := rig.On(s.rig.Add(t, rig.Shop("Minnow Bay")), "lanefolk")
	rig.Must(
		t,
		s.rig.Desk.Sightings.Tell(
			t.Context(),
			s.rig.Who.Actor(),
			at,
			sightings.Telling{Source: verification.Typed, Facts: map[string]string{"name": "Spokeshave Cycle Works"}},
		),
	)
	s.do(
		s.Open(s.at("/verification/l/"+at.Location.String()+"/lanefolk")),
		s.See("What it shows was typed in."),
		s.Until(`[...document.querySelectorAll("a")].find(a => a.innerText === "Type in what shows").click() === undefined`),
	)
	s.do(s.See("Of what is left blank nothing is changed."), s.Type("Phone", "(360) 555-0199"), s.Press("Keep it"), s.See("What shows there is kept."))
	s.do(s.Until(`document.querySelector("table.facts .off del")?.innerText === "99"`), s.Key("5"), s.See("Phone at Minnow Bay"))
}
