package fit

import (
	"slices"

	"uvent/core/rule/rulebook"
)

// LeftBehind are the values that a directory takes and that do not come along when it
// copies a listing from another: those that the other does not hold, that the copying
// does not carry, or that it leaves out.
func LeftBehind(s *Subject, from, to *rulebook.Rulebook) Values {
	i := slices.IndexFunc(to.Copies, func(c rulebook.Copying) bool { return c.From == from.ID })
	if i < 0 {
		return nil
	}
	c, theirs := to.Copies[i], Of(s, from).Values()
	out := Values{}
	for _, v := range Of(s, to).Values() {
		_, held := theirs.Find(v.Key)
		first := slices.ContainsFunc(to.Account.First, func(f rulebook.First) bool { return f.Fact == v.Key }) // given with the asking
		if !first && (!held || slices.Contains(c.Omits, v.Key) || len(c.Carries) > 0 && !slices.Contains(c.Carries, v.Key)) {
			out = append(out, v)
		}
	}
	return out
}
