package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"

	"uvent/core/record/record"
	"uvent/desk/clockwork"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/e2e/rig"
)

// path is where the screen is, without its address.
func (s *screen) path() string {
	s.t.Helper()
	address, err := s.Address()
	s.do(err)
	return strings.TrimPrefix(address, s.base)
}

func TestEverythingIsReachedFromTheKeyboard(t *testing.T) {
	s := open(t)
	one, two := s.rig.Add(t, rig.Shop("Minnow Bay")), s.rig.Add(t, rig.Shop("Quillcote"))
	s.do(s.Open(s.at("/today")), s.See("Look for 2 places: one round"))

	s.do(s.See("Decide Thanksgiving Day for 2 locations"), s.Key("j"), s.Until(`document.activeElement.innerText === "Decide Thanksgiving Day for 2 locations"`))
	s.do(
		s.Key("j"),
		s.Key("j"),
		s.Until(`document.activeElement.innerText === "Look for 2 places: one round"`),
		s.Key(kb.Enter),
		s.See("Look for Minnow Bay on Fernlook"),
	)
	s.do(s.Key("j"), s.Until(`document.activeElement.innerText === "Look for Minnow Bay on Fernlook"`))
	s.do(s.Key("j"), s.Until(`document.activeElement.innerText === "Look for Quillcote on Fernlook"`))
	s.do(s.Key("j"), s.Key("k"), s.Until(`document.activeElement.innerText === "Look for Minnow Bay on Fernlook"`))
	s.do(s.Key(kb.Enter), s.See("Look for it first"))
	if got := s.path(); got != "/verification/l/"+one.Location.String()+"/fernlook" {
		t.Errorf("Enter opens %s", got)
	}
	s.do(s.Key("n"), s.See("Quillcote on Fernlook"), s.Key("n"), s.See("Minnow Bay on Fernlook"))

	// Activities keep the scope, and the scope keeps the activity.
	for key, want := range map[string]string{"1": "/today", "2": "/coverage", "3": "/record", "4": "/verification", "6": "/special-dates", "0": "/directories"} {
		s.do(s.Key(key), s.Until(`location.pathname === "`+want+"/l/"+one.Location.String()+`"`))
	}
	s.do(s.Key("2"), s.See("Coverage, Client of Minnow Bay, Minnow Bay"))
	s.do(s.Key("]"), s.See("Coverage, Client of Quillcote"), s.Key("]"), s.See("Coverage, Client of Quillcote, Quillcote"))
	s.do(s.Key("]"), s.Key("["), s.Key("["), s.Key("["), s.See("Coverage, Client of Minnow Bay"), s.Key("["), s.See("2 listings wanted"))

	// Find a location, and jump to an activity.
	find := func(text string) error {
		if err := s.Key("/"); err != nil {
			return err
		}
		if err := s.Until(`document.activeElement === document.querySelector(".find input")`); err != nil {
			return err
		}
		return s.Type("Find a client or location, or jump to an activity", text)
	}
	s.do(find("quill"), s.Key(kb.Enter), s.See("Coverage, Client of Quillcote"))
	s.do(find("verif"), s.Key(kb.Enter), s.Until(`location.pathname.startsWith("/verification/c/")`))
	s.do(find("nobody"), s.See("Nothing is called that."), s.Key(kb.Escape), s.NotSee("Nothing is called that."))

	s.do(s.Key("?"), s.See("The next thing that only you can move"), s.Key(kb.Escape), s.NotSee("The next thing that only you can move"))
	// No key works while typing.
	s.do(s.Open(s.at("/record/l/"+two.Location.String())), s.See("Trading name"), s.Type("Trading name", "12 jk/ Cycles ?n[]"))
	if got := s.path(); got != "/record/l/"+two.Location.String() {
		t.Errorf("typing led to %s", got)
	}
	s.do(s.Until(`[...document.querySelectorAll("input")].some(i => i.value === "12 jk/ Cycles ?n[]")`))
}

