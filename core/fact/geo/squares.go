package geo

import (
	"iter"
	"math"
)

// squareSize is the edge of a square in degrees. Of a network with fewer roads than fewRoads all are looked at.
const (
	squareSize = 0.02
	fewRoads   = 2000
)

// mostRings is after how many rings with nothing near all roads are looked at.
const mostRings = 60

// square is one of degrees.
type square struct{ x, y int32 }

func squareOf(p Point) square {
	return square{int32(math.Floor(p.Longitude / squareSize)), int32(math.Floor(p.Latitude / squareSize))}
}

// around gives roads by their numbers, in rings around a point, each with how far from the point its squares lie at least, in
// metres. A road is in every ring that it may come through.
func (n *Network) around(p Point) iter.Seq2[float64, []int32] {
	return func(yield func(float64, []int32) bool) {
		n.near.Do(n.divide)
		if n.squares == nil {
			yield(0, n.numbers)
			return
		}
		middle := squareOf(p)
		// On a ring the nearest is straight to the east or west, where a degree is narrower the nearer it is to a pole.
		for ring := range int32(mostRings) {
			narrow := math.Cos(min(89, math.Abs(p.Latitude)+float64(ring)*squareSize) * math.Pi / 180)
			least := float64(max(0, ring-1)) * squareSize * narrow * MetresPerDegree
			for s := range ringOf(middle, ring) {
				if roads := n.squares[s]; len(roads) > 0 && !yield(least, roads) {
					return
				}
			}
			if !yield(least, nil) {
				return
			}
		}
		yield(0, n.numbers) // it is far from all
	}
}

// ringOf gives the squares that are so many squares from one.
func ringOf(of square, ring int32) iter.Seq[square] {
	return func(yield func(square) bool) {
		if ring == 0 {
			yield(of)
			return
		}
		for d := -ring; d <= ring; d++ {
			if !yield(square{of.x + d, of.y - ring}) || !yield(square{of.x + d, of.y + ring}) {
				return
			}
			if d > -ring && d < ring && (!yield(square{of.x - ring, of.y + d}) || !yield(square{of.x + ring, of.y + d})) {
				return
			}
		}
	}
}

// divide lays every road into the squares of the box around it, where there are many.
func (n *Network) divide() {
	n.numbers = make([]int32, len(n.roads))
	for i := range n.roads {
		n.numbers[i] = int32(i)
	}
	if len(n.roads) < fewRoads {
		return
	}
	n.squares = map[square][]int32{}
	for i, r := range n.roads {
		a, b := squareOf(n.nodes[r.a]), squareOf(n.nodes[r.b])
		for x := min(a.x, b.x); x <= max(a.x, b.x); x++ {
			for y := min(a.y, b.y); y <= max(a.y, b.y); y++ {
				n.squares[square{x, y}] = append(n.squares[square{x, y}], int32(i))
			}
		}
	}
}
