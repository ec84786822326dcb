package records

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/fact/geo"
	"uvent/core/record/geojson"
	"uvent/core/record/record"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/store"
	"uvent/store/db"
)

// Region is a stretch of country whose coast, roads and towns are known.
type Region struct {
	ID    uuid.UUID
	Name  string
	Towns int32
	Roads int32
}

// mostRegionBytes bounds a region's file.
const mostRegionBytes = 8 << 20

// Regions lists the regions by name.
func (d *Desk) Regions(ctx context.Context) ([]Region, error) {
	return store.Each(func(row db.RegionsRow) Region { return Region(row) })(d.store.Regions(ctx))
}

// AddRegion brings a region in from a GeoJSON FeatureCollection: points are towns
// (name, population), lines with speed_kmh are roads, the rest is drawn.
func (d *Desk) AddRegion(ctx context.Context, actor people.Actor, name, text string) (r Region, err error) {
	name = strings.TrimSpace(name)
	wrong := func(path, message string) (Region, error) {
		return Region{}, problem.Fields([]record.Problem{{Path: path, Message: message}})
	}
	if name == "" || len(name) > 100 {
		return wrong("name", "give the region a name of up to 100 letters")
	}
	if len(text) > mostRegionBytes {
		return wrong("text", "the file is larger than 8 MB; simplify its lines")
	}
	n, err := geo.Read([]byte(text))
	if err != nil {
		return wrong("text", err.Error())
	}
	if len(n.Towns) == 0 {
		return wrong("text", "it holds no towns: points with a name and a population")
	}
	r = Region{ID: uuid.New(), Name: name, Towns: int32(len(n.Towns)), Roads: int32(n.Roads())}
	err = d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		if err := q.AddRegion(ctx, db.AddRegionParams{ID: r.ID, Name: name, Geojson: text, Towns: r.Towns, Roads: r.Roads}); err != nil {
			return problem.Taken(err)
		}
		return d.ledger.NoteAbout(ctx, q, actor, "region_added", map[string]any{"name": name, "towns": r.Towns, "roads": r.Roads})
	})
	return r, err
}

// DropRegion takes a region out. Service areas that were reckoned with it stay.
func (d *Desk) DropRegion(ctx context.Context, actor people.Actor, id uuid.UUID) error {
	return d.store.Tx(ctx, func(q *db.Queries, _ pgx.Tx) error {
		name, err := q.DropRegion(ctx, id)
		if err != nil {
			return problem.OrNotFound(err, "There is no such region.")
		}
		return d.ledger.NoteAbout(ctx, q, actor, "region_dropped", map[string]string{"name": name})
	})
}

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
		c.drawn = append(c.drawn, one.Features...)
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
// midpoint where it has no pin.
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
	return c.network.People(from, float64(kilometres)), nil
}
