package vcard

import (
	"bytes"
	"errors"
	"reflect"
	"slices"
	"strings"
	"testing"
	"unicode/utf8"

	govcard "github.com/emersion/go-vcard"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

func TestWrittenComesBackEqual(t *testing.T) {
	r, wrong := record.Normal(record.Record{
		Name:        "Nettlewick Yarns; wool, & needles",
		LegalName:   "Nettlewick Fibre Arts Inc.",
		FormerNames: []string{"Wool Room", "Wool, Ltd."},
		Kind:        record.Premises,
		Address: address.Address{
			Street:     "9 Old Wharf, east side",
			Unit:       "Suite B; rear",
			Locality:   "Port Sable",
			Region:     "WA",
			PostalCode: "98991",
			Country:    "US",
		},
		Pin:      &record.Pin{Latitude: 48.7025, Longitude: -124.9068},
		Phones:   []record.Phone{{E164: "+13605550109", Voice: true}, {E164: "+13605550108", Voice: true, Text: true}},
		Email:    "hello@nettlewick.example",
		Website:  "https://nettlewick.example/old-wharf",
		Category: "yarn_shop",
		Zone:     "America/Los_Angeles",
		Words:    record.Words{Medium: "Local fleece,\nspun upstairs; come in. Füße warm halten, auch im März, wenn der Wind vom Wasser kommt."},
		Hours:    "24/7",
	})
	if wrong != nil {
		t.Fatal(wrong)
	}
	data, lost := Write(r)
	if !reflect.DeepEqual(lost, []string{"what we call the location", "the hours"}) {
		t.Errorf("lost %q", lost)
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
	// RFC 6350, sections 3.2 and 3.4: lines of 75 octets at most, ended by CRLF; commas, and semicolons that part nothing, are escaped.
	for _, line := range strings.Split(strings.TrimSuffix(string(data), "\r\n"), "\r\n") {
		if len(line) > 75 || strings.Contains(line, "\n") || !utf8.ValidString(line) {
			t.Errorf("the line %q", line)
		}
	}
	for _, want := range []string{"BEGIN:VCARD\r\nVERSION:4.0\r\n", `FN:Nettlewick Yarns; wool\, & needles`, "KIND:org", "GEO:geo:48.7025", `ADR:;Suite B\; rear;9 Old Wharf\, east side;`, "END:VCARD\r\n"} {
		if !strings.Contains(strings.ReplaceAll(string(data), "\r\n ", ""), want) {
			t.Errorf("the card has no %q:\n%s", want, data)
		}
	}
	// A reader that did not write it.
	c, err := govcard.NewDecoder(bytes.NewReader(data)).Decode()
	if err != nil || c.Value("FN") != r.Name || c.Kind() != "org" || c.Value("EMAIL") != r.Email || c.Value("NOTE") != r.Words.Medium {
		t.Errorf("another reader finds %+v, %v", c, err)
	}
}

func TestCardsOfOthers(t *testing.T) {
	card := func(lines ...string) []byte {
		return []byte("BEGIN:VCARD\r\nVERSION:4.0\r\n" + strings.Join(lines, "\r\n") + "\r\nEND:VCARD\r\n")
	}
	before := record.Record{Name: "Old", Email: "kept@b.example", Pin: &record.Pin{Latitude: 1, Longitude: 2}}
	got, err := Read(card("FN:New", "TEL;VALUE=uri:tel:+13605550109", "GEO:geo:48.5,-124.5;u=10"), before)
	if err != nil || got.Name != "New" || got.Email != before.Email || got.Phones[0] != (record.Phone{E164: "+13605550109", Voice: true}) ||
		*got.Pin != (record.Pin{Latitude: 48.5, Longitude: -124.5}) {
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

// Whatever a card says that a record can hold comes back from a card that is written of it.
func FuzzRead(f *testing.F) {
	f.Add(
		[]byte(
			"BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Wool\\; Room\r\nADR:;Suite B;9 Old Wharf;Port Sable;WA;98991;US\r\nTEL;TYPE=voice:tel:+13605550109\r\nGEO:geo:48.7,-124.9\r\nNOTE:Two\\nlines\r\nEND:VCARD\r\n",
		),
	)
	f.Add(
		[]byte(
			"BEGIN:VCARD\nVERSION:3.0\nN:Room;Wool;;;\nFN:Wool Room\nORG:Wool\\, Ltd.;Shop\nNICKNAME:Old,Older\nCATEGORIES:yarn shop\nTZ:America/Los_Angeles\nEND:VCARD\n",
		),
	)
	f.Fuzz(func(t *testing.T, data []byte) {
		read, err := Read(data, record.Record{})
		if err != nil {
			return
		}
		r, wrong := record.Normal(read)
		if wrong != nil {
			return
		}
		written, _ := Write(r)
		if back, err := Read(written, r); err != nil || !reflect.DeepEqual(back, r) {
			t.Errorf("%v, %+v\n%s", err, record.Changes(r, back), written)
		}
	})
}
