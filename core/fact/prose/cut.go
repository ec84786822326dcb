package prose

import (
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/rivo/uniseg"
)

// Cut shortens a text to at most so many characters: after a whole sentence where
// enough of the text is left so, else after a whole word, with an ellipsis. It
// never parts a word, an HTML entity or what people see as one character (UAX #29).
// cut is false where the text fits as it is.
func Cut(text string, most int) (out string, cut bool) {
	if utf8.RuneCountInString(text) <= most {
		return text, false
	}
	if s := sentences(text, most); 3*utf8.RuneCountInString(s) >= most {
		return s, true
	}
	return words(text, most), true
}

// Starts reports whether Cut leaves anything of a text: whether its first word fits,
// with an ellipsis. It costs far less than cutting.
func Starts(text string, most int) bool {
	if utf8.RuneCountInString(text) <= most {
		return text != ""
	}
	begun := false
	n := 0
	for _, r := range text {
		if begun && unicode.IsSpace(r) {
			return n < most
		}
		begun = begun || unicode.IsLetter(r) || unicode.IsDigit(r)
		if n++; n >= most {
			break
		}
	}
	out, _ := Cut(text, most)
	return out != ""
}

// sentences is as much of a text as fits in whole sentences.
func sentences(text string, most int) string {
	end, count := 0, 0
	for rest, state := text, -1; rest != ""; {
		var s string
		s, rest, state = uniseg.FirstSentenceInString(rest, state)
		if count += utf8.RuneCountInString(s); count-trailing(s) > most {
			break
		}
		end += len(s)
		if rest == "" || !strings.ContainsAny(s, ".!?…\n") { // a text's last words are no sentence by themselves
			break
		}
	}
	return strings.TrimRightFunc(text[:end], unicode.IsSpace)
}

// trailing counts the spaces that a text ends with.
func trailing(s string) int {
	return utf8.RuneCountInString(s) - utf8.RuneCountInString(strings.TrimRightFunc(s, unicode.IsSpace))
}

const ellipsis = "…"

var lastEntity = regexp.MustCompile(`&(#\d+|#[xX][0-9a-fA-F]+|\w+);$`)

var entity = regexp.MustCompile(`&(#\d+|#[xX][0-9a-fA-F]+|\w+);`)

// words is as much of a text as fits in whole words, with an ellipsis; nothing
// where not even the first fits.
func words(text string, most int) string {
	end, count := 0, 0
	entities := entity.FindAllStringIndex(text, -1)
	for at, rest, state := 0, text, -1; rest != ""; {
		var w string
		w, rest, state = uniseg.FirstWordInString(rest, state)
		at += len(w)
		if count += utf8.RuneCountInString(w); count > most-1 {
			break
		}
		if whole(text, at, entities) {
			end = at
		}
	}
	kept := trimmed(text[:end])
	if kept == "" || most < 2 {
		return ""
	}
	return kept + ellipsis
}

// trimmed takes off what a shortened text should not end with; the semicolon of an
// entity is part of it.
func trimmed(text string) string {
	for {
		r, size := utf8.DecodeLastRuneInString(text)
		if size == 0 || !unicode.IsSpace(r) && !strings.ContainsRune(",;:–-(", r) {
			return text
		}
		if r == ';' && lastEntity.MatchString(text) {
			return text
		}
		text = text[:len(text)-size]
	}
}

// whole reports whether a text can be parted at a place: no entity, word or
// character goes over it.
func whole(text string, at int, entities [][]int) bool {
	for _, e := range entities {
		if e[0] < at && at < e[1] {
			return false
		}
	}
	before, _ := utf8.DecodeLastRuneInString(text[:at])
	after, _ := utf8.DecodeRuneInString(text[at:])
	return at == len(text) || !joins(before) || !joins(after)
}

// joins reports whether a character is part of a word; signs such as the hyphen
// within one are.
func joins(r rune) bool {
	return unicode.IsLetter(r) || unicode.IsDigit(r) || unicode.IsMark(r) || strings.ContainsRune("'’-&@_/", r)
}
