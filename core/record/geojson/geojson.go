// Package geojson writes a record as a GeoJSON feature (RFC 7946) and reads it
// back. The pin is the geometry, the facts are the properties.
package geojson

import (
	"encoding/json"
	"errors"
	"fmt"

	"uvent/core/record/record"
)

type feature struct {
	Type       string          `json:"type"`
	Geometry   *point          `json:"geometry"`
	Properties json.RawMessage `json:"properties"`
}

type point struct {
	Type        string     `json:"type"`
	Coordinates [2]float64 `json:"coordinates"` // longitude, latitude, WGS 84
}

// Write writes a record. Nothing of it is lost.
func Write(r record.Record) ([]byte, error) {
	f := feature{Type: "Feature"}
	if r.Pin != nil {
		f.Geometry = &point{"Point", [2]float64{r.Pin.Longitude, r.Pin.Latitude}}
	}
	r.Pin = nil
	var err error
	if f.Properties, err = json.Marshal(r); err != nil {
		return nil, err
	}
	return json.MarshalIndent(f, "", "  ")
}

// ErrNoPoint means that a document is no feature with a point, or none at all.
var ErrNoPoint = errors.New("the document is no GeoJSON feature with a point")

// Read lays a feature over a record: its point, and the facts that its
// properties name. What it does not name stays as it is.
func Read(data []byte, over record.Record) (record.Record, error) {
	var f feature
	if err := json.Unmarshal(data, &f); err != nil {
		return over, fmt.Errorf("the document cannot be read as GeoJSON: %w", err)
	}
	if f.Type != "Feature" || f.Geometry != nil && f.Geometry.Type != "Point" {
		return over, ErrNoPoint
	}
	r := over
	if len(f.Properties) > 0 {
		b, err := json.Marshal(over) // so that no list or map is shared
		if err == nil {
			r = record.Record{}
			err = errors.Join(json.Unmarshal(b, &r), json.Unmarshal(f.Properties, &r))
		}
		if err != nil {
			return over, fmt.Errorf("the properties cannot be read as facts: %w", err)
		}
	}
	r.Pin = over.Pin
	if f.Geometry != nil {
		r.Pin = &record.Pin{Latitude: f.Geometry.Coordinates[1], Longitude: f.Geometry.Coordinates[0]}
	}
	return r, nil
}
