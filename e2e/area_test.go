package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp/kb"

	"uvent/core/record/record"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

// The pin is moved on the map, and doubted where it stands in a strange place;
// a region of one's own brings roads and towns.
func TestThePinAndTheRoads(t *testing.T) {
	s := open(t)
	shop := rig.Shop("Minnow Bay")
	shop.Kind, shop.Pin = record.Both, &record.Pin{Latitude: 48.612, Longitude: -124.9544}
	at := s.rig.Add(t, shop)
	page := s.at("/record/l/" + at.Location.String())

	// Without roads, distance stands in, and it is said.
	s.do(s.Open(page+"#area"), s.See("No towns are known around here."), s.See("No roads are known near the pin: reckoned in a straight line at 45 km/h."))
	coast, err := os.ReadFile("../demo/tamarack.geojson")
	s.do(err)
	dir := t.TempDir()
	good, bad := filepath.Join(dir, "Tamarack Sound.geojson"), filepath.Join(dir, "notes.json")
	s.do(os.WriteFile(good, coast, 0o600), os.WriteFile(bad, []byte(`{"type":"FeatureCollection","features":[]}`), 0o600))
	s.do(
		s.Upload("region", bad),
		s.See("it holds no towns"),
		s.Upload("region", good),
		s.See("Tamarack Sound is in: 11 towns"),
		s.See("By road, at each road’s own speed."),
	)

	// By keyboard: a quarter of an hour, by steps of five minutes.
	s.do(
		s.Until(`(document.querySelector("#area-minutes").focus(), true)`),
		s.Key(kb.ArrowRight),
		s.Key(kb.ArrowRight),
		s.Key(kb.ArrowRight),
		s.See("15 min"),
		s.See("Tern Street Flats"),
		s.See("Leave out"),
	)
	reckoned, err := s.rig.Desk.Records.ReckonArea(t.Context(), records.AreaQuestion{Pin: shop.Pin, Minutes: 15})
	s.do(err)
	within := func(n int) error {
		return s.Until(fmt.Sprintf(`document.querySelectorAll(".towns tbody tr:not(.away)").length === %d`, n))
	}
	towns := len(reckoned.Area.Towns)
	s.do(within(towns), s.Press("Take in Fennick"), s.See("in, by hand"), within(towns+1))
	if towns < 3 {
		t.Errorf("only %d towns lie within a quarter of an hour", towns)
	}
	// Largest first.
	if sorted := now[bool](
		s,
		`(() => { const n = [...document.querySelectorAll(".towns tbody td.num:nth-of-type(1)")].map(c => Number(c.innerText.replace(/,/g, ""))); return n.length === 11 && n.every((v, i) => i === 0 || v <= n[i - 1]) })()`,
	); !sorted {
		t.Error("the towns are not in the order of their people")
	}
	s.do(s.Press("Save record"), s.See("The record is saved."))

	// An area of others is read: a town by its name.
	area := filepath.Join(dir, "area.geojson")
	s.do(
		os.WriteFile(
			area,
			[]byte(
				`{"type":"FeatureCollection","features":[{"type":"Feature","geometry":{"type":"Point","coordinates":[-124.71,49.09]},"properties":{"name":"Upper Moraine"}}]}`,
			),
			0o600,
		),
	)
	s.do(s.Upload("area-file", area), s.See("1 town read from area.geojson"), s.See("1 town, 1,300 people"), s.Press("Discard"), s.NotSee("1 town, 1,300 people"))

	// The pin by its coordinates, by keys, and by the mouse.
	s.do(
		s.Press("Contact"),
		s.Type("Pin, latitude", "48.702"),
		s.Type("Pin, longitude", "-124.905"),
		s.See("The pin lies 11 km from Minnow Bay, the town of the address."),
	)
	s.do(s.Type("Pin, latitude", "48.612"), s.Type("Pin, longitude", "-124.9544"), s.NotSee("the town of the address."))
	s.do(
		s.Until(`(document.querySelector(".map-pin")?.focus(), document.activeElement.classList.contains("map-pin"))`),
		s.Key(kb.ArrowUp),
		s.Until(holds("48.6121")),
	)
	// The map may still be moving when it is taken hold of on a busy machine: then it is taken hold of again.
	for try := 0; ; try++ {
		from := now[[]float64](
			s,
			`(() => { const p = document.querySelector(".map-pin"); p.scrollIntoView({block: "center"}); const b = p.getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2] })()`,
		)
		s.do(s.Drag(from[0], from[1], from[0]-150, from[1]))
		if now[bool](
			s,
			`new Promise(done => { const look = n => Number([...document.querySelectorAll("input.mono")][1].value) < -124.96 ? done(true) : n === 0 ? done(false) : setTimeout(look, 50, n - 1); look(60) })`,
		) {
			break
		}
		if try == 5 {
			t.Fatal("the pin cannot be dragged")
		}
	}
	s.do(
		s.See("off every road that is known"),
	)
}

