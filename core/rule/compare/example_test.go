package compare_test

import (
	"fmt"
	"strings"
	"uvent/core/record/sighting"

	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/rulebooks"
)

// What a page shows is held against the record, each fact with its mark and what
// the difference does to customers.
func ExampleFacts() {
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		fmt.Println(err)
		return
	}
	rec := record.Record{Name: "Spokeshave", Kind: record.Premises, Hours: "Mo-Fr 09:00-18:00"}
	seen := &sighting.Sighting{Name: "Spokeshave", Hours: "Mo-Sa 09:00-18:00"}
	for _, line := range compare.Facts(rec, book, seen, calendar.Date{Year: 2026, Month: 11, Day: 24}) {
		if line.Mark != "" && line.Mark != compare.NotTaken {
			fmt.Println(strings.TrimSpace(line.Title + " " + string(line.Mark) + " " + line.Says))
		}
	}
	// Output:
	// Name =
	// State of business =
	// Hours ≠ 9 hours a week shown open while shut.
}
