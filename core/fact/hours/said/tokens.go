package said

import (
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// shape is what a token looks like.
type shape uint8

const (
	word   shape = iota // letters, folded: "mon", "fermé" as "ferme"
	number              // up to four digits
	clock               // hours and minutes: 9:30, 9.30, 9h30
	mark                // one of - , ; | / & + ( ) \n \t :
)

// token is a piece of the text.
type token struct {
	shape  shape
	text   string // folded
	from   int    // where it stands, in runes from 0
	to     int
	hour   int // of a clock or a number
	minute int
	zero   bool // it is written with a leading zero
	glued  bool // it stands right behind the one before it
	h      bool // a clock with an h: 9h30
	upper  int  // how many of a word's letters are capitals
}

// marks are what other characters stand for; what is not here and no letter or digit is a space.
var marks = map[rune]rune{
	'-': '-', '‐': '-', '‑': '-', '‒': '-', '–': '-', '—': '-', '―': '-', '−': '-', '~': '-', '〜': '-', '～': '-', '→': '-', '>': '-',
	',': ',', '、': ',', '،': ',', ';': ';', '؛': ';', '|': '|', '¦': '|', '•': '|', '·': '|', '●': '|', '*': '|', '/': '/', '&': '&', '+': '+',
	'(': '(', ')': ')', '[': '(', ']': ')', '\n': '\n', '\r': '\n', '\t': '\t', ':': ':', '：': ':', '=': ':',
}

// fold is a word in small letters without accents.
func fold(s string) string {
	var b strings.Builder
	for _, r := range norm.NFKD.String(strings.ToLower(s)) {
		if !unicode.Is(unicode.Mn, r) {
			b.WriteRune(r)
		}
	}
	return strings.NewReplacer("ß", "ss", "’", "'", "ʼ", "'").Replace(b.String())
}

// split cuts a text into tokens. Dots and characters that mean nothing here are left out.
func split(text string) (out []token) {
	runes := []rune(text)
	digit := func(i int) bool { return i < len(runes) && runes[i] >= '0' && runes[i] <= '9' }
	value := func(i, j int) (n int) {
		for ; i < j; i++ {
			n = 10*n + int(runes[i]-'0')
		}
		return n
	}
	end := 0 // of the last token
	add := func(t token) {
		t.glued = len(out) > 0 && t.from == end
		out = append(out, t)
		end = t.to
	}
	for i := 0; i < len(runes); {
		r := runes[i]
		switch {
		case digit(i):
			j := i
			for digit(j) {
				j++
			}
			t := token{shape: number, from: i, to: j, text: string(runes[i:j]), zero: r == '0' && j-i == 2}
			if j-i <= 4 {
				t.hour = value(i, j)
			}
			if k := minutes(runes, i, j, digit); k > 0 {
				t.shape, t.minute, t.to, t.h = clock, value(k-2, k), k, strings.ContainsRune("hH ", runes[j])
			}
			add(t)
			i = t.to
		case unicode.IsLetter(r):
			j, upper := i, 0
			apostrophe := func(j int) bool {
				return (runes[j] == '\'' || runes[j] == '’') && j > i && j+1 < len(runes) && unicode.IsLetter(runes[j+1])
			}
			for j < len(runes) && (unicode.IsLetter(runes[j]) || unicode.Is(unicode.Mn, runes[j]) || apostrophe(j)) {
				if unicode.IsUpper(runes[j]) {
					upper++
				}
				j++
			}
			// Letters with dots between them are one word: a.m., p. m.
			if w, k := dotted(runes, i, j); k > 0 {
				add(token{shape: word, text: w, from: i, to: k})
				i = k
				continue
			}
			add(token{shape: word, text: fold(string(runes[i:j])), from: i, to: j, upper: upper})
			i = j
		case marks[r] != 0:
			m := string(marks[r])
			if m == "\n" && len(out) > 0 && out[len(out)-1].text == "\n" {
				i++
				continue
			}
			add(token{shape: mark, text: m, from: i, to: i + 1})
			i++
		default:
			i++
		}
	}
	return out
}

// minutes is where a clock ends that begins with the digits from i to j; 0 where it is none: 9:30,
// 9.30, 9h30, 9 h 30.
func minutes(runes []rune, i, j int, digit func(int) bool) int {
	if j-i > 2 || j >= len(runes) {
		return 0
	}
	var k int
	switch r := runes[j]; {
	case r == ':' || r == '：' || r == '.' || r == '\'' || r == '’':
		k = j + 1
	case r == ' ' && j+2 < len(runes) && (runes[j+1] == 'h' || runes[j+1] == 'H'): // 17 h 30
		for k = j + 2; k < len(runes) && runes[k] == ' '; k++ {
		}
	case r == 'h' || r == 'H':
		for k = j + 1; k < len(runes) && runes[k] == ' '; k++ {
		}
	default:
		return 0
	}
	if !digit(k) || !digit(k+1) || digit(k+2) {
		return 0
	}
	if runes[k-1] == ' ' && k+2 < len(runes) && strings.ContainsRune("hH:", runes[k+2]) {
		return 0 // 12h 13h30 are two
	}
	// A date is no clock: 24.12. or 24.12.2026
	if runes[j] == '.' && k+2 < len(runes) && runes[k+2] == '.' && (k+3 >= len(runes) || digit(k+3) || runes[k+3] == ' ') {
		return 0
	}
	if (runes[k]-'0')*10+(runes[k+1]-'0') > 59 {
		return 0
	}
	return k + 2
}

// dotted is a word of single letters with dots, without them, and where it ends; 0 for none.
func dotted(runes []rune, i, j int) (string, int) {
	if j-i != 1 || j >= len(runes) || runes[j] != '.' {
		return "", 0
	}
	w, k := string(runes[i]), j+1
	at := k
	for at < len(runes) && runes[at] == ' ' {
		at++
	}
	if at >= len(runes) || !strings.ContainsRune("mM", runes[at]) || at+1 < len(runes) && unicode.IsLetter(runes[at+1]) ||
		!strings.ContainsRune("aApP", runes[i]) {
		return "", 0
	}
	w, k = w+string(runes[at]), at+1
	if k < len(runes) && runes[k] == '.' {
		k++
	}
	return strings.ToLower(w), k
}
