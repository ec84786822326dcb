// Package table reads any file that holds a table of text: CSV (RFC 4180) in the dialects and encodings
// that spreadsheets write, tables pasted from one, and XLSX (ECMA-376).
package table

import (
	"bytes"
	"fmt"
	"strings"
)

// Limits of one file.
const (
	MostBytes   = 32 << 20
	MostRows    = 100_000
	MostColumns = 400
)

// Table is a header and rows of cells.
type Table struct {
	Encoding  Encoding
	Delimiter rune   // ',', ';', '\t' or '|'; 0 in XLSX
	Sheet     string // that was read, by its name, in XLSX
	Header    []string
	Named     bool // the file names its columns; otherwise Header does: Column 1, Column 2
	Rows      []Row
	Skipped   []Skipped // rows that are none of the table's own
}

// Row is one row under the header.
type Row struct {
	Line  int // on which it starts, counted from 1
	Cells []string
}

// Skipped is a row that is left out.
type Skipped struct {
	Line int    `json:"line"`
	Says string `json:"says"`
}

// Options say how a file is to be read.
type Options struct {
	Encoding Encoding          // empty: what is found
	Known    func(string) bool // reports whether a text is a name for a column; nil: the first row names them
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

// Read reads a file. Rows with no text are left out; those above the header, and those that repeat it or
// add others up, are told. The error is of type *Error.
func Read(data []byte, o Options) (Table, error) {
	if len(data) > MostBytes {
		return Table{}, &Error{0, fmt.Sprintf("the file has %d MB; %d MB are read. Split it", len(data)>>20, MostBytes>>20)}
	}
	var (
		t    Table
		rows []Row
		err  error
	)
	switch {
	case bytes.HasPrefix(data, []byte("PK\x03\x04")):
		t, rows, err = readXLSX(data, o)
	case bytes.HasPrefix(data, []byte("\xd0\xcf\x11\xe0")):
		err = &Error{0, "the file is a spreadsheet of before 2007, or one with a password; save it as XLSX or CSV, without a password"}
	default:
		t, rows, err = readCSV(data, o)
	}
	if err != nil {
		return Table{}, err
	}
	t.settle(rows, o)
	switch {
	case t.Header == nil:
		return Table{}, &Error{0, "the file is empty; its first line must name the columns"}
	case len(t.Header) > MostColumns:
		return Table{}, &Error{0, fmt.Sprintf("the file has %d columns; %d are read", len(t.Header), MostColumns)}
	case len(t.Rows) == 0:
		return Table{}, &Error{0, "the file has a header and no rows under it"}
	}
	return t, nil
}

// blank reports whether a row holds no text.
func blank(cells []string) bool {
	for _, c := range cells {
		if strings.TrimSpace(c) != "" {
			return false
		}
	}
	return true
}

// tooMany is the error of a file with too many rows.
func tooMany(line int) error {
	return &Error{line, fmt.Sprintf("the file has more than %d rows; split it", MostRows)}
}
