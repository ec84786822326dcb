package e2e

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"strings"
	"testing"

	"uvent/demo"
	"uvent/e2e/browser"
	"uvent/e2e/rig"
)

// views are the main views of the demo, each with what it says once it is there. Of a path, {Client/Label} is a
// location and {Client} a client.
var views = []struct{ path, says string }{
	{"/today", "What is done once"},
	{"/today/l/{Spokeshave Cycle Works/Minnow Bay}", "Today, "},
	{"/coverage", "When will they be public?"},
	{"/coverage?show=fit", "how complete the listing can be"},
	{"/coverage/l/{Spokeshave Cycle Works/Larkspur Falls}", "Coverage"},
	{"/record", "15 locations"},
	{"/record/c/{Spokeshave Cycle Works}", "Spokeshave"},
	{"/record/c/{Spokeshave Cycle Works}/facts", "Legal name"},
	{"/record/c/{Spokeshave Cycle Works}/new", "Trading name"},
	{"/record/new-client", "Client"},
	{"/record/put-away", "put away"},
	{"/record/import", "Drop a spreadsheet here"},
	{"/record/course", "Close"},
	{"/record/l/{Spokeshave Cycle Works/Minnow Bay}", "Trading name"},
	{"/record/l/{Spokeshave Cycle Works/Minnow Bay}#contact", "Street"},
	{"/record/l/{Spokeshave Cycle Works/Minnow Bay}#categories", "Main category"},
	{"/record/l/{Spokeshave Cycle Works/Minnow Bay}#hours", "As text"},
	{"/record/l/{Mossback Chimney & Gutter/Alder Landing}#area", "Service area"},
	{"/record/l/{Spokeshave Cycle Works/Minnow Bay}#words", "Tagline"},
	{"/record/l/{Spokeshave Cycle Works/Minnow Bay}#links", "Booking"},
	{"/record/l/{Spokeshave Cycle Works/Minnow Bay}#offerings", "Ways to pay"},
	{"/record/l/{Spokeshave Cycle Works/Three Herons}#photos", "Logo"},
	{"/record/l/{Spokeshave Cycle Works/Minnow Bay}#papers", "Licence"},
	{"/record/l/{Spokeshave Cycle Works/Minnow Bay}#missing", "Still missing"},
	{"/verification", "Held, verified, public."},
	{"/verification/l/{Spokeshave Cycle Works/Minnow Bay}/fernlook", "What has happened"},
	{"/verification/l/{Spokeshave Cycle Works/Minnow Bay}/fernlook?look=fit", "of a complete listing"},
	{"/verification/l/{Spokeshave Cycle Works/Three Herons}/fernlook?look=preview", "In a list of results"},
	{"/verification/l/{Spokeshave Cycle Works/Three Herons}/fernlook?look=speaking", "Post"},
	{"/verification/l/{Spokeshave Cycle Works/Minnow Bay}/lanefolk?look=worksheet", "Opening times"},
	{"/verification/l/{Spokeshave Cycle Works/Larkspur Falls}/fernlook", "Search Fernlook"},
	{"/special-dates", "Special dates"},
	{"/suspensions", "suspended"},
	{"/suspensions/l/{case}", "What to do"},
	{"/directories", "Weight"},
	{"/directories?directory=fernlook", "Fernlook"},
	{"/people", "may sign in"},
	{"/you", "Codes of an app"},
	{"/log", "Log"},
	{"/interface", "Interface"},
}

// axe asks axe-core (https://github.com/dequelabs/axe-core) what it finds in a page, as lines.
const axe = `axe.run(document, {resultTypes: ["violations"], runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]}).then(r =>
	r.violations.flatMap(v => v.nodes.map(n => v.id + ": " + n.target.join(" ") + " " + n.html.slice(0, 140) + " " + n.any.concat(n.all).map(c => c.message).join("; ").slice(0, 200))))`

