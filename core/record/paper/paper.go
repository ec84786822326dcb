// Package paper reads documents that prove something: what they are, and the text
// that a PDF holds.
package paper

import (
	"bytes"
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode"

	"github.com/ledongthuc/pdf"

	"uvent/core/fact/photo"
)

// Limits of a paper that is brought in.
const (
	MostBytes = 15 << 20
	MostPages = 60
	MostText  = 200_000 // bytes of text that are kept
)

// Format is how a paper is encoded: PDF, or a picture's format.
type Format string

// PDF is ISO 32000's format.
const PDF Format = "pdf"

// Refusal is why a file is not taken, and what to do.
type Refusal string

func (r Refusal) Error() string { return string(r) }

// Paper is what a file says.
type Paper struct {
	Format Format
	Pages  int
	Text   string // of a PDF, lines as they stand; empty where it holds pictures alone
}

// Read tells what a file is by its content, and reads the text of a PDF. The error
// is a Refusal.
func Read(data []byte) (p Paper, err error) {
	if len(data) > MostBytes {
		return p, Refusal(fmt.Sprintf("The file has %d MB; up to %d MB are taken. Save it smaller.", len(data)>>20, MostBytes>>20))
	}
	if !bytes.HasPrefix(data, []byte("%PDF-")) {
		in, err := photo.Sniff(data)
		if err != nil {
			return p, Refusal(strings.Replace(err.Error(), "Photos are ", "Papers are PDF, ", 1))
		}
		return Paper{Format: Format(in.Format), Pages: 1}, nil
	}
	return readPDF(data)
}

// readPDF reads the text of a PDF. The library panics on some damaged files.
func readPDF(data []byte) (p Paper, err error) {
	defer func() {
		if recover() != nil {
			p, err = Paper{}, Refusal("The PDF is damaged and cannot be read. Save or scan it again.")
		}
	}()
	r, err := pdf.NewReader(bytes.NewReader(data), int64(len(data)))
	switch {
	case err != nil && strings.Contains(err.Error(), "password"):
		return p, Refusal("The PDF is locked by a password. Save it without one; a directory could not open it either.")
	case err != nil:
		return p, Refusal("The PDF is damaged and cannot be read. Save or scan it again.")
	}
	p = Paper{Format: PDF, Pages: r.NumPage()}
	if p.Pages > MostPages {
		return Paper{}, Refusal(fmt.Sprintf("The PDF has %d pages; up to %d are taken. Send the pages that matter.", p.Pages, MostPages))
	}
	if p.Pages == 0 {
		return Paper{}, Refusal("The PDF has no pages. Save or scan it again.")
	}
	var text strings.Builder
	for n := 1; n <= p.Pages && text.Len() < MostText; n++ {
		text.WriteString(lines(r.Page(n).Content().Text) + "\n")
	}
	p.Text = tidy(text.String())
	return p, nil
}

// lines puts a page's letters into lines, from the top, each from the left.
func lines(letters []pdf.Text) string {
	slices.SortStableFunc(letters, func(a, b pdf.Text) int {
		return cmp.Or(cmp.Compare(math.Round(b.Y/sameLine), math.Round(a.Y/sameLine)), cmp.Compare(a.X, b.X))
	})
	var out strings.Builder
	for i, l := range letters {
		if i > 0 {
			before := letters[i-1]
			switch gap := l.X - before.X - before.W; {
			case math.Abs(l.Y-before.Y) > sameLine:
				out.WriteByte('\n')
			case gap > l.FontSize/5 && before.S != " " && l.S != " ":
				out.WriteByte(' ')
			}
		}
		out.WriteString(l.S)
	}
	return out.String()
}

// sameLine is how far apart letters of one line may stand in height, in points.
const sameLine = 2.0

// tidy keeps what people read: no control characters, no runs of spaces, no more
// than one empty line in a row.
func tidy(text string) string {
	text = strings.ToValidUTF8(text, "")
	var out []string
	for _, line := range strings.Split(text, "\n") {
		line = strings.Join(strings.Fields(strings.Map(func(r rune) rune {
			if unicode.IsControl(r) {
				return ' '
			}
			return r
		}, line)), " ")
		if line != "" || len(out) > 0 && out[len(out)-1] != "" {
			out = append(out, line)
		}
	}
	s := strings.TrimSpace(strings.Join(out, "\n"))
	if len(s) > MostText {
		s = strings.ToValidUTF8(s[:MostText], "")
	}
	return s
}

// Kinds are what a paper may be.
var Kinds = []struct{ ID, Name string }{
	{"registration", "Company registration"}, {"licence", "Licence"}, {"utility_bill", "Utility bill"}, {"phone_bill", "Phone bill"}, {"lease", "Lease"},
	{"tax", "Tax letter"}, {"insurance", "Insurance"}, {"video", "Video"}, {"other", "Something else"},
}

// Title names a kind of paper for people, or is the id itself when it is unknown.
func Title(id string) string {
	for _, k := range Kinds {
		if k.ID == id {
			return k.Name
		}
	}
	return id
}

// Guess tells the kind of a paper by its words; other when they do not say.
func Guess(text string) string {
	text = strings.ToLower(text)
	for _, g := range []struct {
		kind  string
		words []string
	}{
		{"registration", []string{"certificate of registration", "certificate of formation", "articles of incorporation", "business registration",
			"registered number"}},
		{"phone_bill", []string{"telephone bill", "phone bill", "phone statement"}},
		{"utility_bill", []string{"utility", "electric", "water service", "kilowatt", "kwh", "meter reading"}},
		{"licence", []string{"licence", "license", "permit"}},
		{"lease", []string{"lease agreement", "tenancy", "landlord"}},
		{"insurance", []string{"certificate of insurance", "liability insurance", "policy number"}},
		{"tax", []string{"tax"}},
	} {
		for _, w := range g.words {
			if strings.Contains(text, w) {
				return g.kind
			}
		}
	}
	return "other"
}
