package rulebook

import (
	"strings"
	"testing"
	"time"
)

// Texts that stand for more than they hold, or are nested without end, are refused before they are read.
func TestHostileTextsAreNotRead(t *testing.T) {
	t.Parallel()
	laughs := "a: &a [x,x,x,x,x,x,x,x,x]\n"
	for c := 'b'; c <= 'k'; c++ {
		laughs += string(c) + ": &" + string(c) + " [" + strings.Repeat("*"+string(c-1)+",", 9) + "x]\n"
	}
	for name, c := range map[string]struct{ text, says string }{
		"aliases":       {laughs, "anchors (&), aliases (*)"},
		"an anchor":     {"id: &x fernlook\n", "anchors (&), aliases (*)"},
		"a merge":       {"id: x\nfacts:\n  <<: {a: b}\n", "merges (<<)"},
		"brackets":      {"id: " + strings.Repeat("[", 500) + strings.Repeat("]", 500), "nested too deep"},
		"braces":        {"id: " + strings.Repeat("{a: ", 500) + strings.Repeat("}", 500), "nested too deep"},
		"open brackets": {strings.Repeat("[", 900), ""},
		"entries":       {strings.Repeat("- ", 500) + "x", "nested too deep"},
		"keys":          {strings.Repeat("? ", 500) + "x", ""},
		"large":         {strings.Repeat("# more\n", 50_000), "at most 256 kB"},
	} {
		began := time.Now()
		_, problems := Parse("x.yaml", []byte(c.text))
		if len(problems) == 0 || !strings.Contains(problems[0].Message, c.says) {
			t.Errorf("%s: %v", name, problems)
		}
		t.Logf("%s: %v", name, time.Since(began).Round(time.Millisecond))
	}
}
