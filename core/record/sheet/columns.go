package sheet

import (
	_ "embed"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"sync"

	"uvent/core/fact/address"
	"uvent/core/fact/category"
	"uvent/core/fact/hours/said"
	"uvent/core/record/table"
)

// Parts are columns that hold a part of a fact, or several: they are read, and never written.
var Parts = []Field{
	{Key: houseNumber, Title: "House number"},
	{Key: wholeAddress, Title: "Whole address"},
	{Key: townLine, Title: "Town, region and postal code"},
	{Key: pinKey, Title: "Latitude and longitude"},
	{Key: "monday", Title: "Hours on Monday"},
	{Key: "tuesday", Title: "Hours on Tuesday"},
	{Key: "wednesday", Title: "Hours on Wednesday"},
	{Key: "thursday", Title: "Hours on Thursday"},
	{Key: "friday", Title: "Hours on Friday"},
	{Key: "saturday", Title: "Hours on Saturday"},
	{Key: "sunday", Title: "Hours on Sunday"},
}

const (
	houseNumber  = "house_number"
	wholeAddress = "whole_address"
	townLine     = "town_line"
	pinKey       = "pin"
)

// weekdays are the keys of the columns of one day's hours, in order.
var weekdays = []string{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"}

//go:embed heads.txt
var headLines string

// heads are what columns are called: the key by a folded name; and names that tell a key only by what the
// cells hold.
var heads = sync.OnceValues(func() (sure map[string]string, open map[string][]string) {
	sure, open = map[string]string{}, map[string][]string{}
	for _, f := range slices.Concat(Fields, Parts) {
		sure[address.Fold(f.Key)], sure[address.Fold(f.Title)] = f.Key, f.Key
	}
	for line := range strings.Lines(headLines) {
		key, names, ok := strings.Cut(strings.TrimSpace(line), ": ")
		if !ok || key[0] == '#' {
			continue
		}
		may, isOpen := strings.CutSuffix(key, "=")
		for _, name := range strings.Split(names, ", ") {
			if name = address.Fold(name); isOpen {
				open[name] = append(open[name], may)
			} else if _, taken := sure[name]; !taken {
				sure[name] = key
			}
		}
	}
	return sure, open
})

// Known reports whether a text is a name for a column.
func Known(text string) bool {
	_, open := heads()
	return Named(text) != "" || open[address.Fold(text)] != nil
}

var (
	bracketed = regexp.MustCompile(`\s*[(\[*].*$`)
	before    = regexp.MustCompile(`^(store|shop|business|branch|location|our|public|listing) `)
	post      = regexp.MustCompile(`^(mailing|postal|post|billing|delivery) `)
)

// Named is the key that a column’s name, or a label beside a fact, tells by itself; empty where it tells none.
func Named(head string) string {
	sure, _ := heads()
	forms := []string{head, bracketed.ReplaceAllString(head, "")}
	if parts := strings.Split(head, "/"); len(parts) > 1 { // State/County
		forms = append(forms, parts...)
	}
	for _, h := range forms {
		name := address.Fold(strings.ReplaceAll(h, "#", " no "))
		if key := sure[name]; key != "" {
			return key
		}
		if rest := post.ReplaceAllString(name, ""); rest != name {
			if key := "mailing_" + sure[rest]; known(key) {
				return key
			}
		}
		if key := sure[before.ReplaceAllString(name, "")]; key != "" {
			return key
		}
	}
	return ""
}

// Match finds what each column of a table holds: by its name in several languages, and where that does not
// tell, by what its cells hold. A column that is not known, or known already from one before it, has none.
func Match(t table.Table) []string {
	m := matcher{t, make([]string, len(t.Header))}
	for _, blank := range []bool{false, true} { // a column without text says a fact only when no other does
		for i, h := range t.Header {
			key := Named(h)
			if key == "" || blank != (m.share(i, func(string) bool { return true }) == 0) {
				continue
			}
			if key == "phone" || key == "phone_2" {
				key = m.free(key, "phone_2", "phone_3")
			}
			m.take(i, key)
		}
	}
	m.settleOpen()
	for i := range t.Header {
		if m.out[i] == "" && Named(t.Header[i]) == "" {
			m.take(i, m.byContents(i))
		}
	}
	if !t.Named {
		m.nameless()
	}
	return m.out
}

type matcher struct {
	table.Table
	out []string
}

func (m matcher) taken(key string) bool { return slices.Contains(m.out, key) }

func (m matcher) take(i int, key string) {
	if key != "" && !m.taken(key) {
		m.out[i] = key
	}
}

// free is the first of some keys that no column has yet.
func (m matcher) free(keys ...string) string {
	for _, k := range keys {
		if !m.taken(k) {
			return k
		}
	}
	return ""
}

// beside reports whether a column stands beside the street's.
func (m matcher) beside(i int) bool {
	is := func(n int) bool { return n >= 0 && n < len(m.out) && m.out[n] == "street" }
	return is(i-1) || is(i+1)
}

var code = regexp.MustCompile(`^[A-Za-z]{0,5}[-_./]?\d+[A-Za-z]?$`)

// settleOpen tells, of names like Store, whether the cells are codes, names or labels.
func (m matcher) settleOpen() {
	_, open := heads()
	for i, h := range m.Header {
		may := open[address.Fold(h)]
		if m.out[i] != "" || may == nil {
			continue
		}
		m.take(i, m.byContents(i))
		if m.out[i] == "" && slices.Contains(may, houseNumber) && m.beside(i) { // the house's number beside the street, the store's elsewhere
			m.take(i, houseNumber)
		}
		codes := m.share(i, func(c string) bool { return code.MatchString(c) || len(c) <= 4 && strings.ToUpper(c) == c })
		for _, key := range may {
			if m.out[i] == "" && key != houseNumber && (key == "store_code") == (codes >= mostly) {
				m.take(i, key)
			}
		}
	}
}

// mostly is the share of a column's cells that has to look so, 0 to 1.
const mostly = 0.8

// looked is how many cells of a column are looked at.
const looked = 60

// share is the part of a column's cells, of those that have text, that look so; 0 where there are none.
func (m matcher) share(column int, looks func(string) bool) float64 {
	full, yes := 0, 0
	for _, r := range m.Rows {
		if column >= len(r.Cells) {
			continue
		}
		c := table.Clean(r.Cells[column])
		if c == "" {
			continue
		}
		if full++; looks(c) {
			yes++
		}
		if full == looked {
			break
		}
	}
	if full == 0 {
		return 0
	}
	return float64(yes) / float64(full)
}

var (
	mailbox = regexp.MustCompile(`^\S+@\S+\.\S+$`)
	digits  = regexp.MustCompile(`^[+(]?\d[\d\s().\-/+]{6,22}\d$`)
	twoNums = regexp.MustCompile(`^\(?\s*(-?\d{1,3}[.]\d+)\s*[,;/ ]\s*(-?\d{1,3}[.]\d+)\s*\)?$`)
	street  = regexp.MustCompile(`^\d+[A-Za-z]?\s+\pL|\pL.*\s\d+\s?[a-zA-Z]?$`)
)

func isWeek(c string) bool {
	r := said.Read(c, said.In{})
	return r.Read && len(r.Left) == 0 && strings.ContainsAny(c, "0123456789") && len(c) > 5
}

// byContents is the key of what a column's cells hold, where that can be nothing else.
func (m matcher) byContents(i int) string {
	for _, l := range []struct {
		key   string
		looks func(string) bool
	}{
		{"email", mailbox.MatchString},
		{"website", func(c string) bool {
			return strings.Contains(c, "://") || strings.HasPrefix(c, "www.") || host.MatchString(c)
		}},
		{pinKey, twoNums.MatchString},
		{"phone", func(c string) bool {
			return digits.MatchString(c) && strings.ContainsAny(c, " -()+./") && len(justDigits(c)) >= 8
		}},
		{"country", func(c string) bool { _, ok := address.Country(c); return ok && len(c) > 1 }},
		{wholeAddress, func(c string) bool {
			_, ok := address.Read(c, "")
			return ok && strings.ContainsAny(c, "0123456789")
		}},
		{"opening_hours", isWeek},
		{"category", func(c string) bool { n, ok := category.Nearest(c); return ok && n.Sure }},
	} {
		whole := l.key == wholeAddress && (m.taken("street") || m.taken("locality"))
		if !whole && !m.taken(l.key) && m.share(i, l.looks) >= mostly {
			return l.key
		}
	}
	return ""
}

// nameless tells what columns without names hold: the street by its number, the postal code, region and
// town behind it, and the first words for the name.
func (m matcher) nameless() {
	for i := range m.Header {
		switch {
		case m.out[i] != "":
		case m.share(i, street.MatchString) >= mostly:
			m.take(i, "street")
		case m.share(i, func(c string) bool {
			a, ok := address.Read("x, y, "+c, "")
			return ok && a.PostalCode != "" || len(c) == 5 && strings.Trim(c, "0123456789") == ""
		}) >= mostly:
			m.take(i, "postal_code")
		case m.share(i, func(c string) bool {
			_, us := address.Region("US", c)
			_, ca := address.Region("CA", c)
			return us || ca
		}) >= mostly:
			m.take(i, "region")
		}
	}
	for i := range m.Header {
		words := m.share(i, func(c string) bool { return strings.ContainsFunc(c, isLetter) })
		switch {
		case m.out[i] != "" || words < mostly:
		case m.taken("street") && i > slices.Index(m.out, "street"):
			m.take(i, "locality")
		default:
			m.take(i, m.free("name", "label"))
		}
	}
}

// known reports whether a key is one that a column can have.
func known(key string) bool {
	is := func(f Field) bool { return f.Key == key }
	return slices.ContainsFunc(Fields, is) || slices.ContainsFunc(Parts, is)
}

// CheckColumns reports a choice of columns that cannot be used.
func CheckColumns(header, columns []string) error {
	if len(columns) != len(header) {
		return &table.Error{Message: fmt.Sprintf("%d columns are matched; the file has %d", len(columns), len(header))}
	}
	for i, key := range columns {
		if key != "" && !known(key) {
			return &table.Error{Message: fmt.Sprintf("%q is no fact that a column can hold", key)}
		}
		if key != "" && slices.Contains(columns[:i], key) {
			return &table.Error{Message: fmt.Sprintf("two columns are matched with %q; leave one of them out", key)}
		}
	}
	return nil
}
