// Package geo reckons travel by road: a network of roads with speeds, the
// shortest time over it, and the towns within reach.
package geo

import (
	"container/heap"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"sync"
)

// Point is a position in degrees, WGS 84.
type Point struct{ Longitude, Latitude float64 }

// Town is a place with people.
type Town struct {
	Name       string
	Population int
	At         Point
}

// Network is roads and towns. It is safe for concurrent reading.
type Network struct {
	Towns []Town
	nodes []Point
	edges [][]edge // by node
	roads []road

	near    sync.Once
	squares map[square][]int32 // roads by where they are, where there are many
	numbers []int32            // of all
}

type edge struct {
	to      int
	minutes float64
}

// road is one straight stretch between two nodes.
type road struct {
	a, b    int
	minutes float64
}

// Metres is the distance between two points, on a sphere of the Earth's mean
// radius (IUGG, 6,371,008.8 m).
func Metres(a, b Point) float64 {
	const radius = 6371008.8
	rad := func(d float64) float64 { return d * math.Pi / 180 }
	sinLat, sinLng := math.Sin(rad(b.Latitude-a.Latitude)/2), math.Sin(rad(b.Longitude-a.Longitude)/2)
	h := sinLat*sinLat + math.Cos(rad(a.Latitude))*math.Cos(rad(b.Latitude))*sinLng*sinLng
	return 2 * radius * math.Asin(math.Sqrt(min(1, h)))
}

type collection struct {
	Type     string `json:"type"`
	Features []struct {
		Geometry struct {
			Type        string          `json:"type"`
			Coordinates json.RawMessage `json:"coordinates"`
		} `json:"geometry"`
		Properties struct {
			Name       string  `json:"name"`
			Population int     `json:"population"`
			SpeedKMH   float64 `json:"speed_kmh"`
		} `json:"properties"`
	} `json:"features"`
}

// Read reads a GeoJSON FeatureCollection (RFC 7946): a LineString with the
// property speed_kmh is a road, a Point with name and population a town. Roads
// meet where they share a coordinate. Other features are left out.
func Read(data []byte) (*Network, error) {
	var c collection
	if err := json.Unmarshal(data, &c); err != nil {
		return nil, fmt.Errorf("it cannot be read as GeoJSON: %w", err)
	}
	if c.Type != "FeatureCollection" {
		return nil, errors.New("it is no FeatureCollection")
	}
	n := &Network{}
	known := map[Point]int{}
	for i, f := range c.Features {
		switch f.Geometry.Type {
		case "Point":
			p, err := point(f.Geometry.Coordinates)
			if err != nil {
				return nil, fmt.Errorf("features.%d: %w", i, err)
			}
			n.Towns = append(n.Towns, Town{f.Properties.Name, f.Properties.Population, p})
		case "LineString":
			if !(f.Properties.SpeedKMH > 0) {
				return nil, fmt.Errorf("features.%d.properties.speed_kmh: a road needs a speed above 0", i)
			}
			var line []json.RawMessage
			if err := json.Unmarshal(f.Geometry.Coordinates, &line); err != nil {
				return nil, fmt.Errorf("features.%d: its coordinates cannot be read: %w", i, err)
			}
			before := -1
			for _, raw := range line {
				p, err := point(raw)
				if err != nil {
					return nil, fmt.Errorf("features.%d: %w", i, err)
				}
				at := n.node(known, p)
				if before >= 0 && before != at {
					n.join(before, at, Metres(n.nodes[before], p)/1000/f.Properties.SpeedKMH*60)
				}
				before = at
			}
		}
	}
	return n, nil
}

func point(raw json.RawMessage) (Point, error) {
	var c []float64
	if err := json.Unmarshal(raw, &c); err != nil || len(c) < 2 {
		return Point{}, fmt.Errorf("%s is no position; write [longitude, latitude]", raw)
	}
	if math.Abs(c[0]) > 180 || math.Abs(c[1]) > 90 {
		return Point{}, fmt.Errorf("%s lies off the Earth; longitude comes first", raw)
	}
	return Point{c[0], c[1]}, nil
}

