// Package prose finds in a business's own words what directories refuse or
// readers dislike: contact details, shouting, stuffing, doubled words. Each
// finding says where it stands and why.
package prose

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Finding is one thing to mend.
type Finding struct {
	Start int    `json:"start"` // of the place, in characters from 0
	End   int    `json:"end"`   // after it
	Says  string `json:"says"`
}

var (
	email   = regexp.MustCompile(`[\pL\d._%+-]+@[\pL\d-]+(\.[\pL\d-]+)+`)
	address = regexp.MustCompile(`(?i)\b(https?://|www\.)\S+|\b[a-z\d-]+\.(com|net|org|info|biz|example|ca|us|shop)\b(/\S*)?`)
	phone   = regexp.MustCompile(`\+?\(?\d[\d\s().\-/]{5,}\d`)
	marks   = regexp.MustCompile(`[!?]{2,}|!`)
	gap     = regexp.MustCompile(`\pL[.,;:!?]\pL{2,}|\pL\s+[,;:.!?]|\S  +\S`)
	word    = regexp.MustCompile(`[\pL\d'’]+`)
)

// leastDigits of a number that is taken for a phone: fewer are a year or a count.
const leastDigits = 7

// Check finds what is to be mended in a text. The findings are in the order of
// their places and do not overlap.
func Check(text string) []Finding {
	var out []Finding
	add := func(at []int, format string, a ...any) {
		f := Finding{utf8.RuneCountInString(text[:at[0]]), utf8.RuneCountInString(text[:at[1]]), fmt.Sprintf(format, a...)}
		if !slices.ContainsFunc(out, func(o Finding) bool { return f.Start < o.End && o.Start < f.End }) {
			out = append(out, f)
		}
	}
	for _, at := range email.FindAllStringIndex(text, -1) {
		add(at, "An email address in the words is refused by most directories; it has a field of its own.")
	}
	for _, at := range address.FindAllStringIndex(text, -1) {
		add(at, "A web address in the words is refused by most directories; it has a field of its own.")
	}
	for _, at := range phone.FindAllStringIndex(text, -1) {
		if strings.Count(strings.Map(onlyDigits, text[at[0]:at[1]]), "") > leastDigits {
			add(at, "A phone number in the words is refused by most directories; it has a field of its own.")
		}
	}
	shouting(text, add)
	for _, at := range marks.FindAllStringIndex(text, -1) {
		add(at, "An exclamation mark reads as shouting; end the sentence with a full stop.")
	}
	doubled(text, add)
	stuffing(text, add)
	for _, at := range gap.FindAllStringIndex(text, -1) {
		add(at, "The spaces around the punctuation are off.")
	}
	slices.SortFunc(out, func(a, b Finding) int { return a.Start - b.Start })
	return out
}

func onlyDigits(r rune) rune {
	if unicode.IsDigit(r) {
		return r
	}
	return -1
}

// shouting is two words or more in capitals in a row, or one long one.
func shouting(text string, add func([]int, string, ...any)) {
	words := word.FindAllStringIndex(text, -1)
	for i := 0; i < len(words); i++ {
		n := i
		for n < len(words) && capitals(text[words[n][0]:words[n][1]]) {
			n++
		}
		letters := 0
		for _, w := range words[i:n] {
			letters += w[1] - w[0]
		}
		if n-i > 1 && letters > 5 || n-i == 1 && letters > 6 {
			add([]int{words[i][0], words[n-1][1]}, "Capitals throughout read as shouting.")
		}
		i = max(i, n-1)
	}
}

func capitals(w string) bool {
	return utf8.RuneCountInString(w) > 1 && strings.ToUpper(w) == w && strings.ToLower(w) != w
}

func doubled(text string, add func([]int, string, ...any)) {
	words := word.FindAllStringIndex(text, -1)
	for i := 1; i < len(words); i++ {
		a, b := text[words[i-1][0]:words[i-1][1]], text[words[i][0]:words[i][1]]
		between := text[words[i-1][1]:words[i][0]]
		if strings.EqualFold(a, b) && strings.TrimSpace(between) == "" && strings.IndexFunc(a, unicode.IsLetter) >= 0 {
			add([]int{words[i][0], words[i][1]}, "“%s” stands twice.", b)
		}
	}
}

// common are words that any text repeats.
var common = strings.Fields(
	"a about after all also always am an and any are as at be because been before being both but by can come did do does doing down during each " +
		"every few for from get got had has have having he her here hers him his how i if in into is it its just like me more most my no nor not of " +
		"off on one only or other our out over own she since so some such than that the their them then there these they this those through to " +
		"too under until up us very was we were what when where which while who whom whose why will with would you your",
)

// Stuffing is a word that stands oftener than people write it: over a tenth of
// a text of some length.
const (
	stuffedTimes = 4
	stuffedShare = 0.1
)

func stuffing(text string, add func([]int, string, ...any)) {
	words := word.FindAllStringIndex(text, -1)
	places := map[string][][]int{}
	for _, at := range words {
		w := strings.ToLower(text[at[0]:at[1]])
		if utf8.RuneCountInString(w) > 2 && !slices.Contains(common, w) {
			places[w] = append(places[w], at)
		}
	}
	for w, at := range places {
		if len(at) >= stuffedTimes && float64(len(at)) > stuffedShare*float64(len(words)) {
			add(at[stuffedTimes-1], "“%s” stands %d times; that reads as stuffing.", w, len(at))
		}
	}
}
