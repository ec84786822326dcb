package sheet

import (
	"bytes"
	"encoding/binary"
	"fmt"
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

// decode finds how a file is written, and gives its text in UTF-8. A byte order mark tells, or zero
// bytes in every other place; what is no UTF-8 is taken for windows-1252 (WHATWG's Encoding
// Standard takes it so too).
func decode(data []byte) (text []byte, as Encoding, err error) {
	switch {
	case bytes.HasPrefix(data, []byte("PK\x03\x04")), bytes.HasPrefix(data, []byte("\xd0\xcf\x11\xe0")):
		return nil, "", &Error{0, "the file is a spreadsheet's own format; save it as CSV"}
	case bytes.HasPrefix(data, []byte("\xff\xfe")):
		text, as = wide(data[2:], binary.LittleEndian), UTF16LE
	case bytes.HasPrefix(data, []byte("\xfe\xff")):
		text, as = wide(data[2:], binary.BigEndian), UTF16BE
	case zeros(data, 1):
		text, as = wide(data, binary.LittleEndian), UTF16LE
	case zeros(data, 0):
		text, as = wide(data, binary.BigEndian), UTF16BE
	case utf8.Valid(data):
		text, as = bytes.TrimPrefix(data, []byte("\xef\xbb\xbf")), UTF8
	default:
		if text, err = charmap.Windows1252.NewDecoder().Bytes(data); err != nil {
			return nil, "", &Error{0, "the file is in no encoding that is read here; save it as CSV in UTF-8"}
		}
		as = Windows1252
	}
	if at := bytes.IndexByte(text, 0); at >= 0 {
		return nil, "", &Error{1 + bytes.Count(text[:at], []byte("\n")), "the file holds a zero byte and so is no text; save it as CSV in UTF-8"}
	}
	return text, as, nil
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

// clean is a cell's text as it is meant: without marks of direction and other characters that cannot
// be seen, with plain spaces, trimmed, and without the apostrophe by which a spreadsheet marks a
// text.
func clean(cell string) string {
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
	return unguard(strings.TrimSpace(cell))
}

// Skipped is a row that is no location.
type Skipped struct {
	Line int    `json:"line"`
	Says string `json:"says"`
}

// totals are what the first cell of a row says that adds others up.
var totals = []string{"total", "totals", "grand total", "sum", "subtotal", "summe", "gesamt", "total general", "somme"}

// noLocation says why a row is none: it repeats the header, or adds up.
func (s Sheet) noLocation(cells []string) string {
	same, full, first := 0, 0, ""
	for i, c := range cells {
		if c = clean(c); c == "" {
			continue
		}
		if full++; first == "" {
			first = strings.ToLower(strings.TrimRight(c, ": "))
		}
		if i < len(s.Header) && strings.EqualFold(c, s.Header[i]) {
			same++
		}
	}
	if same > 1 && same == full {
		return "it repeats the header"
	}
	for _, t := range totals {
		if first == t && full <= 3 {
			return fmt.Sprintf("it adds up the others (“%s”)", first)
		}
	}
	return ""
}
