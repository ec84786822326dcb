package said

import (
	"regexp"
	"strconv"
	"strings"
	"time"

	"uvent/core/fact/hours"
)

// atom is a piece of the text with what it means in one language.
type atom struct {
	token
	sense
	date  hours.MonthDay // of a date in digits
	loose bool           // day and month of the date may have changed places
	dated bool
	times bool // a number or a clock
	lent  bool // the word is another language's
}

// atoms says what the tokens mean in a language: the longest phrase counts. What the language does
// not know and all others that do agree on is taken from them.
func (l *language) atoms(text string, tokens []token) (out []atom) {
	runes := []rune(text)
	for i := 0; i < len(tokens); {
		t := tokens[i]
		if t.shape != word {
			if d, loose, end := digits(runes, t.from); end > 0 {
				a := atom{token: t, date: d, loose: loose, dated: true}
				for ; i < len(tokens) && tokens[i].from < end; i++ {
					a.to = max(tokens[i].to, end)
				}
				out = append(out, a)
				continue
			}
		}
		if s, n, lent := l.phrase(tokens[i:], len(out) > 0 && out[len(out)-1].joins()); n > 0 {
			a := atom{token: t, sense: s, lent: lent}
			a.to = tokens[i+n-1].to
			out = append(out, a)
			i += n
			continue
		}
		out = append(out, atom{token: t, times: t.shape == number || t.shape == clock})
		i++
	}
	return out
}

// joins reports whether what follows belongs to what stands before.
func (a atom) joins() bool { return a.shape == mark && a.text == "-" || a.kind == to }

// phrase finds the longest phrase that tokens begin with, and of how many it is made. After a dash a
// number is an hour and begins no phrase.
func (l *language) phrase(tokens []token, joined bool) (s sense, n int, lent bool) {
	if joined && tokens[0].shape != word {
		return sense{}, 0, false
	}
	for n = min(l.longest, len(tokens)); n > 0; n-- {
		words := make([]string, n)
		for i, t := range tokens[:n] {
			if words[i] = t.text; t.shape == clock || t.text == "\n" || t.text == "\t" || t.text == ";" || t.text == "|" {
				words = nil
				break
			}
		}
		if words == nil {
			continue
		}
		s, own, ok := l.meaning(strings.Join(words, " "))
		if ok && (n > 1 || tokens[0].shape == word) {
			return s, n, !own
		}
	}
	return sense{}, 0, false
}

// meaning is what a phrase means in the language, or else in all others that know it.
func (l *language) meaning(phrase string) (found sense, own, known bool) {
	if s, ok := l.senses[phrase]; ok {
		return s, true, true
	}
	for _, other := range languages {
		s, ok := other.senses[phrase]
		switch {
		case !ok || other == l || s.kind == initial:
		case known && s != found:
			return sense{}, false, false
		default:
			found, known = s, true
		}
	}
	return found, false, known
}

var (
	isoDate   = regexp.MustCompile(`^(\d{4})-(\d{1,2})-(\d{1,2})(?:\D|$)`)
	dotDate   = regexp.MustCompile(`^(\d{1,2})\.\s?(\d{1,2})\.(?:(\d{2}|\s?\d{4})(?:\D|$))?`)
	slashDate = regexp.MustCompile(`^(\d{1,2})/(\d{1,2})(?:/(\d{4}|\d{2}))?(?:[^\d/-]|$)`)
)

// digits reads a date in digits that begins at a rune, and where it ends; 0 for none. Of one with
// slashes it is open which number is the month.
func digits(runes []rune, at int) (d hours.MonthDay, loose bool, end int) {
	if at > 0 && (runes[at-1] >= '0' && runes[at-1] <= '9' || runes[at-1] == '/') {
		return d, false, 0
	}
	rest := string(runes[at:min(len(runes), at+14)])
	n := func(s string) int { v, _ := strconv.Atoi(s); return v }
	year := func(s string) int {
		s = strings.TrimSpace(s)
		if len(s) == 2 {
			return 2000 + n(s)
		}
		return n(s)
	}
	if m := isoDate.FindStringSubmatch(rest); m != nil {
		d = hours.MonthDay{Year: n(m[1]), Month: time.Month(n(m[2])), Day: n(m[3])}
		return d, false, ends(d, at+len(m[1])+len(m[2])+len(m[3])+2)
	}
	if m := dotDate.FindStringSubmatch(rest); m != nil {
		d = hours.MonthDay{Year: year(m[3]), Month: time.Month(n(m[2])), Day: n(m[1])}
		size := len([]rune(strings.TrimRight(m[0], " ,;:-–")))
		if m[3] != "" {
			size = len([]rune(m[0][:strings.LastIndex(m[0], m[3])])) + len(m[3])
		}
		return d, false, ends(d, at+size)
	}
	if m := slashDate.FindStringSubmatch(rest); m != nil && (at == 0 || runes[at-1] != '-' && runes[at-1] != '–') {
		a, b := n(m[1]), n(m[2])
		if a == 24 || a == 7 && b == 7 {
			return d, false, 0
		}
		size := len(m[1]) + 1 + len(m[2])
		if m[3] != "" {
			size += 1 + len(m[3])
		}
		d = hours.MonthDay{Year: year(m[3]), Month: time.Month(a), Day: b}
		if a > 12 {
			d.Month, d.Day = time.Month(b), a
		}
		return d, a <= 12 && b <= 12, ends(d, at+size)
	}
	return d, false, 0
}

// ends is where a date ends; 0 where there is no such day.
func ends(d hours.MonthDay, at int) int {
	if d.Month < 1 || d.Month > 12 || d.Day < 1 || d.Day > 31 {
		return 0
	}
	return at
}
