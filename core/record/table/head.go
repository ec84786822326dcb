package table

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
)

// settle finds the header among the rows, and which of the others are none of the table's own.
func (t *Table) settle(rows []Row, o Options) {
	if len(rows) == 0 {
		return
	}
	at := headerAt(rows, o.Known)
	if t.Named = at >= 0; t.Named {
		for _, c := range rows[at].Cells {
			t.Header = append(t.Header, Clean(c))
		}
		for len(t.Header) > 1 && t.Header[len(t.Header)-1] == "" { // a delimiter at the end of the line
			t.Header = t.Header[:len(t.Header)-1]
		}
	} else {
		for i := range rows[0].Cells {
			t.Header = append(t.Header, fmt.Sprintf("Column %d", i+1))
		}
	}
	for _, r := range rows[:max(at, 0)] {
		t.Skipped = append(t.Skipped, Skipped{r.Line, "it stands above the names of the columns"})
	}
	t.Rows = make([]Row, 0, len(rows)-at-1)
	for _, r := range rows[at+1:] {
		if says := t.none(r.Cells); says != "" {
			t.Skipped = append(t.Skipped, Skipped{r.Line, says})
			continue
		}
		t.Rows = append(t.Rows, r)
	}
}

// header rows stand among the first few: under a title, perhaps.
const firstRows = 12

var value = regexp.MustCompile(`@\w|://|^www\.|\d{3}`)

// headerAt is the index of the row that names the columns: the first in which two are known, or one of
// at most two; otherwise the first row, and -1 when that holds values already.
func headerAt(rows []Row, known func(string) bool) int {
	if known == nil {
		return 0
	}
	for i, r := range rows[:min(firstRows, len(rows))] {
		full, names := 0, 0
		for _, c := range r.Cells {
			if c = Clean(c); c == "" {
				continue
			}
			full++
			if known(c) {
				names++
			}
		}
		if names >= 2 && 3*names >= full || names == 1 && full <= 2 && i == 0 {
			return i
		}
	}
	if slices.ContainsFunc(rows[0].Cells, value.MatchString) {
		return -1
	}
	return 0
}

// totals are what the first cell of a row says that adds others up.
var totals = []string{"total", "totals", "grand total", "sum", "subtotal", "summe", "gesamt", "gesamtsumme", "total general", "total général", "somme", "suma"}

// none says why a row is none of the table's: it repeats the header, or adds up.
func (t Table) none(cells []string) string {
	same, full, first := 0, 0, ""
	for i, c := range cells {
		if c = Clean(c); c == "" {
			continue
		}
		if full++; first == "" {
			first = c
		}
		if i < len(t.Header) && strings.EqualFold(c, t.Header[i]) {
			same++
		}
	}
	if same > 1 && same == full {
		return "it repeats the names of the columns"
	}
	word := strings.ToLower(strings.TrimRight(first, ": 0123456789"))
	if full <= 3 && slices.Contains(totals, word) {
		return fmt.Sprintf("it adds up the others (“%s”)", first)
	}
	return ""
}
