package e2e

import (
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"testing"

	"github.com/chromedp/chromedp/kb"

	"uvent/core/fact/photo"
	"uvent/core/record/record"
	"uvent/demo/paint"
	"uvent/desk/ledger"
)

// From nothing to a full record, by keyboard and mouse alone: a client, a location,
// every part of it. The tab is closed in the middle of a word, and again before
// the record is saved; nothing typed is lost.
func TestARecordFromNothing(t *testing.T) {
	s := open(t)
	coast, err := os.ReadFile("../demo/tamarack.geojson")
	s.do(err)
	_, err = s.rig.Desk.Records.AddRegion(t.Context(), s.rig.Who.Actor(), "Tamarack Sound", string(coast))
	s.do(err)
	again := func(part string) { // the tab is closed, and opened where one was
		address, err := s.Address()
		s.do(err, s.Close(), s.Open(address), s.See(part))
	}

	// The client says once what holds everywhere.
	s.do(
		s.Open(s.at("/today")),
		s.Press("Add a client"),
		s.Type("Trading name", "Mossback Chimney & Gutter"),
		s.Type("Legal name", "Mossback Home Services LLC"),
		s.Type("Owner’s name", "Ida Renn"),
		s.Type("Owner’s email", "ida@tidemail.example"),
	)
	s.do(s.Type("Registration number", "604 882 015"), s.Press("Contact"), s.Type("Website", "https://mossback.exam"))
	again("Contact")
	s.do(s.Until(holds("https://mossback.exam")), s.Type("Website", "https://mossback.example"), s.Press("Add client"), s.See("No locations yet"))

	// The location takes over what its client says.
	s.do(s.Press("Add a location"), s.Until(holds("Mossback Home Services LLC")), s.See("from the client"), s.Tick("Goes to customers"), s.Press("Contact"))
	s.do(
		s.Type("Street and number", "3 Alder Way"),
		s.Type("Town", "Alder Landing"),
		s.Type("Region", "WA"),
		s.Type("Postal code", "98995"),
		s.Type("Pin, latitude", "48.73"),
		s.Type("Pin, longitude", "-124.81"),
	)
	s.do(
		s.Type("Main phone", "360 555 0177"),
		s.Tick("texts"),
		s.Type("Email", "ida@mossback.example"),
		s.Type("Name on the envelope", "Ida Renn"),
		s.Press("Hours"),
		s.Type("As text", "Mo-Fr 08:00-12:00,13:00-17:00; PH off"),
		s.See("40 hours a week"),
	)
	again("As text")
	s.do(s.Until(`document.querySelector("#hours-text").value === "Mo-Fr 08:00-12:00,13:00-17:00; PH off"`))
	s.do(s.Press("Service area"), s.Until(`!!document.querySelector("#area-minutes")`), s.Until(`(document.querySelector("#area-minutes").focus(), true)`))
	for range 4 {
		s.do(s.Key(kb.ArrowRight))
	}
	s.do(s.See("20 min"), s.See("Port Sable"), s.See("By road"), s.Press("Leave out Quillcote"), s.Press("Take in Larkspur Falls"), s.See("in, by hand"))
	s.do(s.Press("Categories"), s.Type("Main category", "sweep"), s.Key(kb.Enter), s.Until(`document.querySelector('[role=combobox]').value === "Chimney sweep"`))
	s.do(
		s.Press("Words"),
		s.Type("Tagline", "Soot, and nothing but"),
		s.Type("Description", "Ida sweeps chimneys and clears gutters on the American side of the sound."),
		s.Type("Keywords", "chimney sweep"+kb.Enter+"gutter cleaning"+kb.Enter),
		s.See("= Fernlook, description: within 700"),
	)
	s.do(
		s.Press("Links"),
		s.Type("Quote", "https://mossback.example/quote"),
		s.Type("Network 1", "Lanefolk"),
		s.Type("Address of profile 1", "https://lanefolk.example/b/mossback"),
		s.Press("Check that they answer"),
		s.See("It answers."),
	)
	// Rows by keyboard, as in a spreadsheet.
	s.do(
		s.Press("Offerings"),
		s.Press("Add a section"),
		s.Type("Title of section 1", "Chimneys"),
		s.Key(kb.Enter+"Sweep"+kb.Tab+"$185"+kb.Enter),
		s.Key("240"),
		s.Type("What, row 2", "Cap fitted"),
		s.Type("For, row 2", "from"),
		s.Tick("Cash"),
	)
	s.do(s.Press("Papers"), s.Type("Licence 1, name", "General contractor"), s.Type("Licence 1, number", "MOSSBCG841KD"))
	again("Papers can be brought in once this is added.")
	s.do(s.Until(holds("MOSSBCG841KD")), s.Press("Add location"), s.See("the one record every directory is compared with"))

	// Photos and papers belong to what is saved.
	dir := t.TempDir()
	file := func(name string, data []byte, err error) string {
		path := filepath.Join(dir, name)
		s.do(err, os.WriteFile(path, data, 0o600))
		return path
	}
	logo, err := photo.Encode(paint.Logo(640, 640, "Mossback Chimney & Gutter", paint.Chimneys, 1), photo.PNG)
	s.do(s.Press("Photos"), s.Choose("New ones show", "logo"), s.Upload("photos", file("logo.png", logo, err)), s.See("640 × 640"))
	work, err := photo.Encode(paint.Work(1200, 675, paint.Chimneys, 1), photo.JPEG)
	s.do(s.Choose("New ones show", "cover"), s.Upload("photos", file("work.jpg", work, err)), s.See("1200 × 675"))
	s.do(
		s.Press("Papers"),
		s.Upload("papers", file("bill.pdf", paint.Letter("Sound County Electric", "Utility bill", "Mossback Home Services LLC", "3 Alder Way"), nil)),
		s.See("words read"),
	)
	s.do(s.Press("Still missing"), s.See("Nothing is missing"))

	list, err := s.rig.Desk.Records.Locations(t.Context(), ledger.Scope{})
	if s.do(err); len(list) != 1 {
		t.Fatalf("there are %d locations", len(list))
	}
	r := list[0].Record
	var towns []string
	for _, town := range r.Area.Towns {
		towns = append(towns, town.Name)
	}
	if r.Label != "Alder Landing" || r.Kind != record.GoesToCustomers || r.LegalName != "Mossback Home Services LLC" || len(r.Own) != 0 ||
		r.Company.Registration != "604 882 015" ||
		r.Website != "https://mossback.example" ||
		r.Hours != "Mo-Fr 08:00-12:00,13:00-17:00; PH off" ||
		r.Phones[0] != (record.Phone{E164: "+13605550177", Voice: true, Text: true}) ||
		r.Category != "chimney_sweep" ||
		r.Links.Quote == "" ||
		len(r.Socials) != 1 ||
		!r.Socials[0].Show {
		t.Errorf("%+v", r)
	}
	if r.Area.Minutes != 20 || !slices.Contains(towns, "Larkspur Falls") || slices.Contains(towns, "Quillcote") || !slices.Contains(r.Area.Without, "Quillcote") {
		t.Errorf("the area is %+v", r.Area)
	}
	if want := []record.Section{
		{Title: "Chimneys", Items: []record.Item{{Name: "Sweep", Price: "185"}, {Name: "Cap fitted", Price: "240", Per: "from"}}},
	}; !reflect.DeepEqual(r.Offerings, want) {
		t.Errorf("offered: %+v", r.Offerings)
	}
}
