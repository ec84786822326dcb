// Package language says things to owners in their own language. What is said in each stands in one file, texts/en.yaml for
// English; a language is a file.
package language

import (
	"embed"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/goccy/go-yaml"

	"uvent/core/fact/calendar"
)

// Language is one that owners are written to in, by its two letters (ISO 639-1).
type Language string

// English is what owners are written to in of whom nothing else is known.
const English Language = "en"

//go:embed texts/*.yaml
var files embed.FS

// spoken are the texts of a language, and how it writes days.
type spoken struct {
	Name    string
	Days    []string // from Sunday, short
	Months  []string // short
	Numbers []string // from one, as a sentence begins with them
	Texts   map[string]string
}

var all = func() map[Language]spoken {
	out := map[Language]spoken{}
	entries, err := files.ReadDir("texts")
	for _, e := range entries {
		data, broken := files.ReadFile("texts/" + e.Name())
		if broken != nil {
			panic(broken)
		}
		var s spoken
		if err := yaml.Unmarshal(data, &s); err != nil {
			panic(fmt.Errorf("%s: %w", e.Name(), err))
		}
		out[Language(strings.TrimSuffix(e.Name(), ".yaml"))] = s
	}
	if err != nil {
		panic(err)
	}
	return out
}()

// All are the languages that there are, English first.
func All() []Language {
	out := []Language{English}
	for l := range all {
		if l != English {
			out = append(out, l)
		}
	}
	slices.Sort(out[1:])
	return out
}

// Of is a language by its letters; English where it is none that there is.
func Of(letters string) Language {
	if l := Language(letters); l.Known() {
		return l
	}
	return English
}

// Known reports whether there are texts in it.
func (l Language) Known() bool { _, is := all[l]; return is }

// Name is what its speakers call it.
func (l Language) Name() string { return all[Of(string(l))].Name }

// Say is the text with a key, with {name} for each name replaced by what follows it: Say("until", "day", "Fri 27 Nov"). What is
// given is written as it is; numbers and words alike.
func (l Language) Say(key string, with ...any) string {
	text, is := all[Of(string(l))].Texts[key]
	if !is {
		return key
	}
	pairs := make([]string, 0, len(with))
	for i := 0; i+1 < len(with); i += 2 {
		pairs = append(pairs, "{"+fmt.Sprint(with[i])+"}", fmt.Sprint(with[i+1]))
	}
	return strings.NewReplacer(pairs...).Replace(text)
}

// Has reports whether there is a text with a key.
func (l Language) Has(key string) bool { _, is := all[Of(string(l))].Texts[key]; return is }

// Texts are those whose keys begin with a word and a dot, without these: labels of a page.
func (l Language) Texts(of string) map[string]string {
	out := map[string]string{}
	for key, text := range all[Of(string(l))].Texts {
		if rest, is := strings.CutPrefix(key, of+"."); is {
			out[rest] = text
		}
	}
	return out
}

// Number is a small number as a word that begins a sentence: "Three"; digits from thirteen on.
func (l Language) Number(n int) string {
	words := all[Of(string(l))].Numbers
	if n < 1 || n > len(words) {
		return fmt.Sprint(n)
	}
	return words[n-1]
}

// Day writes a date: "Thu 3 Dec".
func (l Language) Day(d calendar.Date) string {
	s, t := all[Of(string(l))], d.In(time.UTC)
	return fmt.Sprintf("%s %d %s", s.Days[t.Weekday()], t.Day(), s.Months[t.Month()-1])
}

// When writes the day of a moment in a zone: "today", "tomorrow" or "on Thu 3 Dec".
func (l Language) When(t, now time.Time, zone *time.Location) string {
	day, today := calendar.DateOf(t.In(zone)), calendar.DateOf(now.In(zone))
	switch day.Number() - today.Number() {
	case 0:
		return l.Say("today")
	case 1:
		return l.Say("tomorrow")
	}
	return l.Say("on", "day", l.Day(day))
}

// Moment writes a moment in a zone, with its day: "today at 17:00".
func (l Language) Moment(t, now time.Time, zone *time.Location) string {
	return l.Say("moment", "when", l.When(t, now, zone), "clock", t.In(zone).Format("15:04"))
}

// Until writes an end: "Fri 27 Nov at 09:40".
func (l Language) Until(t time.Time, zone *time.Location) string {
	return l.Say("moment", "when", l.Day(calendar.DateOf(t.In(zone))), "clock", t.In(zone).Format("15:04"))
}
