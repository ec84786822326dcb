package match_test

import (
	"fmt"

	"uvent/core/fact/address"
	"uvent/core/record/match"
)

// Two descriptions are held against each other, and every reason is told.
func ExampleCompare() {
	ours := match.Business{
		Name:    "Nettlewick Yarns",
		Address: address.Address{Street: "18 Tern Street", Locality: "Port Sable", Region: "WA", Country: "US"},
		Phones:  []string{"+13605550142"},
	}
	theirs := ours
	theirs.Name = "Nettlewick Yarns, Inc."
	theirs.Address.Street = "18 Tern St"
	result := match.Compare(ours, theirs)
	fmt.Println(result.Verdict)
	for _, reason := range result.Reasons {
		fmt.Println(reason)
	}
	// Output:
	// same
	// The address is the same, 18 Tern St, Port Sable, WA.
	// The phone is the same, (360) 555-0142.
	// The name is the same, “Nettlewick Yarns, Inc.”.
}
