// Package extract makes a region of an extract of OpenStreetMap: its roads with a speed, its towns with their people, its
// coast. What is made is GeoJSON (RFC 7946) as package geo reads it.
package extract

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"

	"github.com/paulmach/osm"
	"github.com/paulmach/osm/osmpbf"
	"github.com/paulmach/osm/osmxml"
)

// speeds are those of roads by their highway tag, in km/h, where no limit is said: what one gets on with on such a road,
// with its crossings (OpenStreetMap wiki, Key:highway). Roads of other kinds are not for travelling far.
var speeds = map[string]float64{
	"motorway": 110, "motorway_link": 60, "trunk": 90, "trunk_link": 50, "primary": 70, "primary_link": 45, "secondary": 60, "secondary_link": 40,
	"tertiary": 50, "tertiary_link": 35, "unclassified": 40, "residential": 30, "living_street": 10,
}

// minor are roads that are reckoned with and not drawn.
var minor = map[string]bool{"tertiary_link": true, "unclassified": true, "residential": true, "living_street": true}

// ferry is the speed of one that takes cars, in km/h, its waiting left out.
const ferry = 20

// towns are kinds of places (OpenStreetMap wiki, Key:place) that are towns; a hamlet is one where its people are counted.
var towns = map[string]bool{"city": true, "town": true, "village": true, "hamlet": true}

// Limits of an extract.
const (
	MostRoads = 400_000 // ways
	MostNodes = 8_000_000
)

// Refusal is why an extract is not taken, and what to do.
type Refusal string

func (r Refusal) Error() string { return string(r) }

// Made is what was made of an extract.
type Made struct {
	GeoJSON  []byte
	Towns    int
	Unknown  int // towns of which it is not said how many live there
	Roads    int // ways
	NoSpeeds int // of those, with no speed limit of their own
}

// way is a road, a ferry or a stretch of coast.
type way struct {
	refs  []osm.NodeID
	speed float64 // 0: a coast
	minor bool
	own   bool // it has a limit of its own
}

// Read reads an extract, as .osm (XML) or .osm.pbf, known by its content. told is told now and then how much of it was read,
// from 0 to 1; it may be nil. The error is a Refusal where the file is at fault.
func Read(ctx context.Context, file io.ReadSeeker, size int64, told func(float64)) (Made, error) {
	if told == nil {
		told = func(float64) {}
	}
	head := make([]byte, 512)
	n, err := io.ReadFull(file, head)
	if err != nil && !errors.Is(err, io.ErrUnexpectedEOF) {
		return Made{}, Refusal("The file is empty.")
	}
	head = head[:n]
	kind := scannerOf(head)
	if kind == nil {
		return Made{}, Refusal("This is no extract of OpenStreetMap. One is a file .osm or .osm.pbf, from whoever makes extracts of a state or a county.")
	}
	r := reading{uses: map[osm.NodeID]uint8{}, at: map[osm.NodeID]point{}}
	for pass, take := range []func(osm.Object) error{r.way, r.node} {
		if _, err := file.Seek(0, io.SeekStart); err != nil {
			return Made{}, err
		}
		counted := &counting{of: file, size: size, told: func(part float64) { told((float64(pass) + part) / 2) }}
		scan := kind(ctx, counted, pass == 0)
		for scan.Scan() {
			if err := take(scan.Object()); err != nil {
				return Made{}, errors.Join(err, scan.Close())
			}
		}
		err := errors.Join(scan.Err(), scan.Close())
		switch {
		case ctx.Err() != nil:
			return Made{}, ctx.Err()
		case err != nil:
			return Made{}, Refusal(fmt.Sprintf("The extract cannot be read to its end: %v. Get it anew.", err))
		}
	}
	return r.made()
}

// scannerOf is what reads a file that begins so; nil where nothing does.
func scannerOf(head []byte) func(ctx context.Context, r io.Reader, ways bool) osm.Scanner {
	switch {
	case bytes.Contains(head[:min(len(head), 64)], []byte("OSMHeader")):
		return func(ctx context.Context, r io.Reader, ways bool) osm.Scanner {
			s := osmpbf.New(ctx, r, 1)
			s.SkipNodes, s.SkipWays, s.SkipRelations = ways, !ways, true
			return s
		}
	case bytes.Contains(head, []byte("<osm")):
		return func(ctx context.Context, r io.Reader, _ bool) osm.Scanner { return osmxml.New(ctx, r) }
	}
	return nil
}

