package record_test

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

// What anybody may see of a location that goes to customers tells neither where it is nor how to reach
// its people; what is private of a shop stays with us, and its holidays are told by their dates.
func TestPublic(t *testing.T) {
	now := time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC)
	r := record.Record{
		Label: "Ida’s house", Name: "Sootfall Chimney Care", Kind: record.GoesToCustomers, Hours: "Mo-Fr 08:00-16:00; 2026 Oct 01 off; PH off",
		Address: address.Address{Street: "9 Birch Lane", Unit: "Rear", Locality: "Quillcote", Region: "WA", PostalCode: "98992", Country: "US"},
		Mailing: record.Mailing{Contact: "Ida", Address: address.Address{Street: "Box 4"}}, Former: []string{"2 Birch Lane, Quillcote"},
		Pin: &record.Pin{Latitude: 48.71, Longitude: -124.81}, Directions: "Behind Birch Lane", Parking: "On Birch Lane",
		Team:    []record.Member{{Name: "Ida", Role: "Sweep", Email: "ida@private.example", Phone: "+13605550177"}},
		Area:    record.Area{Minutes: 40, Towns: []record.Town{{Name: "Port Sable", Minutes: 12.5, Latitude: 48.7, Longitude: -124.7}}},
		Socials: []record.Social{{Name: "Lanefolk", URL: "https://lanefolk.example/soot", Show: true}, {Name: "Old", URL: "https://old.example"}},
		Phones:  []record.Phone{{E164: "+13605550160", Voice: true}}, Email: "hello@sootfall.example",
	}
	whole, err := json.Marshal(r)
	if err != nil {
		t.Fatal(err)
	}
	p := r.Public(now)
	data, err := json.Marshal(p)
	if err != nil {
		t.Fatal(err)
	}
	for _, secret := range []string{"Birch", "98992", "48.71", "-124.81", "private", "0177", "Box 4", "12.5", "old.example", "house", "PH"} {
		if !strings.Contains(string(whole), secret) || strings.Contains(string(data), secret) {
			t.Errorf("%s is told: %s", secret, data)
		}
	}
	for _, open := range []string{"Quillcote", "Port Sable", "0160", "hello@sootfall.example", "lanefolk", `"Ida"`, "2026 Nov 26 off", "2028 Jan"} {
		if !strings.Contains(string(data), open) {
			t.Errorf("%s is not told: %s", open, data)
		}
	}
	if again, _ := json.Marshal(r); string(again) != string(whole) {
		t.Error("the record itself was changed")
	}
	if kept := r.KeptBack(); len(kept) != 5 || kept[0] != "street and pin" {
		t.Errorf("%q", kept)
	}
	// A shop is to be found.
	r.Kind = record.Premises
	if p := r.Public(now); p.Address != r.Address || p.Pin == nil || p.Directions == "" || slices.Contains(r.KeptBack(), "street and pin") {
		t.Errorf("%+v", p)
	}
}
