package geojson

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"uvent/core/fact/geo"
	"uvent/core/record/record"
)

type areaCollection struct {
	Type     string        `json:"type"`
	Features []areaFeature `json:"features"`
}

type areaFeature struct {
	Type       string         `json:"type"`
	Geometry   areaGeometry   `json:"geometry"`
	Properties areaProperties `json:"properties"`
}

type areaGeometry struct {
	Type        string          `json:"type"`
	Coordinates json.RawMessage `json:"coordinates"`
}

type areaProperties struct {
	Kind       string   `json:"kind,omitempty"` // pin, town or outline
	Name       string   `json:"name,omitempty"`
	Population int      `json:"population,omitempty"`
	Minutes    float64  `json:"minutes,omitempty"` // of a town: travel time; of the outline: the most
	ByHand     bool     `json:"by_hand,omitempty"`
	Without    []string `json:"without,omitempty"` // of the outline: towns left out by hand
}

// WriteArea writes a service area as a GeoJSON FeatureCollection (RFC 7946): the
// pin, its towns, and the outline as a MultiPolygon of closed rings.
func WriteArea(pin geo.Point, area record.Area, outline [][]geo.Point) ([]byte, error) {
	c := areaCollection{Type: "FeatureCollection", Features: []areaFeature{feat("Point", position(pin), areaProperties{Kind: "pin"})}}
	for _, t := range area.Towns {
		c.Features = append(
			c.Features,
			feat("Point", position(t.At()), areaProperties{Kind: "town", Name: t.Name, Population: t.Population, Minutes: t.Minutes, ByHand: t.ByHand}),
		)
	}
	polygons := make([][][][2]float64, len(outline))
	for i, ring := range outline {
		line := make([][2]float64, len(ring))
		for j, p := range ring {
			line[j] = position(p)
		}
		polygons[i] = [][][2]float64{line}
	}
	c.Features = append(c.Features, feat("MultiPolygon", polygons, areaProperties{Kind: "outline", Minutes: float64(area.Minutes), Without: area.Without}))
	return json.MarshalIndent(c, "", "  ")
}

func position(p geo.Point) [2]float64 { return [2]float64{p.Longitude, p.Latitude} }

func feat(kind string, coordinates any, p areaProperties) areaFeature {
	b, err := json.Marshal(coordinates)
	if err != nil {
		panic(err) // numbers of places on Earth
	}
	return areaFeature{"Feature", areaGeometry{kind, b}, p}
}

// ErrNoArea means that a document names no town and draws no area.
var ErrNoArea = errors.New("the document holds no point with a name, and no polygon with a town in it")

// ReadArea reads a service area from a GeoJSON FeatureCollection: points with a
// name are its towns; where there are none, all known towns within its polygons.
func ReadArea(data []byte, known []geo.Town) (record.Area, error) {
	area := record.Area{Towns: []record.Town{}, Without: []string{}}
	var c areaCollection
	if err := json.Unmarshal(data, &c); err != nil || c.Type != "FeatureCollection" {
		return area, errors.New("the document is no GeoJSON FeatureCollection")
	}
	var rings [][]geo.Point
	for i, f := range c.Features {
		switch f.Geometry.Type {
		case "Point":
			var at []float64
			if err := json.Unmarshal(f.Geometry.Coordinates, &at); err != nil || len(at) < 2 {
				return area, fmt.Errorf("features.%d: %s is no position", i, f.Geometry.Coordinates)
			}
			if f.Properties.Name != "" {
				area.Towns = append(area.Towns, town(f.Properties, at, known))
			}
		case "Polygon", "MultiPolygon":
			outer, err := outerRings(f.Geometry)
			if err != nil {
				return area, fmt.Errorf("features.%d: %w", i, err)
			}
			rings = append(rings, outer...)
			if f.Properties.Kind == "outline" {
				area.Minutes, area.Without = int(f.Properties.Minutes), append(area.Without, f.Properties.Without...)
			}
		}
	}
	if len(area.Towns) == 0 {
		for _, t := range known {
			if slices.ContainsFunc(rings, func(ring []geo.Point) bool { return geo.Inside(t.At, ring) }) {
				area.Towns = append(area.Towns, record.Town{Name: t.Name, Population: t.Population, Latitude: t.At.Latitude, Longitude: t.At.Longitude, ByHand: true})
			}
		}
	}
	if len(area.Towns) == 0 {
		return area, ErrNoArea
	}
	return area, nil
}

func town(p areaProperties, at []float64, known []geo.Town) record.Town {
	t := record.Town{Name: p.Name, Population: p.Population, Latitude: at[1], Longitude: at[0], Minutes: p.Minutes, ByHand: p.ByHand || p.Kind != "town"}
	if i := slices.IndexFunc(known, func(k geo.Town) bool { return strings.EqualFold(k.Name, p.Name) }); i >= 0 && t.Population == 0 {
		t.Population = known[i].Population
	}
	return t
}

func outerRings(g areaGeometry) ([][]geo.Point, error) {
	var polygons [][][][]float64
	var err error
	if g.Type == "Polygon" {
		polygons = make([][][][]float64, 1)
		err = json.Unmarshal(g.Coordinates, &polygons[0])
	} else {
		err = json.Unmarshal(g.Coordinates, &polygons)
	}
	if err != nil {
		return nil, errors.New("its coordinates cannot be read")
	}
	var out [][]geo.Point
	for _, rings := range polygons {
		if len(rings) == 0 {
			continue
		}
		var ring []geo.Point
		for _, p := range rings[0] {
			if len(p) < 2 {
				return nil, errors.New("one of its positions has no latitude")
			}
			ring = append(ring, geo.Point{Longitude: p[0], Latitude: p[1]})
		}
		out = append(out, ring)
	}
	return out, nil
}
