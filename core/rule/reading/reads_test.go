package reading

import (
	"strings"
	"testing"

	"uvent/core/rule/rulebook"
)

// parseReads are rules "fact selector" or "fact selector@attribute".
func parseReads(t *testing.T, lines ...string) (out []rulebook.Read) {
	t.Helper()
	for _, l := range lines {
		fact, at, ok := strings.Cut(l, " ")
		if !ok {
			t.Fatalf("%q", l)
		}
		at, attribute, _ := strings.Cut(at, "@")
		out = append(out, rulebook.Read{Fact: fact, At: at, Attribute: attribute})
	}
	return out
}
