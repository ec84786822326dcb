package paper

import (
	"bytes"
	"image"
	"strings"
	"testing"

	"uvent/core/fact/photo"
	"uvent/demo/paint"
)

func TestTheTextOfAPDFIsRead(t *testing.T) {
	p, err := Read(
		paint.Letter(
			"Sound County Electric",
			"Utility bill for October 2026",
			"Spokeshave Cycle Works LLC",
			"7 Heronry Road, Suite B (rear)",
			"Three Herons, WA 98993",
		),
	)
	if err != nil || p.Format != PDF || p.Pages != 1 {
		t.Fatalf("%+v, %v", p, err)
	}
	for _, line := range []string{"Sound County Electric", "Spokeshave Cycle Works LLC", "7 Heronry Road, Suite B (rear)", "Three Herons, WA 98993"} {
		if !strings.Contains("\n"+p.Text+"\n", "\n"+line+"\n") {
			t.Errorf("no line %q in:\n%s", line, p.Text)
		}
	}
	if kind := Guess(p.Text); kind != "utility_bill" {
		t.Errorf("it is taken for a %s", kind)
	}
	scan, err := photo.Encode(image.NewGray(image.Rect(0, 0, 300, 400)), photo.PNG)
	if err != nil {
		t.Fatal(err)
	}
	if p, err := Read(scan); err != nil || p.Format != "png" || p.Pages != 1 || p.Text != "" {
		t.Errorf("%+v, %v", p, err)
	}
}

func TestWhatIsNoPaper(t *testing.T) {
	whole := paint.Letter("x", "y")
	for says, data := range map[string][]byte{
		"damaged": whole[:len(whole)/2], "Papers are PDF, JPEG": []byte("hello"), "up to 15 MB": append(whole, make([]byte, 16<<20)...),
		"may hold scripts": []byte("<svg>"), "damaged and cannot be read": []byte("%PDF-1.7\n%%EOF"),
	} {
		if _, err := Read(data); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("want %q, got %v", says, err)
		}
	}
	for text, want := range map[string]string{"": "other", "Certificate of Registration": "registration", "General contractor licence no. 7": "licence", "LEASE AGREEMENT between landlord and": "lease"} {
		if got := Guess(text); got != want {
			t.Errorf("%q is taken for %s", text, got)
		}
	}
	if got := tidy("a \x00 b\n\n\n  c\xff\n"); got != "a b\n\nc" {
		t.Errorf("tidied: %q", got)
	}
}

func FuzzRead(f *testing.F) {
	f.Add(paint.Letter("Heading", "A line"))
	f.Add([]byte("%PDF-1.4\ntrailer << /Root 1 0 R >>\nstartxref\n9\n%%EOF"))
	f.Fuzz(func(t *testing.T, data []byte) {
		p, err := Read(data)
		if _, refused := err.(Refusal); err != nil && !refused {
			t.Fatalf("%v is no refusal", err)
		}
		if err == nil && (p.Pages < 1 || len(p.Text) > MostText || bytes.ContainsRune([]byte(p.Text), 0)) {
			t.Fatalf("%+v", p)
		}
	})
}
