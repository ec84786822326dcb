package fit

import (
	"fmt"
	"strings"
	"unicode/utf8"

	"uvent/core/prose"
	"uvent/core/record"
	"uvent/core/rulebook"
)

// TextFit is what a directory is given for one of its places for words.
type TextFit struct {
	Label string
	Text  string
	Says  string // how it was cut; empty where it goes as it is
}

// Texts are the words that a directory is given, each within its limit. What is
// not said is left out.
func Texts(r record.Record, book rulebook.Rulebook) (out []TextFit) {
	said := map[string]string{"tagline": r.Words.Tagline, "short": r.Words.Short, "medium": r.Words.Medium, "long": r.Words.Long, "story": r.Words.Story}
	for _, place := range book.Texts {
		text := said[place.Text]
		if text == "" {
			continue
		}
		f := TextFit{Label: place.Label}
		var cut bool
		if f.Text, cut = prose.Cut(text, place.MostCharacters); cut {
			f.Says = fmt.Sprintf("No word of the %s fits into its %d characters.", strings.ToLower(place.Label), place.MostCharacters)
		}
		if cut && f.Text != "" {
			f.Says = fmt.Sprintf("The %s is cut from %d characters to %d, after “%s”.", strings.ToLower(place.Label), utf8.RuneCountInString(text), utf8.RuneCountInString(f.Text), ending(f.Text))
		}
		out = append(out, f)
	}
	return out
}

// ending is a text's last few words.
func ending(text string) string {
	words := strings.Fields(text)
	return strings.Join(words[max(0, len(words)-4):], " ")
}
