package geojson

import (
	"reflect"
	"strings"
	"testing"

	"github.com/paulmach/orb"
	orbjson "github.com/paulmach/orb/geojson"

	"uvent/core/fact/geo"
	"uvent/core/record/record"
)

func TestAnAreaComesBackEqual(t *testing.T) {
	pin := geo.Point{Longitude: -124.81, Latitude: 48.73}
	area := record.Area{Minutes: 35, Without: []string{"Cinder Point"}, Towns: []record.Town{
		{
			Name:       "Port Sable",
			Population: 18400,
			Latitude:   48.702,
			Longitude:  -124.905,
			Minutes:    12.5,
		},
		{Name: "Fennick", Population: 4800, Latitude: 49.039, Longitude: -124.876, Minutes: 61, ByHand: true},
	}}
	data, err := WriteArea(pin, area, [][]geo.Point{geo.Circle(pin, 20_000)})
	if err != nil {
		t.Fatal(err)
	}
	if back, err := ReadArea(data, nil); err != nil || !reflect.DeepEqual(back, area) {
		t.Errorf("it comes back as %+v, %v", back, err)
	}
	c, err := orbjson.UnmarshalFeatureCollection(data) // a reader that did not write it
	if err != nil || len(c.Features) != 4 || c.Features[1].Properties.MustString("name") != "Port Sable" ||
		len(c.Features[3].Geometry.(orb.MultiPolygon)[0][0]) != 73 {
		t.Errorf("another reader finds %+v, %v", c, err)
	}
}

func TestAreasOfOthers(t *testing.T) {
	known := []geo.Town{
		{Name: "Quillcote", Population: 6900, At: geo.Point{Longitude: -124.844, Latitude: 48.658}},
		{Name: "Saltgrass", Population: 7600, At: geo.Point{Longitude: -124.771, Latitude: 49.02}},
	}
	drawn := `{"type":"FeatureCollection","features":[{"type":"Feature","geometry":{"type":"Polygon","coordinates":[[[-125,48.6],[-124.8,48.6],[-124.8,48.7],[-125,48.7],[-125,48.6]]]},"properties":{}}]}`
	got, err := ReadArea([]byte(drawn), known)
	if err != nil || len(got.Towns) != 1 || got.Towns[0].Name != "Quillcote" || !got.Towns[0].ByHand || got.Towns[0].Population != 6900 {
		t.Errorf("%+v, %v", got, err)
	}
	named := `{"type":"FeatureCollection","features":[{"type":"Feature","geometry":{"type":"Point","coordinates":[-124.7,49]},"properties":{"name":"saltgrass"}}]}`
	if got, err = ReadArea([]byte(named), known); err != nil ||
		got.Towns[0] != (record.Town{Name: "saltgrass", Population: 7600, Latitude: 49, Longitude: -124.7, ByHand: true}) {
		t.Errorf("%+v, %v", got, err)
	}
	for says, text := range map[string]string{"no GeoJSON": "{}", "no point with a name": strings.ReplaceAll(drawn, "-124.8", "-124.9"), "no position": strings.ReplaceAll(named, "[-124.7,49]", "[1]"), "cannot be read": `{"type":"FeatureCollection","features":[{"geometry":{"type":"Polygon","coordinates":7}}]}`} {
		if _, err := ReadArea([]byte(text), known); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("want %q, got %v", says, err)
		}
	}
}

func FuzzReadArea(f *testing.F) {
	f.Add([]byte(`{"type":"FeatureCollection","features":[{"geometry":{"type":"MultiPolygon","coordinates":[[],[[[1,2],[1]]]]}}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		if area, err := ReadArea(data, nil); err == nil && len(area.Towns) == 0 {
			t.Fatalf("%s is an area without towns", data)
		}
	})
}
