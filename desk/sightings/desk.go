// Package sightings is what directories' public pages showed, whoever saw it, and when they are looked at.
package sightings

import (
	"strings"
	"sync"

	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/reach"
	"uvent/store"
)

// Desk looks at pages. It is safe for concurrent use.
type Desk struct {
	store  *store.Store
	clock  reach.Clock
	reach  *reach.Reach
	ledger *ledger.Desk
	plans  struct {
		sync.Mutex
		of map[string]plan // by directory
	}
}

// New makes a desk.
func New(s *store.Store, clock reach.Clock, r *reach.Reach, l *ledger.Desk) *Desk {
	d := &Desk{store: s, clock: clock, reach: r, ledger: l}
	d.plans.of = map[string]plan{}
	return d
}

// today0 is a date where none matters.
var today0 = calendar.Date{Year: 2026, Month: 1, Day: 1}

// titles are what facts are called within a sentence.
var titles = func() map[string]string {
	out := map[string]string{}
	for _, l := range compare.Facts(record.Record{}, rulebook.Rulebook{}, nil, today0) {
		out[l.Fact] = strings.ToLower(l.Title)
	}
	return out
}()
