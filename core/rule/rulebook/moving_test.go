package rulebook

import (
	"testing"

	"uvent/core/fact/address"
)

// What is another location is told by the place, not by how its address is written; and what nobody knows makes none.
func TestWhatMovesIntoAnotherLocation(t *testing.T) {
	from := address.Address{Street: "18 Tern Street", Unit: "Suite B", Locality: "Minnow Bay", Region: "WA", PostalCode: "98990", Country: "US"}
	for _, c := range []struct {
		name         string
		change       func(a *address.Address)
		town, street bool
	}{
		{"itself", func(*address.Address) {}, false, false},
		{"spelled out", func(a *address.Address) { a.Street, a.Locality = "18 TERN ST", "minnow bay" }, false, false},
		{"another suite", func(a *address.Address) { a.Unit = "Suite 4" }, false, false},
		{"the suite in the street", func(a *address.Address) { a.Street, a.Unit = "18 Tern Street, Suite B", "" }, false, false},
		{"another postal code", func(a *address.Address) { a.PostalCode = "98991" }, false, false},
		{"another house", func(a *address.Address) { a.Street = "20 Tern Street" }, false, true},
		{"another street", func(a *address.Address) { a.Street = "18 Anvil Lane" }, false, true},
		{"another town", func(a *address.Address) { a.Locality = "Quillcote" }, true, true},
		{"another state", func(a *address.Address) { a.Region = "OR" }, true, true},
		{"another country", func(a *address.Address) { a.Country = "CA" }, true, true},
		{"no street", func(a *address.Address) { a.Street = "" }, false, false},
		{"nowhere", func(a *address.Address) { *a = address.Address{} }, false, false},
	} {
		to := from
		c.change(&to)
		for _, way := range [][2]address.Address{{from, to}, {to, from}} {
			if got := (Moving{Another: AnotherTown}).AnotherAt(way[0], way[1]); got != c.town {
				t.Errorf("%s: by town %v", c.name, got)
			}
			if got := (Moving{Another: AnotherStreet}).AnotherAt(way[0], way[1]); got != c.street {
				t.Errorf("%s: by street %v", c.name, got)
			}
			if (Moving{}).AnotherAt(way[0], way[1]) {
				t.Errorf("%s: another though the directory says nothing of it", c.name)
			}
		}
	}
}
