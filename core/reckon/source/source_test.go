package source

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/calendar"
)

var (
	zone  = time.UTC
	here  = calendar.Place{Zone: zone, Holidays: calendar.HolidaysOf("US", "WA")}
	start = time.Date(2026, 10, 19, 4, 0, 0, 0, zone)
)

func day(n float64) time.Time { return start.Add(time.Duration(n * 24 * float64(time.Hour))) }

func dayp(n float64) *time.Time { t := day(n); return &t }

func copies(from, to string, low, high int) Edge {
	return Edge{From: from, To: to, Window: calendar.Rule{Min: low, Max: high, Unit: calendar.Days}, Place: here}
}

// at once is when a correction shows that is sent on day 40.
func atOnce(string) calendar.Window {
	d := calendar.DateOf(day(40))
	return calendar.Window{From: day(40), Earliest: d, Latest: d.Add(2)}
}

// described writes ways as "source: node, node<parent+days".
func described(ways []Way) string {
	var out []string
	for _, w := range ways {
		text := w.Source
		if w.Unseen {
			text += "?"
		}
		for _, n := range w.Nodes {
			text += " " + n.Directory
			if n.Parent != "" {
				text += "<" + n.Parent
			}
			if n.Follows != nil {
				text += fmt.Sprintf("+%d..%d", n.Follows.Earliest.Number()-calendar.DateOf(day(40)).Number(), n.Follows.Latest.Number()-calendar.DateOf(day(40)).Number())
			}
		}
		out = append(out, text)
	}
	return strings.Join(out, "; ")
}

func TestWhereAValueCameFrom(t *testing.T) {
	edges := []Edge{
		copies("plotline", "hithermap", 5, 14),
		copies("plotline", "roadwhistle", 3, 14),
		copies("plotline", "brasswire", 4, 14),
		copies("hithermap", "lantern", 1, 3),
	}
	asked := copies("fernlook", "skerry", 0, 0)
	asked.OnRequest = true
	edges = append(edges, asked)
	for _, c := range []struct {
		name  string
		shown []Showing
		want  string
	}{
		{"a supplier and its copies", []Showing{{"brasswire", dayp(12), day(14)}, {"plotline", dayp(-1), day(0)}, {"hithermap", dayp(7), day(9)}, {"roadwhistle", dayp(9), day(11)}},
			"plotline plotline hithermap<plotline+5..16 roadwhistle<plotline+3..16 brasswire<plotline+4..16"},
		{"a copy of a copy", []Showing{{"plotline", dayp(-1), day(0)}, {"hithermap", dayp(7), day(9)}, {"lantern", dayp(9), day(11)}},
			"plotline plotline hithermap<plotline+5..16 lantern<hithermap+6..19"},
		{"too early to be a copy", []Showing{{"plotline", dayp(-1), day(0)}, {"hithermap", dayp(1), day(2)}}, "plotline plotline; hithermap hithermap"},
		{"too late to be a copy", []Showing{{"plotline", dayp(-1), day(0)}, {"hithermap", dayp(30), day(31)}}, "plotline plotline; hithermap hithermap"},
		{"within the looks it may be one", []Showing{{"plotline", dayp(-7), day(0)}, {"hithermap", dayp(-3), day(4)}}, "plotline plotline hithermap<plotline+5..16"},
		{"from before anybody looked", []Showing{{"plotline", nil, day(0)}, {"hithermap", nil, day(0)}}, "plotline plotline hithermap<plotline+5..16"},
		{"nobody looks at the supplier", []Showing{{"hithermap", dayp(7), day(9)}, {"roadwhistle", dayp(9), day(11)}}, "plotline? hithermap<plotline+5..16 roadwhistle<plotline+3..16"},
		{"one copy alone is by itself", []Showing{{"hithermap", dayp(7), day(9)}}, "hithermap hithermap"},
		{"one that copied when it was asked to", []Showing{{"fernlook", dayp(-1), day(0)}, {"skerry", nil, day(20)}}, "fernlook fernlook skerry<fernlook"},
		{"one that was there before", []Showing{{"fernlook", dayp(21), day(22)}, {"skerry", nil, day(20)}}, "skerry skerry; fernlook fernlook"},
		{"nothing", nil, ""},
	} {
		if got := described(Trace(c.shown, edges, day(40), atOnce)); got != c.want {
			t.Errorf("%s: %s, want %s", c.name, got, c.want)
		}
	}
}

// A copy that is mended before its source is overwritten, within the window of its next copying.
func TestWhatOverwritesACorrection(t *testing.T) {
	ways := Trace([]Showing{{"plotline", dayp(-1), day(0)}, {"hithermap", dayp(7), day(9)}}, []Edge{copies("plotline", "hithermap", 5, 14)}, day(40), atOnce)
	n := ways[0].Nodes
	if n[0].Overwritten != nil || n[1].Overwritten == nil || n[1].Overwritten.Earliest != calendar.DateOf(day(45)) ||
		n[1].Overwritten.Latest != calendar.DateOf(day(54)) {
		t.Errorf("%+v", n)
	}
}

