// Command screenshots takes pictures of a demo, at 1280x800, for the README: one
// of each main view, or those named as NAME=PATH. It runs a fresh demo, or looks
// at one that runs. In a path,
// {Client/Label} stands for that location's id, {Client} for the client's and
// {outside} for the address of the stand-ins.
package main

import (
	"bufio"
	"cmp"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"uvent/demo"
	"uvent/e2e/browser"
)

var mainViews = []string{
	"today=/today",
	"coverage=/coverage",
	"record=/record/l/{Spokeshave Cycle Works/Minnow Bay}#hours",
	"verification=/verification",
	"listing=/verification/l/{Spokeshave Cycle Works/Minnow Bay}/fernlook",
	"differences=/verification/l/{Spokeshave Cycle Works/Three Herons}/fernlook",
	"import=/record/import/{import}",
	"forecast=/coverage/c/{Spokeshave Cycle Works}",
	"worksheet=/verification/l/{Spokeshave Cycle Works/Minnow Bay}/lanefolk?look=worksheet",
	"special-dates=/special-dates",
	"directories=/directories",
	"outside={outside}/",
	"photos=/record/l/{Mossback Chimney & Gutter/Alder Landing}#photos",
	"find=/verification/c/{Nettlewick Yarns}",
	"suspensions=/suspensions",
	"people=/people",
	"log=/log",
	"case=/suspensions/l/{Saltgrass Laundry/Saltgrass}/fernlook/1",

	// Four of the fifteen ways in which pages are laid out.
	"../previews/fernlook=/verification/l/{Spokeshave Cycle Works/Three Herons}/fernlook?look=preview",
	"../previews/murmurhall=/verification/l/{Mossback Chimney & Gutter/Alder Landing}/murmurhall?look=preview",
	"../previews/lanefolk=/verification/l/{Spokeshave Cycle Works/Minnow Bay}/lanefolk?look=preview&as=wide",
	"../previews/waywren=/verification/l/{Spokeshave Cycle Works/Port Sable}/waywren?look=preview&as=wide",

	"owner={owner}",
}

// scripts are what is done in a page before its picture is taken.
var scripts = map[string]string{
	"case": `fetch("/api/clock/moves", {method: "POST", headers: {"Content-Type": "application/json"}, body: JSON.stringify({by: "day"})}).then(() => new
		Promise(done => setTimeout(done, 2500)))`,
	"forecast": shown(".forecast", "end"),

	"../previews/fernlook":   shown(".preview-head", "nearest"),
	"../previews/murmurhall": shown(".preview-head", "nearest"),
	"../previews/lanefolk":   shown(".preview-head", "nearest"),
	"../previews/waywren":    shown(".preview-head", "nearest"),

	"find": `fetch("/api/round-proposals?what=search").then(r => r.json()).then(items => fetch("/api/rounds", {method: "POST", headers: {"Content-Type":
		"application/json"},
		body: JSON.stringify({what: "search", items: items.filter(i => !i.why).map(({location, directory}) => ({location,
			directory}))})})).then(() => new Promise(done => setTimeout(done, 5000)))`,
}

// shown scrolls to a part of a page once it is there.
func shown(selector, block string) string {
	return fmt.Sprintf(
		`new Promise(done => { const look = setInterval(() => { const part = document.querySelector(%q); if (part) { clearInterval(look);
			part.scrollIntoView({block: %q}); done() } }, 50) })`,
		selector,
		block,
	)
}

