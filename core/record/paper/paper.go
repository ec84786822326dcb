// Package paper is about documents that prove something: what they are, by their content and their words.
package paper

import (
	"bytes"
	"fmt"
	"strings"
	"unicode"

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

// Sniff tells what a file is by its content. The error is a Refusal.
func Sniff(data []byte) (Format, error) {
	if len(data) > MostBytes {
		return "", Refusal(fmt.Sprintf("The file has %d MB; up to %d MB are taken. Save it smaller.", len(data)>>20, MostBytes>>20))
	}
	if bytes.HasPrefix(data, []byte("%PDF-")) {
		return PDF, nil
	}
	in, err := photo.Sniff(data)
	if err != nil {
		return "", Refusal(strings.Replace(err.Error(), "Photos are ", "Papers are PDF, ", 1))
	}
	return Format(in.Format), nil
}

// Damaged is the refusal of a PDF that cannot be read.
const Damaged = Refusal("The PDF is damaged and cannot be read. Save or scan it again.")

// CheckPages refuses a PDF by the number of its pages.
func CheckPages(n int) error {
	switch {
	case n > MostPages:
		return Refusal(fmt.Sprintf("The PDF has %d pages; up to %d are taken. Send the pages that matter.", n, MostPages))
	case n <= 0:
		return Refusal("The PDF has no pages. Save or scan it again.")
	}
	return nil
}

// Tidy keeps what people read of a text: no control characters, no runs of spaces, no more
// than one empty line in a row.
func Tidy(text string) string {
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
