package bring

import (
	"fmt"
	"reflect"
	"strings"
	"testing"

	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/core/record/table"
)

const head = "Client,Store code,Location,Name,Street,Town,State,Zip,Country,Phone,Hours\n"

func read(t *testing.T, file string, w World) []Row {
	t.Helper()
	tab, err := table.Read([]byte(file), table.Options{Known: sheet.Known})
	if err != nil {
		t.Fatal(err)
	}
	return Read(tab, sheet.Match(tab), w)
}

func kept(rows []Row) (out []Kept) {
	for _, r := range rows {
		if r.Standing == New {
			out = append(out, Kept{r.Client, r.Record, fmt.Sprint(r.Line)})
		}
	}
	return out
}

func standings(rows []Row) string {
	var all []string
	for _, r := range rows {
		all = append(all, string(r.Standing))
	}
	return strings.Join(all, " ")
}

// needs is what somebody has to look at in each row.
func needs(rows []Row) string {
	var all []string
	for _, r := range rows {
		switch {
		case r.Without():
			all = append(all, "without")
		case r.Guess:
			all = append(all, "guess")
		case r.Standing.NeedsNothing():
			all = append(all, "-")
		default:
			all = append(all, string(r.Standing))
		}
	}
	return strings.Join(all, " ")
}

const shops = head +
	"Spokeshave,S-1,,Spokeshave Cycle Works,18 Tern Street,Minnow Bay,WA,98990,USA,360 555 0142,Tue-Fri 9-18\n" +
	"Spokeshave,,,Spokeshave Cycle Works,400 Harbour Road,Minnow Bay,WA,98990,USA,360 555 0143,9-5\n" +
	"Spokeshave,,,Spokeshave Cycle Works,61 Mill Lane,Quillcote,WA,98991,USA,ring,Sat 9-2\n" +
	"Nettlewick,,,,9 Old Wharf,Port Sable,WA,98991,USA,,\n"

func TestWhatAFileWouldDo(t *testing.T) {
	rows := read(t, shops, World{})
	if got := standings(rows); got != "new new new waits" {
		t.Fatalf("%s: %+v", got, rows)
	}
	if a, b := rows[0].Record.Label, rows[1].Record.Label; a != "Minnow Bay" || b != "Minnow Bay, 400 Harbour Road" {
		t.Errorf("two in one town are %q and %q", a, b)
	}
	if got := needs(rows); got != "- guess without waits" {
		t.Errorf("%s", got)
	}
	if !rows[2].Without() || rows[2].Problems[0].Value != "ring" {
		t.Errorf("%+v", rows[2].Problems)
	}
	// The same file again, and once with other letters and forms, changes nothing.
	there := kept(rows)
	again := strings.NewReplacer(
		"STREET",
		"st.",
		"ROAD",
		"rd",
		"LANE",
		"ln",
		"USA",
		"United States",
		"360 555",
		"(360) 555-",
	).Replace(
		strings.ToUpper(shops[len(head):]),
	)
	for i, r := range read(t, head+again, World{Kept: there}) {
		if i < 3 && (r.Standing != Unchanged || r.Finding.Kept != i) {
			t.Errorf("in other letters: %s, %q", r.Standing, r.Reasons)
		}
	}
	loud := []Kept{{"Spokeshave", there[0].Record, ""}}
	loud[0].Record.Name = "SPOKESHAVE CYCLE WORKS"
	if r := read(t, shops, World{Kept: loud})[0]; r.Standing != Changed || r.Record.Name != "Spokeshave Cycle Works" {
		t.Errorf("what is written properly is not taken: %+v", r)
	}
	if got := standings(read(t, shops, World{Kept: there})); got != "unchanged unchanged unchanged waits" {
		t.Errorf("the same file: %s", got)
	}
}

