package record

import (
	"encoding/json"
	"reflect"
	"strings"
	"testing"

	"uvent/core/fact/address"
)

func good() Record {
	return Record{
		Name: "Spokeshave Cycle Works", Kind: Premises,
		Address: address.Address{Street: "18 Tern Street", Locality: "Minnow Bay", Region: "wa", PostalCode: "98990", Country: "us"},
		Phones:  []Phone{{E164: "(360) 555-0142", Voice: true}}, Email: "shop@spokeshave.example", Website: "https://spokeshave.example",
		Category: "Bicycle repair", Hours: "tu-fr 9:00-12:00,13:00-18:00",
	}
}

func TestNormalTidies(t *testing.T) {
	r, problems := Normal(good())
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	if r.Label != "Minnow Bay" || r.Phones[0].E164 != "+13605550142" || r.Hours != "Tu-Fr 09:00-12:00,13:00-18:00" || r.Category != "bicycle_repair" ||
		r.Address.Country != "US" {
		t.Errorf("%+v", r)
	}
	again, problems := Normal(r)
	if len(problems) > 0 || !reflect.DeepEqual(r, again) {
		t.Errorf("tidied twice: %+v, %v", again, problems)
	}
	if zone, ok := r.Location(); !ok || zone.String() != "America/Los_Angeles" {
		t.Errorf("the zone is %v", zone)
	}
}

func TestNormalNamesEachProblem(t *testing.T) {
	for path, spoil := range map[string]func(*Record){
		"name": func(r *Record) { r.Name = " " }, "kind": func(r *Record) { r.Kind = "shop" },
		"address.street": func(r *Record) { r.Address.Street = "" }, "address.locality": func(r *Record) { r.Address.Locality, r.Label = "", "x" },
		"address.country":        func(r *Record) { r.Address.Country, r.Zone, r.Phones = "USA", "America/Los_Angeles", nil },
		"mailing.address.street": func(r *Record) { r.Mailing.Address = address.Address{Locality: "Quillcote", Country: "US"} },
		"pin.latitude":           func(r *Record) { r.Pin = &Pin{Latitude: 91} }, "pin.longitude": func(r *Record) { r.Pin = &Pin{Longitude: -181} },
		"phones.0.e164": func(r *Record) { r.Phones[0].E164 = "12" }, "phones.1.e164": func(r *Record) { r.Phones = append(r.Phones, r.Phones[0]) },
		"email": func(r *Record) { r.Email = "shop" }, "website": func(r *Record) { r.Website = "spokeshave.example" },
		"category": func(r *Record) { r.Category = "unheard of" }, "hours": func(r *Record) { r.Hours = "Mo 9-5" },
		"zone": func(r *Record) { r.Zone = "Pacific" }, "legal_name": func(r *Record) { r.LegalName = strings.Repeat("x", 301) },
		"store_code": func(r *Record) { r.StoreCode = "a\nb" }, "state.kind": func(r *Record) { r.State.Kind = "gone" }, "state.until": func(r *Record) { r.State = State{Kind: ClosedForATime, Until: "soon"} },
		"opened": func(r *Record) { r.Opened = "last May" }, "other_categories.0": func(r *Record) { r.Others = []string{"unheard of"} }, "attributes.x": func(r *Record) { r.Attributes = map[string]bool{"x": true} },
		"words.tagline": func(r *Record) { r.Words.Tagline = strings.Repeat("x", 121) }, "words.medium": func(r *Record) { r.Words.Medium = "a\x07b" }, "directions": func(r *Record) { r.Directions = strings.Repeat("x", 501) },
		"words.keywords": func(r *Record) {
			for i := range 31 {
				r.Words.Keywords = append(r.Words.Keywords, strings.Repeat("x", i+1))
			}
		}, "former_names.0": func(r *Record) { r.FormerNames = []string{strings.Repeat("x", 301)} },
		"phones.3.e164": func(r *Record) {
			r.Phones = []Phone{{E164: "360 555 0101"}, {E164: "360 555 0102"}, {E164: "360 555 0103"}, {E164: "360 555 0104"}}
		},
	} {
		r := good()
		spoil(&r)
		_, problems := Normal(r)
		if len(problems) != 1 || problems[0].Path != path || problems[0].Message == "" {
			t.Errorf("%s: %v", path, problems)
		}
	}
	r := good()
	r.Address.Region = "TX"
	if _, problems := Normal(r); len(problems) != 1 || problems[0].Path != "zone" {
		t.Errorf("a region in two zones: %v", problems)
	}
}

