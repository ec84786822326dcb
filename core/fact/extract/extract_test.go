package extract

import (
	"bytes"
	"context"
	_ "embed"
	"encoding/json"
	"errors"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"uvent/core/fact/geo"
)

// A made-up coast with three towns; reach.osm.pbf is made of reach.osm by osmium cat.
var (
	//go:embed testdata/reach.osm
	asXML []byte
	//go:embed testdata/reach.osm.pbf
	asPBF []byte
)

func read(data []byte, told func(float64)) (Made, error) {
	return Read(context.Background(), bytes.NewReader(data), int64(len(data)), told)
}

func TestARegionOfAnExtract(t *testing.T) {
	last := 0.0
	m, err := read(asXML, func(part float64) {
		if part < last || part > 1 {
			t.Errorf("told %g after %g", part, last)
		}
		last = part
	})
	if err != nil || last != 1 {
		t.Fatalf("%v, told up to %g", err, last)
	}
	if m.Towns != 3 || m.Unknown != 1 || m.Roads != 4 || m.NoSpeeds != 3 {
		t.Errorf("%d towns, of %d not said; %d roads, %d without a limit", m.Towns, m.Unknown, m.Roads, m.NoSpeeds)
	}
	packed, err := read(asPBF, nil)
	if err != nil || !bytes.Equal(packed.GeoJSON, m.GeoJSON) {
		t.Errorf("packed it is another region: %v", err)
	}
	n, err := geo.Read(m.GeoJSON)
	if err != nil {
		t.Fatal(err)
	}
	// By road: half of the way at 70 km/h, then north at 30 mph.
	from := geo.Point{Longitude: -124.9, Latitude: 48.5}
	reached, err := n.Within(from, 60)
	if err != nil || len(reached) != 3 {
		t.Fatalf("%+v, %v", reached, err)
	}
	half, north := geo.Metres(from, geo.Point{Longitude: -124.85, Latitude: 48.5}), geo.Metres(geo.Point{Latitude: 48.5}, geo.Point{Latitude: 48.55})
	want := half/1000/70*60 + north/1000/48*60
	for _, r := range reached {
		if r.Name == "Upper Fenwater" && math.Abs(r.Minutes-want) > 0.05 {
			t.Errorf("%.2f minutes, want %.2f", r.Minutes, want)
		}
	}
	if reached[0].Population != 12400 || reached[2].Population != 0 {
		t.Errorf("%+v", reached)
	}
	var drawn struct{ Features []feature }
	if err := json.Unmarshal(m.GeoJSON, &drawn); err != nil {
		t.Fatal(err)
	}
	points := 0
	for _, f := range drawn.Features {
		if f.Geometry.Type == "LineString" && f.Properties["speed_kmh"] == 70.0 {
			points = len(f.Geometry.Coordinates.([]any))
		}
	}
	if points < 3 || points > 5 { // its ends and its crossing, and where the bend of eight metres made a difference
		t.Errorf("the straight road has %d points", points)
	}
}

func TestWhatIsNoExtract(t *testing.T) {
	for says, data := range map[string]string{
		"empty":            "",
		"no extract":       "Opening hours: Tuesday to Friday",
		"to its end":       string(asXML[:1500]),
		"no roads":         `<?xml version="1.0"?><osm version="0.6"><node id="1" lat="1" lon="1"/></osm>`,
		"no towns":         strings.ReplaceAll(string(asXML), `k="place"`, `k="spot"`),
		"to its end: zlib": string(asPBF[:300]) + strings.Repeat("\x00", 400),
	} {
		_, err := read([]byte(data), nil)
		var no Refusal
		if !errors.As(err, &no) || !strings.Contains(err.Error(), strings.TrimSuffix(says, ": zlib")) {
			t.Errorf("%s: %v", says, err)
		}
	}
	ended, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := Read(ended, bytes.NewReader(asXML), 0, nil); !errors.Is(err, context.Canceled) {
		t.Errorf("%v", err)
	}
}

func TestSpeedLimits(t *testing.T) {
	for text, want := range map[string]float64{"50": 50, "30 mph": 48.28032, "30mph": 48.28032, "none": 0, "": 0, "signals": 0, "-5": 0, "900": 0, "DE:urban": 0} {
		if got := limit(text); math.Abs(got-want) > 1e-6 {
			t.Errorf("%q: %g, want %g", text, got, want)
		}
	}
}

// Whatever is left out of a line, what remains is never further than the bend from what was there, and begins and ends as it did.
func TestStraightLinesStayWhereTheyAre(t *testing.T) {
	for seed := range uint64(200) {
		r := rand.New(rand.NewPCG(seed, 7))
		line := make([]point, 2+r.IntN(40))
		at := point{-124, 48}
		for i := range line {
			at = point{at.lng + (r.Float64()-0.2)*0.002, at.lat + (r.Float64()-0.5)*0.001}
			line[i] = at
		}
		kept := straight(line)
		if kept[0] != line[0] || kept[len(kept)-1] != line[len(line)-1] {
			t.Fatalf("%d: it begins or ends elsewhere", seed)
		}
		for _, p := range line {
			nearest := math.Inf(1)
			for i := 1; i < len(kept); i++ {
				nearest = min(nearest, off(p, kept[i-1], kept[i]))
			}
			if nearest > bend+0.01 {
				t.Fatalf("%d: a point lies %.1f m off", seed, nearest)
			}
		}
	}
}

func FuzzRead(f *testing.F) {
	f.Add(asXML)
	f.Add(asPBF)
	f.Fuzz(func(t *testing.T, data []byte) {
		m, err := read(data, nil)
		if err != nil {
			return
		}
		if _, err := geo.Read(m.GeoJSON); err != nil {
			t.Fatalf("what was made cannot be read: %v", err)
		}
	})
}
