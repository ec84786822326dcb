package reading

import (
	"strings"

	"golang.org/x/net/html"
)

// Marked makes a page of a text that somebody copied from one: its first line is the heading, each other a paragraph.
func Marked(text string) []byte {
	var b strings.Builder
	for _, line := range strings.Split(strings.ReplaceAll(text, "\r", "\n"), "\n") {
		if line = strings.TrimSpace(line); line == "" {
			continue
		}
		of := "p"
		if b.Len() == 0 {
			of = "h1"
		}
		b.WriteString("<" + of + ">" + html.EscapeString(line) + "</" + of + ">\n")
	}
	return []byte(b.String())
}
