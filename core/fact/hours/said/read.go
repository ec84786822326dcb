// Package said reads opening hours as people write them, in English, German, French and Spanish:
// "Mon–Fri 9–12:30, 1:30–6; Sat by appointment", "täglich 8-18 Uhr", "closed Sundays, otherwise 8 to
// 6". It says what they come to as OpenStreetMap's opening_hours, which readings were a choice, and
// what it could not read.
package said

import (
	"fmt"
	"slices"
	"strings"
	"unicode"

	"uvent/core/fact/hours"
)

// In is where and by whom hours were written.
type In struct {
	Country   string   // ISO 3166-1 alpha-2; empty where it is not known
	Languages []string // BCP 47; none: those of the country
}

// Left is a piece of the text that could not be read.
type Left struct {
	From int    `json:"from"` // in characters from 0
	To   int    `json:"to"`
	Text string `json:"text"`
	Says string `json:"says"`
	// Besides: what is read holds without it, as the hours do where it is "or by appointment".
	Besides bool `json:"-"`
}

// Reading is what hours that were written come to.
type Reading struct {
	Schedule hours.Schedule
	Read     bool     // something could be read; what is in Left is not in Schedule
	Sure     bool     // nothing is left, and nobody would read it another way
	Readings []string // what was read one way and could be read another: “9-5” read as 9:00–17:00
	Left     []Left
	lent     int // words that were taken from another language
}

// noDays is what is said where no days are.
const noDays = "no days are said: read as every day"

// mostRunes is how long a text may be.
const mostRunes = 2000

// Read reads hours. What one language and another read alike is sure; where they differ, that of the
// place counts.
func Read(text string, in In) Reading {
	text = strings.Map(func(r rune) rune {
		if r != '\n' && r != '\t' && (unicode.IsSpace(r) || unicode.In(r, unicode.Cf)) { // and marks of direction
			return ' '
		}
		return r
	}, strings.ReplaceAll(text, "\r", "\n"))
	if strings.TrimSpace(text) == "" {
		return Reading{}
	}
	if len(text) > mostRunes*4 || len([]rune(text)) > mostRunes {
		return Reading{Left: []Left{{To: len([]rune(text)), Says: fmt.Sprintf("longer than %d characters", mostRunes)}}}
	}
	if s, warnings, err := hours.Parse(strings.TrimSpace(text)); err == nil {
		r := Reading{Schedule: s, Read: true, Sure: len(warnings) == 0 && !overlong(s)}
		if !strings.ContainsFunc(text, unicode.IsLetter) && !strings.Contains(text, "24/7") {
			r.Sure, r.Readings = false, []string{noDays}
		}
		return r
	}
	tokens := split(text)
	habit, known := habits[in.Country]
	at := in.Languages
	if len(at) == 0 && known {
		at = strings.Fields(habit.languages)
	}
	var all []Reading
	var spoken []*language
	for _, l := range languages {
		twelve := l.code == "en" // in which people count hours by twelve
		if known {
			twelve = habit.twelve
		}
		all, spoken = append(all, l.read(text, tokens, twelve, in.Country)), append(spoken, l)
	}
	return choose(all, spoken, at)
}

// overlong reports whether a sitting is so long that its end may be meant in the afternoon.
func overlong(s hours.Schedule) bool {
	return slices.ContainsFunc(s.Rules, func(r hours.Rule) bool {
		return slices.ContainsFunc(r.Sittings, func(o hours.Sitting) bool { return o.End-o.Start > 17*60 && o.End-o.Start < 24*60 })
	})
}

// choose takes, of the readings in several languages, the one that leaves least, and of those the
// one in a language of the place.
func choose(all []Reading, spoken []*language, at []string) Reading {
	cost := func(r Reading) (n int) {
		if !r.Read {
			n = mostRunes * 10
		}
		for _, l := range r.Left {
			n += l.To - l.From
		}
		return n
	}
	least := cost(all[0])
	for _, r := range all {
		least = min(least, cost(r))
	}
	lent := mostRunes
	for _, r := range all {
		if cost(r) == least {
			lent = min(lent, r.lent)
		}
	}
	good := func(r Reading) bool { return cost(r) == least && r.lent == lent }
	best := -1
	place := func(l *language) int {
		if i := slices.Index(at, l.code); i >= 0 {
			return i
		}
		return len(at)
	}
	for i, r := range all {
		if !good(r) {
			continue
		}
		if best < 0 || place(spoken[i]) < place(spoken[best]) || place(spoken[i]) == place(spoken[best]) && len(r.Readings) < len(all[best].Readings) {
			best = i
		}
	}
	out := all[best]
	for i, r := range all {
		if good(r) && i != best && r.Schedule.String() != out.Schedule.String() && place(spoken[best]) == len(at) && len(r.Readings) <= len(out.Readings) {
			out.Sure = false
			out.Readings = append(out.Readings, fmt.Sprintf("read as %s; in %s it would be %s", spoken[best].name, spoken[i].name, r.Schedule.Words()))
		}
	}
	return out
}

// choose notes a reading that was one of several.
func (r *reader) choose(format string, a ...any) {
	says := fmt.Sprintf(format, a...)
	if !slices.Contains(r.choices, says) {
		r.choices = append(r.choices, says)
	}
}

// dayWords are weekdays as people read them.
func dayWords(d hours.DaySet) string {
	return strings.TrimSuffix(hours.Schedule{Rules: []hours.Rule{{Days: d, Kind: hours.Closed}}}.Words(), " closed")
}

// read reads a text in one language.
func (l *language) read(text string, tokens []token, twelve bool, country string) Reading {
	r := &reader{language: l, twelve: twelve, atoms: l.atoms(text, tokens)}
	r.country = country != ""
	r.dayEnd = r.country && country != "US" && country != "PH" && country != "CA" || !r.country && l.code != "en"
	list := r.elements()
	a := assembly{runes: []rune(text), choices: r.choices}
	for _, e := range list {
		for _, s := range e.spans {
			for _, p := range []point{s.from, s.to} {
				a.by12 = a.by12 || p.half == before || p.half == after
				a.by24 = a.by24 || p.by24
			}
		}
	}
	a.by24 = !a.by12 && (a.by24 || !twelve)
	out := a.put(list)
	for _, at := range r.atoms {
		if at.lent {
			out.lent++
		}
	}
	return out
}