func (n *Network) join(a, b int, minutes float64) {
	n.edges[a] = append(n.edges[a], edge{b, minutes})
	n.edges[b] = append(n.edges[b], edge{a, minutes})
	n.roads = append(n.roads, road{a, b, minutes})
}

// access is where a point comes onto the network: on a road, so far along it.
type access struct {
	road  road
	along float64 // 0 at its a, 1 at its b
	off   float64 // metres from the point to it
}

// snap finds the road nearest to a point; false when there is no road at all.
func (n *Network) snap(p Point) (access, bool) {
	best := access{off: math.Inf(1)}
	scale := math.Cos(p.Latitude * math.Pi / 180) // a degree of longitude there
	for least, roads := range n.around(p) {
		if least > best.off {
			break
		}
		for _, i := range roads {
			r := n.roads[i]
			a, b := n.nodes[r.a], n.nodes[r.b]
			dx, dy := (b.Longitude-a.Longitude)*scale, b.Latitude-a.Latitude
			t := ((p.Longitude-a.Longitude)*scale*dx + (p.Latitude-a.Latitude)*dy) / (dx*dx + dy*dy)
			t = max(0, min(1, t))
			foot := Point{a.Longitude + t*(b.Longitude-a.Longitude), a.Latitude + t*(b.Latitude-a.Latitude)}
			if off := Metres(p, foot); off < best.off {
				best = access{r, t, off}
			}
		}
	}
	return best, len(n.roads) > 0
}

// Reached is a town and how long it takes to get there.
type Reached struct {
	Town
	Minutes float64
}

// ErrNoRoads means that a network has no road to travel on.
var ErrNoRoads = errors.New("there is no road")

// Within lists the towns within a travel time of a point, in minutes, the most
// populous first. The way from the point to the nearest road, and from a road
// to a town, is not counted.
func (n *Network) Within(from Point, limit float64) ([]Reached, error) {
	start, ok := n.snap(from)
	if !ok {
		return nil, ErrNoRoads
	}
	times := n.times(start)
	var out []Reached
	for _, t := range n.Towns {
		end, _ := n.snap(t.At)
		if m := n.to(times, start, end); m <= limit {
			out = append(out, Reached{t, m})
		}
	}
	slices.SortStableFunc(out, func(a, b Reached) int { return b.Population - a.Population })
	return out, nil
}

// to is the time to a place on the network.
func (n *Network) to(times []float64, start, end access) float64 {
	m := min(times[end.road.a]+end.along*end.road.minutes, times[end.road.b]+(1-end.along)*end.road.minutes)
	if start.road == end.road { // on the same stretch there is no need of its ends
		m = min(m, math.Abs(start.along-end.along)*end.road.minutes)
	}
	return m
}

// times is the shortest time from a place on the network to each node, by
// Dijkstra's algorithm; infinite where no road leads.
func (n *Network) times(start access) []float64 {
	out := make([]float64, len(n.nodes))
	for i := range out {
		out[i] = math.Inf(1)
	}
	q := &queue{}
	visit := func(node int, minutes float64) {
		if minutes < out[node] {
			out[node] = minutes
			heap.Push(q, edge{node, minutes})
		}
	}
	visit(start.road.a, start.along*start.road.minutes)
	visit(start.road.b, (1-start.along)*start.road.minutes)
	for q.Len() > 0 {
		at := heap.Pop(q).(edge)
		if at.minutes > out[at.to] {
			continue // a shorter way was found meanwhile
		}
		for _, e := range n.edges[at.to] {
			visit(e.to, at.minutes+e.minutes)
		}
	}
	return out
}

// queue holds nodes by the time it takes to reach them.
type queue []edge

func (q queue) Len() int           { return len(q) }
func (q queue) Less(i, j int) bool { return q[i].minutes < q[j].minutes }
func (q queue) Swap(i, j int)      { q[i], q[j] = q[j], q[i] }
func (q *queue) Push(x any)        { *q = append(*q, x.(edge)) }
func (q *queue) Pop() any {
	old := *q
	last := old[len(old)-1]
	*q = old[:len(old)-1]
	return last
}
