package table

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"regexp"
	"strings"
	"unicode"
	"unicode/utf16"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
)

// Encoding is how a file's characters are written.
type Encoding string

const (
	UTF8        Encoding = "UTF-8"
	UTF16LE     Encoding = "UTF-16 (little endian)"
	UTF16BE     Encoding = "UTF-16 (big endian)"
	Windows1252 Encoding = "windows-1252"
)

// Encodings are those in which text can be read.
func Encodings() []Encoding { return []Encoding{UTF8, UTF16LE, UTF16BE, Windows1252} }

// decode gives a file's text in UTF-8, from the encoding that is told or found.
func decode(data []byte, told Encoding) (text []byte, as Encoding, err error) {
	as = told
	if as == "" {
		as = found(data)
	}
	switch as {
	case UTF16LE:
		text = wide(bytes.TrimPrefix(data, []byte("\xff\xfe")), binary.LittleEndian)
	case UTF16BE:
		text = wide(bytes.TrimPrefix(data, []byte("\xfe\xff")), binary.BigEndian)
	case UTF8:
		text = bytes.ToValidUTF8(bytes.TrimPrefix(data, []byte("\xef\xbb\xbf")), []byte("\ufffd"))
	case Windows1252:
		if text, err = charmap.Windows1252.NewDecoder().Bytes(data); err != nil {
			return nil, "", &Error{0, "the file is in no encoding that is read here; save it as CSV in UTF-8"}
		}
	default:
		return nil, "", &Error{0, fmt.Sprintf("%q is no encoding that is read here", as)}
	}
	if at := bytes.IndexByte(text, 0); at >= 0 {
		return nil, "", &Error{1 + bytes.Count(text[:at], []byte("\n")), "the file holds a zero byte and so is no text; save it as CSV in UTF-8"}
	}
	// A spreadsheet of old ends its lines with a carriage return alone.
	if !bytes.ContainsRune(text, '\n') {
		text = bytes.ReplaceAll(text, []byte("\r"), []byte("\n"))
	}
	return text, as, nil
}

// found tells how a file is written: a byte order mark tells, or zero bytes in every other place; what is
// no UTF-8 is taken for windows-1252 (WHATWG's Encoding Standard takes it so too).
func found(data []byte) Encoding {
	switch {
	case bytes.HasPrefix(data, []byte("\xff\xfe")), zeros(data, 1):
		return UTF16LE
	case bytes.HasPrefix(data, []byte("\xfe\xff")), zeros(data, 0):
		return UTF16BE
	case utf8.Valid(data):
		return UTF8
	}
	return Windows1252
}

// wide reads UTF-16.
func wide(data []byte, order binary.ByteOrder) []byte {
	units := make([]uint16, len(data)/2)
	for i := range units {
		units[i] = order.Uint16(data[2*i:])
	}
	return []byte(string(utf16.Decode(units)))
}

// zeros reports whether nearly every other byte, from one on, is zero, as of Latin letters in UTF-16
// without a byte order mark.
func zeros(data []byte, from int) bool {
	n := min(len(data), 400) / 2
	zero := 0
	for i := range n {
		if data[2*i+from] == 0 {
			zero++
		}
	}
	return n >= 4 && zero*10 >= n*8
}

// Clean is a cell's text as it is meant: without marks of direction and other characters that cannot
// be seen, with plain spaces, trimmed, and without the apostrophe by which a spreadsheet marks a
// text.
func Clean(cell string) string {
	if strings.ContainsFunc(cell, func(r rune) bool { return r > unicode.MaxASCII }) {
		cell = strings.Map(func(r rune) rune {
			switch {
			case unicode.In(r, unicode.Cf):
				return -1
			case r != '\n' && unicode.Is(unicode.Zs, r):
				return ' '
			}
			return r
		}, cell)
	}
	return Unguard(strings.TrimSpace(cell))
}

// formula is how a spreadsheet keeps a text that looks like a number: ="0012".
var formula = regexp.MustCompile(`^="([^"]*)"$`)

// Guard keeps a spreadsheet from taking a text for a formula, by an apostrophe
// before it. Numbers, and phones with their plus, are left alone.
func Guard(s string) string {
	rest := strings.TrimLeft(s, "'")
	if rest != "" && rest != s && rest[0] >= '0' && rest[0] <= '9' {
		return "'" + s // a spreadsheet's mark of a text, which it is not
	}
	if rest == "" || !strings.ContainsRune("=+-@", rune(rest[0])) || s == rest && strings.Trim(rest[1:], "0123456789.") == "" && rest[0] != '=' && rest[0] != '@' {
		return s
	}
	return "'" + s
}

// Unguard is the text that Guard, or a spreadsheet, has guarded.
func Unguard(s string) string {
	if rest := strings.TrimLeft(s, "'"); rest != s && rest != "" && strings.ContainsRune("=+-@0123456789", rune(rest[0])) {
		return s[1:]
	}
	if m := formula.FindStringSubmatch(s); m != nil {
		return m[1]
	}
	return s
}

// Readable are the encodings in which a file can be read, the one that is found first.
func Readable(data []byte) []Encoding {
	if bytes.HasPrefix(data, []byte("PK\x03\x04")) {
		return []Encoding{XLSX}
	}
	out := []Encoding{found(data)}
	for _, e := range Encodings() {
		if e == out[0] || (e == UTF16LE || e == UTF16BE) && (len(data)%2 != 0 || out[0] == UTF8) {
			continue
		}
		if _, _, err := decode(data, e); err == nil {
			out = append(out, e)
		}
	}
	return out
}
