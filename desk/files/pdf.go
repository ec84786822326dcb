package files

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"time"

	"uvent/bounded"
	"uvent/core/record/paper"
	"uvent/desk/problem"
)

// ofPDF is what reading a PDF may take.
var ofPDF = bounded.Limits{Time: 2 * time.Second, Memory: 300 << 20}

// The programs that read PDFs, of Debian's package poppler-utils.
const (
	pdfInfo = "/usr/bin/pdfinfo"
	pdfText = "/usr/bin/pdftotext"
)

var pagesOf = regexp.MustCompile(`(?m)^Pages:\s+(\d+)$`)

// readPDF counts the pages of a PDF and reads its text, line by line as it stands.
func readPDF(ctx context.Context, data []byte) (pages int, text string, err error) {
	about, _, err := bounded.Command(ctx, ofPDF, data, pdfInfo, "-")
	if err != nil {
		return 0, "", refusedPDF(err)
	}
	if m := pagesOf.FindSubmatch(about); m != nil {
		if pages, err = strconv.Atoi(string(m[1])); err != nil {
			return 0, "", paper.Damaged
		}
	}
	if err := paper.CheckPages(pages); err != nil {
		return pages, "", err
	}
	words, faults, err := bounded.Command(ctx, ofPDF, data, pdfText, "-layout", "-nopgbrk", "-enc", "UTF-8", "-", "-")
	if err != nil {
		return pages, "", refusedPDF(err)
	}
	if strings.Contains(faults, "Loop in Pages tree") { // pages that hold themselves
		return pages, "", paper.Damaged
	}
	return pages, string(words), nil
}

// refusedPDF says in words why a PDF cannot be read.
func refusedPDF(err error) error {
	var failed *bounded.Failed
	switch {
	case errors.Is(err, bounded.ErrBounds):
		return paper.Refusal(fmt.Sprintf("The PDF takes more than %d seconds or %d MB to read. Print it into a new PDF, or scan it.",
			int(ofPDF.Time.Seconds()), ofPDF.Memory>>20))
	case errors.As(err, &failed) && failed.Code == 127:
		return problem.Conflictf("PDFs cannot be read here: Debian's package poppler-utils is not installed. Whoever runs Uvent can install it.")
	case errors.As(err, &failed) && strings.Contains(failed.Says, "password"):
		return paper.Refusal("The PDF is locked by a password. Save it without one; a directory could not open it either.")
	case errors.As(err, &failed):
		return paper.Damaged
	}
	return err
}