// Rows come in from a spreadsheet as they were copied there.
func TestOfferingsArePasted(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.do(s.Open(s.at("/record/l/"+at.Location.String()+"#offerings")), s.Press("Add a section"), s.Type("Title of section 1", "Repairs"), s.Key(kb.Enter))
	s.do(s.Until(`(() => {
		const data = new DataTransfer()
		data.setData("text/plain", "Puncture\t$14\t\tTube included\r\nGear service\tfrom 38\t\t\"Cables, hanger\nand \"\"indexing\"\"\"\r\n\r\nTruing\t22,50 €\ta wheel\t\r\n")
		document.activeElement.dispatchEvent(new ClipboardEvent("paste", {clipboardData: data, bubbles: true, cancelable: true}))
		return true
	})()`), s.Until(holds("Truing")), s.Press("Save record"), s.See("The record is saved."))
	l, err := s.rig.Desk.Ledger.Location(t.Context(), at.Location)
	s.do(err)
	want := []record.Item{
		{Name: "Puncture", Price: "14", About: "Tube included"},
		{Name: "Gear service", Price: "38", Per: "from", About: "Cables, hanger\nand \"indexing\""},
		{Name: "Truing", Price: "22.50", Per: "a wheel"},
	}
	if o := l.Record.Offerings; len(o) != 1 || len(o[0].Items) != 3 || o[0].Items[0] != want[0] || o[0].Items[1].Price != "38" || o[0].Items[1].Per != "from" ||
		o[0].Items[2] != want[2] {
		t.Errorf("%+v", o)
	}
	// An empty price is no price; a bad one is named where it stands.
	s.do(
		s.Type("What, row 3", "Wheel truing"),
		s.Type("Price, row 1", "a lot"),
		s.Press("Save record"),
		s.See(`is no price; write 12 or 12.50`),
		s.Type("Price, row 1", ""),
		s.Key(kb.Backspace),
		s.Press("Save record"),
		s.NotSee("not saved yet"),
	)
	if l, err = s.rig.Desk.Ledger.Location(t.Context(), at.Location); err != nil || l.Record.Offerings[0].Items[0].Price != "" ||
		l.Record.Offerings[0].Items[2].Name != "Wheel truing" {
		t.Errorf("%+v, %v", l.Record.Offerings, err)
	}
}

// An extract of OpenStreetMap is brought in where it is missed, and read while one goes on.
func TestAnExtractBringsRoadsAndTowns(t *testing.T) {
	s := open(t)
	shop := rig.Shop("Minnow Bay")
	shop.Kind, shop.Pin = record.Both, &record.Pin{Latitude: 48.5, Longitude: -124.9}
	at := s.rig.Add(t, shop)
	dir := t.TempDir()
	cut, whole := filepath.Join(dir, "Cut short.osm.pbf"), filepath.Join(dir, "Kettle Reach.osm.pbf")
	packed, err := os.ReadFile("../core/fact/extract/testdata/reach.osm.pbf")
	s.do(err, os.WriteFile(cut, packed[:300], 0o600), os.WriteFile(whole, packed, 0o600))
	s.do(s.Open(s.at("/record/l/"+at.Location.String()+"#area")), s.See("none known yet: travel is reckoned in a straight line"))
	s.do(s.Upload("region", cut), s.See("Cut short is being read; you need not wait."), s.See("cannot be read to its end"), s.Press("Take out", "Cut short"))
	s.do(s.NotSee("cannot be read to its end"), s.Upload("region", whole))
	s.do(s.See("3 towns, 4 stretches of road; of 1 town it is not said how many live there"), s.See("By road, at each road’s own speed."), s.See("Upper Fenwater"))
}
