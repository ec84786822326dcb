package listings_test

import (
	"bytes"
	"strings"
	"testing"

	"uvent/desk/imports"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/e2e/rig"
)

// A value of a listing's own is given in the place of the record's, and stays when the record changes, when the
// listing is copied from another directory, when a file comes in over the record, and when the record is restored.
func TestAValueOfItsOwnStays(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "skerry"), t.Context()
	who, rec := r.Who.Actor(), rig.Workshop("Port Sable")
	here := r.Add(t, rec)
	there := rig.On(here, "skerry")
	const own = "Spokeshave Wheels"
	given := func(at ledger.Place) string {
		t.Helper()
		v, err := r.Desk.Boards.FitOf(ctx, at)
		rig.Must(t, err)
		name, _ := v.Values.Find("name")
		return name.Text
	}
	stays := func(after string) {
		t.Helper()
		if got := given(there); got != own {
			t.Errorf("%s, Skerry is given %q", after, got)
		}
		if v, err := r.Desk.Listings.OwnValues(
			ctx,
			there,
		); err != nil || len(v.Items) != 1 || v.Items[0].Own.Why != "The sign there is narrow" ||
			v.Items[0].Own.By != who.Name {
			t.Errorf("%s: %+v, %v", after, v.Items, err)
		}
	}
	rig.Refused(t, r.Desk.Listings.SetOwn(ctx, who, there, "name", own, " "), problem.Invalid, "Say why")
	rig.Refused(t, r.Desk.Listings.SetOwn(ctx, who, there, "pin", "1, 2", "so"), problem.Invalid, "takes no value of its own")
	rig.Refused(t, r.Desk.Listings.DropOwn(ctx, who, there, "name"), problem.NotFound, "no value of its own")
	tried, err := r.Desk.Listings.TryOwn(ctx, there, "name", own)
	if rig.Must(t, err); tried.Item.Mark != "≠" || tried.Agreed != 1 || tried.Agrees <= 0 || tried.Agrees >= 1 || given(there) != rec.Name {
		t.Errorf("tried: %+v", tried)
	}
	rig.Must(t, r.Desk.Listings.SetOwn(ctx, who, there, "name", own, "The sign there is narrow"))
	stays("set")
	if got := given(here); got != rec.Name {
		t.Errorf("Fernlook is given %q", got)
	}
	cells, err := r.Desk.Records.FitsOf(ctx, ledger.Scope{Location: &here.Location})
	if rig.Must(t, err); len(cells[here.Location]) != 0 {
		t.Errorf("its fits are still taken for known: %+v", cells)
	}
	scope := ledger.Scope{Location: &here.Location}
	rig.Must(t, r.Desk.Records.KnowFits(ctx, scope))
	cells, err = r.Desk.Records.FitsOf(ctx, scope)
	if rig.Must(t, err); cells[here.Location]["skerry"].Own != 1 || cells[here.Location]["skerry"].Wrong != 1 || cells[here.Location]["fernlook"].Own != 0 {
		t.Errorf("%+v", cells)
	}

	// The record changes; it stays, and asks.
	rec.Name = "Spokeshave Cycle House"
	l, err := r.Desk.Records.SaveLocation(ctx, who, here.Location, 1, rec)
	rig.Must(t, err)
	stays("the record was changed")
	asks := func() (n int) {
		v, err := r.Desk.Listings.OwnValues(ctx, there)
		rig.Must(t, err)
		for _, i := range v.Items {
			if i.Own.Asks {
				n++
			}
		}
		return n
	}
	if asks() != 1 {
		t.Error("the record was changed, and nobody is asked whether it still holds")
	}
	rig.Must(t, r.Desk.Listings.HoldOwn(ctx, who, there, "name"))
	if asks() != 0 {
		t.Error("somebody said that it holds, and is asked again")
	}
	stays("it still holds")

	// A saving of the record is taken back.
	saved, err := r.Desk.Records.RecordHistory(ctx, here.Location)
	rig.Must(t, err)
	l, err = r.Desk.Records.TakeBack(ctx, who, here.Location, saved[0].ID)
	if rig.Must(t, err); l.Record.Name == rec.Name {
		t.Fatalf("%+v", l.Record)
	}
	stays("the record was restored")

	// A file comes in over the record.
	file := "client,label,name\nClient of Port Sable,Port Sable,Spokeshave of Sable\n"
	in, err := r.Desk.Imports.Start(ctx, r.Who, nil, "names.csv", []byte(file))
	rig.Must(t, err)
	r.ImportIs(t, in.ID, imports.Ready)
	_, err = r.Desk.Imports.BringIn(ctx, who, in.ID)
	rig.Must(t, err)
	r.ImportIs(t, in.ID, imports.In)
	now, err := r.Desk.Ledger.Location(ctx, here.Location)
	if rig.Must(t, err); now.Record.Name != "Spokeshave of Sable" {
		t.Fatalf("the file came to nothing: %+v", now.Record)
	}
	stays("a file came in")

	// The listing is copied from another directory, with the name that the other has: it is still to be given its own.
	r.Held(t, here)
	r.Verified(t, here)
	r.Answered(t, there)(r.Desk.Listings.Search(ctx, who, there))
	s := r.Answered(t, there)(r.Desk.Listings.CopyFrom(ctx, who, there, "fernlook"))
	if s.CopiedFrom != "fernlook" {
		t.Fatalf("%+v", s)
	}
	stays("it was copied")
	v, err := r.Desk.Boards.Listing(ctx, there)
	rig.Must(t, err)
	if keys := v.Changed.Keys(); len(keys) == 0 || keys[0] != "name" {
		t.Errorf("after it was copied it is still to be given %v", keys)
	}
	said := ""
	for _, e := range v.History {
		said += e.Tell(*v.Book) + "\n"
	}
	if !strings.Contains(said, "Name: “Spokeshave Wheels” here, a value of its own. The sign there is narrow") || !strings.Contains(said, "still holds") {
		t.Errorf("its history says:\n%s", said)
	}
	rig.Must(t, r.Desk.Listings.DropOwn(ctx, who, there, "name"))
	if got := given(there); got != "Spokeshave of Sable" {
		t.Errorf("dropped, Skerry is given %q", got)
	}
}

