package fit

import (
	"math"
	"slices"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/fact/photo"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

func read(t testing.TB, name string) *rulebook.Rulebook {
	t.Helper()
	book, err := rulebooks.Read(name)
	if err != nil {
		t.Fatal(err)
	}
	return &book
}

func spokeshave() record.Record {
	return record.Record{
		Name:     "Spokeshave",
		Kind:     record.Premises,
		Address:  address.Address{Street: "18 Tern Street", Unit: "Suite B", Locality: "Minnow Bay", Region: "WA", PostalCode: "98994", Country: "US"},
		Phones:   []record.Phone{{E164: "+13605550142"}},
		Email:    "x@y.example",
		Website:  "https://y.example",
		Category: "bicycle_repair",
		Hours:    "Tu-Fr 09:00-12:00,13:00-18:00; 2026 Nov 26 off",
	}
}

// Every fact that a rulebook can name is read from a record, and no other.
func TestFactsAndKeysAgree(t *testing.T) {
	for _, k := range rulebook.Keys {
		if f, ok := facts[k.ID]; !ok || f.said == nil || f.from == "" {
			t.Errorf("%s is not read", k.ID)
		}
	}
	if len(facts) != len(rulebook.Keys) {
		t.Errorf("%d facts are read, %d can be named", len(facts), len(rulebook.Keys))
	}
}

func TestWhatKeepsADirectoryFromTakingARecord(t *testing.T) {
	book := read(t, "fernlook")
	if whys := Of(Read(spokeshave(), nil, now), book).Whys(); whys != nil {
		t.Errorf("a good record lacks %q", whys)
	}
	for says, spoil := range map[string]func(*record.Record){
		"The record has no name.":                                func(r *record.Record) { r.Name = "" },
		"The record has no category.":                            func(r *record.Record) { r.Category = "" },
		"Name has 81 characters; Fernlook takes 80. Shorten it.": func(r *record.Record) { r.Name = strings.Repeat("x", 81) },
		"no category for Gym, nor one near it":                   func(r *record.Record) { r.Category = "gym" },
		"does not list locations in FR":                          func(r *record.Record) { r.Address.Country = "FR" },
	} {
		r := spokeshave()
		spoil(&r)
		if whys := Of(Read(r, nil, now), book).Whys(); len(whys) != 1 || !strings.Contains(whys[0], says) {
			t.Errorf("want %q, got %q", says, whys)
		}
	}
}

func TestWhoMayBeListed(t *testing.T) {
	for _, c := range []struct {
		book, says string
		change     func(*record.Record)
	}{
		{"waywren", "does not list this kind of location: goes to customers", func(r *record.Record) { r.Kind = record.GoesToCustomers }},
		{"sound-chamber", "lists locations in WA only, and this one is in OR", func(r *record.Record) { r.Address.Region = "OR" }},
		{"old-wharf-merchants", "lists locations in Port Sable only", func(*record.Record) {}},
		{"old-wharf-merchants", "on its own streets only: Old Wharf, Chandlery Lane", func(r *record.Record) { r.Address.Locality = "Port Sable" }},
		{"old-wharf-merchants", "", func(r *record.Record) { r.Address.Locality, r.Address.Street = "Port Sable", "12 Harbour St" }},
		{"spanner-register", "lists one trade only: Bicycle shop, Bicycle repair", func(r *record.Record) { r.Category = "bakery" }},
		{"spanner-register", "", func(r *record.Record) { r.Category, r.Others = "cafe", []string{"bicycle_shop"} }},
		{"spanner-register", "", func(r *record.Record) { r.Category = "" }}, // not said yet speaks against nothing
	} {
		r := spokeshave()
		c.change(&r)
		if got := Of(Read(r, nil, now), read(t, c.book)).Not; got != c.says && (c.says == "" || !strings.Contains(got, c.says)) {
			t.Errorf("%s: %q, want %q", c.book, got, c.says)
		}
	}
}

func TestPerCentAndTheNextBestFact(t *testing.T) {
	book := rulebook.Rulebook{
		Name:    "Pierbook",
		Listing: rulebook.Listing{Kinds: []record.Kind{record.Premises, record.Both}},
		Areas:   rulebook.Areas{Most: 3, Weight: 4},
		Facts:   []rulebook.Fact{{Fact: "name", Required: true, Weight: 6}, {Fact: "phone", Weight: 3}, {Fact: "offerings", Weight: 9}, {Fact: "keywords"}},
		Texts:   []rulebook.Prose{{Text: "short", Label: "Line", MostCharacters: 50}},
		Photos: []rulebook.Photos{
			{Groups: []string{"logo"}, Label: "Badge", Most: 1, Crop: photo.Crop{Width: 100, Height: 100}, Least: photo.Size{Width: 100, Height: 100}},
		},
	}
	r := record.Record{Name: "Spokeshave", Kind: record.Premises}
	f := Of(Read(r, nil, now), &book)
	// An area is not taken from a location to which people come: 6 of 6+3+9+1+1+1.
	if want := 100.0 * 6 / 21; math.Abs(f.Percent-want) > 1e-9 || len(f.Items) != 6 {
		t.Errorf("%v per cent of %d, want %v", f.Percent, len(f.Items), want)
	}
	// The phone gains 3 in a minute, offerings 9 in twenty.
	if next, ok := f.Next(); !ok || next.Key != "phone" || math.Abs(next.Percent-300.0/21) > 1e-9 {
		t.Errorf("%+v", next)
	}
	r.Kind, r.Phones = record.Both, []record.Phone{{E164: "+13605550142"}}
	f = Of(Read(r, []Photo{{Group: "logo", Size: photo.Size{Width: 50, Height: 50}}}, now), &book)
	badge := f.Items[slices.IndexFunc(f.Items, func(i Item) bool { return i.Key == "photos.logo" })]
	if next, _ := f.Next(); next.Key != "areas" || badge.State != Broken || !strings.Contains(badge.Says, "50 by 50 pixels are left; it wants 100 by 100") {
		t.Errorf("%+v, %+v", next, badge)
	}
	if math.Abs(f.Percent-100.0*9/25) > 1e-9 {
		t.Errorf("%v per cent", f.Percent)
	}
	r.Offerings, r.Words.Keywords, r.Words.Short, r.Area.Towns = []record.Section{{Items: []record.Item{{Name: "Wheel"}}}}, []string{
		"bikes",
	}, "By the pier.", []record.Town{{Name: "Quillcote"}}
	f = Of(Read(r, []Photo{{Group: "logo", Size: photo.Size{Width: 500, Height: 500}}}, now), &book)
	if next, ok := f.Next(); f.Percent != 100 || ok {
		t.Errorf("%v per cent, and %+v is next", f.Percent, next)
	}
}

// Photos that must come together count only together.
func TestPhotosThatComeTogether(t *testing.T) {
	book := read(t, "lanefolk")
	logo, cover := Photo{Group: "logo", Size: photo.Size{Width: 600, Height: 600}}, Photo{Group: "cover", Size: photo.Size{Width: 1500, Height: 900}}
	state := func(photos ...Photo) string {
		for _, i := range Of(Read(spokeshave(), photos, now), book).Items {
			if i.Key == "photos.logo" {
				return string(i.State) + " " + i.Says
			}
		}
		return "not taken"
	}
	for want, got := range map[string]string{
		"missing There is no photo for “Logo”.":                               state(cover),
		"broken It must come together with “Cover”, for which no photo fits.": state(logo),
		"good ":                       state(logo, cover),
		"changed 1 of 2 does not go.": state(logo, logo, cover),
		"changed 1 of 2 does not go. Cut to its shape": state(logo, Photo{Group: "logo", Size: photo.Size{Width: 90, Height: 90}}, cover)[:len("changed 1 of 2 does not go. Cut to its shape")],
	} {
		if got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}

func BenchmarkFit(b *testing.B) {
	books, err := rulebooks.All()
	if err != nil {
		b.Fatal(err)
	}
	r := spokeshave()
	r.Words = record.Words{
		Short:  "We mend bicycles.",
		Medium: strings.Repeat("We mend bicycles on Tern Street. ", 22),
		Long:   strings.Repeat("A long story of wheels. ", 100),
	}
	r.Others, r.Licences = []string{"bicycle_shop", "electric_bicycle_shop"}, []record.Licence{{Number: "X1"}}
	photos := []Photo{
		{Group: "logo", Size: photo.Size{Width: 600, Height: 600}},
		{Group: "cover", Size: photo.Size{Width: 1600, Height: 900}},
		{Group: "exterior", Size: photo.Size{Width: 1600, Height: 1200}},
	}
	b.Run("5000 locations on every directory", func(b *testing.B) {
		for b.Loop() {
			for range 5000 {
				s := Read(r, photos, now)
				for i := range books {
					Of(s, &books[i])
				}
			}
		}
	})
	b.Run("composing one", func(b *testing.B) {
		s := Read(r, photos, now)
		for b.Loop() {
			Of(s, &books[0]).Values()
		}
	})
}
