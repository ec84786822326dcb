package verification

import (
	"fmt"
	"slices"

	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// Values of a listing's own, in the place of what its record gives.

type (
	// OwnSet is that the listing is to be given another value than its record's.
	OwnSet struct {
		passing
		Value fit.Own `json:"value"`
		Label string  `json:"label"`           // what the directory's form calls the field
		Words string  `json:"words"`           // the value, as people read it
		Was   string  `json:"was,omitempty"`   // that it was given until now, as people read it
		Holds bool    `json:"holds,omitempty"` // it was so before, and somebody said that it still holds
	}
	// OwnDropped is that it is to be given what its record gives again.
	OwnDropped struct {
		passing
		Key   string `json:"key"`
		Label string `json:"label"`
		Was   string `json:"was"` // the value of its own, as people read it
	}
)

var _ = family(of[OwnSet], of[OwnDropped])

// Kind names it.
func (OwnSet) Kind() Kind { return "own_set" }

// Kind names it.
func (OwnDropped) Kind() Kind { return "own_dropped" }

// Tell says it in words.
func (e OwnSet) Tell(rulebook.Rulebook) string {
	if e.Holds {
		return fmt.Sprintf("%s: its own “%s” still holds.", e.Label, e.Words)
	}
	return fmt.Sprintf("%s: “%s” here, a value of its own. %s", e.Label, e.Words, e.Value.Why)
}

// Tell says it in words.
func (e OwnDropped) Tell(rulebook.Rulebook) string {
	return fmt.Sprintf("%s: what the record gives again, not “%s”.", e.Label, e.Was)
}

func (e OwnSet) happen(s *State, c circumstances) {
	e.Value.At, e.Value.By = c.at, c.by
	s.drop(e.Value.Key)
	s.Own = append(s.Own, e.Value)
}

func (e OwnDropped) happen(s *State, _ circumstances) { s.drop(e.Key) }

func (s *State) drop(key string) {
	s.Own = slices.DeleteFunc(slices.Clone(s.Own), func(o fit.Own) bool { return o.Key == key })
}
