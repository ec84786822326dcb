package fit

import (
	"slices"

	"uvent/core/rule/rulebook"
)

// Copied is what becomes of a listing that a directory copies from another.
type Copied struct {
	Brought Values // what comes along, as the other holds it, and what is given with the asking
	Left    Values // what else the directory takes of the record
}

// Copy says what comes along when a directory copies a listing from another that holds some values: not
// what the other does not hold, what the copying does not carry, or what it leaves out.
func Copy(s *Subject, held Values, from, to *rulebook.Rulebook) (out Copied) {
	i := slices.IndexFunc(to.Copies, func(c rulebook.Copying) bool { return c.From == from.ID })
	for _, v := range Of(s, to).Values() {
		there, holds := held.Find(v.Key)
		switch {
		case slices.ContainsFunc(to.Account.First, func(f rulebook.First) bool { return f.Fact == v.Key }):
			out.Brought = append(out.Brought, v)
		case i >= 0 && holds && to.Copies[i].Carry(v.Key):
			there.Label = v.Label
			out.Brought = append(out.Brought, there)
		default:
			out.Left = append(out.Left, v)
		}
	}
	return out
}
