package prose

import (
	"regexp"
	"strings"
)

// answered begins what a mail program puts under an answer: the letter that is answered.
var answered = regexp.MustCompile(
	`(?i)^(on .{4,120} wrote:|le .{4,120} a écrit ?:|-{2,} ?(original message|message d’origine|message d'origine) ?-{2,}|_{10,}|from: .+|de : .+)$`,
)

// Newest is what was newly written in an answer by mail: without the lines that are quoted (RFC 3676, section 4.5), without the
// letter that stands under it, and without a signature after "-- ".
func Newest(body string) string {
	var out []string
	for _, line := range strings.Split(strings.ReplaceAll(body, "\r\n", "\n"), "\n") {
		bare := strings.TrimSpace(line)
		if line == "-- " || answered.MatchString(bare) {
			break
		}
		if !strings.HasPrefix(bare, ">") {
			out = append(out, bare)
		}
	}
	return strings.TrimSpace(strings.Join(out, "\n"))
}
