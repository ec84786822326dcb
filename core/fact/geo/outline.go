package geo

import "math"

// Outline is the edge of what can be reached within a limit of minutes: rings of
// points, each closed and anticlockwise, around all road that is reached and what
// lies within a margin beside it. Enclosed gaps are filled.
func (n *Network) Outline(from Point, limit float64) ([][]Point, error) {
	start, ok := n.snap(from)
	if !ok {
		return nil, ErrNoRoads
	}
	times := n.times(start)
	reached := []Point{from}
	for _, r := range n.roads {
		reached = append(reached, n.reachedOn(r, times, limit)...)
	}
	if start.road.minutes > 0 { // the stretch the pin is on, from the pin outwards
		for _, end := range []float64{0, 1} {
			if part := min(1, limit/start.road.minutes/max(math.Abs(end-start.along), 1e-9)); part > 0 {
				to := start.along + (end-start.along)*part
				reached = append(reached, n.between(start.road, start.along, to)...)
			}
		}
	}
	return around(reached, marginMetres), nil
}

const (
	marginMetres = 1200 // how far beside a road is still reached
	stepMetres   = 300  // between samples of a road
)

// reachedOn samples the parts of a road that are reached from its ends in time.
func (n *Network) reachedOn(r road, times []float64, limit float64) (out []Point) {
	for _, end := range []struct {
		minutes   float64
		from, way float64
	}{{times[r.a], 0, 1}, {times[r.b], 1, -1}} {
		if left := limit - end.minutes; left >= 0 {
			out = append(out, n.between(r, end.from, end.from+end.way*min(1, left/r.minutes))...)
		}
	}
	return out
}

// between samples a road between two parts of its length.
func (n *Network) between(r road, from, to float64) (out []Point) {
	a, b := n.nodes[r.a], n.nodes[r.b]
	steps := int(math.Ceil(Metres(a, b) * math.Abs(to-from) / stepMetres))
	for i := range steps + 1 {
		t := to
		if steps > 0 {
			t = from + (to-from)*float64(i)/float64(steps)
		}
		out = append(out, Point{a.Longitude + t*(b.Longitude-a.Longitude), a.Latitude + t*(b.Latitude-a.Latitude)})
	}
	return out
}

// Circle is a ring around a point, anticlockwise.
func Circle(centre Point, metres float64) []Point {
	const corners = 72
	out := make([]Point, 0, corners+1)
	lat := metres / MetresPerDegree
	lng := lat / math.Cos(centre.Latitude*math.Pi/180)
	for i := range corners {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / corners)
		out = append(out, Point{centre.Longitude + lng*cos, centre.Latitude + lat*sin})
	}
	return append(out, out[0])
}

// MetresPerDegree is the length of a degree of latitude, on a sphere.
const MetresPerDegree = 111_195.0

// cell is a square of a grid.
type cell struct{ x, y int }

// grid lays squares over points, so that all within a margin can be marked.
type grid struct {
	west, south float64
	lng, lat    float64 // degrees per square
	w, h        int
	in          []bool
}

func (g *grid) at(c cell) bool {
	return c.x >= 0 && c.y >= 0 && c.x < g.w && c.y < g.h && g.in[c.y*g.w+c.x]
}

// around is the outline of all that lies within a margin of points.
func around(points []Point, margin float64) [][]Point {
	g := newGrid(points, margin)
	for _, p := range points {
		g.mark(p, margin)
	}
	g.fill()
	return g.rings()
}

// mostSquares bounds the work for an area however large.
const mostSquares = 400

func newGrid(points []Point, margin float64) *grid {
	west, east, south, north := math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)
	for _, p := range points {
		west, east = min(west, p.Longitude), max(east, p.Longitude)
		south, north = min(south, p.Latitude), max(north, p.Latitude)
	}
	shrink := math.Cos((south + north) / 2 * math.Pi / 180)
	square := max(margin/4, (north-south)*MetresPerDegree/mostSquares, (east-west)*shrink*MetresPerDegree/mostSquares)
	g := &grid{lat: square / MetresPerDegree, lng: square / MetresPerDegree / shrink}
	border := int(math.Ceil(margin/square)) + 2
	g.west, g.south = west-float64(border)*g.lng, south-float64(border)*g.lat
	g.w, g.h = int((east-west)/g.lng)+2*border+1, int((north-south)/g.lat)+2*border+1
	g.in = make([]bool, g.w*g.h)
	return g
}

