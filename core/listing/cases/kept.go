package cases

import (
	"slices"

	"uvent/core/listing/verification"
	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
)

// Kept are suspects as a case keeps them.
func Kept(suspects []risk.Suspect) []verification.Cause {
	out := make([]verification.Cause, len(suspects))
	for i, s := range suspects {
		out[i] = verification.Cause{
			Cause: s.Cause, Title: s.Title, Says: s.Says, Mend: s.Mend, Facts: s.Facts, Standing: s.Standing, ByPaper: s.ByPaper, Pointed: s.Pointed, Words: s.Words,
			Share: s.Share, Evidence: s.Evidence,
		}
	}
	return out
}

// Today is what has become of a cause since the case was opened.
type Today string

const (
	Still   Today = "still" // it stands in the record
	Gone    Today = "gone"  // it does not any more
	New     Today = "new"   // it was not thought of when the case was opened
	Happens Today = ""      // it is of what had happened, which stays so
)

// Known is a cause as it was thought of when the case was opened, and what is known now.
type Known struct {
	risk.Suspect
	Today Today
}

// Causes are those of a case as they were on its day, beside what is known now: what stands in the record today, and how the
// rulebook says it. Of a case that is open those that have come up since follow; one that has ended shows what it rested on. A
// case that kept none shows what is suspected now.
func Causes(c verification.Case, now []risk.Suspect, unnamed float64) ([]Known, float64) {
	out := []Known{}
	find := func(cause string) int {
		return slices.IndexFunc(now, func(s risk.Suspect) bool { return s.Cause == cause })
	}
	if len(c.Causes) == 0 {
		for _, s := range now {
			out = append(out, Known{Suspect: s})
		}
		return out, unnamed
	}
	for _, k := range c.Causes {
		s := risk.Suspect{
			Risk: risk.Risk{
				Risk: rulebook.Risk{Cause: k.Cause}, Title: k.Title, Says: k.Says, Mend: k.Mend, Facts: k.Facts, Standing: k.Standing, ByPaper: k.ByPaper,
			},
			Share: k.Share, Evidence: k.Evidence, Pointed: k.Pointed, Words: k.Words,
		}
		known, i := Known{Suspect: s}, find(k.Cause)
		if i >= 0 {
			known.Weight, known.SetsOff = now[i].Weight, now[i].SetsOff
		}
		if k.Standing && !k.Words {
			if known.Today = Gone; i >= 0 && !now[i].Words {
				known.Today = Still
			}
		}
		out = append(out, known)
	}
	if c.Open() {
		for _, s := range now {
			if s.Standing && !s.Words && !slices.ContainsFunc(c.Causes, func(k verification.Cause) bool { return k.Cause == s.Cause }) {
				out = append(out, Known{Suspect: s, Today: New})
			}
		}
	}
	return out, c.Unnamed
}

// Live are the causes that are still to be mended or argued.
func Live(all []Known) []risk.Suspect {
	var out []risk.Suspect
	for _, k := range all {
		s := k.Suspect
		s.Standing = s.Standing && k.Today != Gone
		out = append(out, s)
	}
	return out
}
