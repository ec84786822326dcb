// Package sheet reads locations from CSV (RFC 4180, also with semicolons or
// tabs) and writes them so that they read back unchanged.
package sheet

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"
)

// Limits of one file.
const (
	MostBytes = 32 << 20
	MostRows  = 100_000
)

// Sheet is a CSV file: a header and rows of cells.
type Sheet struct {
	Delimiter rune     // ',', ';' or '\t'
	Header    []string // trimmed
	Rows      []Row
}

// Row is one row under the header.
type Row struct {
	Line  int // on which it starts, counted from 1
	Cells []string
}

// Error says why a file cannot be read as a table at all.
type Error struct {
	Line    int // 0 when the whole file is meant
	Message string
}

func (e *Error) Error() string {
	if e.Line == 0 {
		return e.Message
	}
	return fmt.Sprintf("line %d: %s", e.Line, e.Message)
}

var byteOrderMark = []byte("\xef\xbb\xbf")

// Read reads a file in UTF-8, with or without byte order mark, whose cells are
// parted by commas, semicolons or tabs. Quoted cells may hold line breaks. Rows
// with no text are left out. The error is of type *Error.
func Read(data []byte) (Sheet, error) {
	if len(data) > MostBytes {
		return Sheet{}, &Error{0, fmt.Sprintf("the file has %d MB; %d MB are read. Split it", len(data)>>20, MostBytes>>20)}
	}
	data = bytes.TrimPrefix(data, byteOrderMark)
	if err := checkText(data); err != nil {
		return Sheet{}, err
	}
	s := Sheet{Delimiter: delimiter(data)}
	r := csv.NewReader(bytes.NewReader(data))
	r.Comma, r.FieldsPerRecord, r.ReuseRecord = s.Delimiter, -1, true
	for {
		cells, err := r.Read()
		if err == io.EOF {
			break
		}
		var bad *csv.ParseError
		if errors.As(err, &bad) {
			return Sheet{}, &Error{bad.Line, quoteMessage(bad)}
		}
		if strings.TrimSpace(strings.Join(cells, "")) == "" {
			continue
		}
		line, _ := r.FieldPos(0)
		row := Row{Line: line, Cells: append([]string(nil), cells...)}
		if s.Header == nil {
			for i := range row.Cells {
				row.Cells[i] = strings.TrimSpace(row.Cells[i])
			}
			s.Header = row.Cells
			continue
		}
		if s.Rows = append(s.Rows, row); len(s.Rows) > MostRows {
			return Sheet{}, &Error{line, fmt.Sprintf("the file has more than %d rows; split it", MostRows)}
		}
	}
	if s.Header == nil {
		return Sheet{}, &Error{0, "the file is empty; its first line must name the columns"}
	}
	if len(s.Rows) == 0 {
		return Sheet{}, &Error{0, "the file has a header and no rows under it"}
	}
	return s, nil
}

func checkText(data []byte) error {
	switch {
	case bytes.HasPrefix(data, []byte("\xff\xfe")), bytes.HasPrefix(data, []byte("\xfe\xff")):
		return &Error{0, "the file is in UTF-16; save it as CSV in UTF-8"}
	case bytes.HasPrefix(data, []byte("PK\x03\x04")), bytes.HasPrefix(data, []byte("\xd0\xcf\x11\xe0")):
		return &Error{0, "the file is a spreadsheet's own format; save it as CSV in UTF-8"}
	}
	line := 1
	for rest := data; len(rest) > 0; {
		r, size := utf8.DecodeRune(rest)
		switch {
		case r == '\n':
			line++
		case r == utf8.RuneError && size == 1:
			return &Error{line, fmt.Sprintf("the byte %#02x is not UTF-8; save the file as CSV in UTF-8", rest[0])}
		case r == 0:
			return &Error{line, "the file holds a zero byte and so is no text; save it as CSV in UTF-8"}
		}
		rest = rest[size:]
	}
	return nil
}

// delimiter is the one that stands most often outside quotes in the first line
// that has text.
func delimiter(data []byte) rune {
	counts := map[rune]int{}
	quoted := false
	for _, r := range string(bytes.TrimLeft(data, "\r\n")) {
		switch {
		case r == '"':
			quoted = !quoted
		case !quoted && (r == ',' || r == ';' || r == '\t'):
			counts[r]++
		}
		if r == '\n' && !quoted {
			break
		}
	}
	best := ','
	for _, r := range ";\t" {
		if counts[r] > counts[best] {
			best = r
		}
	}
	return best
}

func quoteMessage(bad *csv.ParseError) string {
	if errors.Is(bad.Err, csv.ErrBareQuote) {
		return fmt.Sprintf(`character %d: a quote stands inside a cell that does not start with one; put the cell in quotes and double the quote`, bad.Column)
	}
	return fmt.Sprintf(`a quoted cell that starts on line %d is not closed properly; end it with a quote and double the quotes inside`, bad.StartLine)
}
