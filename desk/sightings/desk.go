// Package sightings is what directories' public pages showed, whoever saw it, and when they are looked at.
package sightings

import (
	"sync"

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
