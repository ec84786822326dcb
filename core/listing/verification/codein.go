package verification

import (
	"regexp"
	"strings"
)

var digitRuns = regexp.MustCompile(`\d(?:[ \x{a0}-]?\d)*`)

// CodeIn is the code of so many digits that a text tells, written together or with spaces or hyphens between; empty where it tells
// none, or more than one. A number that has other digits beside it, such as a phone's, is none.
func CodeIn(text string, digits int) (code string) {
	for _, run := range digitRuns.FindAllString(text, -1) {
		bare := strings.NewReplacer(" ", "", "\u00a0", "", "-", "").Replace(run)
		switch {
		case digits <= 0 || len(bare) != digits || bare == code:
		case code != "":
			return ""
		default:
			code = bare
		}
	}
	return code
}

// WithoutCode is a text in which a code is not told any more, so that it can be kept.
func WithoutCode(text string, digits int) string {
	code := CodeIn(text, digits)
	if code == "" {
		return text
	}
	return digitRuns.ReplaceAllStringFunc(text, func(run string) string {
		if strings.NewReplacer(" ", "", "\u00a0", "", "-", "").Replace(run) == code {
			return strings.Repeat("•", digits)
		}
		return run
	})
}
