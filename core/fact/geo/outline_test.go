package geo

import (
	"errors"
	"math"
	"math/rand/v2"
	"testing"
)

func area(ring []Point) (a float64) {
	for i := 1; i < len(ring); i++ {
		a += ring[i-1].Longitude*ring[i].Latitude - ring[i].Longitude*ring[i-1].Latitude
	}
	return a / 2
}

func TestOutlineGoesAsFarAsTheRoad(t *testing.T) {
	// At 60 km/h a minute is a kilometre: 20 minutes from the middle reach 20 km each way.
	n := read(t, line(60, [2]float64{-125, 48}, [2]float64{-125, 49}))
	rings, err := n.Outline(Point{-125, 48.5}, 20)
	if err != nil || len(rings) != 1 || rings[0][0] != rings[0][len(rings[0])-1] || area(rings[0]) <= 0 {
		t.Fatalf("%v, %v", rings, err)
	}
	for km, in := range map[float64]bool{0: true, 19: true, -19: true, 24: false, -24: false} {
		if p := (Point{-125, 48.5 + km*1000/MetresPerDegree}); Inside(p, rings[0]) != in {
			t.Errorf("%g km along the road: inside is %v", km, !in)
		}
	}
	if Inside(Point{-125 + 3000/MetresPerDegree/math.Cos(48.5*math.Pi/180), 48.5}, rings[0]) {
		t.Error("3 km beside the road is inside")
	}
	if _, err := read(t).Outline(Point{}, 10); !errors.Is(err, ErrNoRoads) {
		t.Errorf("without roads: %v", err)
	}
	ring := Circle(Point{-125, 48.5}, 10_000)
	for _, p := range ring {
		if d := Metres(Point{-125, 48.5}, p); math.Abs(d-10_000) > 60 {
			t.Errorf("a corner of the circle is %.0f m away", d)
		}
	}
	if area(ring) <= 0 || !Inside(Point{-125.05, 48.5}, ring) {
		t.Error("the circle is not a ring around its middle")
	}
}

// Whatever the network: all road that is reached lies inside the outline, and no
// part of the outline is far from it.
func TestOutlineHoldsJustWhatIsReached(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for range 60 {
		corner := func() [2]float64 { return [2]float64{-125 + .3*r.Float64(), 48 + .2*r.Float64()} }
		corners := make([][2]float64, 8)
		for i := range corners {
			corners[i] = corner()
		}
		var roads []feature
		for range 12 {
			if a, b := corners[r.IntN(8)], corners[r.IntN(8)]; a != b {
				roads = append(roads, line(20+80*r.Float64(), a, b))
			}
		}
		n := read(t, roads...)
		from, limit := Point{corners[0][0], corners[0][1]}, 5+30*r.Float64()
		rings, err := n.Outline(from, limit)
		if err != nil {
			t.Fatal(err)
		}
		start, _ := n.snap(from)
		times := n.times(start)
		var reached []Point
		for _, e := range n.roads { // a sample every 50 m, by the time to it alone
			steps := int(Metres(n.nodes[e.a], n.nodes[e.b]) / 50)
			for i := range steps + 1 {
				along := float64(i) / float64(max(steps, 1))
				if n.to(times, start, access{road: e, along: along}) <= limit {
					a, b := n.nodes[e.a], n.nodes[e.b]
					reached = append(reached, Point{a.Longitude + along*(b.Longitude-a.Longitude), a.Latitude + along*(b.Latitude-a.Latitude)})
				}
			}
		}
		for _, p := range reached {
			in := 0
			for _, ring := range rings {
				if Inside(p, ring) {
					in++
				}
			}
			if in != 1 {
				t.Fatalf("%v is reached, and inside %d rings", p, in)
			}
		}
		for _, ring := range rings {
			for _, p := range ring {
				near := Metres(p, from) - start.off
				for _, q := range reached {
					near = min(near, Metres(p, q))
				}
				if near > marginMetres*1.6 {
					t.Fatalf("the outline passes %.0f m from anything that is reached", near)
				}
			}
		}
	}
}

func TestNearAndJoined(t *testing.T) {
	a := read(t, line(60, [2]float64{-125, 48}, [2]float64{-125, 48.1}), town("South", 10, [2]float64{-125, 48}))
	b := read(t, line(60, [2]float64{-125, 48.1}, [2]float64{-125, 48.2}), town("North", 900, [2]float64{-125, 48.2}))
	both := Join(a, b)
	if list, err := both.Within(Point{-125, 48}, 60); err != nil || len(list) != 2 || math.Abs(list[0].Minutes-22.2) > .1 {
		t.Errorf("%+v, %v", list, err)
	}
	if near, ok := both.Town("NORTH"); !ok || near.Population != 900 {
		t.Error("a town is not found by its name")
	}
	if _, ok := both.Town("East"); ok || both.Roads() != 2 {
		t.Error("there is a town that is not")
	}
	if d := both.OffRoad(Point{-125.01, 48.05}); math.Abs(d-743) > 5 {
		t.Errorf("it lies %.0f m off the road", d)
	}
	if d := read(t).OffRoad(Point{}); !math.IsInf(d, 1) {
		t.Errorf("without roads, it lies %.0f m off", d)
	}
	if list := both.ByDistance(Point{-125, 48.1}, 60); list[0].Name != "North" || math.Abs(list[0].Minutes-11.1) > .1 {
		t.Errorf("%+v", list)
	}
}