func main() {
	program := flag.String("program", "", "the program to run a fresh demo with")
	at := flag.String("at", "http://127.0.0.1:7300", "address of the demo, where it runs already")
	out := flag.String("out", "docs/screenshots", "folder for the pictures")
	before := flag.String("do", "", "script to run in the page before each picture")
	flag.Parse()
	views := flag.Args()
	if len(views) == 0 {
		views = mainViews
	}
	stop, err := func() {}, error(nil)
	if *program != "" {
		*at, stop, err = freshDemo(*program)
	}
	if err == nil {
		err = run(*at, *out, *before, views)
	}
	stop()
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

// freshDemo runs a demo in a folder of its own and returns its address.
func freshDemo(program string) (at string, stop func(), err error) {
	data, err := os.MkdirTemp("", "uvent-pictures-")
	if err != nil {
		return "", func() {}, err
	}
	cmd := exec.Command(program, "demo", "--data", data)
	cmd.Stderr = os.Stderr
	stop = func() {
		cmd.Process.Signal(os.Interrupt)
		cmd.Wait()
		os.RemoveAll(data)
	}
	said, err := cmd.StdoutPipe()
	if err == nil {
		err = cmd.Start()
	}
	if err != nil {
		return "", func() {}, err
	}
	line, err := bufio.NewReader(said).ReadString('\n')
	_, at, _ = strings.Cut(strings.TrimSpace(line), " is at ")
	return at, stop, err
}

// partners is a file as a client sends it, from the folder of the tests.
const partners = "e2e/testdata/partners.csv"

// ours are rows of it that are about locations of the demo.
const ours = "Spokeshave Cycles;0401;Mill Ln.;61;Quillcote;WA;98992;USA;360.555.0133;;;spokeshave.example;tues - sat 10 til 6;Bike shop;\n" +
	"Sablecote Veterinary;0402;Orchard St;51;Quillcote;WA;98992;USA;;;;;M-F 8-6;Vets;\n"

// bringFile uploads the file, as a client would send it, and returns the import's id.
func bringFile(tab *browser.Tab) (string, error) {
	data, err := os.ReadFile(partners)
	if err != nil {
		return "", err
	}
	text, err := json.Marshal(strings.Replace(string(data), "Total;", ours+"Total;", 1))
	if err != nil {
		return "", err
	}
	return browser.Ask[string](tab, `(() => { const form = new FormData(); form.append("file", new File([`+string(text)+`], "partners FINAL (2).csv"));
		return fetch("/api/imports", {method: "POST", body: form}).then(r => r.json()).then(i => i.id) })()`)
}

func run(at, out, before string, views []string) error {
	ctx, cancel := context.WithTimeout(context.Background(), 3*time.Minute)
	defer cancel()
	tab, stop, err := browser.Start(ctx)
	if err != nil {
		return err
	}
	defer stop()
	shoot := func(name string) error {
		time.Sleep(900 * time.Millisecond) // until fonts and answers are there
		png, err := tab.Picture()
		if err != nil {
			return err
		}
		return os.WriteFile(filepath.Join(out, name+".png"), png, 0o644)
	}
	if err := tab.Open(at + "/sign-in"); err != nil {
		return err
	}
	if err := tab.SignIn(at, demo.People[0].Email, demo.Password); err != nil {
		return err
	}
	names, err := browser.Ask[map[string]string](
		tab,
		`Promise.all([fetch('/api/clients').then(r => r.json()), fetch('/api/session').then(r => r.json())]).then(([clients, session]) =>
		Object.fromEntries([['outside', session.outside], ...clients.flatMap(c => [[c.name, c.id], ...c.locations.map(l => [c.name + '/' + l.label, l.id])])]))`,
	)
	if err != nil {
		return err
	}
	if err := made(tab, names, views); err != nil {
		return err
	}
	// The demo's photos are being drawn while one looks around; these come last.
	if err := tab.Until(
		fmt.Sprintf(
			`(window.hung ??= setInterval(() => fetch('/api/photos?location=%s').then(r => r.json()).then(l => window.all = l.length > 3), 200), window.all === true)`,
			names["Spokeshave Cycle Works/Three Herons"],
		),
	); err != nil {
		return err
	}
	for _, v := range views {
		name, path, _ := strings.Cut(v, "=")
		for of, id := range names {
			path = strings.ReplaceAll(path, "{"+of+"}", id)
		}
		if strings.HasPrefix(path, "/") {
			path = at + path
		}
		if name == "owner" { // on a phone
			if err := tab.Resize(360, 740); err != nil {
				return err
			}
		}
		if err := tab.Open(path); err != nil {
			return err
		}
		if script := cmp.Or(before, scripts[name]); script != "" {
			time.Sleep(700 * time.Millisecond)
			if _, err := browser.Ask[any](tab, script); err != nil {
				return err
			}
		}
		if err := shoot(name); err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
	}
	return nil
}

// made makes what some of the views are of: a page for an owner, and a file on its way in.
func made(tab *browser.Tab, names map[string]string, views []string) (err error) {
	wanted := func(of string) bool {
		return slices.ContainsFunc(views, func(v string) bool { return strings.Contains(v, "{"+of+"}") })
	}
	if wanted("owner") {
		if names["owner"], err = browser.Ask[string](
			tab,
			fmt.Sprintf(
				`(async () => {
					const post = (path, body) => fetch('/api/' + path, {method: 'POST', headers: {'Content-Type': 'application/json'}, body: JSON.stringify(body)})
					await post('owner-asks', {items: [{location: %q, directory: 'waywren', task: 'paper'}, {location: %q, directory: 'murmurhall', task: 'paper'}]})
					return (await (await post('listings/%s/fernlook/owner-links', {task: 'code', mail: true})).json()).address
				})()`,
				names["Spokeshave Cycle Works/Quillcote"], names["Spokeshave Cycle Works/Port Sable"], names["Spokeshave Cycle Works/Minnow Bay"],
			),
		); err != nil {
			return err
		}
	}
	if wanted("import") {
		names["import"], err = bringFile(tab)
	}
	return err
}
