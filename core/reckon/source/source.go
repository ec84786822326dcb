// Package source says where a wrong value came from, when several places show it: rule R16. What places copy from each other,
// and the times at which each was seen to show it, tell which was first; and in which order it is mended so that it lasts.
package source

import (
	"cmp"
	"maps"
	"slices"
	"time"

	"uvent/core/fact/calendar"
)

// Showing is a place that shows a value.
type Showing struct {
	Directory string
	After     *time.Time // the last look that saw another value; nil: it showed this one when it was first looked at
	From      time.Time  // the first look that saw it
}

// Edge is that one directory copies a fact from another.
type Edge struct {
	From, To  string
	Window    calendar.Rule  // from a change there until it shows here
	Place     calendar.Place // in whose days
	OnRequest bool           // once, when it is asked to; otherwise over and over
}

// Node is a place in the way of a value.
type Node struct {
	Showing
	Parent string // the directory from which it has the value; empty for the source, and for one by itself
	Depth  int    // 0 for the source
	// Follows is that it corrects itself once its parent is right, within a window; otherwise it is to be mended by itself.
	Follows *calendar.Window
	// Overwritten is when a correction here would be undone while the parent is wrong; nil: never.
	Overwritten *calendar.Window
}

// Way is the way of one value.
type Way struct {
	Source string // the directory it came from
	Unseen bool   // nobody has seen it there: it is where those that show it have it from by the graph alone
	Nodes  []Node // the source first where it was seen, then each behind its parent
}

// could reports whether a place can have a value from another by an edge: whether it can have come within the window after
// the other had it.
func (e Edge) could(from, to Showing) bool {
	if e.OnRequest {
		return from.After == nil || from.After.Before(to.From)
	}
	if from.After != nil && to.From.Before(e.Place.Window(e.Window, *from.After).Earliest.In(e.Place.Zone)) {
		return false // too early
	}
	latest := e.Place.Window(e.Window, from.From).Latest.Add(1).In(e.Place.Zone)
	return to.After == nil || to.After.Before(latest)
}

// Trace parts the places that show a value by where they have it from. mended is when a correction that is sent now would
// show at a directory.
func Trace(shown []Showing, edges []Edge, now time.Time, mended func(directory string) calendar.Window) []Way {
	shown = slices.Clone(shown)
	slices.SortFunc(shown, func(a, b Showing) int { return cmp.Or(a.From.Compare(b.From), cmp.Compare(a.Directory, b.Directory)) })
	at := map[string]Showing{}
	for _, s := range shown {
		at[s.Directory] = s
	}
	parent := map[string]Edge{}
	for _, s := range shown {
		best, found := Edge{}, false
		for _, e := range edges {
			p, shows := at[e.From]
			if e.To != s.Directory || !shows || !e.could(p, s) || leads(parent, e.From, s.Directory) {
				continue
			}
			// The one that had it first; one that copies over and over before one that did so once.
			if !found || better(e, best, at) {
				best, found = e, true
			}
		}
		if found {
			parent[s.Directory] = best
		}
	}
	var roots []Showing
	for _, s := range shown {
		if _, copied := parent[s.Directory]; !copied {
			roots = append(roots, s)
		}
	}
	unseen := common(roots, edges, at)
	var out []Way
	done := map[string]bool{}
	for _, s := range roots {
		if done[s.Directory] {
			continue
		}
		way := Way{Source: s.Directory}
		from := []Showing{s}
		if u, ok := unseen[s.Directory]; ok {
			way.Source, way.Unseen, from = u, true, nil
			for _, r := range roots {
				if unseen[r.Directory] == u {
					from = append(from, r)
				}
			}
		}
		for _, r := range from {
			done[r.Directory] = true
			way.Nodes = append(way.Nodes, tree(r, way, parent, shown, edges, now, mended)...)
		}
		out = append(out, way)
	}
	return out
}

func better(e, than Edge, at map[string]Showing) bool {
	if e.OnRequest != than.OnRequest {
		return !e.OnRequest
	}
	return at[e.From].From.Before(at[than.From].From)
}

// leads reports whether one place has the value from another, over whichever.
func leads(parent map[string]Edge, from, to string) bool {
	for range len(parent) + 1 {
		if from == to {
			return true
		}
		e, ok := parent[from]
		if !ok {
			return false
		}
		from = e.From
	}
	return false
}

// common finds, for places that have a value from none that shows it, the one directory that two of them or more copy from
// over and over and that nobody has looked at.
func common(roots []Showing, edges []Edge, at map[string]Showing) map[string]string {
	of := map[string][]string{}
	for _, e := range edges {
		if _, shows := at[e.From]; shows || e.OnRequest {
			continue
		}
		for _, r := range roots {
			if r.Directory == e.To {
				of[e.From] = append(of[e.From], r.Directory)
			}
		}
	}
	out := map[string]string{}
	for _, u := range slices.SortedFunc(maps.Keys(of), func(a, b string) int { return cmp.Or(len(of[b])-len(of[a]), cmp.Compare(a, b)) }) {
		if len(of[u]) < 2 {
			continue
		}
		for _, r := range of[u] {
			if out[r] == "" {
				out[r] = u
			}
		}
	}
	return out
}

// tree is a place and those that have the value from it, in order.
func tree(root Showing, way Way, parent map[string]Edge, shown []Showing, edges []Edge, now time.Time, mended func(string) calendar.Window) (out []Node) {
	first := Node{Showing: root}
	right := mended(root.Directory) // when it is right, once all is mended in order
	if way.Unseen {
		first.Parent, first.Depth = way.Source, 1
		i := slices.IndexFunc(edges, func(e Edge) bool { return e.From == way.Source && e.To == root.Directory && !e.OnRequest })
		right = first.follow(edges[i], mended(way.Source), now)
	}
	var walk func(n Node, right calendar.Window)
	walk = func(n Node, right calendar.Window) {
		out = append(out, n)
		for _, s := range shown {
			e, copied := parent[s.Directory]
			if !copied || e.From != n.Directory {
				continue
			}
			child := Node{Showing: s, Parent: n.Directory, Depth: n.Depth + 1}
			after := mended(s.Directory)
			if !e.OnRequest {
				after = child.follow(e, right, now)
			}
			walk(child, after)
		}
	}
	walk(first, right)
	return out
}

// follow says when a place corrects itself after its parent is right, and when it would be overwritten before that.
func (n *Node) follow(e Edge, right calendar.Window, now time.Time) calendar.Window {
	w := calendar.Window{
		Earliest: e.Place.Window(e.Window, right.Earliest.In(e.Place.Zone)).Earliest,
		Latest:   e.Place.Window(e.Window, right.Latest.In(e.Place.Zone)).Latest,
	}
	over := e.Place.Window(e.Window, now)
	n.Follows, n.Overwritten = &w, &over
	return w
}