func TestARecordIsTypedDrawnKeptAndSaved(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	page := s.at("/record/l/" + at.Location.String() + "#hours")
	s.do(s.Open(page), s.See("Tue–Fri 9–12, 13–18; Sat 9–16"), s.See("39 hours a week"), s.See("Open now"))
	s.do(s.Until(`document.querySelectorAll(".sitting").length === 9`))

	// Typed: the week is drawn at once, and a mistake is told by its column.
	s.do(
		s.Type("As text", "Mo-Fr 22:00-02:00"),
		s.See("Mon–Fri 22–2"),
		s.See("20 hours a week"),
		s.Until(`document.querySelectorAll(".sitting.spill").length === 5`),
	)
	s.do(s.Type("As text", "Mo 9-xyz"), s.See(`Column 4: "9" is no time`))
	s.do(s.Type("As text", "Mo 09:00-12:00; PH off"), s.See("Mon 9–12; public holidays closed"))

	// Drawn: the text follows, and keeps what it says of holidays.
	box := now[map[string]float64](
		s,
		`(() => { const b = document.querySelectorAll(".track")[2].getBoundingClientRect(); document.querySelector(".week").scrollIntoView({block: "center"}); const c = document.querySelectorAll(".track")[2].getBoundingClientRect(); return {x: c.x, y: c.y + c.height / 2, w: c.width} })()`,
	)
	hour := func(h float64) float64 { return box["x"] + box["w"]*h/24 }
	s.do(s.Drag(hour(13), box["y"], hour(17), box["y"]))
	s.do(s.Until(`document.querySelector("#hours-text").value === "Mo 09:00-12:00; We 13:00-17:00; PH off"`))
	// By key: the end half an hour later, the start earlier; then taken out.
	s.do(s.Until(`(document.querySelector('[aria-label="Wed 13–17"]')?.focus(), document.activeElement.getAttribute("aria-label")) === "Wed 13–17"`))
	s.do(s.Key(kb.ArrowRight), s.Until(`document.querySelector("#hours-text").value.includes("We 13:00-17:15")`))
	s.do(s.Press("Wed: copy, clear"), s.Press("Copy to Mon–Fri"), s.Until(`document.querySelector("#hours-text").value === "Mo-Fr 13:00-17:15; PH off"`))

	// The tab is closed: nothing is lost.
	s.do(s.Press("Contact"), s.Type("Email", "shop"), s.Open("about:blank"), s.Open(page))
	s.do(s.See("not saved yet, kept as typed"), s.Until(`document.querySelector("#hours-text").value === "Mo-Fr 13:00-17:15; PH off"`))
	s.do(s.Press("Save record"), s.See("One fact cannot be kept as it is."), s.See("It is not an email address; write it as name@example.com."))
	s.do(s.Type("Email", "new@spokeshave.example"), s.Press("Save record"), s.See("The record is saved."), s.NotSee("not saved yet"))
	l, err := s.rig.Desk.Ledger.Location(t.Context(), at.Location)
	if s.do(err); l.Record.Hours != "Mo-Fr 13:00-17:15; PH off" || l.Record.Email != "new@spokeshave.example" {
		t.Errorf("saved as %+v", l.Record)
	}
	s.do(s.Press("Undo"), s.See("The record is as it was before."))
	if l, err = s.rig.Desk.Ledger.Location(t.Context(), at.Location); err != nil || l.Record.Email != "shop@spokeshave.example" ||
		l.Record.Hours != rig.Shop("").Hours {
		t.Errorf("undone it is %+v, %v", l.Record, err)
	}
}

