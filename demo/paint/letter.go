package paint

import (
	"bytes"
	"fmt"
	"strings"
)

// Letter is a PDF of one page with a heading and lines of text (ISO 32000-1), as
// an office or a utility would send it.
func Letter(heading string, lines ...string) []byte {
	var page bytes.Buffer
	escape := strings.NewReplacer(`\`, `\\`, "(", `\(`, ")", `\)`)
	fmt.Fprintf(&page, "BT /F1 16 Tf 60 770 Td (%s) Tj ET\n", escape.Replace(heading))
	for i, l := range lines {
		fmt.Fprintf(&page, "BT /F1 11 Tf 60 %d Td (%s) Tj ET\n", 730-18*i, escape.Replace(l))
	}
	var b bytes.Buffer
	b.WriteString("%PDF-1.4\n")
	var at []int
	object := func(body string) {
		at = append(at, b.Len())
		fmt.Fprintf(&b, "%d 0 obj\n%s\nendobj\n", len(at), body)
	}
	object("<< /Type /Catalog /Pages 2 0 R >>")
	object("<< /Type /Pages /Kids [3 0 R] /Count 1 >>")
	object("<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> >> >>")
	object(fmt.Sprintf("<< /Length %d >>\nstream\n%sendstream", page.Len(), page.String()))
	object("<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>")
	xref := b.Len()
	fmt.Fprintf(&b, "xref\n0 %d\n0000000000 65535 f \n", len(at)+1)
	for _, offset := range at {
		fmt.Fprintf(&b, "%010d 00000 n \n", offset)
	}
	fmt.Fprintf(&b, "trailer\n<< /Size %d /Root 1 0 R >>\nstartxref\n%d\n%%%%EOF\n", len(at)+1, xref)
	return b.Bytes()
}
