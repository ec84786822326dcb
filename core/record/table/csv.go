package table

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
)

func readCSV(data []byte, o Options) (Table, []Row, error) {
	text, as, err := decode(data, o.Encoding)
	if err != nil {
		return Table{}, nil, err
	}
	t := Table{Encoding: as, Delimiter: delimiter(text)}
	rows, err := cells(text, t.Delimiter, false)
	var bad *Error
	if errors.As(err, &bad) && bad.Message == bareQuote { // 4 "Old" Wharf: there is one way to read it
		rows, err = cells(text, t.Delimiter, true)
	}
	return t, rows, err
}

func cells(text []byte, comma rune, lazy bool) (rows []Row, err error) {
	r := csv.NewReader(bytes.NewReader(text))
	r.Comma, r.FieldsPerRecord, r.ReuseRecord, r.LazyQuotes = comma, -1, true, lazy
	for {
		cells, err := r.Read()
		if err == io.EOF {
			return rows, nil
		}
		var bad *csv.ParseError
		if errors.As(err, &bad) {
			return nil, &Error{bad.Line, quoteMessage(bad)}
		}
		if blank(cells) {
			continue
		}
		line, _ := r.FieldPos(0)
		if rows = append(rows, Row{line, slices.Clone(cells)}); len(rows) > MostRows+1 {
			return nil, tooMany(line)
		}
	}
}

// delimiter is the one that parts the first lines best: outside quotes it stands in most of them, and
// as often in each.
func delimiter(data []byte) rune {
	const looked = 12
	counts := []map[rune]int{{}}
	quoted := false
	for _, r := range string(bytes.TrimLeft(data[:min(len(data), 1<<16)], "\r\n")) {
		line := counts[len(counts)-1]
		switch {
		case r == '"':
			quoted = !quoted
		case quoted:
		case r == ',' || r == ';' || r == '\t' || r == '|':
			line[r]++
		case r == '\n' && len(counts) == looked:
			return steadiest(counts)
		case r == '\n':
			counts = append(counts, map[rune]int{})
		}
	}
	return steadiest(counts)
}

// steadiest weighs how often a delimiter stands in a line that is not blank: the fewest of most lines
// counts before the number in the first.
func steadiest(lines []map[rune]int) rune {
	best, most := ',', 0
	for _, r := range ",;\t|" {
		var each []int
		for _, l := range lines {
			if len(l) > 0 || len(lines) == 1 {
				each = append(each, l[r])
			}
		}
		if len(each) == 0 {
			continue
		}
		slices.Sort(each)
		if typical := each[len(each)/2]; typical > most {
			best, most = r, typical
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
