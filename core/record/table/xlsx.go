package table

import (
	"bytes"
	"fmt"
	"io"
	"math"
	"regexp"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"
)

// XLSX is the encoding of a spreadsheet.
const XLSX Encoding = "XLSX"

// mostUnzipped bounds what a spreadsheet may inflate to.
const mostUnzipped = 512 << 20

// readXLSX reads the sheet that names most of its columns, or else the one with most rows. Hidden sheets
// are left alone.
func readXLSX(data []byte, o Options) (Table, []Row, error) {
	f, err := excelize.OpenReader(bytes.NewReader(data), excelize.Options{UnzipSizeLimit: mostUnzipped, UnzipXMLSizeLimit: 64 << 20})
	if err != nil {
		return Table{}, nil, &Error{0, "the file begins as a spreadsheet does and cannot be read as one; save it as XLSX or CSV anew"}
	}
	defer func() { _ = f.Close() }()
	best, most := "", -1
	for _, name := range f.GetSheetList() {
		if shown, err := f.GetSheetVisible(name); err != nil || !shown {
			continue
		}
		rows, err := sheetRows(f, name, firstRows)
		if err != nil {
			return Table{}, nil, err
		}
		if n := promise(rows, o.Known); n > most {
			best, most = name, n
		}
	}
	if best == "" {
		return Table{}, nil, &Error{0, "the spreadsheet shows no sheet"}
	}
	rows, err := sheetRows(f, best, MostRows+1)
	return Table{Encoding: XLSX, Sheet: best}, rows, err
}

// promise is how much the first rows of a sheet look like a table of what is known.
func promise(rows []Row, known func(string) bool) int {
	n := 0
	for _, r := range rows {
		for _, c := range r.Cells {
			if known != nil && known(Clean(c)) {
				n += 2 * firstRows
			}
		}
	}
	return n + len(rows)
}

// sheetRows reads the first rows of a sheet that hold text.
func sheetRows(f *excelize.File, sheet string, most int) (out []Row, err error) {
	broken := func(line int) error {
		return &Error{line, fmt.Sprintf("the sheet “%s” cannot be read further; save it as CSV", sheet)}
	}
	shown, err := f.Rows(sheet)
	if err != nil {
		return nil, broken(0)
	}
	defer func() { _ = shown.Close() }()
	raw, err := f.Rows(sheet)
	if err != nil {
		return nil, broken(0)
	}
	defer func() { _ = raw.Close() }()
	for line := 1; shown.Next() && raw.Next(); line++ {
		cells, err := shown.Columns()
		if err != nil {
			return nil, broken(line)
		}
		values, err := raw.Columns(excelize.Options{RawCellValue: true})
		if err != nil {
			return nil, broken(line)
		}
		for i := range cells {
			if i < len(values) {
				cells[i] = meant(cells[i], values[i])
			}
		}
		switch {
		case blank(cells):
			continue
		case len(cells) > MostColumns:
			return nil, &Error{line, fmt.Sprintf("the row has %d columns; %d are read", len(cells), MostColumns)}
		}
		if out = append(out, Row{line, cells}); len(out) >= most {
			if most > MostRows && shown.Next() {
				return nil, tooMany(line)
			}
			return out, nil
		}
	}
	if err := shown.Error(); err != nil {
		return nil, broken(len(out))
	}
	return out, nil
}

// whole is a number in full, where it is written with a power of ten and has all its digits all the same; a text
// that a spreadsheet has rounded stays as it is.
func whole(text string) string {
	digits, power, _ := strings.Cut(strings.ToUpper(text), "E+")
	_, behind, _ := strings.Cut(digits, ".")
	n, err := strconv.Atoi(power)
	number, wrong := strconv.ParseFloat(text, 64)
	if err != nil || wrong != nil || len(behind) < n || math.Abs(number) >= 1e15 {
		return text
	}
	return strconv.FormatFloat(number, 'f', -1, 64)
}

var (
	rounding = regexp.MustCompile(`^-?\d(\.\d+)?E\+\d+$`)
	clock    = regexp.MustCompile(`^\d{1,2}:\d{2}`)
	calendar = regexp.MustCompile(`\d[-/. ]|[A-Za-z]{3}`)
)

// meant is what a cell holds, of what it shows and the number behind it: a long number in full, where it
// is shown rounded; a date as 2006-01-02 and a time as 15:04, whatever its form.
func meant(shown, raw string) string {
	number, err := strconv.ParseFloat(raw, 64)
	if err != nil {
		return shown
	}
	if shown == raw {
		return whole(shown)
	}
	switch {
	case rounding.MatchString(shown):
		return strconv.FormatFloat(number, 'f', -1, 64)
	case number >= 0 && number < 1 && clock.MatchString(shown):
		minutes := int(math.Round(number * 24 * 60))
		return fmt.Sprintf("%02d:%02d", minutes/60, minutes%60)
	case number >= 366 && number < 73_051 && calendar.MatchString(shown) && !strings.ContainsAny(shown, "%$€£"): // 1901 to 2099
		if at, err := excelize.ExcelDateToTime(math.Floor(number), false); err == nil {
			return at.Format("2006-01-02")
		}
	}
	return shown
}

// WriteXLSX writes rows of text as a spreadsheet with one sheet. Every cell is text, so that none is
// taken for a formula or a number; the first row stays in sight.
func WriteXLSX(w io.Writer, sheet string, rows func(yield func([]string) bool)) error {
	f := excelize.NewFile()
	defer func() { _ = f.Close() }()
	if err := f.SetSheetName(f.GetSheetName(0), sheet); err != nil {
		return err
	}
	s, err := f.NewStreamWriter(sheet)
	if err != nil {
		return err
	}
	if err := s.SetPanes(&excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"}); err != nil {
		return err
	}
	line := 0
	for cells := range rows {
		line++
		values := make([]any, len(cells))
		for i, c := range cells {
			if c != "" {
				values[i] = c
			}
		}
		if err = s.SetRow(fmt.Sprintf("A%d", line), values); err != nil {
			return err
		}
	}
	if err := s.Flush(); err != nil {
		return err
	}
	return f.Write(w)
}
