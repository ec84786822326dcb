package imports_test

import (
	"bytes"
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/core/record/bring"
	"uvent/core/record/sheet"
	"uvent/core/record/table"
	"uvent/desk/imports"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

const header = "Client,Location,Name,Street,Town,State,Zip,Country,Phone,Category,Hours\n"

const three = header +
	"Nettlewick Yarns,Old Wharf,Nettlewick Yarns,9 Old Wharf,Port Sable,WA,98991,US,(360) 555-0109,Yarn shop,Tu-Sa 10:00-17:30\n" +
	"Nettlewick Yarns,Fennick,Nettlewick Yarns,118 Fennick Road,Fennick,BC,V0O 1F2,CA,(250) 555-0117,Yarn shop,Tu-Sa 10:00-17:30; PH off\n" +
	"Saltgrass Laundry,Saltgrass,Saltgrass Laundry,3 Causeway,Saltgrass,BC,V0O 1G4,CA,(250) 555-0190,Laundromat,24/7\n"

func start(t *testing.T, r *rig.Rig, client *uuid.UUID, file string) imports.Import {
	t.Helper()
	in, err := r.Desk.Imports.Start(t.Context(), r.Who, client, "locations.csv", []byte(file))
	rig.Must(t, err)
	return in
}

// by is how many rows stand how: new, changed, unchanged, waiting.
func by(in imports.Import) string {
	b := in.Counts.By
	return fmt.Sprintf(
		"%d new, %d changed, %d unchanged, %d waits, %d to decide",
		b[bring.New],
		b[bring.Changed],
		b[bring.Unchanged],
		b[bring.Waits],
		b[bring.Decide],
	)
}

func labels(t *testing.T, r *rig.Rig) (out []string) {
	t.Helper()
	list, err := r.Desk.Records.Locations(t.Context(), ledger.Scope{})
	rig.Must(t, err)
	for _, l := range list {
		out = append(out, l.Label)
	}
	return out
}

func TestTheSameFileTwiceChangesNothing(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	in := start(t, r, nil, three)
	if got := by(in); got != "3 new, 0 changed, 0 unchanged, 0 waits, 0 to decide" || len(in.Clients) != 2 || in.State != imports.Ready {
		t.Fatalf("%s: %+v", got, in)
	}
	if got := labels(t, r); got != nil {
		t.Fatalf("looking brought %v in", got)
	}
	for range 2 { // pressed twice
		done, err := r.Desk.Imports.BringIn(ctx, r.Who.Actor(), in.ID)
		if err != nil || done.State != imports.In || len(labels(t, r)) != 3 {
			t.Fatalf("%+v, %v, %v", done, labels(t, r), err)
		}
	}
	_, err := r.Desk.Imports.Edit(ctx, r.Who.Actor(), in.ID, imports.Edit{Kind: imports.EditColumns, Columns: in.Columns})
	rig.Refused(t, err, problem.Conflict, "are in already")
	if got := by(start(t, r, nil, three)); got != "0 new, 0 changed, 3 unchanged, 0 waits, 0 to decide" {
		t.Errorf("the same file: %s", got)
	}
	changed := start(t, r, nil, strings.Replace(three, "24/7", "Mo-Su 06:00-23:00", 1))
	if got := by(changed); got != "0 new, 1 changed, 2 unchanged, 0 waits, 0 to decide" {
		t.Errorf("one cell changed: %s", got)
	}
	_, err = r.Desk.Imports.BringIn(ctx, r.Who.Actor(), changed.ID)
	rig.Must(t, err)
	for _, write := range []func(*bytes.Buffer) error{
		func(b *bytes.Buffer) error { return r.Desk.Records.Export(ctx, ledger.Scope{}, sheet.Write, b) },
		func(b *bytes.Buffer) error { return r.Desk.Records.Export(ctx, ledger.Scope{}, sheet.WriteXLSX, b) },
	} {
		var out bytes.Buffer
		rig.Must(t, write(&out))
		if got := by(start(t, r, nil, out.String())); got != "0 new, 0 changed, 3 unchanged, 0 waits, 0 to decide" {
			t.Errorf("what was taken out comes back as %s", got)
		}
	}
}

func TestGoodRowsComeInAndTheRestComesBack(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	file := three +
		"Nettlewick Yarns,Minnow Bay,Nettlewick Yarns,1 Tern Street,Minnow Bay,WA,98990,US,(360) 555-01,Yarn shop,Mo 9-17\n" +
		"Nobody,Nowhere,Nobody,1 Road,,WA,98990,US,,,\n" +
		"Saltgrass Laundry,Saltgrass,Saltgrass Laundry,400 Harbour Road,Saltgrass,BC,V0O 1G4,CA,,Laundromat,\n"
	in := start(t, r, nil, file)
	if got := by(in); got != "5 new, 0 changed, 0 unchanged, 1 waits, 0 to decide" || in.Counts.Without != 1 {
		t.Fatalf("%s: %+v", got, in)
	}
	rows, _, err := r.Desk.Imports.Rows(ctx, in.ID, imports.RowPage{})
	rig.Must(t, err)
	if rows[0].Line != 6 || rows[0].Problems[0].Key != "locality" || rows[1].Line != 5 || rows[1].Problems[0].Value != "(360) 555-01" || !rows[1].Without {
		t.Fatalf("what needs somebody first: %+v", rows)
	}
	_, err = r.Desk.Imports.BringIn(ctx, r.Who.Actor(), in.ID)
	rig.Must(t, err)
	if got := strings.Join(labels(t, r), "; "); !strings.Contains(got, "Saltgrass, 400 Harbour Road") || len(labels(t, r)) != 5 {
		t.Fatalf("%s", got)
	}
	var rest bytes.Buffer
	rig.Must(t, r.Desk.Imports.WriteRest(ctx, in.ID, "", &rest))
	mended := strings.NewReplacer("(360) 555-01,", "(360) 555-0101,", "1 Road,,", "1 Road,Minnow Bay,").Replace(rest.String())
	if got := by(start(t, r, nil, mended)); got != "1 new, 1 changed, 0 unchanged, 0 waits, 0 to decide" {
		t.Errorf("mended: %s\n%s", got, mended)
	}
	// What waited is mended on the screen, and comes in behind the others.
	now, err := r.Desk.Imports.Edit(ctx, r.Who.Actor(), in.ID, imports.Edit{Kind: imports.EditCell, Lines: []int{6}, Key: "locality", To: "Minnow Bay"})
	if err != nil || now.State != imports.In || now.Counts.In != 5 || now.Counts.By[bring.New] != 1 {
		t.Fatalf("%+v, %v", now, err)
	}
	now, err = r.Desk.Imports.BringIn(ctx, r.Who.Actor(), in.ID)
	if err != nil || now.Counts.In != 6 || now.State != imports.In || len(labels(t, r)) != 6 {
		t.Fatalf("%+v, %v", now, err)
	}
	_, err = r.Desk.Imports.Undo(ctx, in.ID)
	rig.Refused(t, err, problem.Conflict, "in already")
	// The cell that was left out stays with its location until that is said.
	rows, _, err = r.Desk.Imports.Rows(ctx, in.ID, imports.RowPage{Show: imports.ShowWithout})
	rig.Must(t, err)
	at := *rows[0].Location
	if remarks, err := r.Desk.Imports.Remarks(ctx, at); err != nil || len(remarks) != 1 || remarks[0].Says != "(360) 555-01" {
		t.Fatalf("%+v, %v", remarks, err)
	}
	l, err := r.Desk.Ledger.Location(ctx, at)
	rig.Must(t, err)
	rec := l.Record
	rec.Phones = rig.Shop("x").Phones
	_, err = r.Desk.Records.SaveLocation(ctx, r.Who.Actor(), at, l.Version, rec)
	rig.Must(t, err)
	if remarks, err := r.Desk.Imports.Remarks(ctx, at); err != nil || len(remarks) != 0 {
		t.Errorf("mended, it is still said: %+v, %v", remarks, err)
	}
}

func TestMendedOnTheScreen(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	file := header + "Brindle,,Brindle Bakehouse,3 Corn Street,Wexcombe,,WX1 2AB,UK,01632 960114,Coffee,9-5\n" +
		"Brindle,,Brindle Bakehouse,400 Mill Road,Wexcombe,,WX1 2AC,UK,01632 960214,Coffee,9-5\n" +
		"Brindle,,Brindle Bakehouse,7 Quay Lane,Wexcombe,,WX1 2AD,UK,ring,Coffee,ring the bell\n"
	in := start(t, r, nil, file)
	edit := func(e imports.Edit) imports.Import {
		t.Helper()
		out, err := r.Desk.Imports.Edit(ctx, r.Who.Actor(), in.ID, e)
		rig.Must(t, err)
		return out
	}
	if in.Counts.Guessed != 2 || in.Counts.Without != 1 {
		t.Fatalf("%+v", in.Counts)
	}
	alike, err := r.Desk.Imports.Alike(ctx, in.ID)
	rig.Must(t, err)
	found := ""
	for _, a := range alike {
		found += fmt.Sprintf("%d %s %q %q %v; ", a.Cells, a.Key, a.Says, a.Read, a.Sure)
	}
	for _, want := range []string{`2 opening_hours "9-5" "`, `3 category "Coffee" "Café" false`, `3 country "UK" "United Kingdom" true`, `1 opening_hours "ring the bell" "" false`} {
		if !strings.Contains(found, want) {
			t.Errorf("no %s in %s", want, found)
		}
	}
	edit(imports.Edit{Kind: imports.EditMend, Key: "opening_hours", From: "9-5", To: "Mon-Sat 9:00-17:00"})
	edit(imports.Edit{Kind: imports.EditMend, Key: "category", From: "Coffee", To: "Café"})
	edit(imports.Edit{Kind: imports.EditCell, Lines: []int{4}, Key: "phone", To: "01632 960314"})
	now := edit(imports.Edit{Kind: imports.EditCell, Lines: []int{4}, Key: "opening_hours", To: ""})
	if now.Counts.Fine != 3 || now.Edits != 4 || now.Last.By != "Ines Roake" {
		t.Errorf("%+v", now)
	}
	out := edit(imports.Edit{Kind: imports.EditChoice, Lines: []int{2, 3}, Choice: bring.LeftOut})
	if out.Counts.By[bring.Out] != 2 {
		t.Errorf("%+v", out.Counts)
	}
	for n := 4; n >= 0; n-- {
		if in, err = r.Desk.Imports.Undo(ctx, in.ID); err != nil || in.Edits != n {
			t.Fatalf("%+v, %v", in, err)
		}
	}
	if in.Counts.Guessed != 2 || in.Counts.Without != 1 || in.Counts.By[bring.Out] != 0 {
		t.Errorf("undone: %+v", in.Counts)
	}
	_, err = r.Desk.Imports.Undo(ctx, in.ID)
	rig.Refused(t, err, problem.Conflict, "nothing to undo")
	for says, e := range map[string]imports.Edit{
		"no fact":          {Kind: imports.EditCell, Lines: []int{2}, Key: "colour", To: "red"},
		"one line":         {Kind: imports.EditCell, Key: "name", To: "x"},
		"no text":          {Kind: imports.EditCell, Lines: []int{2}, Key: "name", To: "a\x00b"},
		"characters":       {Kind: imports.EditMend, Key: "name", From: "x", To: strings.Repeat("x", 10_001)},
		"same, new or out": {Kind: imports.EditChoice, Lines: []int{2}, Choice: "maybe"},
		"which rows":       {Kind: imports.EditChoice, Choice: bring.AsNew},
		"cannot be read":   {Kind: imports.EditEncoding, To: "EBCDIC"},
		"nothing that can": {Kind: "prayer"},
		"two columns":      {Kind: imports.EditColumns, Columns: strings.Split("client,name,name,street,locality,region,postal_code,country,phone,category,opening_hours", ",")},
		"the file has 11":  {Kind: imports.EditColumns, Columns: []string{"name"}},
	} {
		_, err := r.Desk.Imports.Edit(ctx, r.Who.Actor(), in.ID, e)
		rig.Refused(t, err, problem.Invalid, says)
	}
	_, err = r.Desk.Imports.Import(ctx, uuid.New())
	rig.Refused(t, err, problem.NotFound, "no such import")
}

// What columns hold is remembered for a client's next file of that shape; the encoding can be told.
func TestColumnsAndEncodings(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	c, err := r.Desk.Records.AddClient(ctx, r.Who.Actor(), records.ClientFacts{Name: "Nettlewick Yarns"})
	rig.Must(t, err)
	file := "Wie;Wo;Wohin;Wer\nNettlewick;9 Old Wharf;Port Sable;USA\n"
	in := start(t, r, &c.ID, file)
	if in.Counts.By[bring.Waits] != 1 {
		t.Fatalf("nothing is known of these columns, and yet %+v", in)
	}
	in, err = r.Desk.Imports.Edit(ctx, r.Who.Actor(), in.ID, imports.Edit{Kind: imports.EditColumns, Columns: []string{"name", "street", "locality", "country"}})
	if rows, _, err2 := r.Desk.Imports.Rows(
		ctx,
		in.ID,
		imports.RowPage{},
	); err != nil || err2 != nil || rows[0].Problems[0].Column != "Time zone" ||
		len(rows[0].Problems) != 1 {
		t.Fatalf("%+v, %v, %v", rows, err, err2)
	}
	if next := start(t, r, &c.ID, strings.Replace(file, "9 Old", "11 Old", 1)); strings.Join(next.Columns, " ") != "name street locality country" {
		t.Errorf("the next file has %q", next.Columns)
	}
	if other := start(t, r, nil, file); strings.Join(other.Columns, " ") == "name street locality country" {
		t.Error("another client's columns are taken")
	}
	// windows-1252 that is told to be read as UTF-16 is no table, and stays as it was.
	latin := start(t, r, nil, "name;street;town;state;country\nCaf\xe9 M\xf6we;1 A;Minnow Bay;WA;US\n")
	if latin.Encoding != table.Windows1252 {
		t.Fatalf("%+v", latin)
	}
	as, err := r.Desk.Imports.Edit(ctx, r.Who.Actor(), latin.ID, imports.Edit{Kind: imports.EditEncoding, To: string(table.UTF8)})
	if err != nil || as.Encoding != table.UTF8 || !strings.Contains(as.Samples[0][0], "\ufffd") {
		t.Errorf("%+v, %v", as, err)
	}
	if back, err := r.Desk.Imports.Undo(ctx, latin.ID); err != nil || back.Encoding != table.Windows1252 || back.Samples[0][0] != "Café Möwe" {
		t.Errorf("%+v, %v", back, err)
	}
}

func TestAFileThatIsNoTable(t *testing.T) {
	r := rig.Start(t)
	for file, says := range map[string]string{"": "empty", "\xff\xfea\x00": "no rows", "PK\x03\x04": "cannot be read as one", "\xd0\xcf\x11\xe0": "before 2007", "a,b\n": "no rows"} {
		_, err := r.Desk.Imports.Start(t.Context(), r.Who, nil, "x.csv", []byte(file))
		rig.Refused(t, err, problem.Invalid, says)
	}
	missing := uuid.New()
	_, err := r.Desk.Imports.Start(t.Context(), r.Who, &missing, "x.csv", []byte(three))
	rig.Refused(t, err, problem.NotFound, "no such client")
	// A large one is told when it is read.
	large := append([]byte("a,b\n1,2\n"), bytes.Repeat([]byte("\"x\n"), 100_000)...)
	in, err := r.Desk.Imports.Start(t.Context(), r.Who, nil, "x.csv", large)
	rig.Must(t, err)
	if in = r.ImportIs(t, in.ID, imports.Failed); !strings.Contains(in.Trouble, "not closed properly") {
		t.Errorf("%+v", in)
	}
}

// A whole file is taken back as one, unless something was begun with its locations.
func TestTakenBackAsOne(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	kept := r.Add(t, rig.Shop("Minnow Bay"))
	before, err := r.Desk.Ledger.Location(ctx, kept.Location)
	rig.Must(t, err)
	file := three + "Client of Minnow Bay,Minnow Bay,Spokeshave Cycle Works,18 Tern Street,Minnow Bay,WA,98990,US,(360) 555-0177,,\n"
	in := start(t, r, nil, file)
	if got := by(in); got != "3 new, 1 changed, 0 unchanged, 0 waits, 0 to decide" {
		t.Fatal(got)
	}
	_, err = r.Desk.Imports.TakeBack(ctx, who, in.ID)
	rig.Refused(t, err, problem.Conflict, "Nothing of this file is in")
	_, err = r.Desk.Imports.BringIn(ctx, who, in.ID)
	rig.Must(t, err)
	back, err := r.Desk.Imports.TakeBack(ctx, who, in.ID)
	rig.Must(t, err)
	if got := by(
		back,
	); got != "3 new, 1 changed, 0 unchanged, 0 waits, 0 to decide" || back.State != imports.Ready ||
		strings.Join(labels(t, r), " ") != "Minnow Bay" {
		t.Errorf("%s, %v", got, labels(t, r))
	}
	after, err := r.Desk.Ledger.Location(ctx, kept.Location)
	if err != nil || len(after.Record.Phones) != 1 || after.Record.Phones[0] != before.Record.Phones[0] || after.Version != before.Version+2 {
		t.Errorf("%+v, %v", after, err)
	}
	if clients, err := r.Desk.Records.Clients(ctx); err != nil || len(clients) != 1 {
		t.Errorf("%+v, %v", clients, err)
	}
	// In again, and one of its locations is worked on.
	_, err = r.Desk.Imports.BringIn(ctx, who, in.ID)
	rig.Must(t, err)
	rows, _, err := r.Desk.Imports.Rows(ctx, in.ID, imports.RowPage{Search: "saltgrass"})
	rig.Must(t, err)
	r.Held(t, ledger.Place{Location: *rows[0].Location, Directory: "fernlook"})
	_, err = r.Desk.Imports.TakeBack(ctx, who, in.ID)
	rig.Refused(t, err, problem.Conflict, "begun with Saltgrass")
	if len(labels(t, r)) != 4 {
		t.Errorf("refused, and yet %v", labels(t, r))
	}
}

// Two work at once: what one saved while the other looked is not written over.
func TestSavedMeanwhile(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	in := start(t, r, nil, three)
	_, err := r.Desk.Imports.BringIn(ctx, r.Who.Actor(), in.ID)
	rig.Must(t, err)
	one := start(t, r, nil, strings.Replace(three, "24/7", "Mo-Su 06:00-23:00", 1))
	two := start(t, r, nil, strings.Replace(three, "24/7", "Mo-Su 07:00-22:00", 1))
	done := make(chan error, 2)
	for _, id := range []uuid.UUID{one.ID, two.ID, one.ID, two.ID} {
		go func() { _, err := r.Desk.Imports.BringIn(context.WithoutCancel(ctx), r.Who.Actor(), id); done <- err }()
	}
	for range 4 {
		rig.Must(t, <-done)
	}
	for _, id := range []uuid.UUID{one.ID, two.ID} {
		got, err := r.Desk.Imports.Import(ctx, id)
		if err != nil || got.State != imports.In && (got.State != imports.Ready || !strings.Contains(got.Trouble, "meanwhile")) {
			t.Errorf("%+v, %v", got, err)
		}
	}
	if got := labels(t, r); len(got) != 3 {
		t.Errorf("%v", got)
	}
}

// Many rows are worked on in the background, told as they go, and pages hold each once.
func TestManyRows(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	size := 2000
	in, err := r.Desk.Imports.Start(ctx, r.Who, nil, "many.csv", rig.ManyRows(size))
	rig.Must(t, err)
	in = r.ImportIs(t, in.ID, imports.Ready)
	if in.Counts.By[bring.New] != size {
		t.Fatalf("%+v", in.Counts)
	}
	seen := map[int]bool{}
	for page := (imports.RowPage{}); ; {
		rows, next, err := r.Desk.Imports.Rows(ctx, in.ID, page)
		rig.Must(t, err)
		for _, row := range rows {
			if seen[row.Line] {
				t.Errorf("line %d stands on two pages", row.Line)
			}
			seen[row.Line] = true
		}
		if page.Behind = next; next == "" {
			break
		}
	}
	if len(seen) != size {
		t.Errorf("%d rows on all pages", len(seen))
	}
	began := time.Now()
	in, err = r.Desk.Imports.Edit(ctx, r.Who.Actor(), in.ID, imports.Edit{Kind: imports.EditCell, Lines: []int{7}, Key: "name", To: "Another"})
	rig.Must(t, err)
	t.Logf("one cell of %d rows: %v", size, time.Since(began))
	if in.State != imports.Ready {
		t.Errorf("one cell is worked out in the background: %+v", in)
	}
	_, err = r.Desk.Imports.BringIn(ctx, r.Who.Actor(), in.ID)
	rig.Must(t, err)
	if in = r.ImportIs(t, in.ID, imports.In); in.Done != size || len(labels(t, r)) != size {
		t.Fatalf("%+v, %d", in, len(labels(t, r)))
	}
	_, err = r.Desk.Imports.TakeBack(ctx, r.Who.Actor(), in.ID)
	rig.Must(t, err)
	r.ImportIs(t, in.ID, imports.Ready)
	if got := labels(t, r); got != nil {
		t.Errorf("%d are left", len(got))
	}
}
