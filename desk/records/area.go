package records

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"

	"github.com/google/uuid"

	"uvent/core/fact/geo"
	"uvent/core/record/geojson"
	"uvent/core/record/record"
	"uvent/desk/problem"
)

// country is all regions as one network, and what they are read from.
type country struct {
	regions []Region
	network *geo.Network
	drawn   []json.RawMessage // all their GeoJSON features
}

// country reads the regions; a reading is kept while they stay the same.
func (d *Desk) country(ctx context.Context) (*country, error) {
	regions, err := d.Regions(ctx)
	if err != nil {
		return nil, err
	}
	if known := d.regions.Load(); known != nil && slices.Equal(known.regions, regions) {
		return known, nil
	}
	files, err := d.store.RegionFiles(ctx)
	if err != nil {
		return nil, err
	}
	c := &country{regions: regions, drawn: []json.RawMessage{}}
	var networks []*geo.Network
	for _, f := range files {
		n, err := geo.Read([]byte(f))
		if err != nil {
			return nil, err
		}
		networks = append(networks, n)
		var one struct{ Features []json.RawMessage }
		if err := json.Unmarshal([]byte(f), &one); err != nil {
			return nil, err
		}
		for _, f := range one.Features {
			if !bytes.Contains(f, []byte(`"minor":true`)) { // reckoned with, and too many to draw
				c.drawn = append(c.drawn, f)
			}
		}
	}
	c.network = geo.Join(networks...)
	d.regions.Store(c)
	return c, nil
}

// Map is all that is known of the country, as GeoJSON features (RFC 7946).
func (d *Desk) Map(ctx context.Context) ([]json.RawMessage, error) {
	c, err := d.country(ctx)
	if err != nil {
		return nil, err
	}
	return c.drawn, nil
}

// AreaQuestion is a service area as it is being chosen.
type AreaQuestion struct {
	Pin     *record.Pin
	Town    string // of the address
	Minutes int
	With    []string // towns beyond the travel time that are taken in by hand
	Without []string // towns within it that are left out
}

// Area is what a service area comes to.
type Area struct {
	ByRoad   bool        // else in a straight line at SpeedKMH
	SpeedKMH int         // 0 by road
	Area     record.Area // the towns that it has
	Others   []record.Town
	Outline  [][]geo.Point
	GeoJSON  string   // the area, to take out
	Warnings []string // about the pin
}

// straightKMH is the speed in a straight line that stands in for roads.
const straightKMH = 45

// farFromTown is how far from the middle of its town a pin may lie, in metres,
// farFromRoad how far from every road.
const (
	farFromTown = 8000
	farFromRoad = 1000
)

// ReckonArea reckons the towns within a travel time of a pin: by road where
// roads are known near it, else in a straight line.
func (d *Desk) ReckonArea(ctx context.Context, q AreaQuestion) (out Area, err error) {
	if q.Minutes < 0 || q.Minutes > record.MostMinutes {
		return out, &problem.Problem{Kind: problem.Invalid, Detail: fmt.Sprintf("Choose a travel time of up to %d minutes.", record.MostMinutes)}
	}
	c, err := d.country(ctx)
	if err != nil {
		return out, err
	}
	out = Area{Area: record.Area{Minutes: q.Minutes, Towns: []record.Town{}, Without: []string{}}, Others: []record.Town{}}
	if q.Pin == nil {
		return out, nil
	}
	pin := geo.Point{Longitude: q.Pin.Longitude, Latitude: q.Pin.Latitude}
	out.Warnings = c.doubts(pin, q.Town)
	reached, err := c.reach(pin, q.Minutes, &out)
	if err != nil {
		return out, err
	}
	for _, r := range reached {
		t := record.Town{Name: r.Name, Population: r.Population, Latitude: r.At.Latitude, Longitude: r.At.Longitude, Minutes: math.Round(10*r.Minutes) / 10}
		within := q.Minutes > 0 && r.Minutes <= float64(q.Minutes)
		named := func(s string) bool { return strings.EqualFold(s, t.Name) }
		switch {
		case within && slices.ContainsFunc(q.Without, named):
			out.Area.Without = append(out.Area.Without, t.Name)
			out.Others = append(out.Others, t)
		case within, slices.ContainsFunc(q.With, named):
			t.ByHand = !within
			out.Area.Towns = append(out.Area.Towns, t)
		default:
			out.Others = append(out.Others, t)
		}
	}
	text, err := geojson.WriteArea(pin, out.Area, out.Outline)
	out.GeoJSON = string(text)
	return out, err
}

// reach lists all towns with the time to each, the largest first, and draws the
// outline.
func (c *country) reach(pin geo.Point, minutes int, out *Area) ([]geo.Reached, error) {
	if c.network.OffRoad(pin) > geo.NearRoad {
		out.SpeedKMH = straightKMH
		if minutes > 0 {
			out.Outline = [][]geo.Point{geo.Circle(pin, float64(minutes)*straightKMH*1000/60)}
		}
		return c.network.ByDistance(pin, straightKMH), nil
	}
	out.ByRoad = true
	if minutes > 0 {
		rings, err := c.network.Outline(pin, float64(minutes))
		if err != nil {
			return nil, err
		}
		out.Outline = rings
	}
	return c.network.Within(pin, math.MaxFloat64)
}

// doubts says what makes a pin doubtful.
func (c *country) doubts(pin geo.Point, town string) (out []string) {
	if t, ok := c.network.Town(strings.TrimSpace(town)); ok {
		if far := geo.Metres(pin, t.At); far > farFromTown {
			out = append(out, fmt.Sprintf("The pin lies %.0f km from %s, the town of the address.", far/1000, t.Name))
		}
	}
	if off := c.network.OffRoad(pin); off > farFromRoad && c.network.Roads() > 0 {
		if off > 100*geo.NearRoad {
			return append(out, "The pin lies far from every road that is known. Are latitude and longitude the right way round?")
		}
		out = append(out, fmt.Sprintf("The pin lies %.1f km off every road that is known.", off/1000))
	}
	return out
}

// ReadArea reads a service area from GeoJSON. Nothing is saved.
func (d *Desk) ReadArea(ctx context.Context, text string) (record.Area, error) {
	c, err := d.country(ctx)
	if err != nil {
		return record.Area{}, err
	}
	area, err := geojson.ReadArea([]byte(text), c.network.Towns)
	if err != nil {
		return area, &problem.Problem{Kind: problem.Invalid, Detail: problem.Sentence(err.Error()), Fields: []record.Problem{{Path: "text", Message: err.Error()}}}
	}
	return area, nil
}

// PeopleWithin counts who live within some kilometres of a location's pin; of its town's
// midpoint where it has no pin. Where no region tells of towns around, that is said.
func (d *Desk) PeopleWithin(ctx context.Context, location uuid.UUID, kilometres int) (int, error) {
	l, err := d.ledger.Location(ctx, location)
	if err != nil {
		return 0, err
	}
	c, err := d.country(ctx)
	if err != nil {
		return 0, err
	}
	var from geo.Point
	if pin := l.Record.Pin; pin != nil {
		from = geo.Point{Longitude: pin.Longitude, Latitude: pin.Latitude}
	} else if town, ok := c.network.Town(l.Record.Address.Locality); ok {
		from = town.At
	} else {
		return 0, problem.Conflictf("Set the pin of %s first: it is not known where it lies.", l.Label)
	}
	if !c.network.Knows(from) {
		return 0, problem.Conflictf("No towns are known around here, so nobody can be counted. Bring a region in on the record, under Service area.")
	}
	return c.network.People(from, float64(kilometres)), nil
}
