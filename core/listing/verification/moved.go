package verification

import (
	"slices"
	"time"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// Moves: where a listing says that its location is, and what becomes of it where its directory takes the new place for
// another location.

// Left is a listing that stays with the place where its location was, as having moved, and is not worked on any more.
type Left struct {
	At  time.Time `json:"at"`
	Was State     `json:"was"` // all of it, as it was then
}

// Stood is where it says that the location is.
func (l Left) Stood() address.Address {
	if l.Was.Stands == nil {
		return address.Address{}
	}
	return *l.Was.Stands
}

type (
	// LeftThere is that a listing stays with the place where the location was, so that another is wanted.
	LeftThere struct {
		passing
		To address.Address `json:"to"` // where the location is now
	}
	// TakenUp is that a listing that was left is worked on again.
	TakenUp struct {
		passing
		Ref string `json:"ref"`
	}
	// SamePlace is that the location never moved: its address was mended.
	SamePlace struct {
		passing
		At address.Address `json:"at"` // as the record has it
	}
)

var _ = family(of[LeftThere], of[TakenUp], of[SamePlace])

// Kind names it.
func (LeftThere) Kind() Kind { return "left_there" }

// Kind names it.
func (TakenUp) Kind() Kind { return "left_taken_up" }

// Kind names it.
func (SamePlace) Kind() Kind { return "same_place" }

// Tell says it in words.
func (e LeftThere) Tell(rulebook.Rulebook) string {
	return "Left it with the place where the location was. Now it is at " + e.To.Line() + ", which wants a listing of its own."
}

// Tell says it in words.
func (TakenUp) Tell(rulebook.Rulebook) string {
	return "Took the listing up again that was left with the place before."
}

// Tell says it in words.
func (e SamePlace) Tell(rulebook.Rulebook) string {
	return "It did not move: " + e.At.Line() + " is where it was, written otherwise."
}

func (LeftThere) happen(s *State, c circumstances) {
	if s.Control != Held {
		return
	}
	was := *s
	was.Cases, was.Left = copied(s.Cases), nil
	left := append(slices.Clone(s.Left), Left{c.at, was})
	for i := range s.Cases {
		if s.Cases[i].Open() {
			s.Cases[i].ClosedAt, s.Cases[i].Outcome, s.Cases[i].Says = &c.at, GivenUp, "The listing was left with the place where the location was."
		}
	}
	fresh := Start()
	// Its cases are read as before, and what is its own goes along: it is of the location.
	fresh.Left, fresh.Cases, fresh.Own, fresh.ChangedAt = left, s.Cases, s.Own, s.ChangedAt
	*s = fresh
}

func (e TakenUp) happen(s *State, _ circumstances) {
	i := slices.IndexFunc(s.Left, func(l Left) bool { return l.Was.Ref == e.Ref })
	if i < 0 || s.Control != NoControl || s.Busy != "" {
		return
	}
	now := s.Left[i].Was
	now.Left = slices.Delete(slices.Clone(s.Left), i, i+1)
	if len(now.Left) == 0 {
		now.Left = nil
	}
	if since := len(now.Cases); since < len(s.Cases) {
		now.Cases = append(slices.Clone(now.Cases), s.Cases[since:]...)
	}
	now.Own, now.ChangedAt = s.Own, s.ChangedAt
	*s = now
}

func (SamePlace) happen(s *State, _ circumstances) { s.Stands = nil }

// stands notes where a listing was given that its location is; values without an address say nothing of it.
func (s *State) stands(values fit.Values) {
	v, given := values.Find("address")
	if !given || v.Data == nil {
		return
	}
	part := func(key string) string { text, _ := v.Data[key].(string); return text }
	s.Stands = &address.Address{
		Street: part("street"), Locality: part("locality"), Region: part("region"), PostalCode: part("postal_code"), Country: part("country"),
	}
}

// takenAt notes where a location was when a listing that was there already became ours: what moved before that is an address
// that the directory has not heard of, and no move of ours.
func (s *State) takenAt(at *address.Address) {
	if at != nil && *at != (address.Address{}) {
		s.Stands = at
	}
}

// Elsewhere reports whether a listing of ours says that its location is where, for its directory, another location is than the
// record's: it is not to be given the new address, but to say that the location has moved.
func (s State) Elsewhere(r record.Record, book rulebook.Rulebook) bool {
	open := r.State.Kind != record.ClosedForATime && r.State.Kind != record.ClosedForGood && r.State.Kind != record.Moved
	return open && s.Control == Held && s.Stands != nil && book.Moving.AnotherAt(*s.Stands, r.Address)
}

// LeftOne reports whether a listing is one that was left.
func (s State) LeftOne(ref string) bool {
	return slices.ContainsFunc(s.Left, func(l Left) bool { return l.Was.Ref == ref })
}
