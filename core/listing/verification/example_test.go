package verification_test

import (
	"fmt"
	"time"

	"uvent/core/listing/verification"
	"uvent/rulebooks"
)

// A listing's state is what its events come to, under the rulebook of their time.
func ExampleDerive() {
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		fmt.Println(err)
		return
	}
	day := time.Date(2026, 6, 1, 17, 0, 0, 0, time.UTC)
	events := []verification.Event{
		{At: day, What: verification.Searched{}},
		{At: day.AddDate(0, 0, 1), What: verification.Created{Ref: "fl-1", Page: "/p/fl-1"}},
		{At: day.AddDate(0, 0, 9), What: verification.ReviewPassed{}},
	}
	for n := range events {
		s := verification.Derive(book, events[:n+1])
		fmt.Println(events[n].Kind(), "→", s.Control, s.Verification, s.Visibility)
	}
	// Output:
	// searched → none not_begun absent
	// created → held not_begun hidden
	// review_passed → held verified publishing
}
