package hours

import (
	"regexp"
	"strings"
)

// ReadWords reads hours as people write them, as far as Words writes them so: "Tue–Fri
// 9–12, 13–18; Sat closed", a line or a semicolon between rules. false where it cannot
// be read with certainty.
func ReadWords(text string) (Schedule, bool) {
	var rules []string
	for _, line := range strings.FieldsFunc(text, func(r rune) bool { return r == ';' || r == '\n' }) {
		line = strings.TrimSpace(wordsToTags.Replace(strings.Join(strings.Fields(line), " ")))
		if line == "" {
			continue
		}
		if line == "24/7" {
			rules = append(rules, line)
			continue
		}
		line = bareTime.ReplaceAllStringFunc(line, func(t string) string {
			h, m, found := strings.Cut(t, ":")
			if !found {
				m = "00"
			}
			if len(h) == 1 {
				h = "0" + h
			}
			return h + ":" + m
		})
		rules = append(rules, line)
	}
	if rules == nil {
		return Schedule{}, false
	}
	s, _, err := Parse(strings.Join(rules, "; "))
	return s, err == nil
}

var wordsToTags = strings.NewReplacer(
	"Monday", "Mo", "Tuesday", "Tu", "Wednesday", "We", "Thursday", "Th", "Friday", "Fr", "Saturday", "Sa", "Sunday", "Su",
	"Mon", "Mo", "Tue", "Tu", "Wed", "We", "Thu", "Th", "Fri", "Fr", "Sat", "Sa", "Sun", "Su",
	"round the clock", "24/7", "all day", "0–24", "every day", "Mo-Su", "public holidays", "PH", "closed", "off", " – ", "-", "–", "-", ", ", ",", " to ", "-",
)

// bareTime is a time of day with or without minutes, where it is no day of a month or a
// year: within a stretch.
var bareTime = regexp.MustCompile(`\b\d{1,2}(:\d\d)?\b`)