// Two browsers with one record: each sees the other, and what either typed is in
// it in the end, or was given up by choice.
func TestTwoBrowsersOnOneRecord(t *testing.T) {
	s := open(t)
	tobias, err := s.rig.Desk.People.AddPerson(
		t.Context(),
		people.Person{Name: "Tobias Finch", Email: "tobias@halyardstreet.example", Zone: "America/New_York"},
		rig.Password,
	)
	s.do(err)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	page := s.at("/record/l/" + at.Location.String())
	theirs := s.beside(tobias.Email)
	s.do(s.Open(page), s.See("Trading name"), theirs.Open(page), theirs.See("Ines Roake has it open"))
	s.do(s.See("Tobias Finch has it open"), theirs.Type("Legal name", "Theirs LLC"), s.See("Tobias Finch has it open and is editing"))

	s.do(s.Press("Contact"), s.Type("Parking", "Behind the shop."), s.Type("Email", "mine@spokeshave.example"))
	s.do(
		theirs.Press("Contact"),
		theirs.Type("Email", "theirs@spokeshave.example"),
		theirs.Type("Website", "https://theirs.example"),
		theirs.Press("Save record"),
		theirs.See("The record is saved."),
	)
	s.do(s.See("Tobias Finch saved this record while you were editing it."), s.See("Both of you changed these"), s.See("theirs@spokeshave.example"))
	s.do(s.Until(holds("https://theirs.example")), s.Until(holds("mine@spokeshave.example")))
	s.do(s.Until(`document.querySelector("button[type=submit]").disabled`)) // until it is decided
	s.do(
		s.Press("Take theirs"),
		s.See("What each of you changed is in it now"),
		s.Until(holds("theirs@spokeshave.example")),
		s.Press("Save record"),
		s.See("The record is saved."),
	)
	l, err := s.rig.Desk.Ledger.Location(t.Context(), at.Location)
	if r := l.Record; err != nil || r.LegalName != "Theirs LLC" || r.Website != "https://theirs.example" || r.Email != "theirs@spokeshave.example" ||
		r.Parking != "Behind the shop." {
		t.Errorf("the record is %+v, %v", r, err)
	}

	// Keeping mine overwrites theirs, by choice.
	s.do(
		theirs.Until(holds("Behind the shop.")), // they see what was saved
		s.Type("Website", "https://mine.example"),
		theirs.Type("Website", "https://other.example"),
		theirs.See("not saved yet"),
		theirs.Press("Save record"),
		theirs.NotSee("not saved yet"),
	)
	s.do(s.Press("Keep mine"), s.Press("Save record"), s.Until(`!document.body.innerText.includes("not saved yet")`))
	if l, err = s.rig.Desk.Ledger.Location(t.Context(), at.Location); err != nil || l.Record.Website != "https://mine.example" {
		t.Errorf("the website is %q, %v", l.Record.Website, err)
	}
	s.do(theirs.Close(), s.Until(`!document.body.innerText.includes("Tobias Finch has it open")`))
}

// What is typed is there on another machine, and after a closed window.
func TestADraftIsThereElsewhere(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	page := s.at("/record/l/" + at.Location.String())
	s.do(s.Open(page), s.See("Trading name"), s.Type("Legal name", "Half a na"), s.See("not saved yet"))
	s.do(s.eventually(func() bool {
		body, err := s.rig.Desk.Records.Draft(t.Context(), s.rig.Who.Actor(), "location "+at.Location.String())
		return err == nil && strings.Contains(body, "Half a na")
	}))
	elsewhere := s.beside(s.rig.Who.Email)
	s.do(elsewhere.Open(page), elsewhere.Until(holds("Half a na")), elsewhere.See("you are editing it in another window"))
	s.do(elsewhere.Press("Discard"), elsewhere.NotSee("not saved yet"), elsewhere.Close())
}

// A change is made now, and takes effect on its date.
func TestAChangeFromADate(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.do(
		s.Open(s.at("/record/l/"+at.Location.String())),
		s.See("Trading name"),
		s.Type("Legal name", "Later LLC"),
		s.Press("From a date"),
		s.See("Change it from a date"),
	)
	s.do(s.Type("Date", "12012026"), s.Press("Change it then"), s.See("legal name will change"), s.NotSee("not saved yet"))
	to := time.Date(2026, 12, 1, 8, 0, 0, 0, time.UTC)
	s.do(s.rig.Desk.MoveClock(t.Context(), clockwork.Move{To: &to}), s.Until(holds("Later LLC")), s.NotSee("will change"))
}

