package cases

import (
	"fmt"
	"strings"

	"uvent/core/fact/prose"
	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
)

// Learnt is what a case that has ended has taught, in sentences: how it ended, how many of our hearings were like it, and what is
// thought of such a one by now.
func Learnt(c verification.Case, b *rulebook.Rulebook, past []Heard) (out []string) {
	if c.Open() {
		return nil
	}
	with := ""
	if n := len(c.Appeals); n > 0 {
		if with = "without a paper"; c.Appeals[n-1].Papers != "" {
			with = "with the " + c.Appeals[n-1].Papers
		}
	}
	days := prose.Count(int(c.ClosedAt.Sub(c.OpenedAt).Hours()/24), "day")
	switch {
	case with == "" && c.Outcome == verification.Won:
		out = append(out, fmt.Sprintf("It was over after %s without an appeal.", days))
	case with == "":
		out = append(out, fmt.Sprintf("It was given up after %s, and was not argued.", days))
	case c.Outcome == verification.Won:
		out = append(out, fmt.Sprintf("The appeal %s was granted, %s after the suspension.", with, days))
	default:
		out = append(out, fmt.Sprintf("The appeal %s was not granted.", with))
	}
	if with == "" {
		return out
	}
	cause := "whatever the cause"
	if c.Cause != "" {
		cause = "where the cause is " + strings.ToLower(rulebook.CauseTitle(c.Cause))
	}
	now := Appeals(b).ChanceOf(c.Cause, c.Appeals[len(c.Appeals)-1].Kinds, past)
	return append(
		out,
		fmt.Sprintf(
			"%s grants such an appeal %s by now, %s: %d of ours like it were granted, %d refused.",
			b.Name,
			prose.Chance(now.Chance),
			cause,
			now.Won,
			now.Lost,
		),
	)
}
