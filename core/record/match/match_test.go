package match

import (
	"slices"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

func ours() Business {
	return Business{
		Name: "Nettlewick Yarns", LegalName: "Nettlewick Fibre Arts LLC", Former: []string{"The Wool Loft"},
		Address: address.Address{Street: "18 Tern Street", Locality: "Port Sable", Region: "WA", PostalCode: "98990", Country: "US"},
		Phones:  []string{"+13605550142"}, Website: "https://nettlewick.example/port-sable", Pin: &record.Pin{Latitude: 48.5, Longitude: -122.6},
	}
}

func TestVerdicts(t *testing.T) {
	with := func(f func(*Business)) Business { b := ours(); f(&b); return b }
	for _, c := range []struct {
		name   string
		theirs Business
		want   Verdict
		says   string
	}{
		{"itself", ours(), SameBusiness, "The name is the same"},
		{"abbreviated, no site", with(func(b *Business) { b.Address.Street, b.Website = "18 Tern St", "" }), SameBusiness, "The address is the same"},
		{"legal name", with(func(b *Business) { b.Name = "Nettlewick Fibre Arts, LLC" }), SameBusiness, "legal name"},
		{"former name at the same address", with(func(b *Business) { b.Name, b.LegalName, b.Phones, b.Website = "Wool Loft", "", nil, "" }), SameBusiness, "former name"},
		{"former address", with(func(b *Business) { b.Address.Street, b.Pin = "2 Old Quay", nil }), Probably, "another address"},
		{"a sister shop", with(func(b *Business) {
			b.Address = address.Address{Street: "5 Hill Road", Locality: "Fennick", Region: "BC", Country: "CA"}
			b.Phones, b.Website, b.Pin = []string{"+16045550133"}, "https://nettlewick.example/fennick", &record.Pin{Latitude: 49.5, Longitude: -122}
		}), Different, "another town"},
		{"a neighbour upstairs", with(func(b *Business) {
			b.Name, b.LegalName, b.Address.Unit, b.Phones, b.Website = "Corvid Dental", "", "Suite 2", []string{"+13605550199"}, "https://corvid.example"
		}), Unlikely, "same building"},
		{"a stranger", Business{Name: "Corvid Dental", Address: address.Address{Street: "1 Elm", Locality: "Fennick"}, Phones: []string{"+16045550199"}}, Different, "The name is another"},
		{"nothing", Business{}, Different, "Nothing is known"},
	} {
		got := Compare(ours(), c.theirs)
		if got.Verdict != c.want || !strings.Contains(strings.Join(got.Reasons, " "), c.says) || got.Score < 0 || got.Score > 1 {
			t.Errorf("%s: %+v, want %s and %q", c.name, got, c.want, c.says)
		}
	}
}

// An old listing at a former address is found, and is for somebody to decide.
func TestAFormerAddress(t *testing.T) {
	moved := ours()
	moved.Before = []address.Address{{Street: "2 Old Quay", Locality: "Fennick", Region: "BC", Country: "CA"}}
	old := Business{Name: "Nettlewick Yarns", Address: address.Address{Street: "2 Old Quay", Locality: "Fennick"}}
	r, back := Compare(moved, old), Compare(old, moved)
	if r.Verdict != Probably || r.Score != back.Score || !strings.Contains(strings.Join(r.Reasons, " "), "It is at a former address, 2 Old Quay") {
		t.Errorf("%+v", r)
	}
	if r := Compare(ours(), old); r.Verdict == Probably || r.Verdict == SameBusiness {
		t.Errorf("where no former address is known: %+v", r)
	}
}

func TestMissingIsNotDifferent(t *testing.T) {
	less := ours()
	less.Phones, less.Website, less.Pin = nil, "", nil
	if r := Compare(ours(), less); r.Verdict != SameBusiness || len(r.Reasons) != 2 {
		t.Errorf("%+v", r)
	}
}

func TestSameSite(t *testing.T) {
	for _, c := range []struct {
		a, b string
		want bool
	}{
		{"https://x.example/a", "http://www.x.example/a/?utm_source=fernlook", true},
		{"https://x.example/a", "https://x.example/b", false}, {"", "", false}, {"https://x.example", "https://y.example", false},
	} {
		if SameSite(c.a, c.b) != c.want {
			t.Errorf("%s and %s: %v", c.a, c.b, !c.want)
		}
	}
}

// A slip counts in the seven digits that are a line's own: other codes are another place.
func TestPhonesThatNearlyAgree(t *testing.T) {
	for _, c := range []struct {
		a, b string
		near bool
	}{
		{"+13605550142", "+13605550124", true}, // two changed places
		{"+13605550142", "+13605550143", true}, // one is another
		{"+13605550142", "+13601550142", true}, // the first of its own
		{"+13605550142", "+13615550142", false},
		{"+13605550142", "+13065550142", false},
		{"+13605550142", "+13605551024", false},
		{"+13605550142", "+1360555014", false},
		{"5550142", "5550124", false}, // no codes to tell whose they are
	} {
		if got := oneSlip(c.a, c.b); got != c.near || oneSlip(c.b, c.a) != got {
			t.Errorf("%s and %s nearly agree: %v", c.a, c.b, got)
		}
	}
	// And one with digits that changed places is found by them, in its town, though nothing else agrees.
	there := Business{Name: "Quill", Address: address.Address{Locality: "Fennick"}, Phones: []string{"+13605550142"}}
	x := NewIndex([]Business{{Name: "Another", Phones: []string{"+13605559999"}}, there})
	for phone, found := range map[string]bool{"+13605550124": true, "+13605550142": true, "+13605550166": false} {
		asked := Business{Name: "Marsh Wheel", Address: address.Address{Locality: "Fennick"}, Phones: []string{phone}}
		if got := slices.Contains(x.near(asked), 1); got != found {
			t.Errorf("by %s it is looked at: %v", phone, got)
		}
	}
}
