package files

import (
	"bytes"
	"compress/zlib"
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"uvent/core/record/paper"
	"uvent/demo/paint"
)

// pdf writes objects as a PDF, with its table of references.
func pdf(objects ...string) []byte {
	var b bytes.Buffer
	b.WriteString("%PDF-1.4\n")
	at := make([]int, len(objects))
	for i, o := range objects {
		at[i] = b.Len()
		fmt.Fprintf(&b, "%d 0 obj\n%s\nendobj\n", i+1, o)
	}
	table := b.Len()
	fmt.Fprintf(&b, "xref\n0 %d\n0000000000 65535 f \n", len(objects)+1)
	for _, n := range at {
		fmt.Fprintf(&b, "%010d 00000 n \n", n)
	}
	fmt.Fprintf(&b, "trailer << /Size %d /Root 1 0 R >>\nstartxref\n%d\n%%%%EOF\n", len(objects)+1, table)
	return b.Bytes()
}

// inflating is a stream of a PDF that is text so many times over, deflated twice.
func inflating(text string, times int) string {
	var b bytes.Buffer
	outer := zlib.NewWriter(&b)
	inner := zlib.NewWriter(outer)
	for range times {
		_, _ = inner.Write([]byte(text))
	}
	_, _ = inner.Close(), outer.Close()
	return fmt.Sprintf("<< /Length %d /Filter [/FlateDecode /FlateDecode] >>\nstream\n%s\nendstream", b.Len(), b.Bytes())
}

func page(content string) []byte {
	return pdf("<< /Type /Catalog /Pages 2 0 R >>", "<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
		"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 600 800] /Contents 4 0 R /Resources << /Font << /F 5 0 R >> >> >>", content,
		"<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>")
}

func TestTheTextOfAPDFIsRead(t *testing.T) {
	t.Parallel()
	said := []string{
		"Sound County Electric",
		"Utility bill for October 2026",
		"Spokeshave Cycle Works LLC",
		"7 Heronry Road, Suite B (rear)",
		"Three Herons, WA 98993",
	}
	pages, text, err := readPDF(t.Context(), paint.Letter(said[0], said[1:]...))
	if err != nil || pages != 1 {
		t.Fatalf("%d pages, %v", pages, err)
	}
	text = paper.Tidy(text)
	for _, line := range said {
		if !strings.Contains("\n"+text+"\n", "\n"+line+"\n") {
			t.Errorf("no line %q in:\n%s", line, text)
		}
	}
	if kind := paper.Guess(text); kind != "utility_bill" {
		t.Errorf("it is taken for a %s", kind)
	}
}

// A file that is damaged, or made to take a machine, is refused soon, and takes nothing with it.
func TestPDFsThatTakeAMachine(t *testing.T) {
	t.Parallel()
	whole := paint.Letter("x", "y")
	for name, data := range map[string][]byte{
		"cut short":        whole[:len(whole)/2],
		"nothing in it":    []byte("%PDF-1.7\n%%EOF"),
		"pages of pages":   pdf("<< /Type /Catalog /Pages 2 0 R >>", "<< /Type /Pages /Kids [2 0 R 2 0 R 2 0 R] /Count 3 >>"),
		"an inflating one": page(inflating(strings.Repeat("BT /F 12 Tf (x) Tj ET\n", 10_000), 1_000)),
		"many pages":       pdf("<< /Type /Catalog /Pages 2 0 R >>", "<< /Type /Pages /Count 1000000 /Kids ["+strings.Repeat("3 0 R ", 500)+"] >>", "<< /Type /Page /Parent 2 0 R >>"),
	} {
		began := time.Now()
		pages, text, err := readPDF(t.Context(), data)
		var refused paper.Refusal
		if !errors.As(err, &refused) {
			t.Errorf("%s: %d pages, %.60q, %v", name, pages, text, err)
		}
		t.Logf("%s, %d bytes: %v after %v", name, len(data), err, time.Since(began).Round(10*time.Millisecond))
	}
}
