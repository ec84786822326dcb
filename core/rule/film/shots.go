package film

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"uvent/core/fact/category"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// Seen is what a person says of a video: at which second each part can be seen, and that
// nothing private is in it.
type Seen struct {
	At      map[string]int `json:"at"` // seconds, by the id of a rulebook's film part
	Private bool           `json:"private"`
}

// Shown is a video with what its headers and a person say of it, as it is kept.
type Shown struct {
	Format  Format  `json:"format,omitempty"`
	Seconds float64 `json:"seconds,omitempty"`
	Takes   int     `json:"takes,omitempty"`
	Seen    Seen    `json:"seen"`
}

// There reports whether it is a video at all.
func (s Shown) There() bool { return s.Format != "" }

// Doubts are what a directory is likely to mind in a video, in sentences.
func (s Shown) Doubts(rule rulebook.Film) (out []string) {
	if rule.MostSeconds > 0 && s.Seconds > float64(rule.MostSeconds) {
		out = append(out, fmt.Sprintf("The video takes %s; up to %s is looked at. Film it again, shorter.", long(s.Seconds), long(float64(rule.MostSeconds))))
	}
	if s.Takes > 1 {
		out = append(out, "It is not one take: it was put together. Film it again without stopping.")
	}
	for _, p := range rulebook.FilmParts {
		if !slices.Contains(rule.Shows, p.ID) {
			continue
		}
		switch at, seen := s.Seen.At[p.ID]; {
		case !seen:
			out = append(out, "It is not said where it shows "+p.Says+".")
		case float64(at) > s.Seconds:
			out = append(out, fmt.Sprintf("It ends before second %d, where it should show %s.", at, p.Says))
		}
	}
	if !s.Seen.Private {
		out = append(out, "Nobody has said that nothing private is in it: no customers, no papers, no screens.")
	}
	return out
}

func long(seconds float64) string {
	whole := int(math.Round(seconds))
	var parts []string
	for _, p := range []struct {
		n    int
		unit string
	}{{whole / 60, "minute"}, {whole % 60, "second"}} {
		switch p.n {
		case 0:
		case 1:
			parts = append(parts, "1 "+p.unit)
		default:
			parts = append(parts, fmt.Sprintf("%d %ss", p.n, p.unit))
		}
	}
	return strings.Join(parts, " ")
}

// Shot is one thing to film, in order.
type Shot struct {
	Part  string // the id of a rulebook's film part; empty for what helps
	Title string
	How   string
}

// Shots is a list for whoever films, made for the kind of location.
func Shots(r record.Record, rule rulebook.Film) []Shot {
	var out []Shot
	add := func(part, title, how string) {
		if part == "" || slices.Contains(rule.Shows, part) {
			out = append(out, Shot{part, title, how})
		}
	}
	moves := r.Kind == record.GoesToCustomers
	if moves {
		add(
			"street",
			"The street where the work starts",
			fmt.Sprintf("Begin at a street sign near %s, then turn to the van or the yard. Keep walking; do not stop the recording.", r.Address.Street),
		)
		add("sign", "The name on the van, or on the tools", fmt.Sprintf("Hold “%s” in the picture for three seconds, so that it can be read.", r.Name))
		add("inside", "Tools of the trade, behind a lock", "Open the van or the store with its key, and show "+equipment(r)+".")
	} else {
		add("street", "The street and its number", fmt.Sprintf("Begin outside. Show the street sign or a neighbour’s shop, then the number of %s.", r.Address.Street))
		add("sign", "The sign", fmt.Sprintf("Walk to the door. Hold “%s” in the picture for three seconds, so that it can be read.", r.Name))
		add(
			"inside",
			"A door that only staff can open",
			"Go in without stopping the recording. Open a door with its key or its code, and show what is behind it: "+equipment(r)+".",
		)
	}
	add("", "Nothing private", "No customers’ faces, no letters or bills that can be read, no screens. Say nothing that others should not hear.")
	if rule.MostSeconds > 0 {
		add("", "One take", fmt.Sprintf("Up to %s, without a pause and without cutting it afterwards.", long(float64(rule.MostSeconds))))
	}
	return out
}

// equipment is what shows that somebody does this trade.
func equipment(r record.Record) string {
	c, _ := category.Find(r.Category)
	what, known := map[string]string{
		"cycling": "the stand, wheels and tools", "food": "the oven, or the counter from behind", "eating": "the kitchen", "animals": "the treatment room, without " +
			"animals", "laundry": "the machines from behind, or the pipes",
		"home": "ladders, brushes and materials", "craft": "the stock in its boxes", "vehicles": "the lift and the tools", "care": "the cupboard with the supplies",
	}[c.Group]
	if !known {
		return "the tools or the stock that customers do not see"
	}
	return what
}
