package film

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"uvent/core/fact/category"
	"uvent/core/fact/language"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// Seen is what a person says of a video: at which second each part can be seen, and that
// nothing private is in it.
type Seen struct {
	At      map[string]int `json:"at"` // seconds, by the id of a rulebook's film part
	Private bool           `json:"private"`
}

// Shown is a video with what was measured of it and what a person says of it, as it is kept.
type Shown struct {
	Film
	Seen Seen `json:"seen"`
}

// What a video must be for anybody to see what it shows, whatever the directory.
const (
	darkMost    = 0.4 // the part of it that may be dark
	motionLeast = 0.5 // of somebody who walks with a phone, in 255ths of the whole range
)

// There reports whether it is a video at all.
func (s Shown) There() bool { return s.Format != "" }

// Doubts are what a directory is likely to mind in a video, in sentences of a language.
func (s Shown) Doubts(rule rulebook.Film, in language.Language) (out []string) {
	if rule.MostSeconds > 0 && s.Seconds > float64(rule.MostSeconds) {
		out = append(out, in.Say("film.long", "long", long(s.Seconds, in), "most", long(float64(rule.MostSeconds), in)))
	}
	if s.Seconds < float64(rule.LeastSeconds) {
		out = append(out, in.Say("film.short", "long", long(s.Seconds, in), "least", long(float64(rule.LeastSeconds), in)))
	}
	if s.Width > 0 { // it was measured
		if min(s.Width, s.Height) < rule.LeastPixels {
			out = append(out, in.Say("film.small", "size", fmt.Sprintf("%d × %d", s.Width, s.Height), "least", rule.LeastPixels))
		}
		switch {
		case s.Dark > darkMost: // in which nothing can be seen to move
			out = append(out, in.Say("film.dark"))
		case s.Motion < motionLeast:
			out = append(out, in.Say("film.still"))
		}
		if rule.Sound && !s.Sound {
			out = append(out, in.Say("film.silent"))
		}
	}
	if s.Takes > 1 {
		out = append(out, in.Say("film.cut", "second", int(s.CutAt)))
	}
	for _, p := range rulebook.FilmParts {
		if !slices.Contains(rule.Shows, p.ID) {
			continue
		}
		part := in.Say("part." + p.ID)
		switch at, seen := s.Seen.At[p.ID]; {
		case !seen:
			out = append(out, in.Say("film.unsaid", "part", part))
		case float64(at) > s.Seconds:
			out = append(out, in.Say("film.ends", "second", at, "part", part))
		}
	}
	if !s.Seen.Private {
		out = append(out, in.Say("film.private"))
	}
	return out
}

func long(seconds float64, in language.Language) string {
	whole := int(math.Round(seconds))
	var parts []string
	for _, p := range []struct {
		n    int
		unit string
	}{{whole / 60, "film.minute"}, {whole % 60, "film.second"}} {
		switch p.n {
		case 0:
		case 1:
			parts = append(parts, in.Say(p.unit))
		default:
			parts = append(parts, in.Say(p.unit+"s", "count", p.n))
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
func Shots(r record.Record, rule rulebook.Film, in language.Language) []Shot {
	var out []Shot
	place := "stays"
	if r.Kind == record.GoesToCustomers {
		place = "moves"
	}
	with := []any{"street", r.Address.Street, "name", r.Name, "equipment", equipment(r, in), "long", long(float64(rule.MostSeconds), in)}
	add := func(part, key string) {
		out = append(out, Shot{part, in.Say("shot." + key + ".title"), in.Say("shot."+key+".how", with...)})
	}
	for _, p := range rulebook.FilmParts {
		if slices.Contains(rule.Shows, p.ID) {
			add(p.ID, place+"."+p.ID)
		}
	}
	add("", "private")
	if rule.MostSeconds > 0 {
		add("", "take")
	}
	return out
}

// equipment is what shows that somebody does this trade.
func equipment(r record.Record, in language.Language) string {
	c, _ := category.Find(r.Category)
	if key := "equipment." + c.Group; in.Has(key) {
		return in.Say(key)
	}
	return in.Say("equipment")
}
