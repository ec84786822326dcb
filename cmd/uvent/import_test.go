package main

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"uvent/store/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

const shops = "Store;Street;Town;State;Zip;Country;Tel;Hours\n" +
	"Oxbow Cycles;18 Tern Street;Minnow Bay;WA;98990;USA;360 555 0142;Mon-Fri 9am-6pm\n" +
	"Rookery Tyres;9 Jetty Road;Cinder Point;WA;98994;USA;1.360555E+10;9-5\n" +
	";4 Quay;Minnow Bay;WA;98990;USA;;\nTotal;3;;;;;;\n"

// run does a command and gives what it says.
func run(t *testing.T, in string, args ...string) (string, error) {
	t.Helper()
	var out bytes.Buffer
	c := root()
	c.SetArgs(args)
	c.SetOut(&out)
	c.SetIn(strings.NewReader(in))
	err := c.ExecuteContext(t.Context())
	return out.String(), err
}

func TestImportFromTheShell(t *testing.T) {
	t.Setenv("DATABASE_URL", storetest.URL(t))
	file := filepath.Join(t.TempDir(), "shops.csv")
	if err := os.WriteFile(file, []byte(shops), 0o600); err != nil {
		t.Fatal(err)
	}
	says, err := run(t, "", "import", file, "--client", "Partners", "--dry-run")
	for _, want := range []string{"shops.csv: 3 rows, read as UTF-8.", "The client Partners would be added.", "2 new, 0 changed", "1 without a cell, 1 with a guess",
		"line 5: left out: it adds up", `line 3: comes in without it: Tel: "1.360555E+10"`, `line 3: a guess: Hours: "9-5" read as`} {
		if err != nil || !strings.Contains(says, want) {
			t.Errorf("%v: no %q in %s", err, want, says)
		}
	}
	if _, err := run(t, "", "import", file, "--client", "Partners"); err == nil || !strings.Contains(err.Error(), "--as") {
		t.Errorf("nobody brings it in, and yet %v", err)
	}
	if _, err := run(t, "", "import", file, "--as", "nobody@agency.example"); err == nil || !strings.Contains(err.Error(), "nobody") {
		t.Errorf("%v", err)
	}
	if _, err := run(t, "lantern-harbour-thimble\n", "person", "add", "--email", "ines@agency.example", "--name", "Ines Roake"); err != nil {
		t.Fatal(err)
	}
	for i, want := range []string{"2 are in.", "0 are in."} {
		says, err := run(t, "", "import", file, "--client", "Partners", "--as", "ines@agency.example")
		if err != nil || !strings.Contains(says, want) || i == 1 && !strings.Contains(says, "2 unchanged") {
			t.Errorf("%s, %v", says, err)
		}
	}
}

func TestCalcSheet(t *testing.T) {
	file := filepath.Join(t.TempDir(), "shops.csv")
	if err := os.WriteFile(file, []byte(shops+"OXBOW CYCLES;18 Tern St.;minnow bay;WA;98990;United States;(360) 555-0142;\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	out, err := run(t, "", "calc", "sheet", file)
	if err != nil {
		t.Fatal(err)
	}
	var a sheetAnswer
	if err := json.Unmarshal([]byte(out), &a); err != nil {
		t.Fatal(err)
	}
	if a.Encoding != "UTF-8" || a.Delimiter != ";" || a.Columns[0] != (sheetColumn{"Store", "name"}) || len(a.Rows) != 5 {
		t.Fatalf("%+v", a)
	}
	first, second, third, total, again := a.Rows[0], a.Rows[1], a.Rows[2], a.Rows[3], a.Rows[4]
	f := first.Facts
	if first.Verdict != "new" || f["name"] != "Oxbow Cycles" || f["country"] != "US" || f["phone"] != "+13605550142" ||
		f["opening_hours"] != "Mo-Fr 09:00-18:00" ||
		f["time_zone"] != "America/Los_Angeles" ||
		f["label"] != "Minnow Bay" {
		t.Errorf("%+v", first)
	}
	if len(second.Left) != 1 || second.Left[0].Column != "Tel" || second.Left[0].Value != "1.360555E+10" || second.Left[0].Says == "" ||
		second.Facts["phone"] != "" {
		t.Errorf("%+v", second)
	}
	guess := second.Changed[len(second.Changed)-1]
	if guess.Fact != "opening_hours" || guess.From != "9-5" || guess.Sure || guess.To != "Mo-Su 09:00-17:00" {
		t.Errorf("%+v", second.Changed)
	}
	if third.Verdict != "waits" || total.Verdict != "skipped" || total.Line != 5 || again.Verdict != "same" || again.Of != 2 {
		t.Errorf("%+v %+v %+v", third, total, again)
	}
	if _, err := run(t, "", "calc", "sheet", filepath.Join(t.TempDir(), "none")); err == nil {
		t.Error("a file that is not there is read")
	}
}
