package hours

import "unicode"

type tokenKind uint8

const (
	endToken     tokenKind = iota
	wordToken              // letters: Mo, PH, off, Jan
	numberToken            // digits: 24, 2026
	timeToken              // 09:00
	commentToken           // "by appointment", without its quotes
	markToken              // , ; - : and whatever else is one character
	alwaysToken            // 24/7
	elseToken              // ||
)

type token struct {
	kind   tokenKind
	text   string
	column int // of its first character, counted from 1
}

// split cuts a text into tokens. The last one is an endToken.
func split(s string) ([]token, *Error) {
	text := []rune(s)
	out := make([]token, 0, 24)
	digits := func(from int) int {
		to := from
		for to < len(text) && text[to] >= '0' && text[to] <= '9' {
			to++
		}
		return to
	}
	for i := 0; i < len(text); {
		c, start := text[i], i
		kind := markToken
		switch {
		case unicode.IsSpace(c):
			i++
			continue
		case c == '2' && i+4 <= len(text) && text[i+1] == '4' && text[i+2] == '/' && text[i+3] == '7':
			kind, i = alwaysToken, i+4
		case c >= '0' && c <= '9':
			kind, i = numberToken, digits(i)
			if i < len(text) && text[i] == ':' && i-start <= 2 && digits(i+1) == i+3 {
				kind, i = timeToken, i+3
			}
		case unicode.IsLetter(c):
			for i < len(text) && unicode.IsLetter(text[i]) {
				i++
			}
			kind = wordToken
		case c == '"':
			for i++; i < len(text) && text[i] != '"'; i++ {
			}
			if i == len(text) {
				return nil, &Error{start + 1, `the comment that starts here has no closing quote; end it with "`}
			}
			i++
			out = append(out, token{commentToken, string(text[start+1 : i-1]), start + 1})
			continue
		case c == '|' && i+1 < len(text) && text[i+1] == '|':
			kind, i = elseToken, i+2
		case c == '–' || c == '—' || c == '−':
			out = append(out, token{markToken, "-", start + 1})
			i++
			continue
		default:
			i++
		}
		out = append(out, token{kind, string(text[start:i]), start + 1})
	}
	return append(out, token{endToken, "", len(text) + 1}), nil
}