// accessible asks on every view of a demo: axe, whether at twice its size something is cut off or out of reach, and
// whether photos lie over each other.
func accessible(t *testing.T, base string) {
	t.Helper()
	tool, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	rig.Must(t, err)
	tab, stop, err := browser.Start(context.Background())
	rig.Must(t, err)
	t.Cleanup(stop)
	rig.Must(t, tab.Enter(base, demo.People[0].Email, demo.Password))
	ids, err := browser.Ask[map[string]string](tab, `Promise.all(["clients", "cases"].map(of => fetch("/api/" + of).then(r => r.json()))).then(([clients, all]) =>
		Object.fromEntries([...clients.flatMap(c => [[c.name, c.id], ...c.locations.map(l => [c.name + "/" + l.label, l.id])]),
			...all.cases.filter(c => c.facts.kind === "suspended").map(c => ["case", c.row.location + "/" + c.row.directory + "/" + c.facts.id])]))`)
	rig.Must(t, err)
	rig.Must(t, tab.Open(base+"/you"))
	rig.Must(t, tab.See("Codes of an app"))
	_, err = browser.Ask[bool](tab, `(() => { `+string(tool)+` ; return true })()`)
	rig.Must(t, err)
	for _, v := range views {
		path := v.path
		for name, id := range ids {
			path = strings.ReplaceAll(path, "{"+name+"}", id)
		}
		rig.Must(t, tab.Go(path))
		rig.Must(t, tab.Until(fmt.Sprintf(`document.body.innerText.toLowerCase().includes(%s.toLowerCase()) && !document.querySelector(".pending")`, quoted(v.says))))
		found, err := browser.Ask[[]string](tab, axe)
		rig.Must(t, err)
		for _, f := range found {
			t.Errorf("%s: %s", v.path, f)
		}
		rig.Must(t, tab.Resize(browser.Width/2, browser.Height/2)) // as one sees it who makes everything twice as large
		lost, err := browser.Ask[[]string](tab, cutOff)
		rig.Must(t, err)
		for _, l := range lost {
			t.Errorf("%s, at twice its size: %s", v.path, l)
		}
		rig.Must(t, tab.Resize(1366, 768))
		over, err := browser.Ask[int](tab, overlapping)
		rig.Must(t, err)
		if over > 0 {
			t.Errorf("%s: %d photos lie over others", v.path, over)
		}
		rig.Must(t, tab.Resize(browser.Width, browser.Height))
	}
}

// cutOff lists what lies beyond the window and cannot be scrolled to, and what must be in sight and is not.
const cutOff = `new Promise(done => requestAnimationFrame(() => setTimeout(() => {
	const beyond = e => {
		const b = e.getBoundingClientRect()
		if (b.width === 0 || b.right <= innerWidth + 1 || e.closest(".visually-hidden, .map, svg *")) return false
		for (let p = e.parentElement; p; p = p.parentElement) {
			const o = getComputedStyle(p).overflowX
			if ((o === "auto" || o === "scroll") && p.scrollWidth > p.clientWidth) return false
		}
		return true
	}
	const inSight = of => { const b = document.querySelector(of)?.getBoundingClientRect(); return !!b && b.width > 0 && b.left >= 0 && b.right <= innerWidth && b.bottom <= innerHeight }
	done([
		...[...document.body.querySelectorAll("*")].filter(beyond).slice(0, 3).map(e => e.tagName + " " + e.className + " is cut off"),
		...[".band .clock", ".scope input"].filter(of => !inSight(of)).map(of => of + " is out of sight"),
	])
}, 50)))`

// overlapping counts the photos that lie over another.
const overlapping = `new Promise(done => requestAnimationFrame(() => {
	const boxes = [...document.querySelectorAll(".cut")].map(e => e.getBoundingClientRect())
	done(boxes.filter((a, i) => boxes.slice(i + 1).some(b => a.left < b.right - 1 && b.left < a.right - 1 && a.top < b.bottom - 1 && b.top < a.bottom - 1)).length)
}))`

func quoted(s string) string {
	b, _ := json.Marshal(s)
	return string(b)
}
