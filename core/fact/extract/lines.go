package extract

import (
	"encoding/json"
	"math"

	"github.com/paulmach/osm"

	"uvent/core/fact/geo"
)

// round keeps a degree to about ten centimetres, so that a crossing is one place in every road.
func round(degrees float64) float64 { return math.Round(degrees*1e6) / 1e6 }

// bend is how far a road may be drawn straighter than it is, in metres.
const bend = 15

type feature struct {
	Type       string         `json:"type"`
	Geometry   geometry       `json:"geometry"`
	Properties map[string]any `json:"properties"`
}

type geometry struct {
	Type        string `json:"type"`
	Coordinates any    `json:"coordinates"`
}

type collection struct {
	Type     string    `json:"type"`
	Features []feature `json:"features"`
}

// made writes what was read as GeoJSON.
func (r *reading) made() (Made, error) {
	out := Made{Towns: len(r.towns)}
	all := collection{Type: "FeatureCollection", Features: []feature{}}
	var coast [][][2]float64
	low, high := point{180, 90}, point{-180, -90}
	for _, w := range r.ways {
		line := r.straightened(w)
		if len(line) < 2 {
			continue // the extract was cut here
		}
		coordinates := make([][2]float64, len(line))
		for i, p := range line {
			coordinates[i] = [2]float64{p.lng, p.lat}
			low = point{min(low.lng, p.lng), min(low.lat, p.lat)}
			high = point{max(high.lng, p.lng), max(high.lat, p.lat)}
		}
		if w.speed == 0 {
			coast = append(coast, coordinates)
			continue
		}
		if out.Roads++; !w.own {
			out.NoSpeeds++
		}
		properties := map[string]any{"speed_kmh": math.Round(w.speed)}
		if w.minor {
			properties["minor"] = true
		}
		all.Features = append(all.Features, feature{"Feature", geometry{"LineString", coordinates}, properties})
	}
	for _, t := range r.towns {
		if t.people == 0 {
			out.Unknown++
		}
		all.Features = append(
			all.Features,
			feature{"Feature", geometry{"Point", [2]float64{t.at.lng, t.at.lat}}, map[string]any{"name": t.name, "population": t.people}},
		)
	}
	switch {
	case out.Roads == 0:
		return out, Refusal("The extract has no roads. Take one with everything in it, not one of a single theme.")
	case out.Towns == 0:
		return out, Refusal("The extract has no towns: no place=city, town or village with a name. Take one of a larger region.")
	}
	land := [][2]float64{{low.lng, low.lat}, {high.lng, low.lat}, {high.lng, high.lat}, {low.lng, high.lat}, {low.lng, low.lat}}
	under := []feature{{"Feature", geometry{"Polygon", [][][2]float64{land}}, map[string]any{"kind": "land"}}}
	if coast != nil {
		under = append(under, feature{"Feature", geometry{"MultiLineString", coast}, map[string]any{"kind": "border"}})
	}
	all.Features = append(under, all.Features...)
	data, err := json.Marshal(all)
	out.GeoJSON = data
	return out, err
}

// straightened is a way without the bends that do not matter; where roads meet, and where it ends, it stays as it is.
func (r *reading) straightened(w way) (out []point) {
	var piece []point
	var last osm.NodeID
	for _, id := range w.refs {
		p, known := r.at[id]
		if !known || len(piece) > 0 && id == last {
			continue // outside of the extract, or said twice
		}
		if last = id; len(piece) == 0 || p != piece[len(piece)-1] {
			piece = append(piece, p)
		}
		if r.uses[id] == 2 && len(piece) > 1 {
			out = joined(out, straight(piece))
			piece = []point{p}
		}
	}
	if len(piece) > 1 {
		out = joined(out, straight(piece))
	}
	return out
}

func joined(a, b []point) []point {
	if len(a) > 0 {
		b = b[1:] // where it goes on
	}
	return append(a, b...)
}

// straight leaves out of a line what lies within bend of what remains: the algorithm of Douglas and Peucker (1973).
func straight(line []point) []point {
	if len(line) < 3 {
		return line
	}
	first, last := line[0], line[len(line)-1]
	at, most := 0, 0.0
	for i := 1; i < len(line)-1; i++ {
		if d := off(line[i], first, last); d > most {
			at, most = i, d
		}
	}
	if most <= bend {
		return []point{first, last}
	}
	return joined(straight(line[:at+1]), straight(line[at:]))
}

// off is how far a point lies from a stretch, in metres, on a plane that touches the Earth there.
func off(p, a, b point) float64 {
	scale := math.Cos(p.lat * math.Pi / 180)
	px, py := (p.lng-a.lng)*scale*geo.MetresPerDegree, (p.lat-a.lat)*geo.MetresPerDegree
	dx, dy := (b.lng-a.lng)*scale*geo.MetresPerDegree, (b.lat-a.lat)*geo.MetresPerDegree
	t := 0.0
	if l := dx*dx + dy*dy; l > 0 {
		t = max(0, min(1, (px*dx+py*dy)/l))
	}
	return math.Hypot(px-t*dx, py-t*dy)
}
