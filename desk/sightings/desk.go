// Package sightings is what directories' public pages showed.
package sightings

import (
	"uvent/desk/ledger"
	"uvent/reach"
)

// Desk looks at pages. It is safe for concurrent use.
type Desk struct {
	reach  *reach.Reach
	ledger *ledger.Desk
}

// New makes a desk.
func New(r *reach.Reach, l *ledger.Desk) *Desk { return &Desk{reach: r, ledger: l} }
