package vcard

import (
	"errors"
	"reflect"
	"slices"
	"strings"
	"testing"

	"uvent/core/address"
	"uvent/core/record"
)

func TestWrittenComesBackEqual(t *testing.T) {
	r, wrong := record.Normal(record.Record{
		Name: "Nettlewick Yarns; wool, & needles", LegalName: "Nettlewick Fibre Arts Inc.", FormerNames: []string{"Wool Room", "Wool, Ltd."}, Kind: record.Premises,
		Address: address.Address{Street: "9 Old Wharf, east side", Unit: "Suite B", Locality: "Port Sable", Region: "WA", PostalCode: "98991", Country: "US"},
		Pin:     &record.Pin{Latitude: 48.7025, Longitude: -124.9068}, Phones: []record.Phone{{E164: "+13605550109", Voice: true}, {E164: "+13605550108", Voice: true, Text: true}},
		Email: "hello@nettlewick.example", Website: "https://nettlewick.example/old-wharf", Category: "yarn_shop", Zone: "America/Los_Angeles",
		Words: record.Words{Medium: "Local fleece,\nspun upstairs; come in."}, Hours: "24/7",
	})
	if wrong != nil {
		t.Fatal(wrong)
	}
	data, lost, err := Write(r)
	if err != nil || !reflect.DeepEqual(lost, []string{"what we call the location", "the hours"}) {
		t.Errorf("lost %q, %v", lost, err)
	}
	if back, err := Read(data, r); err != nil || !reflect.DeepEqual(back, r) {
		t.Errorf("over itself: %+v, %v\n%s", record.Changes(r, back), err, data)
	}
	back, err := Read(data, record.Record{})
	if err != nil {
		t.Fatal(err)
	}
	back, _ = record.Normal(back)
	for _, c := range record.Changes(r, back) {
		if !slices.Contains([]string{"Label", "Hours", "Kind of location"}, c.Title) {
			t.Errorf("%s: %q comes back as %q", c.Title, c.Before, c.After)
		}
	}
	// RFC 6350, sections 3.2 and 3.4: lines end in CRLF, commas and semicolons are escaped.
	for _, want := range []string{"BEGIN:VCARD\r\nVERSION:4.0\r\n", `Nettlewick Yarns\; wool\, & needles`, "KIND:org", "GEO:geo:48.7025", "END:VCARD\r\n"} {
		if !strings.Contains(string(data), want) && !strings.Contains(strings.ReplaceAll(string(data), `\;`, ";"), strings.ReplaceAll(want, `\;`, ";")) {
			t.Errorf("the card has no %q:\n%s", want, data)
		}
	}
}

func TestCardsOfOthers(t *testing.T) {
	card := func(lines ...string) []byte {
		return []byte("BEGIN:VCARD\r\nVERSION:4.0\r\n" + strings.Join(lines, "\r\n") + "\r\nEND:VCARD\r\n")
	}
	before := record.Record{Name: "Old", Email: "kept@b.example", Pin: &record.Pin{Latitude: 1, Longitude: 2}}
	got, err := Read(card("FN:New", "TEL;VALUE=uri:tel:+13605550109", "GEO:geo:48.5,-124.5;u=10"), before)
	if err != nil || got.Name != "New" || got.Email != before.Email || got.Phones[0] != (record.Phone{E164: "+13605550109", Voice: true}) || *got.Pin != (record.Pin{Latitude: 48.5, Longitude: -124.5}) {
		t.Errorf("%+v, %v", got, err)
	}
	if got, err := Read(card("FN:New", "GEO:north"), before); err != nil || got.Pin != before.Pin {
		t.Errorf("%+v, %v", got, err)
	}
	if _, err := Read(card("EMAIL:a@b.example"), before); !errors.Is(err, ErrNoName) {
		t.Errorf("%v", err)
	}
	if _, err := Read([]byte("{}"), before); err == nil {
		t.Error("anything is a card")
	}
}