// spread lets a value come up at one of some places that copy from each other, or at two by themselves, and looks at each now
// and then. It says where each place has it from, and what was seen.
func spread(r *rand.Rand) (edges []Edge, origin map[string]string, shown []Showing) {
	const places = 8
	name := func(i int) string { return string(rune('a' + i)) }
	for to := 1; to < places; to++ {
		for range 1 + r.IntN(2) {
			if from := r.IntN(to); r.IntN(3) > 0 {
				low := r.IntN(4)
				e := copies(name(from), name(to), low, low+1+r.IntN(10))
				if !slices.ContainsFunc(edges, func(o Edge) bool { return o.From == e.From && o.To == e.To }) {
					edges = append(edges, e)
				}
			}
		}
	}
	origin = map[string]string{}
	has := map[string]time.Time{}
	first := r.IntN(places / 2)
	has[name(first)], origin[name(first)] = day(10*r.Float64()), name(first)
	if second := r.IntN(places); r.IntN(4) == 0 && second != first { // somebody writes the same value elsewhere
		has[name(second)], origin[name(second)] = day(30*r.Float64()), name(second)
	}
	for to := range places { // in the order of the graph
		for _, e := range edges {
			at, wrong := has[e.From]
			if e.To != name(to) || !wrong {
				continue
			}
			w := e.Place.Window(e.Window, at)
			came := w.Earliest.Add(r.IntN(w.Latest.Number()-w.Earliest.Number()+1)).At(240, zone)
			if before, already := has[name(to)]; !already || came.Before(before) {
				has[name(to)], origin[name(to)] = came, origin[e.From]
			}
		}
	}
	now := day(60)
	for i := range places {
		interval, at := 1+6*r.Float64(), -7*r.Float64()
		var last *time.Time
		for ; ; at += interval {
			t := day(at)
			if t.After(now) {
				break
			}
			if came, wrong := has[name(i)]; wrong && !t.Before(came) {
				shown = append(shown, Showing{name(i), last, t})
				break
			}
			last = &t
		}
	}
	return edges, origin, shown
}

// named counts how many places that show a wrong value are told rightly where it came from.
func named(worlds int, seed uint64) (right, all int) {
	r := rand.New(rand.NewPCG(seed, 16))
	for range worlds {
		edges, origin, shown := spread(r)
		for _, w := range Trace(shown, edges, day(60), atOnce) {
			for _, n := range w.Nodes {
				all++
				if origin[n.Directory] == w.Source {
					right++
				}
			}
		}
	}
	return right, all
}

// Sources are named rightly in 95 of 100 cases, from looks that are up to a week apart.
func TestSourcesAreNamedRightly(t *testing.T) {
	right, all := named(2000, 1)
	fmt.Printf("sources: %d of %d named rightly (%.1f %%)\n", right, all, 100*float64(right)/float64(all))
	if right*100 < all*95 {
		t.Errorf("%d of %d", right, all)
	}
}

// Whatever was seen, each place stands in one way once, behind the one that it has the value from, and no way runs in a circle.
func TestEachPlaceStandsOnce(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 16))
	for range 3000 {
		var shown []Showing
		var edges []Edge
		for i := range 1 + r.IntN(8) {
			s := Showing{string(rune('a' + i)), nil, day(r.Float64() * 30)}
			if r.IntN(3) > 0 {
				after := s.From.Add(-time.Duration(r.IntN(200)) * time.Hour)
				s.After = &after
			}
			shown = append(shown, s)
		}
		for range r.IntN(20) {
			e := copies(string(rune('a'+r.IntN(9))), string(rune('a'+r.IntN(9))), r.IntN(3), 3+r.IntN(9))
			if e.OnRequest = r.IntN(4) == 0; e.From != e.To {
				edges = append(edges, e)
			}
		}
		seen := map[string]bool{}
		for _, w := range Trace(shown, edges, day(40), atOnce) {
			before := map[string]bool{}
			for i, n := range w.Nodes {
				if seen[n.Directory] {
					t.Fatalf("%s stands twice", n.Directory)
				}
				if n.Parent != "" && !before[n.Parent] && (!w.Unseen || n.Parent != w.Source) {
					t.Fatalf("%s stands before %s, which it has the value from", n.Directory, n.Parent)
				}
				if i == 0 && !w.Unseen && n.Directory != w.Source {
					t.Fatalf("%s comes first, not the source %s", n.Directory, w.Source)
				}
				seen[n.Directory], before[n.Directory] = true, true
			}
		}
		if len(seen) != len(shown) {
			t.Fatalf("%d of %d places stand in a way", len(seen), len(shown))
		}
	}
}
