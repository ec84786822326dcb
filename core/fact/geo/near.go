package geo

import (
	"slices"
	"strings"
)

// NearRoad is how far a point may lie from the nearest road, in metres, for
// travel from it to be reckoned by road.
const NearRoad = 5000

// OffRoad is how far a point lies from the nearest road, in metres; infinite
// where there is none.
func (n *Network) OffRoad(p Point) float64 {
	at, _ := n.snap(p)
	return at.off
}

// Town finds a town by its name, whatever its case.
func (n *Network) Town(name string) (Town, bool) {
	i := slices.IndexFunc(n.Towns, func(t Town) bool { return strings.EqualFold(t.Name, name) })
	if i < 0 {
		return Town{}, false
	}
	return n.Towns[i], true
}

// ByDistance lists the towns of a network by the time it takes to get to them in
// a straight line at a speed in km/h, the most populous first: what is left
// where no roads are known.
func (n *Network) ByDistance(from Point, kmh float64) []Reached {
	out := make([]Reached, len(n.Towns))
	for i, t := range n.Towns {
		out[i] = Reached{t, Metres(from, t.At) / 1000 / kmh * 60}
	}
	slices.SortStableFunc(out, func(a, b Reached) int { return b.Population - a.Population })
	return out
}

// People is how many live in the towns whose midpoints lie within some kilometres of a
// point, as the crow flies.
func (n *Network) People(around Point, kilometres float64) (people int) {
	for _, t := range n.Towns {
		if Metres(around, t.At) <= kilometres*1000 {
			people += t.Population
		}
	}
	return people
}

// NearTown is how far a point may lie from every town, in metres, for the country around it to be known.
const NearTown = 100_000

// Knows reports whether a network tells of the country around a point.
func (n *Network) Knows(p Point) bool {
	return slices.ContainsFunc(n.Towns, func(t Town) bool { return Metres(p, t.At) <= NearTown })
}

// Inside reports whether a point lies within a closed ring.
func Inside(p Point, ring []Point) bool {
	in := false
	for i := 1; i < len(ring); i++ {
		a, b := ring[i-1], ring[i]
		if (a.Latitude > p.Latitude) != (b.Latitude > p.Latitude) &&
			p.Longitude < a.Longitude+(p.Latitude-a.Latitude)/(b.Latitude-a.Latitude)*(b.Longitude-a.Longitude) {
			in = !in
		}
	}
	return in
}

// Join makes one network of several; roads that share a position are joined there.
func Join(networks ...*Network) *Network {
	out := &Network{}
	known := map[Point]int{}
	for _, n := range networks {
		out.Towns = append(out.Towns, n.Towns...)
		for _, r := range n.roads {
			out.join(out.node(known, n.nodes[r.a]), out.node(known, n.nodes[r.b]), r.minutes)
		}
	}
	return out
}

func (n *Network) node(known map[Point]int, p Point) int {
	i, ok := known[p]
	if !ok {
		i = len(n.nodes)
		known[p] = i
		n.nodes, n.edges = append(n.nodes, p), append(n.edges, nil)
	}
	return i
}

// Roads is how many stretches of road a network has.
func (n *Network) Roads() int { return len(n.roads) }
