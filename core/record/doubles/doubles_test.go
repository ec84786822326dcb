package doubles

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

func shop(client, name, street, town, code string) Entry {
	return Entry{Client: client, Record: record.Record{
		Name:      name,
		Label:     town,
		StoreCode: code,
		Address:   address.Address{Street: street, Locality: town, Region: "WA", PostalCode: "98990", Country: "US"},
	}}
}

func named(e Entry, label string) Entry {
	e.Record.Label, e.Named = label, true
	return e
}

func TestFind(t *testing.T) {
	kept := []Entry{
		named(shop("Spokeshave", "Spokeshave Cycle Works", "18 Tern Street", "Minnow Bay", "S-1"), "The ferry shop"),
		shop("Spokeshave", "Spokeshave Cycle Works", "61 Mill Lane", "Quillcote", ""),
		shop("Nettlewick", "Nettlewick Yarns", "9 Old Wharf", "Port Sable", "N-1"),
	}
	for _, c := range []struct {
		what    string
		row     Entry
		verdict Verdict
		kept    int
		says    string
	}{
		{"by its code, whatever it says", shop("spokeshave", "New name", "1 Elsewhere", "Fennick", "s-1"), Same, 0, "store code is the same"},
		{"by its label", named(shop("Spokeshave", "Spokeshave Cycle Works", "19 Tern Street", "Minnow Bay", ""), "the ferry SHOP"), Same, 0, "label is the same"},
		{"in other letters", shop("Spokeshave", "SPOKESHAVE CYCLE WORKS", "61 mill ln.", "quillcote", ""), Same, 1, "address is the same"},
		{"but for its code", shop("Spokeshave", "Spokeshave Cycle Works", "18 Tern Street", "Minnow Bay", "S-2"), Probably, 0, "S-2, not S-1"},
		{"under another client", shop("Spokeshave Ltd", "Spokeshave Cycle Works", "61 Mill Lane", "Quillcote", ""), Probably, 1, "another client, Spokeshave."},
		{"another street of the town", shop("Spokeshave", "Spokeshave Cycle Works", "400 Harbour Road", "Minnow Bay", ""), New, -1, ""},
		{"a taken label elsewhere", named(shop("Spokeshave", "Rookery Tyres", "4 Hill Road", "Fennick", ""), "Quillcote"), New, -1, ""},
		{"its label, another code", named(shop("Nettlewick", "Nettlewick Yarns", "77 Quay Street", "Cinder Point", "N-2"), "Port Sable"), New, -1, ""},
		{"nobody", shop("Rookery", "Rookery Tyres", "4 Hill Road", "Fennick", ""), New, -1, ""},
	} {
		got := Find(kept, []Entry{c.row})[0]
		if got.Verdict != c.verdict || got.Kept != c.kept || got.Row != -1 || !strings.Contains(strings.Join(got.Reasons, " "), c.says) {
			t.Errorf("%s: %+v", c.what, got)
		}
	}
}

func TestARowAgain(t *testing.T) {
	rows := []Entry{
		shop("", "Spokeshave Cycle Works", "18 Tern Street", "Minnow Bay", ""),
		shop("", "Rookery Tyres", "4 Hill Road", "Fennick", ""),
		shop("", "spokeshave cycle works", "18 Tern St", "MINNOW BAY", ""),
		shop("", "Spokeshave Cycle Works", "18 Tern Street", "Minnow Bay", ""),
	}
	got := Find(nil, rows)
	if got[0].Verdict != New || got[1].Verdict != New || got[2].Verdict != Same || got[2].Row != 0 || got[3].Verdict != Same || got[3].Row != 0 {
		t.Errorf("%+v", got)
	}
	// Labels and codes that differ tell apart what is only probably the same, and are asked about otherwise.
	two := []Entry{
		named(shop("S", "Spokeshave", "18 Tern Street", "Minnow Bay", ""), "One"),
		named(shop("S", "Spokeshave", "19 Tern Street", "Minnow Bay", ""), "Two"),
		named(shop("S", "Spokeshave", "18 Tern Street", "Minnow Bay", ""), "Three"),
		shop("S", "Spokeshave", "28 Tern Street", "Minnow Bay", ""),
	}
	if f := Find(nil, two); f[1].Verdict != New || f[2].Verdict != Probably || f[2].Row != 0 || f[3].Verdict != Probably {
		t.Errorf("%+v", f)
	}
	again := Find(rows[:1], rows)
	if again[0].Kept != 0 || again[2].Kept != -1 || again[2].Row != 0 || again[3].Row != 0 {
		t.Errorf("%+v", again)
	}
}

// Law: a file whose rows are written otherwise adds nothing to what it has brought in.
func TestTheSameFileAddsNothing(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	words := []string{"Oxbow", "Grislow", "Tidewrack", "Saltbox", "Heronry", "Quernstone", "Wickerby", "Zephyrine", "Driftmark", "Nightjar"}
	streets := []string{"Tern Street", "Mill Lane", "Harbour Road", "Old Wharf Avenue", "Hill Court"}
	var kept, again []Entry
	for i := range 120 {
		e := shop(
			"One client",
			words[r.IntN(len(words))]+" "+words[r.IntN(len(words))]+" Bakery",
			fmt.Sprintf("%d %s", 10+i, streets[i%len(streets)]),
			[]string{"Minnow Bay", "Fennick", "Port Sable"}[r.IntN(3)],
			"",
		)
		kept = append(kept, e)
		o := e
		o.Record.Name = strings.ToUpper(o.Record.Name)
		o.Record.Address.Street = strings.NewReplacer("Street", "St.", "Lane", "ln", "Road", "Rd", "Avenue", "Ave", "Court", "ct").Replace(o.Record.Address.Street)
		o.Record.Address.Locality = strings.ToLower(o.Record.Address.Locality)
		again = append(again, o)
	}
	for i, f := range Find(kept, again) {
		if f.Verdict != Same || f.Kept != i {
			t.Errorf("%+v is %+v", again[i].Record, f)
		}
	}
}

func TestLabel(t *testing.T) {
	r := shop("", "Shop", "18 Tern Street", "Minnow Bay", "S-1").Record
	r.Label = ""
	taken := map[string]bool{}
	for _, want := range []string{"Minnow Bay", "Minnow Bay, 18 Tern Street", "Minnow Bay, S-1", "Minnow Bay 2", "Minnow Bay 3"} {
		if got := Label(r, func(l string) bool { return taken[l] }); got != want {
			t.Errorf("%q, want %q", got, want)
		}
		taken[want] = true
	}
	r.Label = "The ferry shop"
	if got := Label(r, func(l string) bool { return taken[l] }); got != "The ferry shop" {
		t.Errorf("%q", got)
	}
}
