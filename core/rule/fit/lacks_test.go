package fit

import (
	"math"
	"testing"

	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// What is lacking is reckoned over all directories that count: a fact that two heavy
// ones ask for comes before a quicker one that a light one wants.
func TestLacks(t *testing.T) {
	every := rulebook.Listing{Kinds: []record.Kind{record.Premises}}
	books := []rulebook.Rulebook{
		{ID: "heavy", Weight: 100, Listing: every, Facts: []rulebook.Fact{{Fact: "name", Weight: 5}, {Fact: "keywords", Weight: 5}}},
		{ID: "light", Weight: 10, Listing: every, Facts: []rulebook.Fact{{Fact: "phone"}, {Fact: "keywords"}}},
		{ID: "unwanted", Weight: 90, Listing: every, Facts: []rulebook.Fact{{Fact: "email"}}},
		{ID: "abroad", Weight: 90, Listing: rulebook.Listing{Kinds: every.Kinds, Countries: []string{"CA"}}, Facts: []rulebook.Fact{{Fact: "website"}}},
	}
	r := record.Record{Kind: record.Premises, Name: "Spokeshave"}
	r.Address.Country = "US"
	s := Read(r, nil, now)
	fits := make([]Fit, len(books))
	for i := range books {
		fits[i] = Of(s, &books[i])
	}
	lacks := Lacks(books, fits, func(i int) bool { return books[i].ID != "unwanted" })
	if len(lacks) != 2 || lacks[0].Key != "keywords" || lacks[1].Key != "phone" {
		t.Fatalf("%+v", lacks)
	}
	// Half of the heavy one's 100 and half of the light one's 10, in five minutes.
	if k := lacks[0]; math.Abs(k.Gain-55) > 1e-9 || k.Minutes != 5 || math.Abs(k.PerMinute()-11) > 1e-9 || len(k.Directories) != 2 || k.Title != "Keywords" ||
		k.Part != "words" {
		t.Errorf("%+v", k)
	}
	if got := Lacks(books, fits, func(int) bool { return false }); got != nil {
		t.Errorf("nothing counts, and yet %+v", got)
	}
	for key, want := range map[string]string{"name": "Name", "areas": "Service area", "photos.at_work": "Photo: At work", "text.medium": "Description", "text.short": "Short description"} {
		if got := ourTitle(Item{Key: key}); got != want {
			t.Errorf("%s is called %q, want %q", key, got, want)
		}
	}
}
