package risk

import (
	"slices"

	"uvent/core/rule/rulebook"
)

// Step is what is changed at one time.
type Step struct {
	Facts []string       // keys
	Meets rulebook.Edit  // what it sets off; none: it is taken at once
	After *rulebook.Edit // what has to be settled first; nil: nothing, it can be sent today

	Worst  rulebook.SetsOff // that the step may lead to by itself; empty: nothing is known that it may
	Chance float64          // of that
}

// Weighed are steps, each with what it may lead to by itself, once those before it are settled. s is the subject as it stands,
// with what is being looked at already.
func Weighed(b *rulebook.Rulebook, s Subject, steps []Step) []Step {
	out := slices.Clone(steps)
	for i := range out {
		one := s
		if one.Changed = out[i].Facts; i > 0 {
			one.Before = nil
		}
		out[i].Worst, out[i].Chance = Expect(Find(b, one))
	}
	return out
}

// Order splits a change so that each step is settled before the next: what is taken at
// once and what is looked at first, then what wants a new verification; name and address
// last and never together. settling is a change that is being looked at already.
func Order(b *rulebook.Rulebook, changed []string, settling *rulebook.Edit) (out []Step) {
	var groups [4][]string // at once or looked at, verified anew, name, address
	for _, key := range changed {
		e := edit(b, key)
		i := 0
		switch {
		case key == "name" && (e.SetsOff != "" || slices.Contains(changed, "address")):
			i = 2
		case key == "address" && (e.SetsOff != "" || slices.Contains(changed, "name")):
			i = 3
		case e.SetsOff == rulebook.OffVerification:
			i = 1
		}
		groups[i] = append(groups[i], key)
	}
	for _, facts := range groups {
		if len(facts) == 0 {
			continue
		}
		s := Step{Facts: facts, After: settling}
		for _, key := range facts {
			if e := edit(b, key); e.SetsOff != "" {
				s.Meets = e
			}
		}
		out = append(out, s)
		if settling = nil; s.Meets.SetsOff != "" {
			settling = &s.Meets
		}
	}
	return out
}

// edit is what a change of one fact sets off.
func edit(b *rulebook.Rulebook, key string) rulebook.Edit {
	if i := slices.IndexFunc(b.Edits, func(e rulebook.Edit) bool { return slices.Contains(e.Facts, key) }); i >= 0 {
		return b.Edits[i]
	}
	return rulebook.Edit{}
}