func TestPostAndPhones(t *testing.T) {
	r := good()
	r.Mailing.Contact = "Dov Marsh"
	if to, who := r.Post(); to != r.Address || who != "Dov Marsh" {
		t.Errorf("post goes to %v, %s", to, who)
	}
	r.Mailing.Address = address.Address{Street: "2 Back Lane"}
	if to, _ := r.Post(); to.Street != "2 Back Lane" {
		t.Errorf("post goes to %v", to)
	}
	if _, ok := r.PhoneFor(func(p Phone) bool { return p.Text }); ok {
		t.Error("a landline takes texts")
	}
	if (Record{}).MainPhone() != "" || r.MainPhone() == "" {
		t.Error("the main phone is wrong")
	}
}

func TestListsAndStatesAreTidied(t *testing.T) {
	r := good()
	r.State, r.Opened = State{Kind: ClosedForGood, Until: "2026-12-31", To: "elsewhere"}, " 1987-05 "
	r.Others = []string{"Bicycle rental", "bicycle_repair", "", "bicycle rental"}
	r.Words.Keywords = []string{" wheel truing ", "", "Wheel Truing"}
	r.Words.Long = " two\r\nlines "
	r, problems := Normal(r)
	if len(problems) > 0 || r.State != (State{Kind: ClosedForGood}) || r.Opened != "1987-05" || !reflect.DeepEqual(r.Others, []string{"bicycle_rental"}) ||
		!reflect.DeepEqual(r.Words.Keywords, []string{"wheel truing"}) || r.Words.Long != "two\nlines" || r.Words.Specialities == nil || r.Attributes == nil {
		t.Errorf("%+v, %v", r, problems)
	}
	if r, _ := Normal(good()); r.State.Kind != Open {
		t.Errorf("a location that says nothing is %q", r.State.Kind)
	}
}

// Half a pin is refused at its field, and what cannot be seen is taken off what is pasted.
func TestHalfAPinAndWhatIsPasted(t *testing.T) {
	for text, path := range map[string]string{`{"latitude": 48.5}`: "pin.longitude", `{"latitude": null, "longitude": -124}`: "pin.latitude", `{}`: "pin.latitude"} {
		var r Record
		if err := json.Unmarshal(
			[]byte(`{"name":"A","kind":"premises","address":{"street":"1 A","locality":"B","region":"WA","country":"US"},"pin":`+text+`}`),
			&r,
		); err != nil {
			t.Fatal(err)
		}
		if _, wrong := Normal(r); len(wrong) != 1 || wrong[0].Path != path {
			t.Errorf("%s: %+v", text, wrong)
		}
	}
	r := Record{
		Name:    "\u202aCafé\u200e Möwe\ufeff",
		Kind:    Premises,
		Words:   Words{Long: "A\u00ad b\u200f"},
		Address: address.Address{Street: "1 A", Locality: "B", Region: "WA", Country: "US"},
		Pin:     &Pin{48.5, -124},
	}
	if out, wrong := Normal(r); wrong != nil || out.Name != "Café Möwe" || out.Words.Long != "A b" || *out.Pin != (Pin{48.5, -124}) {
		t.Errorf("%+v %v", out, wrong)
	}
}

// Where the address does not tell the clock, or lies where two are kept, the pin does.
func TestThePinTellsTheTimeZone(t *testing.T) {
	north, south := &Pin{47.7, -116.8}, &Pin{43.6, -116.2}
	for _, c := range []struct {
		region, postal string
		pin            *Pin
		want           string
	}{
		{"ID", "", north, "America/Los_Angeles"}, {"ID", "", south, "America/Boise"}, {"ID", "83814", nil, "America/Los_Angeles"}, {"ID", "83814", south, "America/Boise"},
		{"ID", "", nil, ""}, {"ID", "83702", &Pin{0, -150}, "America/Boise"}, {"", "", south, "America/Boise"}, {"WA", "", south, "America/Los_Angeles"},
	} {
		r := Record{Address: address.Address{Region: c.region, PostalCode: c.postal, Country: "US"}, Pin: c.pin}
		got := ""
		if zone, ok := r.Location(); ok {
			got = zone.String()
		}
		if got != c.want {
			t.Errorf("%s %s %v: %q, want %q", c.region, c.postal, c.pin, got, c.want)
		}
	}
}
