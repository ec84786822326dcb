package hours

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

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

// split cuts a text into tokens, which share its memory. The last one is an
// endToken.
func split(s string) ([]token, *Error) {
	out := make([]token, 0, min(8+len(s)/2, 64))
	digits := func(from int) int {
		for from < len(s) && s[from] >= '0' && s[from] <= '9' {
			from++
		}
		return from
	}
	column := 1
	for i := 0; i < len(s); {
		c, size := utf8.DecodeRuneInString(s[i:])
		t := token{kind: markToken, column: column}
		end := i + size
		switch {
		case unicode.IsSpace(c):
			i, column = end, column+1
			continue
		case c >= '0' && c <= '9':
			if t.kind, end = numberToken, digits(i); strings.HasPrefix(s[i:], "24/7") {
				t.kind, end = alwaysToken, i+len("24/7")
			} else if end < len(s) && s[end] == ':' && end-i <= 2 && digits(end+1) == end+3 {
				t.kind, end = timeToken, end+3
			}
		case unicode.IsLetter(c):
			for end < len(s) {
				next, size := utf8.DecodeRuneInString(s[end:])
				if !unicode.IsLetter(next) {
					break
				}
				end += size
			}
			t.kind = wordToken
		case c == '"':
			closing := strings.IndexByte(s[end:], '"')
			if closing < 0 {
				return nil, &Error{column, `the comment that starts here has no closing quote; end it with "`}
			}
			t.kind, t.text, end = commentToken, s[end:end+closing], end+closing+1
		case strings.HasPrefix(s[i:], "||"):
			t.kind, end = elseToken, i+len("||")
		case c == '–' || c == '—' || c == '−':
			t.text = "-"
		}
		if t.text == "" && t.kind != commentToken {
			t.text = s[i:end]
		}
		out = append(out, t)
		column += utf8.RuneCountInString(s[i:end])
		i = end
	}
	return append(out, token{endToken, "", column}), nil
}
