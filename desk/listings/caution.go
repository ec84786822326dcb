package listings

import (
	"slices"

	"uvent/core/listing/verification"
	"uvent/core/rule/fit"
	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
)

// Caution is what a change may set off on a directory, and the gentlest way to make it.
type Caution struct {
	Risks  []risk.Risk
	Worst  rulebook.SetsOff
	Chance float64
	Steps  []risk.Step
}

// Weigh weighs the change that a listing would be sent.
func Weigh(b *rulebook.Rulebook, s risk.Subject, keys []string, st verification.State) (c Caution) {
	if len(keys) == 0 {
		return c
	}
	s.Changed = keys
	var settling *rulebook.Edit
	if st.Change != nil {
		s.Before = st.Change.Keys
		if len(s.Before) == 0 {
			s.Before = []string{""} // it is not known which
		}
		settling = &rulebook.Edit{SetsOff: rulebook.OffReview}
		for _, e := range b.Edits {
			if slices.ContainsFunc(e.Facts, func(f string) bool { return slices.Contains(s.Before, f) }) {
				settling = &e
			}
		}
	}
	c.Risks = risk.Find(b, s)
	c.Worst, c.Chance = risk.Expect(c.Risks)
	c.Steps = risk.Weighed(b, s, risk.Order(b, keys, settling))
	return c
}

// only are the values whose keys are named; all where none is.
func only(values fit.Values, keys []string) fit.Values {
	if len(keys) == 0 {
		return values
	}
	return slices.DeleteFunc(slices.Clone(values), func(v fit.Value) bool { return !slices.Contains(keys, v.Key) })
}

// over lays values over those that were given before.
func over(given, values fit.Values) fit.Values {
	out := slices.Clone(given)
	for _, v := range values {
		if i := slices.IndexFunc(out, func(o fit.Value) bool { return o.Key == v.Key }); i >= 0 {
			out[i] = v
		} else {
			out = append(out, v)
		}
	}
	return out
}