// holds is true when a field holds a text.
func holds(text string) string {
	return fmt.Sprintf(`[...document.querySelectorAll("input, textarea")].some(i => i.value === %q)`, text)
}

func TestABadCellIsNamed(t *testing.T) {
	s := open(t)
	file := filepath.Join(t.TempDir(), "shops.csv")
	s.do(os.WriteFile(file, []byte("\xef\xbb\xbfClient;Location;Name;Street;Town;State;Country;Ruf;Hours\n"+
		"Nettlewick Yarns;Old Wharf;Nettlewick Yarns;9 Old Wharf;Port Sable;WA;US;360 555 0109;Tu-Sa 10:00-17:30\n"+
		"Nettlewick Yarns;Fennick;\"Nettlewick\nYarns\";118 Fennick Road;Fennick;BC;CA;250 555 01;Mo 9-5\n"), 0o600))
	s.do(s.Open(s.at("/record/import")), s.See("Choose a file"), s.Upload("file", file), s.See("Bringing in “shops.csv”"), s.See("1 waits"))
	s.do(s.See("line break or another control character"), s.See("the row waits"))
	s.do(
		s.Until(
			`(() => { const c = document.querySelector('[aria-label="What Ruf holds"]'); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(c, "phone"); c.dispatchEvent(new Event("change", {bubbles: true})); return true })()`,
		),
	)
	s.do(
		s.See("it has too few digits"),
		s.See("“360 555 0109”"),
		s.See("The other 1 as a file"),
		s.Press("Bring in 1"),
		s.See("“shops.csv” is in"),
	)
	s.do(os.WriteFile(file, []byte("PK\x03\x04"), 0o600), s.Open(s.at("/record/import")), s.Upload("file", file), s.See("save it as XLSX or CSV anew"))
}

func TestClientsAndLocationsByForm(t *testing.T) {
	s := open(t)
	s.do(s.Open(s.at("/today")), s.See("No locations yet"), s.Press("Add a client"), s.Press("Add client"), s.See("A client needs its trading name."))
	s.do(s.Type("Trading name", "Nettlewick Yarns"), s.Type("Owner’s name", "Perpetua Hale"), s.Press("Add client"), s.See("Record, Nettlewick Yarns"))
	s.do(s.Press("Add a location"), s.Press("Add location"), s.See("An address needs its town."), s.See("4 facts cannot be kept as they are."))
	s.do(
		s.Type("Street and number", "9 Old Wharf"),
		s.Type("Town", "Port Sable"),
		s.Type("Region", "WA"),
		s.Type("Main phone", "360 555 0109"),
		s.See("(360) 555-0109, a landline or a mobile"),
	)
	s.do(s.Press("Categories"), s.Type("Main category", "wool"), s.Key(kb.Enter), s.Until(`document.querySelector('[role=combobox]').value === "Yarn shop"`))
	s.do(s.Press("Add location"), s.See("the one record every directory is compared with"), s.See("What directories can do with this record"))
	list, err := s.rig.Desk.Records.Locations(t.Context(), ledger.Scope{})
	if s.do(err); len(list) != 1 || list[0].Label != "Port Sable" || list[0].Record.Category != "yarn_shop" ||
		list[0].Record.Phones[0] != (record.Phone{E164: "+13605550109", Voice: true}) {
		t.Errorf("added %+v", list)
	}
}

func TestSigningInGoesOnToWhereOneWasGoing(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.do(s.Open(s.at("/today")), s.Press("IR"), s.Press("Sign out"), s.See("Password"))
	s.do(s.Open(s.at("/verification/l/"+at.Location.String()+"/fernlook")), s.See("Sign in"))
	s.do(s.Type("Email", s.rig.Who.Email), s.Type("Password", "wrong"), s.Press("Sign in"), s.See("Email and password do not belong together."))
	s.do(s.Type("Password", rig.Password), s.Press("Sign in"), s.See("Look for it first"))
	if got := s.path(); got != "/verification/l/"+at.Location.String()+"/fernlook" {
		t.Errorf("signed in at %s", got)
	}
}

