package geo

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
)

type feature map[string]any

func line(speed float64, points ...[2]float64) feature {
	return feature{"type": "Feature", "geometry": feature{"type": "LineString", "coordinates": points}, "properties": feature{"speed_kmh": speed}}
}

func town(name string, population int, at [2]float64) feature {
	return feature{"type": "Feature", "geometry": feature{"type": "Point", "coordinates": at}, "properties": feature{"name": name, "population": population}}
}

func read(t *testing.T, features ...feature) *Network {
	t.Helper()
	data, err := json.Marshal(feature{"type": "FeatureCollection", "features": features})
	if err != nil {
		t.Fatal(err)
	}
	n, err := Read(data)
	if err != nil {
		t.Fatal(err)
	}
	return n
}

func TestTownsWithinReach(t *testing.T) {
	// One degree of latitude is 111.19 km: at 60 km/h a minute a kilometre.
	n := read(
		t,
		line(60, [2]float64{-125, 48}, [2]float64{-125, 48.5}, [2]float64{-125, 49}),
		line(30, [2]float64{-125, 48.5}, [2]float64{-124.9, 48.5}),
		line(60, [2]float64{10, 10}, [2]float64{11, 10}),
		town("South", 100, [2]float64{-125, 48}),
		town("North", 900, [2]float64{-125.01, 49}),
		town("East", 500, [2]float64{-124.9, 48.5}),
		town("Abroad", 9000, [2]float64{10, 10}),
	)
	within := func(limit float64) (out string) {
		list, err := n.Within(Point{-125, 48.1}, limit)
		if err != nil {
			t.Fatal(err)
		}
		for _, r := range list {
			out += fmt.Sprintf("%s %.1f ", r.Name, r.Minutes)
		}
		return out
	}
	if got := within(200); got != "North 100.1 East 59.2 South 11.1 " {
		t.Errorf("within 200 minutes: %s", got)
	}
	if got := within(60); got != "East 59.2 South 11.1 " {
		t.Errorf("within an hour: %s", got)
	}
	if got := within(5); got != "" {
		t.Errorf("within 5 minutes: %s", got)
	}
	if _, err := read(t).Within(Point{}, 10); !errors.Is(err, ErrNoRoads) {
		t.Errorf("without roads: %v", err)
	}
}

func TestWhatCannotBeRead(t *testing.T) {
	for text, says := range map[string]string{
		"": "GeoJSON", `{"type":"Feature"}`: "FeatureCollection",
		`{"type":"FeatureCollection","features":[{"geometry":{"type":"LineString","coordinates":[[1,2],[3,4]]}}]}`:                          "speed_kmh",
		`{"type":"FeatureCollection","features":[{"geometry":{"type":"Point","coordinates":[1]}}]}`:                                         "features.0",
		`{"type":"FeatureCollection","features":[{"geometry":{"type":"Point","coordinates":[48,-125]}}]}`:                                   "longitude comes first",
		`{"type":"FeatureCollection","features":[{"geometry":{"type":"LineString","coordinates":7},"properties":{"speed_kmh":5}}]}`:         "coordinates",
		`{"type":"FeatureCollection","features":[{"geometry":{"type":"LineString","coordinates":[[1,"x"]]},"properties":{"speed_kmh":5}}]}`: "position",
	} {
		if _, err := Read([]byte(text)); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v, want %q", text, err, says)
		}
	}
}

// Towns within reach agree with a plain computation, which relaxes every road
// until nothing changes (Bellman and Ford), on random networks.
func TestAgreesWithAPlainReckoning(t *testing.T) {
	r := rand.New(rand.NewPCG(13, 13))
	for range 1000 {
		spots := make([][2]float64, 3+r.IntN(12))
		for i := range spots {
			spots[i] = [2]float64{-125 + float64(r.IntN(60))/100, 48 + float64(r.IntN(60))/100}
		}
		var features []feature
		for range 2 + r.IntN(20) {
			a, b := spots[r.IntN(len(spots))], spots[r.IntN(len(spots))]
			if a != b {
				features = append(features, line(20+float64(r.IntN(80)), a, b))
			}
		}
		for i, s := range spots {
			features = append(features, town(fmt.Sprint(i), r.IntN(1000), s))
		}
		n := read(t, features...)
		if len(n.roads) == 0 {
			continue
		}
		from := Point{-125 + r.Float64()*0.6, 48 + r.Float64()*0.6}
		limit := r.Float64() * 120
		got, err := n.Within(from, limit)
		if err != nil {
			t.Fatal(err)
		}

		start, _ := n.snap(from)
		plain := slices.Repeat([]float64{math.Inf(1)}, len(n.nodes))
		plain[start.road.a], plain[start.road.b] = start.along*start.road.minutes, (1-start.along)*start.road.minutes
		for range n.nodes {
			for _, e := range n.roads {
				plain[e.b] = min(plain[e.b], plain[e.a]+e.minutes)
				plain[e.a] = min(plain[e.a], plain[e.b]+e.minutes)
			}
		}
		want := map[string]float64{}
		for _, place := range n.Towns {
			end, _ := n.snap(place.At)
			if m := n.to(plain, start, end); m <= limit {
				want[place.Name] = m
			}
		}
		if len(got) != len(want) {
			t.Fatalf("%d towns, want %d", len(got), len(want))
		}
		for i, g := range got {
			if math.Abs(want[g.Name]-g.Minutes) > 1e-9 || i > 0 && got[i-1].Population < g.Population {
				t.Fatalf("%s in %v, want %v", g.Name, g.Minutes, want[g.Name])
			}
		}
	}
}

func TestMetres(t *testing.T) {
	for _, c := range []struct {
		a, b Point
		want float64
	}{
		{Point{-125, 48}, Point{-125, 48}, 0}, {Point{-125, 48}, Point{-125, 49}, 111195}, {Point{0, 0}, Point{180, 0}, math.Pi * 6371008.8}, {Point{-125, 60}, Point{-124, 60}, 55597},
	} {
		if got := Metres(c.a, c.b); math.Abs(got-c.want) > 2 {
			t.Errorf("%v to %v is %.0f m, want %.0f", c.a, c.b, got, c.want)
		}
	}
}

// With many roads only those around a point are looked at; the nearest is the same.
func TestTheNearestOfManyRoads(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 9))
	n, known := &Network{}, map[Point]int{}
	at := func() Point { return Point{-125 + 2*r.Float64(), 58 + 2*r.Float64()} }
	for len(n.roads) < 2*fewRoads {
		a := at()
		b := Point{a.Longitude + 0.05*(r.Float64()-0.5), a.Latitude + 0.05*(r.Float64()-0.5)}
		n.join(n.node(known, a), n.node(known, b), 1)
	}
	for range 300 {
		p := at()
		if r.IntN(10) == 0 {
			p = Point{p.Longitude + 3, p.Latitude - 2} // far from all
		}
		got, ok := n.snap(p)
		best := math.Inf(1)
		for from := 0; from < len(n.roads); from += fewRoads - 1 {
			few := &Network{nodes: n.nodes, edges: n.edges, roads: n.roads[from:min(from+fewRoads-1, len(n.roads))]}
			if part, _ := few.snap(p); part.off < best {
				best = part.off
			}
		}
		if !ok || math.Abs(got.off-best) > 1e-6 {
			t.Fatalf("%v: %g m, want %g", p, got.off, best)
		}
	}
}
