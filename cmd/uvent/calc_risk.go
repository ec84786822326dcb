package main

import (
	"fmt"

	"uvent/core/rule/risk"
	"uvent/core/rule/rulebook"
)

// riskQuestion is a record, or a change of it, held against a directory's risks.
type riskQuestion struct {
	fitQuestion
	Changed []string `json:"changed"` // keys of the facts that are about to be changed
	Before  []string `json:"before"`  // of those that are not settled yet
}

type riskSaid struct {
	Cause   string           `json:"cause"`
	Says    string           `json:"says"`
	Mend    string           `json:"mend"`
	Weight  float64          `json:"weight"`
	SetsOff rulebook.SetsOff `json:"sets_off"`
}

type riskStep struct {
	Facts []string         `json:"facts"`
	Meets rulebook.SetsOff `json:"meets"` // empty: it is taken at once
	Waits bool             `json:"waits"` // until what came before is settled
}

// answer tells the risks, the worst that they set off, and the gentlest order.
func (q riskQuestion) answer() (any, error) {
	s, book, err := q.read()
	if err != nil {
		return nil, err
	}
	for i, key := range append(append([]string{}, q.Changed...), q.Before...) {
		if _, taken := book.Takes(key); !taken && book.FieldTitle(key) == key {
			name := "changed"
			if i >= len(q.Changed) {
				name, i = "before", i-len(q.Changed)
			}
			return nil, fmt.Errorf("%s.%d: %s takes no %q; write keys of its facts, such as name or address", name, i, book.Name, key)
		}
	}
	found := risk.Find(book, risk.Subject{Record: s.Record, Changed: q.Changed, Before: q.Before})
	out := struct {
		Risks  []riskSaid       `json:"risks"`
		Worst  rulebook.SetsOff `json:"worst"`
		Chance float64          `json:"chance"`
		Order  []riskStep       `json:"order"`
	}{Risks: []riskSaid{}, Order: []riskStep{}}
	out.Worst, out.Chance = risk.Expect(found)
	for _, r := range found {
		out.Risks = append(out.Risks, riskSaid{r.Cause, r.Says, r.Mend, r.Weight, r.SetsOff})
	}
	var settling *rulebook.Edit
	if len(q.Before) > 0 {
		settling = &rulebook.Edit{SetsOff: rulebook.OffReview}
	}
	for _, step := range risk.Order(book, q.Changed, settling) {
		out.Order = append(out.Order, riskStep{step.Facts, step.Meets.SetsOff, step.After != nil})
	}
	return out, nil
}
