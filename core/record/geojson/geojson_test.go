package geojson

import (
	"reflect"
	"testing"

	"github.com/paulmach/orb"
	orbjson "github.com/paulmach/orb/geojson"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

func shop(t *testing.T) record.Record {
	t.Helper()
	r, wrong := record.Normal(
		record.Record{
			Name:       "Nettlewick Yarns",
			Kind:       record.Both,
			Address:    address.Address{Street: "9 Old Wharf", Locality: "Port Sable", Region: "WA", Country: "US"},
			Pin:        &record.Pin{Latitude: 48.7025, Longitude: -124.9068},
			Phones:     []record.Phone{{E164: "+13605550109", Text: true}},
			Hours:      "24/7; PH off",
			Attributes: map[string]bool{"classes": true},
			Area: record.Area{
				Minutes: 30,
				Towns:   []record.Town{{Name: "Quillcote", Population: 6900, Latitude: 48.658, Longitude: -124.844, Minutes: 12.5, ByHand: true}},
				Without: []string{"Cinder Point"},
			},
			Links: record.Links{
				Menu:     "https://n.example/menu",
				GiftCard: "https://n.example/gift",
			},
			Socials:   []record.Social{{Name: "Murmurhall", URL: "https://m.example/n"}},
			Videos:    []string{"https://n.example/film"},
			Tags:      record.Tags{On: true, Medium: "listing"},
			Payments:  []string{"cash"},
			Licences:  []record.Licence{{Name: "Trade", Until: "2027-12-31"}},
			Team:      []record.Member{{Name: "Perpetua Hale", Role: "Owner", Photo: "x"}},
			Offerings: []record.Section{{Title: "Yarn", Items: []record.Item{{Name: "Fleece", Price: "18.50", Per: "a hank", About: "Undyed,\nsoft.", Photo: "y"}}}},
			Company:   record.Company{Registration: "7", Size: "2-10", Kind: "corporation", Domains: []string{"n.example"}},
			Own:       []string{"website"},
		},
	)
	if wrong != nil {
		t.Fatal(wrong)
	}
	return r
}

func TestWrittenComesBackEqual(t *testing.T) {
	without := shop(t)
	without.Pin = nil
	for _, r := range []record.Record{shop(t), without} {
		data, err := Write(r)
		if err != nil {
			t.Fatal(err)
		}
		if back, err := Read(data, record.Record{}); err != nil || !reflect.DeepEqual(back, r) {
			t.Errorf("it comes back as %+v, %v", back, err)
		}
	}
	data, err := Write(shop(t))
	if err != nil {
		t.Fatal(err)
	}
	f, err := orbjson.UnmarshalFeature(data) // a reader that did not write it
	if err != nil || f.Geometry.(orb.Point) != (orb.Point{-124.9068, 48.7025}) || f.Properties["name"] != "Nettlewick Yarns" {
		t.Errorf("another reader finds %+v, %v", f, err)
	}
}

func TestReadOverARecord(t *testing.T) {
	before := shop(t)
	got, err := Read(
		[]byte(`{"type":"Feature","geometry":{"type":"Point","coordinates":[-124.5,48.5]},"properties":{"email":"a@b.example","attributes":{"events":true}}}`),
		before,
	)
	if err != nil || got.Pin.Latitude != 48.5 || got.Email != "a@b.example" || got.Name != before.Name || !got.Attributes["classes"] ||
		len(before.Attributes) != 1 {
		t.Errorf("%+v, %v", got, err)
	}
	for _, bad := range []string{"", "[]", `{"type":"FeatureCollection"}`, `{"type":"Feature","geometry":{"type":"LineString","coordinates":[[1,2],[3,4]]}}`, `{"type":"Feature","properties":{"name":7}}`} {
		if got, err := Read([]byte(bad), before); err == nil || !reflect.DeepEqual(got, before) {
			t.Errorf("%s reads as %+v", bad, got)
		}
	}
}
