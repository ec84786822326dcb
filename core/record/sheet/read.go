// Package sheet reads locations from CSV (RFC 4180, also with semicolons, tabs or bars, and in
// the encodings that spreadsheets write) and writes them so that they read back unchanged.
package sheet

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
)

// Limits of one file.
const (
	MostBytes = 32 << 20
	MostRows  = 100_000
)

// Sheet is a CSV file: a header and rows of cells.
type Sheet struct {
	Encoding  Encoding
	Delimiter rune     // ',', ';', '\t' or '|'
	Header    []string // trimmed
	Rows      []Row
	Skipped   []Skipped // rows that are no locations
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

// Read reads a file in UTF-8, UTF-16 or windows-1252, whose cells are parted by commas,
// semicolons, tabs or bars. Quoted cells may hold line breaks. Rows with no text are left out; those
// that repeat the header or add others up are told. The error is of type *Error.
func Read(data []byte) (Sheet, error) {
	if len(data) > MostBytes {
		return Sheet{}, &Error{0, fmt.Sprintf("the file has %d MB; %d MB are read. Split it", len(data)>>20, MostBytes>>20)}
	}
	text, as, err := decode(data)
	if err != nil {
		return Sheet{}, err
	}
	s, err := read(text, as, false)
	var bad *Error
	if errors.As(err, &bad) && bad.Message == bareQuote { // 4 "Old" Wharf: there is one way to read it
		return read(text, as, true)
	}
	return s, err
}

func read(data []byte, as Encoding, lazy bool) (Sheet, error) {
	s := Sheet{Encoding: as, Delimiter: delimiter(data)}
	r := csv.NewReader(bytes.NewReader(data))
	r.Comma, r.FieldsPerRecord, r.ReuseRecord, r.LazyQuotes = s.Delimiter, -1, true, lazy
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
				row.Cells[i] = clean(row.Cells[i])
			}
			s.Header = row.Cells
			continue
		}
		if says := s.noLocation(row.Cells); says != "" {
			s.Skipped = append(s.Skipped, Skipped{line, says})
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

// delimiter is the one that stands most often outside quotes in the first line
// that has text.
func delimiter(data []byte) rune {
	counts := map[rune]int{}
	quoted := false
	for _, r := range string(bytes.TrimLeft(data, "\r\n")) {
		switch {
		case r == '"':
			quoted = !quoted
		case !quoted && (r == ',' || r == ';' || r == '\t' || r == '|'):
			counts[r]++
		}
		if r == '\n' && !quoted {
			break
		}
	}
	best := ','
	for _, r := range ";\t|" {
		if counts[r] > counts[best] {
			best = r
		}
	}
	return best
}

// bareQuote is told of a quote inside a cell that does not start with one.
const bareQuote = "a quote stands inside a cell that does not start with one"

func quoteMessage(bad *csv.ParseError) string {
	if errors.Is(bad.Err, csv.ErrBareQuote) {
		return bareQuote
	}
	return fmt.Sprintf(`a quoted cell that starts on line %d is not closed properly; end it with a quote and double the quotes inside`, bad.StartLine)
}