// What another person does shows without a reload, in every tab.
func TestChangesShowByThemselves(t *testing.T) {
	s := open(t)
	s.do(s.Open(s.at("/today")), s.See("No locations yet"))
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.do(s.See("Look for Minnow Bay on Fernlook"))
	s.rig.Held(t, at)
	s.do(s.See("Verify Minnow Bay on Fernlook"))
}

// overflows names what is wider than the window.
const overflows = `[...document.querySelectorAll("#view *")].filter(e => e.getBoundingClientRect().right > innerWidth + 1 && e.getBoundingClientRect().width > 0 && !e.closest(".scroll, .visually-hidden"))
	.map(e => e.tagName + "." + e.className).slice(0, 5).join(" ")`

func TestNothingOverflows(t *testing.T) {
	s := open(t)
	long := rig.Shop("Port Sable at the Old Wharf, upper floor, beside the chandlery with the green door")
	long.Name = "The Spokeshave Cycle Works and Wheelwrights of Port Sable and Three Herons"
	long.Address.Locality = "Tern Street Flats-on-the-Sound"
	long.Website = "https://spokeshave.example/a-very-long-address-without-any-space-in-it-that-goes-on-and-on"
	at := s.rig.Add(t, long)
	s.rig.Held(t, s.rig.Add(t, rig.Shop("Minnow Bay")))
	s.do(s.Open(s.at("/directories")), s.See("Weight"))
	listing := "/verification/l/" + at.Location.String() + "/fernlook"
	for _, c := range []struct {
		width int64
		paths []string
	}{
		{1280, []string{"/today", "/coverage", "/record", "/record/l/" + at.Location.String(), "/record/l/" + at.Location.String() + "#hours", "/record/l/" + at.Location.String() + "#categories", "/verification", listing, "/special-dates", "/directories", "/record/import"}},
		{1100, []string{"/today", "/coverage", "/record/l/" + at.Location.String() + "#contact", "/record/l/" + at.Location.String() + "#hours", "/verification", listing, "/special-dates", "/directories"}},
		{360, []string{"/today", listing}}, // in the street, with a phone
	} {
		s.do(s.Resize(c.width, 800))
		for _, path := range c.paths {
			s.do(s.Go(path), s.Until(`!!document.querySelector("#view h1, .drop") && !document.querySelector(".loading")`))
			if wide := now[string](s, overflows); wide != "" {
				t.Errorf("%d px, %s: %s", c.width, path, wide)
			}
			if page := now[bool](s, `document.documentElement.scrollWidth > innerWidth`); page {
				t.Errorf("%d px, %s: the page itself scrolls sideways", c.width, path)
			}
		}
	}
}

// Nothing can be pressed or filled in that has no name for those who do not see
// it, and every text stands out from its ground by 4.5 to 1 (WCAG 2.2, 1.4.3).
func TestNamesAndContrast(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.rig.Held(t, at)
	s.do(s.Open(s.at("/you")), s.See("Codes of an app"))
	for _, path := range []string{"/today", "/coverage", "/record", "/record/l/" + at.Location.String(), "/record/l/" + at.Location.String() + "#contact", "/record/l/" + at.Location.String() + "#hours", "/record/l/" + at.Location.String() + "#categories", "/record/l/" + at.Location.String() + "#words", "/special-dates", "/verification", "/verification/l/" + at.Location.String() + "/fernlook", "/directories", "/record/import", "/record/new-client"} {
		s.do(s.Go(path), s.Until(`!!document.querySelector("#view h1") && !document.querySelector(".loading")`))
		if nameless := now[string](s, nameless); nameless != "" {
			t.Errorf("%s: without a name: %s", path, nameless)
		}
		if faint := now[string](s, faint); faint != "" {
			t.Errorf("%s: too faint: %s", path, faint)
		}
	}
}

