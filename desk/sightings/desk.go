// Package sightings is what directories' public pages showed.
package sightings

import (
	"uvent/desk/ledger"
	"uvent/reach"
)

// Desk looks at pages. It is safe for concurrent use.
type Desk struct {
	clock  reach.Clock
	reach  *reach.Reach
	ledger *ledger.Desk
}

// New makes a desk.
func New(clock reach.Clock, r *reach.Reach, l *ledger.Desk) *Desk {
	return &Desk{clock: clock, reach: r, ledger: l}
}