// mark marks the squares within a margin of a point, and the point's own.
func (g *grid) mark(p Point, margin float64) {
	x, y := (p.Longitude-g.west)/g.lng, (p.Latitude-g.south)/g.lat
	r := margin / (g.lat * MetresPerDegree) // in squares
	g.in[int(y)*g.w+int(x)] = true
	for cy := int(y - r); cy <= int(y+r); cy++ {
		for cx := int(x - r); cx <= int(x+r); cx++ {
			if dx, dy := float64(cx)+.5-x, float64(cy)+.5-y; dx*dx+dy*dy <= r*r {
				g.in[cy*g.w+cx] = true
			}
		}
	}
}

// fill marks every square that the outside cannot be reached from.
func (g *grid) fill() {
	outside := make([]bool, len(g.in))
	outside[0] = true // the border is never marked
	open := []cell{{0, 0}}
	for len(open) > 0 {
		c := open[len(open)-1]
		open = open[:len(open)-1]
		for _, d := range [4]cell{{1, 0}, {-1, 0}, {0, 1}, {0, -1}} {
			to := cell{c.x + d.x, c.y + d.y}
			if to.x < 0 || to.y < 0 || to.x >= g.w || to.y >= g.h {
				continue
			}
			if i := to.y*g.w + to.x; !outside[i] && !g.in[i] {
				outside[i] = true
				open = append(open, to)
			}
		}
	}
	for i := range g.in {
		g.in[i] = !outside[i]
	}
}

// rings walks around the marked squares, with the marked side on the left.
func (g *grid) rings() (out [][]Point) {
	// From each corner, where the edges that leave it lead.
	next := map[cell][]cell{}
	var starts []cell
	for y := range g.h {
		for x := range g.w {
			if !g.at(cell{x, y}) {
				continue
			}
			for _, e := range [4]struct{ beside, from, to cell }{
				{cell{x, y - 1}, cell{x, y}, cell{x + 1, y}}, {cell{x + 1, y}, cell{x + 1, y}, cell{x + 1, y + 1}},
				{cell{x, y + 1}, cell{x + 1, y + 1}, cell{x, y + 1}}, {cell{x - 1, y}, cell{x, y + 1}, cell{x, y}},
			} {
				if !g.at(e.beside) {
					next[e.from] = append(next[e.from], e.to)
					starts = append(starts, e.from)
				}
			}
		}
	}
	for _, start := range starts {
		if len(next[start]) == 0 {
			continue // walked already
		}
		var corners []cell
		for at, came := start, (cell{}); ; {
			to := take(next, at, came)
			corners = append(corners, at)
			came, at = cell{to.x - at.x, to.y - at.y}, to
			if at == start {
				break
			}
		}
		out = append(out, g.rounded(corners))
	}
	return out
}

// take leaves a corner by an edge that was not walked yet. Where two squares
// touch by the corner alone, it turns right, so that they stay one ring.
func take(next map[cell][]cell, at, came cell) cell {
	list := next[at]
	pick := 0
	for i, to := range list {
		if len(list) > 1 && came.x*(to.y-at.y)-came.y*(to.x-at.x) < 0 {
			pick = i
		}
	}
	to := list[pick]
	next[at] = append(list[:pick:pick], list[pick+1:]...)
	return to
}

// rounded turns corners into a closed ring that passes through the middle of
// each edge, without the points that lie on a straight line.
func (g *grid) rounded(corners []cell) []Point {
	type half struct{ x, y int } // in half squares
	mids := make([]half, len(corners))
	for i, c := range corners {
		d := corners[(i+1)%len(corners)]
		mids[i] = half{c.x + d.x, c.y + d.y}
	}
	var out []Point
	for i, m := range mids {
		before, after := mids[(i+len(mids)-1)%len(mids)], mids[(i+1)%len(mids)]
		if (m.x-before.x)*(after.y-m.y) == (m.y-before.y)*(after.x-m.x) {
			continue
		}
		out = append(out, Point{g.west + g.lng*float64(m.x)/2, g.south + g.lat*float64(m.y)/2})
	}
	return append(out, out[0])
}
