package fit_test

import (
	"fmt"
	"time"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/rulebooks"
)

// A record is held against a rulebook: how much of what the directory takes is
// there, what it will not do without, and what is worth filling in next.
func ExampleOf() {
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		fmt.Println(err)
		return
	}
	rec := record.Record{
		Name:    "Spokeshave",
		Kind:    record.Premises,
		Address: address.Address{Street: "18 Tern Street", Locality: "Minnow Bay", Region: "WA", PostalCode: "98994", Country: "US"},
	}
	f := fit.Of(fit.Read(rec, nil, time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC)), &book)
	next, _ := f.Next()
	fmt.Printf("%.0f %%; next %s, which adds %.0f points\n", f.Percent, next.Title, next.Percent)
	for _, i := range f.Blocks() {
		fmt.Println(i.Title, i.State)
	}
	// Output:
	// 24 %; next Phone, which adds 8 points
	// Category missing
}