// What goes out as a file comes in again; a file of which one row is wrong changes nothing.
func TestValuesOfTheirOwnAsAFile(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "waywren"), t.Context()
	who := r.Who.Actor()
	r.Add(t, rig.Workshop("Port Sable"))
	out := func() string {
		var b bytes.Buffer
		rig.Must(t, r.Desk.Listings.OwnCSV(ctx, &b, ledger.Scope{}))
		return b.String()
	}
	const head = "client,location,store_code,directory,field,value,reason\r\n"
	if got := out(); got != head {
		t.Errorf("%q", got)
	}
	file := head + "Client of Port Sable,Port Sable,SCW-01,waywren,name,Spokeshave Wheels,\"narrow, there\"\r\n" +
		"Client of Port Sable,Port Sable,SCW-01,waywren,phone,+13605550177,a line of its own\r\n"
	n, err := r.Desk.Listings.ReadOwnCSV(ctx, who, ledger.Scope{}, []byte(file))
	if rig.Must(t, err); n != 2 || out() != file {
		t.Errorf("%d were set, and go out as\n%s", n, out())
	}
	if n, err = r.Desk.Listings.ReadOwnCSV(ctx, who, ledger.Scope{}, []byte(file)); err != nil || n != 0 {
		t.Errorf("again: %d, %v", n, err)
	}
	// By store code, by the names that people use, in another dialect; one without a value goes back.
	n, err = r.Desk.Listings.ReadOwnCSV(ctx, who, ledger.Scope{}, []byte("client;store_code;directory;field;value\nclient of port sable;scw-01;Waywren;Name;\n"))
	if err != nil || n != 1 || strings.Contains(out(), "Spokeshave Wheels") {
		t.Errorf("%d, %v:\n%s", n, err, out())
	}
	before := out()
	_, err = r.Desk.Listings.ReadOwnCSV(ctx, who, ledger.Scope{}, []byte("client,location,directory,field,value,reason\n"+
		"Client of Port Sable,Port Sable,waywren,website,https://spokeshave.example/sable,its own page\n"+
		"Client of Port Sable,Nowhere,waywren,name,x,y\nClient of Port Sable,Port Sable,nowhere,name,x,y\n"+
		"Client of Port Sable,Port Sable,waywren,colour,x,y\nClient of Port Sable,Port Sable,waywren,hours,whenever,y\n"))
	wrong := ""
	if p, ok := err.(*problem.Problem); ok {
		for _, f := range p.Fields {
			wrong += f.Path + ": " + f.Message + "\n"
		}
	}
	for _, want := range []string{"line 3: There is no location “Nowhere”", "line 4: There is no directory “nowhere”", "line 5: waywren has no field “colour”", "line 6: Client of Port Sable, Port Sable: The hours cannot be read"} {
		if !strings.Contains(wrong, want) {
			t.Errorf("it does not say %q:\n%s", want, wrong)
		}
	}
	if out() != before {
		t.Errorf("a file that is refused has changed something:\n%s", out())
	}
	for file, says := range map[string]string{"a,b\n1,2\n": "no column “client”", "": "empty", "\x00\x01": ""} {
		if _, err := r.Desk.Listings.ReadOwnCSV(ctx, who, ledger.Scope{}, []byte(file)); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%q: %v", file, err)
		}
	}
	if _, err := r.Desk.Listings.ReadOwnCSV(
		ctx,
		who,
		ledger.Scope{},
		[]byte(head+strings.Repeat("a,b,c,d,e,f,g\n", 5001)),
	); err == nil ||
		!strings.Contains(err.Error(), "Split it") {
		t.Errorf("too many: %v", err)
	}
}
