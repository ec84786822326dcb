package worth

import (
	"math"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

var now = time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC)

func rank(t *testing.T, r record.Record, books []rulebook.Rulebook) []Choice {
	t.Helper()
	s := fit.Read(r, nil, now)
	fits := make([]fit.Fit, len(books))
	for i := range books {
		fits[i] = fit.Of(s, &books[i])
	}
	return Rank(s, books, fits)
}

func TestRank(t *testing.T) {
	every := rulebook.Listing{Kinds: []record.Kind{record.Premises}}
	books := []rulebook.Rulebook{
		{ID: "small", Name: "Small", Weight: 1, Worked: rulebook.Connected, Listing: every},
		{ID: "hand", Name: "Hand", Weight: 40, Worked: rulebook.ByHand, Listing: every},
		{ID: "quick", Name: "Quick", Weight: 40, Worked: rulebook.Connected, Listing: every, Facts: []rulebook.Fact{{Fact: "phone"}}},
		{ID: "asks", Name: "Asks", Weight: 40, Worked: rulebook.Connected, Listing: every, Facts: []rulebook.Fact{{Fact: "registration", Required: true}}},
		{ID: "supplier", Name: "Supplier", Weight: 10, Worked: rulebook.File, Listing: every},
		{ID: "fed", Name: "Fed", Weight: 20, Worked: rulebook.Fed, Listing: every, Copies: []rulebook.Copying{{From: "supplier"}}},
		{ID: "abroad", Name: "Abroad", Weight: 99, Worked: rulebook.Connected, Listing: rulebook.Listing{Kinds: every.Kinds, Countries: []string{"CA"}}},
		{ID: "orphan", Name: "Orphan", Weight: 5, Worked: rulebook.Fed, Listing: every, Copies: []rulebook.Copying{{From: "nobody"}}},
	}
	got := rank(t, record.Record{Kind: record.Premises, Address: address.Address{Country: "US"}}, books)
	order := ""
	for _, c := range got {
		order += c.Directory + " "
	}
	// The supplier: 30 in 5 minutes. Quick: 40 in 10. Asks: 40 in 20. Hand: 40 in 25.
	if order != "supplier quick asks hand small fed abroad orphan " {
		t.Errorf("%s", order)
	}
	if s := got[0]; s.Gain != 30 || s.Minutes != 5 || !s.Pays || !strings.Contains(strings.Join(s.Why, " "), "It feeds Fed, which adds 20.") {
		t.Errorf("%+v", s)
	}
	if a := got[2]; a.Minutes != 20 ||
		!strings.Contains(strings.Join(a.Why, " "), "Connected: about 10 minutes, and 10 for what is missing: registration number.") {
		t.Errorf("%+v", a)
	}
	if small := got[4]; small.Pays || math.Abs(small.Adds-100.0/151) > 1e-9 {
		t.Errorf("%+v", small)
	}
	if fed := got[5]; fed.FedBy != "supplier" || fed.Pays || fed.Adds != 0 || math.Abs(fed.Share-got[4].Share) > 1e-9 {
		t.Errorf("%+v", fed)
	}
	if got[6].Not == "" || !strings.Contains(got[7].Not, "none of those lists") {
		t.Errorf("%+v", got[6:])
	}
}

// The shares run up to all of the weight that can be had.
func TestSharesRunUp(t *testing.T) {
	books, err := rulebooks.All()
	if err != nil {
		t.Fatal(err)
	}
	for _, id := range []string{"bicycle_repair", "chimney_sweep", "notary", ""} {
		r := record.Record{Kind: record.Both, Category: id, Address: address.Address{Street: "1 Tern Street", Locality: "Quillcote", Region: "WA", Country: "US"}}
		last, stopped := 0.0, false
		for _, c := range rank(t, r, books) {
			if c.Not != "" {
				continue
			}
			if c.Share < last-1e-9 || c.Pays && stopped {
				t.Errorf("%s: %+v comes after %v", id, c, last)
			}
			last, stopped = c.Share, stopped || !c.Pays
			if c.FedBy == "" && (c.Minutes == 0 || len(c.Why) < 2) {
				t.Errorf("%s: %+v", id, c)
			}
		}
		if math.Abs(last-100) > 1e-6 {
			t.Errorf("%s: they run up to %v", id, last)
		}
	}
}

// A directory pays that adds two per cent of all weight that can be had, and one that adds less does not.
func TestWhereItStopsPaying(t *testing.T) {
	every := rulebook.Listing{Kinds: []record.Kind{record.Premises}}
	for weight, pays := range map[int]bool{20: true, 19: false} {
		got := rank(t, record.Record{Kind: record.Premises}, []rulebook.Rulebook{
			{ID: "large", Weight: 1000 - weight, Worked: rulebook.Connected, Listing: every}, {ID: "small", Weight: weight, Worked: rulebook.Connected, Listing: every},
		})
		for _, c := range got {
			if c.Directory == "small" && c.Pays != pays {
				t.Errorf("one that adds %.1f per cent pays: %v", c.Adds, c.Pays)
			}
		}
	}
}