func TestChoicesAndEdits(t *testing.T) {
	there := kept(read(t, shops, World{}))
	twin := head + "Spokeshave,S-2,,Spokeshave Cycle Works,18 Tern St,Minnow Bay,WA,98990,USA,360 555 0142,\n" +
		"Spokeshave,S-2,,Spokeshave Cycle Works,18 Tern St,Minnow Bay,WA,98990,USA,360 555 0142,\n"
	if got := standings(read(t, twin, World{Kept: there})); got != "decide decide" {
		t.Errorf("but for its code: %s", got)
	}
	for choice, want := range map[Choice]Standing{AsSame: Changed, AsNew: New, LeftOut: Out} {
		rows := read(t, twin, World{Kept: there, Choices: map[int]Choice{2: choice, 3: LeftOut}})
		if rows[0].Standing != want || rows[1].Standing != Out {
			t.Errorf("%s: %s", choice, standings(rows))
		}
		if second := read(t, twin, World{Choices: map[int]Choice{2: LeftOut}})[1]; second.Standing != New {
			t.Errorf("a double of what is left out: %+v", second)
		}
		if choice == AsSame && (rows[0].Kept != 0 || rows[0].Record.StoreCode != "S-2") {
			t.Errorf("%+v", rows[0])
		}
		if choice == AsNew && rows[0].Record.Label == there[0].Record.Label {
			t.Errorf("two locations are called %q", rows[0].Record.Label)
		}
	}
	w := World{Edits: sheet.Edits{
		Cells: map[int]map[string]string{4: {"phone": "360 555 0144"}, 5: {"name": "Nettlewick Yarns"}},
		Mends: map[string]map[string]string{"opening_hours": {"9-5": "Mon-Sat 9:00-17:00"}},
	}}
	rows := read(t, shops, w)
	if got := standings(rows); got != "new new new new" || needs(rows) != "- - - -" {
		t.Errorf("mended: %s, %s", got, needs(rows))
	}
	if rows[1].Record.Hours != "Mo-Sa 09:00-17:00" || rows[2].Record.MainPhone() != "+13605550144" || rows[3].Record.Name != "Nettlewick Yarns" {
		t.Errorf("%+v", rows)
	}
	nowhere := "name,street,town\nA,1 A Road,Fennick\nB,2 B Road,Fennick\n"
	if rows := read(t, nowhere, World{}); standings(rows) != "waits waits" || rows[0].Problems[0].Key != "country" || rows[0].Problems[0].Value != "" {
		t.Errorf("without a country: %+v", rows)
	}
	all := sheet.Edits{Mends: map[string]map[string]string{"country": {"": "Canada"}, "region": {"": "BC"}}}
	if got := standings(read(t, nowhere, World{Edits: all})); got != "new new" {
		t.Errorf("all at once: %s", got)
	}
	// A code that another holds is left out, and the row comes in.
	taken := read(t, head+"Spokeshave,S-1,,Another Firm,7 Quay Street,Fennick,WA,98990,USA,,\n", World{Kept: there, Choices: map[int]Choice{2: AsNew}})
	if taken[0].Standing != New || taken[0].Record.StoreCode != "" || !taken[0].Without() {
		t.Errorf("%+v", taken[0])
	}
}

// Law: what is remembered is what is read.
func TestMemoryChangesNothing(t *testing.T) {
	memory := &Memory{}
	shared := func(client string) (record.Record, string) { return record.Record{Name: client}, "1" }
	there := kept(read(t, shops, World{}))
	worlds := []World{
		{},
		{Kept: there},
		{Kept: there, Shared: shared},
		{Choices: map[int]Choice{2: LeftOut}},
		{Edits: sheet.Edits{Cells: map[int]map[string]string{5: {"name": "N"}}}},
		{Edits: sheet.Edits{Mends: map[string]map[string]string{"phone": {"ring": ""}}}},
		{Country: "CA"},
		{Home: "H"},
	}
	for range 2 {
		for i, w := range worlds {
			plain := read(t, shops, w)
			w.Memory = memory
			if got := read(t, shops, w); !reflect.DeepEqual(plain, got) {
				t.Errorf("world %d:\n%+v\n%+v", i, plain, got)
			}
		}
	}
	if !memory.Warm() || (*Memory)(nil).Warm() {
		t.Error("what is remembered is not told")
	}
}
