package address

import "testing"

func TestCompare(t *testing.T) {
	base := Address{Street: "18 Tern Street", Locality: "Minnow Bay", Region: "WA", PostalCode: "98990", Country: "US"}
	with := func(f func(*Address)) Address { a := base; f(&a); return a }
	for _, c := range []struct {
		name string
		a, b Address
		want Same
	}{
		{"itself", base, base, Exact},
		{"abbreviated", base, with(func(a *Address) { a.Street = "18 Tern St." }), Spelled},
		{"ZIP+4", base, with(func(a *Address) { a.PostalCode = "98990-0042" }), Spelled},
		{"other number", base, with(func(a *Address) { a.Street = "81 Tern Street" }), Different},
		{"other town", base, with(func(a *Address) { a.Locality = "Quillcote" }), Different},
		{"a suite only one side has", base, with(func(a *Address) { a.Unit = "Suite B" }), Different},
		{"a suite in the line", with(func(a *Address) { a.Unit = "Suite B" }), with(func(a *Address) { a.Street = "18 Tern St Ste B" }), Spelled},
		{"a hash", with(func(a *Address) { a.Unit = "#4" }), with(func(a *Address) { a.Unit = "Unit 4" }), Spelled},
		{"another suite", with(func(a *Address) { a.Unit = "Suite B" }), with(func(a *Address) { a.Unit = "Suite C" }), Different},
		{"town only", base, with(func(a *Address) { a.Street = "" }), NotSaid},
		{"no postal code there", base, with(func(a *Address) { a.PostalCode = "" }), Spelled},
	} {
		if got := Compare(c.a, c.b).Whole(c.a, c.b); got != c.want {
			t.Errorf("%s: %v, want %v", c.name, got, c.want)
		}
		if there, back := Compare(c.a, c.b).Whole(c.a, c.b), Compare(c.b, c.a).Whole(c.b, c.a); there != back {
			t.Errorf("%s: %v one way, %v the other", c.name, there, back)
		}
	}
}

func TestSpellAndSplit(t *testing.T) {
	for text, want := range map[string]string{
		"N. Élan Ave": "north elan avenue", "No. 5 St. Mary's Rd": "5 street marys road", "3rd & Pine": "third and pine",
	} {
		if got := Spell(text); got != want {
			t.Errorf("%q: %q, want %q", text, got, want)
		}
	}
	if line, unit := Split("18 Tern St #4"); line != "18 tern street" || unit != "4" {
		t.Errorf("split into %q and %q", line, unit)
	}
}

func TestLine(t *testing.T) {
	a := Address{"18 Tern Street", "Suite B", "Minnow Bay", "WA", "98990", "US"}
	if got := a.Line(); got != "18 Tern Street, Suite B, Minnow Bay, WA 98990" {
		t.Errorf("%q", got)
	}
}
