package fit

import (
	"strings"
	"testing"

	"uvent/core/address"
	"uvent/core/record"
	"uvent/rulebooks"
)

func TestMissingAndCompose(t *testing.T) {
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		t.Fatal(err)
	}
	good := record.Record{
		Name: "Spokeshave", Kind: record.Premises, Address: address.Address{Street: "18 Tern Street", Unit: "Suite B", Locality: "Minnow Bay", Region: "WA", Country: "US"},
		Phones: []record.Phone{{E164: "+13605550142"}}, Email: "x@y.example", Website: "https://y.example", Category: "bicycle_repair", Hours: "24/7",
	}
	if m := Missing(good, book); m != nil {
		t.Errorf("a good record lacks %q", m)
	}
	for says, spoil := range map[string]func(*record.Record){
		"no name":              func(r *record.Record) { r.Name = "" },
		"no category,":         func(r *record.Record) { r.Category = "" },
		"81 characters":        func(r *record.Record) { r.Name = strings.Repeat("x", 81) },
		"no category for Gym":  func(r *record.Record) { r.Category = "gym" },
		"does not list locati": func(r *record.Record) { r.Address.Country = "FR" },
	} {
		r := good
		spoil(&r)
		if m := Missing(r, book); len(m) != 1 || !strings.Contains(m[0], says) {
			t.Errorf("want %q, got %q", says, m)
		}
	}
	v := Compose(good, book)
	if v.Street != "18 Tern Street, Suite B" || v.Category != "Bike repair service" || v.Phone != "+13605550142" || v.HideStreet || v.Hours != "24/7" {
		t.Errorf("%+v", v)
	}
	// Links say where a visitor came from, unless that makes them too long; hours are what the form takes.
	tagged := good
	tagged.Tags, tagged.Hours = record.Tags{On: true, Medium: "listing"}, "Tu-Fr 09:00-12:00,13:00-18:00; 2026 Nov 26 off"
	short := book
	short.Hours.SittingsPerDay = 1
	if v := Compose(tagged, short); v.Website != "https://y.example?utm_source=fernlook&utm_medium=listing" || v.Hours != "Tu-Fr 09:00-18:00; 2026 Nov 26 off" {
		t.Errorf("%+v", v)
	}
	tagged.Website = "https://y.example/" + strings.Repeat("x", 175)
	if v := Compose(tagged, book); v.Website != tagged.Website || v.Hours != tagged.Hours {
		t.Errorf("%+v", v)
	}
	good.Kind = record.GoesToCustomers
	if !Compose(good, book).HideStreet {
		t.Error("the street of a business that goes to customers is shown")
	}
	book.Facts = book.Facts[:2]
	if v := Compose(good, book); v.Phone+v.Website+v.Hours != "" {
		t.Errorf("facts that are not taken are given: %+v", v)
	}
}
