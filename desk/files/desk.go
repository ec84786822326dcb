// Package files is the photos, papers and videos of locations and clients.
package files

import (
	"golang.org/x/sync/semaphore"

	"uvent/core/fact/photo"
	"uvent/desk/ledger"
	"uvent/desk/shelf"
	"uvent/reach"
	"uvent/store"
)

// Desk keeps files. It is safe for concurrent use.
type Desk struct {
	store  *store.Store
	clock  reach.Clock
	shelf  *shelf.Desk
	ledger *ledger.Desk
	pixels *semaphore.Weighted // how many can be worked on at once
}

// New makes a desk.
func New(s *store.Store, clock reach.Clock, books *shelf.Desk, l *ledger.Desk) *Desk {
	return &Desk{store: s, clock: clock, shelf: books, ledger: l, pixels: semaphore.NewWeighted(photo.MostPixels)}
}
