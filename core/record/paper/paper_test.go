package paper

import (
	"bytes"
	"image"
	"strings"
	"testing"

	"uvent/core/fact/photo"
	"uvent/demo/paint"
)

func TestWhatAPaperIs(t *testing.T) {
	scan, err := photo.Encode(image.NewGray(image.Rect(0, 0, 300, 400)), photo.PNG)
	if err != nil {
		t.Fatal(err)
	}
	whole := paint.Letter("x", "y")
	for want, data := range map[Format][]byte{PDF: whole, "png": scan} {
		if got, err := Sniff(data); err != nil || got != want {
			t.Errorf("%s is taken for %s, %v", want, got, err)
		}
	}
	for says, data := range map[string][]byte{
		"Papers are PDF, JPEG": []byte("hello"), "up to 15 MB": append(whole, make([]byte, 16<<20)...), "may hold scripts": []byte("<svg>"),
	} {
		if _, err := Sniff(data); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("want %q, got %v", says, err)
		}
	}
	for n, says := range map[int]string{0: "no pages", MostPages + 1: "up to 60 are taken"} {
		if err := CheckPages(n); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%d pages: %v", n, err)
		}
	}
	if err := CheckPages(MostPages); err != nil {
		t.Error(err)
	}
	for text, want := range map[string]string{"": "other", "Certificate of Registration": "registration", "General contractor licence no. 7": "licence", "LEASE AGREEMENT between landlord and": "lease"} {
		if got := Guess(text); got != want {
			t.Errorf("%q is taken for %s", text, got)
		}
	}
	if got := Tidy("a \x00 b\n\n\n  c\xff\n"); got != "a b\n\nc" {
		t.Errorf("tidied: %q", got)
	}
}

func FuzzSniff(f *testing.F) {
	f.Add(paint.Letter("Heading", "A line"))
	f.Add([]byte("%PDF-1.4\ntrailer << /Root 1 0 R >>\nstartxref\n9\n%%EOF"))
	f.Fuzz(func(t *testing.T, data []byte) {
		format, err := Sniff(data)
		if _, refused := err.(Refusal); err != nil && !refused {
			t.Fatalf("%v is no refusal", err)
		}
		if text := Tidy(string(data)); err == nil && format == "" || len(text) > MostText || bytes.ContainsRune([]byte(text), 0) {
			t.Fatalf("%s, %q", format, text)
		}
	})
}
