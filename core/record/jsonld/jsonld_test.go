package jsonld

import (
	"encoding/json"
	"errors"
	"maps"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

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

// Every type is one of schema.org's, each property one that such a thing has there, with a value of a kind that it takes
// (https://schema.org/LocalBusiness and the pages of the types that it names, release 29).
func TestItHasTheShapesOfSchemaOrg(t *testing.T) {
	text := func(v any) bool { s, ok := v.(string); return ok && s != "" }
	matches := func(pattern string) func(any) bool {
		re := regexp.MustCompile(pattern)
		return func(v any) bool { s, _ := v.(string); return re.MatchString(s) }
	}
	number := func(v any) bool { _, ok := v.(float64); return ok }
	truth := func(v any) bool { _, ok := v.(bool); return ok }
	thing := func(types ...string) func(any) bool {
		return func(v any) bool {
			m, _ := v.(map[string]any)
			kind, _ := m["@type"].(string)
			return slices.Contains(types, kind)
		}
	}
	url, date, clock := matches(`^https?://[^ ]+$`), matches(`^\d{4}(-\d\d){0,2}$`), matches(`^([01]\d|2[0-4]):[0-5]\d$`)
	phone, money := matches(`^\+\d+$`), matches(`^\d+(\.\d+)?$`)
	business := map[string]func(any) bool{
		"name": text, "legalName": text, "alternateName": text, "branchCode": text, "slogan": text, "description": text, "disambiguatingDescription": text,
		"keywords": text, "knowsAbout": text, "additionalType": text, "foundingDate": date, "telephone": phone, "contactPoint": thing("ContactPoint"), "email": text,
		"url": url, "address": thing("PostalAddress"), "geo": thing("GeoCoordinates"), "amenityFeature": thing("LocationFeatureSpecification"), "openingHours": text,
		"openingHoursSpecification": thing("OpeningHoursSpecification"), "specialOpeningHoursSpecification": thing("OpeningHoursSpecification"),
		"areaServed": thing("City"), "sameAs": url, "potentialAction": thing("ReserveAction", "OrderAction", "ViewAction"), "paymentAccepted": text,
		"employee": thing("Person"), "hasOfferCatalog": thing("OfferCatalog"),
	}
	eating := maps.Clone(business)
	eating["hasMenu"] = url
	doing := map[string]func(any) bool{"name": text, "target": url}
	shapes := map[string]map[string]func(any) bool{
		"LocalBusiness":     business,
		"FoodEstablishment": eating,
		"ReserveAction":     doing,
		"OrderAction":       doing,
		"ViewAction":        doing,
		"ContactPoint":      {"telephone": phone},
		"PostalAddress": {
			"streetAddress":   text,
			"extendedAddress": text,
			"addressLocality": text,
			"addressRegion":   text,
			"postalCode":      text,
			"addressCountry":  matches(`^[A-Z]{2}$`),
		},
		"GeoCoordinates":               {"latitude": number, "longitude": number},
		"LocationFeatureSpecification": {"name": text, "value": truth},
		"OpeningHoursSpecification": {
			"dayOfWeek": matches(`^https://schema\.org/(Mon|Tues|Wednes|Thurs|Fri|Satur|Sun)day$|^https://schema\.org/PublicHolidays$`),
			"opens":     clock, "closes": clock, "validFrom": date, "validThrough": date,
		},
		"City":         {"name": text, "geo": thing("GeoCoordinates")},
		"Person":       {"name": text, "jobTitle": text, "email": text, "telephone": phone},
		"OfferCatalog": {"name": text, "itemListElement": thing("OfferCatalog", "Offer")},
		"Offer":        {"name": text, "description": text, "price": money, "priceCurrency": matches(`^[A-Z]{3}$`), "disambiguatingDescription": text},
	}
	seen := map[string]bool{}
	var look func(path string, v any)
	look = func(path string, v any) {
		switch v := v.(type) {
		case []any:
			for _, one := range v {
				look(path, one)
			}
		case map[string]any:
			kind, _ := v["@type"].(string)
			seen[kind] = true
			if shapes[kind] == nil {
				t.Errorf("%s is of the type %q", path, kind)
			}
			for key, value := range v {
				if key == "@type" || key == "@context" {
					continue
				}
				values, several := value.([]any)
				if !several {
					values = []any{value}
				}
				for _, one := range values {
					if takes := shapes[kind][key]; takes == nil {
						t.Errorf("%s: a %s has no %s", path, kind, key)
					} else if !takes(one) {
						t.Errorf("%s.%s is %v", path, key, one)
					}
					look(path+"."+key, one)
				}
			}
		}
	}
	inn := full(t)
	inn.Category, inn.Hours = "restaurant", "Mo-Su 18:00-02:00; PH off; Dec 24 off"
	for _, r := range []record.Record{full(t), inn, full(t).Public(time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC))} {
		data, _, err := Write(r)
		var doc any
		if err := errors.Join(err, json.Unmarshal(data, &doc)); err != nil {
			t.Fatal(err)
		}
		look(r.Category, doc)
		back, err := Read(data, record.Record{})
		if err != nil || back.Links.Menu != r.Links.Menu || back.Links.Booking != r.Links.Booking {
			t.Errorf("%s: %+v, %v", r.Category, back.Links, err)
		}
	}
	if len(seen) != len(shapes) {
		t.Errorf("of %d types only %d were seen: %v", len(shapes), len(seen), seen)
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
