package e2e

import (
	"maps"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"uvent/e2e/rig"
)

// command is one that is given while the demo runs.
type command struct {
	args  []string
	in    string
	says  string
	fails bool
	alone bool // it needs no database
}

// The demo lives on beside every command that the documentation knows, and while its database is away.
func TestTheDemoLivesOn(t *testing.T) {
	t.Parallel()
	binary := program(t)
	data := demoFolder(t, binary)
	d := startDemo(t, binary, data)
	before := d.strands()
	commands := d.commands()
	t.Run("meanwhile", func(t *testing.T) {
		t.Run("every view is there for all", func(t *testing.T) {
			t.Parallel()
			accessible(t, d.base)
		})
		t.Run("commands are given", func(t *testing.T) {
			t.Parallel()
			d.given(binary, data, commands)
		})
	})
	if after := d.strands(); !maps.Equal(before, after) {
		t.Errorf("commands that change nothing led from %v to %v", before, after)
	}
	d.outlasted(data)
	changing := d.changing()
	d.given(binary, data, changing)
	allDocumented(t, append(commands, changing...))
}

// commands are all that the documentation knows and that leave the world as it is.
func (d *running) commands() []command {
	d.t.Helper()
	dir := d.t.TempDir()
	backup := filepath.Join(dir, "all.zip")
	shops, seen := filepath.Join(dir, "shops.csv"), filepath.Join(dir, "page.html")
	rig.Must(d.t, os.WriteFile(seen, []byte(`<h1>Oxbow Cycles</h1><a href="tel:+13605550142">call</a>`), 0o600))
	rig.Must(
		d.t,
		os.WriteFile(shops, []byte("label,name,street,locality,region,postal_code,country\nMinnow Bay,Oxbow Cycles,18 Tern St,Minnow Bay,WA,98990,US\n"), 0o600),
	)
	out := []command{
		{args: []string{"log", "verify"}},
		{args: []string{"log", "replay", "--check"}, says: "nothing differs"},
		{args: []string{"migrate"}},
		{
			args: []string{"person", "add", "--email", "ada@halyardstreet.example", "--name", "Ada Moorings"},
			in:   "gannet-orchard-pewter",
			says: "Ada Moorings may sign in",
		},
		{args: []string{"person", "reset", "--email", "ada@halyardstreet.example"}, in: "gannet-orchard-pewter-again"},
		{args: []string{"backup", backup}, says: "rows of"},
		{args: []string{"restore", backup}, fails: true}, // into what is not empty
		{args: []string{"restore", "--check", backup}, says: "can be restored", alone: true},
		{args: []string{"import", shops, "--client", "Oxbow", "--dry-run"}, says: "1 new"},
		{args: []string{"region", "list"}},
		{args: []string{"demo"}, says: "Uvent runs already at " + d.base, fails: true},
		{args: []string{"demo", "--fresh"}, says: "Uvent runs already at " + d.base, fails: true},
		{args: []string{"serve", "--help"}, says: "UVENT_LISTEN", alone: true},
		{args: []string{"serve", "--listen", "nowhere"}, says: "nowhere", fails: true}, // it joins, and ends
		{args: []string{"outside", "--faults", "no"}, says: "--faults: there is no fault", fails: true},
		{args: []string{"rulebook", "check", "../docs/examples/pierbook.yaml"}, says: "Pierbook", alone: true},
		{args: []string{"rulebook", "schema"}, says: "$schema", alone: true},
		{args: []string{"connector", "check", d.outside + "/fernlook/api"}, says: "private network", fails: true, alone: true},
		{args: []string{"calc", "sheet", shops}, says: "Oxbow Cycles", alone: true},
		{args: []string{"calc", "page", seen}, says: `"reads": "listing"`, alone: true},
		{args: []string{"calc", "said"}, in: "Mon to Fri 9 to 5", alone: true},
		{args: []string{"calc", "photo", filepath.Join(dir, "none.jpg")}, fails: true, alone: true},
	}
	for _, of := range []string{"hours", "window", "phone", "reach", "fit", "compose", "match", "ways", "risk", "forecast", "differences"} {
		out = append(out, command{args: []string{"calc", of}, in: "[", fails: true, alone: true})
	}
	return out
}

// changing are those that change the world.
func (d *running) changing() []command {
	d.t.Helper()
	shops := filepath.Join(d.t.TempDir(), "more.csv")
	rig.Must(
		d.t,
		os.WriteFile(shops, []byte("label,name,street,locality,region,postal_code,country\nFennick,Oxbow Cycles,2 Tern St,Fennick,WA,98990,US\n"), 0o600),
	)
	return []command{
		{args: []string{"import", shops, "--client", "Oxbow", "--as", "ada@halyardstreet.example"}, says: "1 are in."},
		{args: []string{"region", "add", "../core/fact/extract/testdata/reach.osm", "--name", "Kettle Reach"}, says: "Kettle Reach is in"},
		{args: []string{"region", "drop", "Kettle Reach"}},
	}
}

// given gives commands while the demo runs: each does its work beside it, and it lives on.
func (d *running) given(binary, data string, commands []command) {
	d.t.Helper()
	for _, one := range commands {
		args := one.args
		if !one.alone {
			args = append(slices.Clone(args), "--data", data)
		}
		c := exec.Command(binary, args...)
		c.Env, c.Stdin = append(os.Environ(), "DATABASE_URL="), strings.NewReader(one.in+"\n")
		out, err := c.CombinedOutput()
		if (err != nil) != one.fails || !strings.Contains(string(out), one.says) {
			d.t.Errorf("%s: %v\n%s", strings.Join(one.args, " "), err, out)
		}
		d.now()
	}
}

// allDocumented checks that each command of which the documentation speaks was given.
func allDocumented(t *testing.T, given []command) {
	t.Helper()
	pages, err := filepath.Glob("../docs/*.md")
	rig.Must(t, err)
	pages = append(pages, "../README.md", "../SECURITY.md", "../CONTRIBUTING.md")
	said := regexp.MustCompile(`(?m)(?:^ {4}|^|` + "`" + `|-- |\$ )(?:env \S+ )?(?:bin/|/usr/local/bin/)?uvent ([a-z]+)(?: ([a-z]+)\b)?`)
	n := 0
	for _, page := range pages {
		text, err := os.ReadFile(page)
		rig.Must(t, err)
		if filepath.Base(page) == "sentences.md" { // what the program says, piece by piece
			continue
		}
		for _, m := range said.FindAllStringSubmatch(string(text), -1) {
			n++
			if !slices.ContainsFunc(given, func(c command) bool {
				return c.args[0] == m[1] && (m[2] == "" || len(c.args) > 1 && c.args[1] == m[2])
			}) {
				t.Errorf("%s speaks of uvent %s %s, which is given nowhere", page, m[1], m[2])
			}
		}
	}
	if n < 30 {
		t.Errorf("the documentation speaks of %d commands", n)
	}
}
