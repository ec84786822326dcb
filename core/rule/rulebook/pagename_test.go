package rulebook

import (
	"reflect"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

func TestPageNames(t *testing.T) {
	r := record.Record{
		Name:      "Spokeshave Cycle Works",
		Label:     "Minnow Bay",
		StoreCode: "SCW-03",
		Address:   address.Address{Street: "18 Tern Street", Locality: "Minnow Bay"},
	}
	want := []string{
		"spokeshave-cycle-works",
		"spokeshave-cycle-works-minnow-bay",
		"spokeshave-cycle-works-18-tern-street",
		"spokeshave-cycle-works-scw-03",
		"spokeshave-minnow-bay",
	}
	if got := (PageAddress{Begins: "x"}).Propose(r); !reflect.DeepEqual(got, want) {
		t.Errorf("%q", got)
	}
	// Within a limit, cut between words, each once.
	want = []string{
		"spokeshave-cycle-works",
		"spokeshave-cycle-works-scw-03",
		"spokeshave-minnow-bay",
		"spokeshave-cycle-works-minnow",
		"spokeshave-cycle-works-18-tern",
	}
	if got := (PageAddress{Begins: "x", MostCharacters: 30}).Propose(r); !reflect.DeepEqual(got, want) {
		t.Errorf("%q", got)
	}
	if got := (PageAddress{Begins: "x", MostCharacters: 5}).Propose(r); got != nil {
		t.Errorf("%q", got)
	}
	if got := (PageAddress{Begins: "x"}).Propose(record.Record{}); got != nil {
		t.Errorf("%q", got)
	}
}