// reading is what was read so far: roads and coasts first, the nodes that they need after that.
type reading struct {
	ways  []way
	uses  map[osm.NodeID]uint8 // how often a node is on a way, up to 2
	at    map[osm.NodeID]point
	towns []town
}

type point struct{ lng, lat float64 }

type town struct {
	name   string
	people int
	at     point
}

func (r *reading) way(o osm.Object) error {
	w, ok := o.(*osm.Way)
	if !ok || len(w.Nodes) < 2 {
		return nil
	}
	kept := way{refs: w.Nodes.NodeIDs()}
	kept.speed, kept.minor = speedOf(w.Tags)
	if kept.speed == 0 && w.Tags.Find("natural") != "coastline" {
		return nil
	}
	kept.own = limit(w.Tags.Find("maxspeed")) > 0
	for i, id := range kept.refs {
		if n := r.uses[id]; n < 2 {
			r.uses[id]++
		}
		if i == 0 || i == len(kept.refs)-1 {
			r.uses[id] = 2 // an end stays, whatever is left out between
		}
	}
	if r.ways = append(r.ways, kept); len(r.ways) > MostRoads || len(r.uses) > MostNodes {
		return Refusal(
			fmt.Sprintf("The extract has more than %d thousand roads. Take one of a smaller region: of a county, or of the land around a client.", MostRoads/1000),
		)
	}
	return nil
}

func (r *reading) node(o osm.Object) error {
	n, ok := o.(*osm.Node)
	if !ok {
		return nil
	}
	at := point{round(n.Lon), round(n.Lat)}
	if r.uses[n.ID] > 0 {
		r.at[n.ID] = at
	}
	name, place := n.Tags.Find("name"), n.Tags.Find("place")
	if people := count(n.Tags.Find("population")); name != "" && towns[place] && (place != "hamlet" || people > 0) {
		r.towns = append(r.towns, town{name, people, at})
	}
	return nil
}

// speedOf is the speed of a road by its tags, in km/h; 0 for what is no road for all.
func speedOf(tags osm.Tags) (speed float64, isMinor bool) {
	for _, access := range []string{"motor_vehicle", "vehicle", "access"} {
		if v := tags.Find(access); v == "no" || v == "private" {
			return 0, false
		}
	}
	highway := tags.Find("highway")
	speed = speeds[highway]
	if speed == 0 {
		if tags.Find("route") == "ferry" {
			return ferry, false
		}
		return 0, false
	}
	if most := limit(tags.Find("maxspeed")); most > 0 {
		speed = most
	}
	return speed, minor[highway]
}

// limit reads a speed limit (OpenStreetMap wiki, Key:maxspeed) in km/h; 0 where it is no number.
func limit(text string) float64 {
	number, unit, _ := strings.Cut(strings.TrimSpace(text), " ")
	if n, ok := strings.CutSuffix(number, "mph"); ok {
		number, unit = n, "mph"
	}
	v, err := strconv.ParseFloat(number, 64)
	switch {
	case err != nil || v <= 0 || v > 200:
		return 0
	case unit == "mph":
		return v * 1.609344
	}
	return v
}

// count reads a number of people: 12345, 12,345, 12 345.
func count(text string) int {
	n, err := strconv.Atoi(strings.NewReplacer(",", "", " ", "", ".", "", "’", "", "'", "").Replace(text))
	if err != nil || n < 0 || n > 100_000_000 {
		return 0
	}
	return n
}

// counting tells how much of a file was read.
type counting struct {
	of         io.Reader
	read, size int64
	told       func(float64)
}

func (c *counting) Read(p []byte) (int, error) {
	n, err := c.of.Read(p)
	c.read += int64(n)
	if c.size > 0 {
		c.told(min(1, float64(c.read)/float64(c.size)))
	}
	return n, err
}