const nameless = `[...document.querySelectorAll("button, a, input, select, textarea, [role=img]")].filter(e => {
	const label = e.labels?.length ? [...e.labels].map(l => l.innerText).join("") : ""
	return !(e.getAttribute("aria-label") || label || e.textContent.trim() || e.title || e.querySelector?.("[aria-label]"))
}).map(e => e.outerHTML.slice(0, 80)).join("\n")`

const faint = `(() => {
	const rgb = s => (s.match(/[\d.]+/g) || []).map(Number)
	const light = c => c.slice(0, 3).map(v => (v /= 255) <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4).reduce((a, v, i) => a + v * [0.2126, 0.7152, 0.0722][i], 0)
	const ground = e => { for (; e; e = e.parentElement) { const c = rgb(getComputedStyle(e).backgroundColor); if (c.length === 3 || c[3] > 0.99) return c } return [255, 255, 255] }
	const out = new Set()
	for (const e of document.querySelectorAll("body *")) {
		if (![...e.childNodes].some(n => n.nodeType === 3 && n.data.trim()) || !e.getClientRects().length || e.closest(":disabled, .visually-hidden, svg, option, .week .spill")) continue
		const a = light(rgb(getComputedStyle(e).color)), b = light(ground(e))
		const ratio = (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05)
		if (ratio < 4.5) out.add(e.innerText.trim().slice(0, 30) + " " + ratio.toFixed(2))
	}
	return [...out].slice(0, 8).join("; ")
})()`

func TestFiveHundredLocations(t *testing.T) {
	s := open(t)
	var file strings.Builder
	file.WriteString("client,label,name,street,locality,region,country\n")
	for i := range 500 {
		fmt.Fprintf(&file, "Client %02d,Shop %03d,Spokeshave Cycle Works,%d Tern Street,Minnow Bay,WA,US\n", i/20, i, i+1)
	}
	s.rig.BringIn(t, []byte(file.String()))
	s.do(
		s.Open(s.at("/today")),
		s.See("500 things only you can move"),
		s.Press("Look for 500 places: one round"),
		s.See("Search them"),
		s.Press("Show more of 500"),
	)
	s.do(s.Until(`[...document.querySelectorAll(".opened li a")].at(-1).textContent === "Look for Shop 099 on Fernlook"`)) // drawn as it is scrolled to
	s.do(s.Key("/"), s.Type("Find a client or location, or jump to an activity", "shop 481"), s.Key(kb.Enter), s.See("1 thing only you can move"))
	// Rows are drawn as they are scrolled to; each is there in its place.
	s.do(s.Open(s.at("/coverage")), s.See("500 listings wanted"), s.Until(`document.querySelector("table.coverage").getAttribute("aria-rowcount") === "501"`))
	for _, n := range []int{0, 99, 100, 250, 499} {
		s.do(s.Until(fmt.Sprintf(`(document.querySelector("#view").scrollTop = %d, true)`, n*30)),
			s.Until(fmt.Sprintf(`document.querySelector('tr[aria-rowindex="%d"] th')?.innerText.startsWith("Shop %03d")`, n+2, n)))
	}
}

func TestASavingIsTakenBackFromTheHistory(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.do(
		s.Open(s.at("/record/l/"+at.Location.String())),
		s.See("Trading name"),
		s.Type("Legal name", "Spokeshave LLC"),
		s.Press("Save record"),
		s.See("The record is saved."),
	)
	s.do(s.Type("Store code", "SCW-03"), s.Press("Save record"), s.NotSee("Discard"))
	s.do(
		s.Press("History"),
		s.See("Legal name not said → Spokeshave LLC"),
		s.See("The location was added."),
		s.Press("Take back", "Legal name"),
		s.See("Legal name Spokeshave LLC → not said"),
	)
	l, err := s.rig.Desk.Ledger.Location(t.Context(), at.Location)
	if s.do(err); l.Record.LegalName != "" || l.Record.StoreCode != "SCW-03" {
		t.Errorf("taken back: %+v", l.Record)
	}
}
