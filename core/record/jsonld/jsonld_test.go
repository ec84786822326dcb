package jsonld

import (
	"encoding/json"
	"errors"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/piprate/json-gold/ld"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

func full(t *testing.T) record.Record {
	t.Helper()
	r, wrong := record.Normal(record.Record{
		Label:       "Old Wharf",
		StoreCode:   "NW-1",
		Name:        "Nettlewick Yarns",
		LegalName:   "Nettlewick Fibre Arts Inc.",
		FormerNames: []string{"Nettlewick Wool Room"},
		Kind:        record.Premises,
		Address:     address.Address{Street: "9 Old Wharf", Unit: "Suite B", Locality: "Port Sable", Region: "WA", PostalCode: "98991", Country: "US"},
		Pin:         &record.Pin{Latitude: 48.7025, Longitude: -124.9068},
		Phones:      []record.Phone{{E164: "+13605550109", Voice: true}, {E164: "+13605550108", Text: true}},
		Email:       "hello@nettlewick.example",
		Website:     "https://nettlewick.example/old-wharf",
		Category:    "yarn_shop",
		Opened:      "2009",
		Attributes:  map[string]bool{"classes": true, "gift_cards": false},
		Hours:       "Tu-Sa 10:00-17:30; 2026 Nov 26 off; 2026 Dec 24-26 10:00-13:00",
		Words: record.Words{
			Tagline:      "Wool, and patience",
			Short:        "Yarn.",
			Medium:       "Local fleece, “dyed” & spun.",
			Keywords:     []string{"yarn", "wool"},
			Specialities: []string{"Local fleece"},
		},
		Area: record.Area{
			Towns: []record.Town{{Name: "Quillcote", Latitude: 48.658, Longitude: -124.844}, {Name: "Minnow Bay", Latitude: 48.612, Longitude: -124.954}},
		},
		Links:    record.Links{Menu: "https://nettlewick.example/prices", Booking: "https://nettlewick.example/book", Ordering: "https://nettlewick.example/order"},
		Socials:  []record.Social{{Name: "murmurhall.example", URL: "https://murmurhall.example/nettlewick"}},
		Payments: []string{"cash", "contactless"},
		Team:     []record.Member{{Name: "Perpetua Hale", Role: "Owner", Email: "p@nettlewick.example", Phone: "+13605550109"}},
		Offerings: []record.Section{
			{Title: "Yarn", Items: []record.Item{{Name: "Fleece", Price: "18.50", Per: "a hank", About: "Undyed."}, {Name: "Ends"}}},
			{Title: "Classes", Items: []record.Item{{Name: "First socks", Price: "40"}}},
		},
	})
	if wrong != nil {
		t.Fatal(wrong)
	}
	return r
}

func TestWrittenComesBackEqual(t *testing.T) {
	r := full(t)
	data, lost, err := Write(r)
	if err != nil {
		t.Fatal(err)
	}
	if strings.Join(
		lost,
		"; ",
	) != "what we call the location; what the phones can do; populations and travel times of the towns served; which social profiles to show" {
		t.Errorf("lost: %q", lost)
	}
	back, err := Read(data, r)
	if err != nil || !reflect.DeepEqual(back, r) {
		t.Errorf("over itself it comes back as %+v, %v", back, err)
	}
	// Over an empty record all comes back but what was said to be lost.
	back, err = Read(data, record.Record{})
	if err != nil {
		t.Fatal(err)
	}
	back, _ = record.Normal(back)
	for _, c := range record.Changes(r, back) {
		if !slices.Contains([]string{"Label", "Phones", "Kind of location"}, c.Title) {
			t.Errorf("%s: %q comes back as %q", c.Title, c.Before, c.After)
		}
	}
}

// A JSON-LD processor that did not write it reads it, with every term under
// schema.org's vocabulary.
func TestAProcessorReadsIt(t *testing.T) {
	data, _, err := Write(full(t))
	if err != nil {
		t.Fatal(err)
	}
	var doc map[string]any
	if err := json.Unmarshal(data, &doc); err != nil {
		t.Fatal(err)
	}
	doc["@context"] = map[string]any{"@vocab": "https://schema.org/"} // schema.org's own context, without asking the network
	expanded, err := ld.NewJsonLdProcessor().Expand(doc, ld.NewJsonLdOptions(""))
	if err != nil || len(expanded) != 1 {
		t.Fatalf("%v, %v", expanded, err)
	}
	node := expanded[0].(map[string]any)
	name := node["https://schema.org/name"].([]any)[0].(map[string]any)["@value"]
	if name != "Nettlewick Yarns" || node["@type"].([]any)[0] != "https://schema.org/LocalBusiness" ||
		len(node["https://schema.org/openingHoursSpecification"].([]any)) != 5 {
		t.Errorf("it reads %v", node)
	}
}

func TestWhatIsLostIsNamed(t *testing.T) {
	r := full(t)
	r.Kind, r.State.Kind, r.Others, r.Words.Story, r.Parking, r.Zone = record.Both, record.Moved, []string{"craft_shop"}, "x", "x", "America/Los_Angeles"
	r.Links.Quote, r.Videos, r.Tags.On, r.Licences, r.Company.Size, r.Own = "https://x.example", []string{
		"https://x.example",
	}, true, []record.Licence{{Name: "x"}}, "1", []string{"name"}
	r.Mailing.Contact, r.Directions, r.Words.Long, r.Hours = "Dov", "x", "x", "Mo 09:00-10:00; PH off"
	_, lost, err := Write(r)
	if err != nil || len(lost) != 20 || lost[0] != "what holds on public holidays" {
		t.Errorf("%d: %q, %v", len(lost), lost, err)
	}
}

// Documents of others say one thing where ours say several, and in other shapes.
func TestOthersShapes(t *testing.T) {
	r, err := Read(
		[]byte(
			`{"name":"Quay Wash","areaServed":"Fennick","sameAs":"https://www.murmurhall.example/quay","hasMenu":{"@type":"Menu"},"potentialAction":{"@type":"OrderAction","target":"https://q.example/o"},
		"paymentAccepted":["Cash","Beads"],"employee":null,"hasOfferCatalog":{"itemListElement":[{"@type":"Offer","name":"Wash","price":"4"},{"@type":"OfferCatalog","name":"Dry","itemListElement":[{"@type":"Offer","name":"Tumble"}]}]}}`,
		),
		record.Record{Links: record.Links{Menu: "kept"}},
	)
	want := []record.Section{{Title: "Dry", Items: []record.Item{{Name: "Tumble"}}}, {Items: []record.Item{{Name: "Wash", Price: "4"}}}}
	if err != nil || r.Area.Towns != nil || len(r.Socials) != 1 || r.Socials[0].Name != "murmurhall.example" || r.Links.Menu != "kept" ||
		r.Links.Ordering != "https://q.example/o" ||
		!reflect.DeepEqual(r.Payments, []string{"cash"}) ||
		r.Team != nil ||
		!reflect.DeepEqual(r.Offerings, want) {
		t.Errorf("%+v, %v", r, err)
	}
}

func TestWhatCannotBeRead(t *testing.T) {
	before := full(t)
	for _, text := range []string{"", "[]", "{", `{"name": 7}`} {
		if r, err := Read([]byte(text), before); err == nil || !reflect.DeepEqual(r, before) {
			t.Errorf("%q reads as %+v", text, r)
		}
	}
	if _, err := Read([]byte(`{"@type":"LocalBusiness"}`), before); !errors.Is(err, ErrNoBusiness) {
		t.Errorf("%v", err)
	}
}

func FuzzRead(f *testing.F) {
	f.Add(
		[]byte(`{"name":"x","telephone":"+1","contactPoint":[{}],"geo":{},"openingHoursSpecification":[{"dayOfWeek":"Monday","opens":"09:00","closes":"08:00"}]}`),
	)
	f.Fuzz(func(t *testing.T, data []byte) {
		r, err := Read(data, record.Record{})
		if err != nil {
			return
		}
		if r, wrong := record.Normal(r); wrong == nil {
			if _, _, err := Write(r); err != nil {
				t.Fatalf("%s: %v", data, err)
			}
		}
	})
}
