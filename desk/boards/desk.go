// Package boards is what is read over many listings or about one. A board calls no verb, and no
// verb reads a board.
package boards

import (
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/records"
	"uvent/desk/rounds"
	"uvent/desk/shelf"
	"uvent/reach"
	"uvent/store"
)

// Desk reads. It is safe for concurrent use.
type Desk struct {
	store    *store.Store
	clock    reach.Clock
	reach    *reach.Reach
	shelf    *shelf.Desk
	ledger   *ledger.Desk
	files    *files.Desk
	records  *records.Desk
	listings *listings.Desk
	rounds   *rounds.Desk
}

// New makes a desk.
func New(
	s *store.Store,
	clock reach.Clock,
	r *reach.Reach,
	books *shelf.Desk,
	l *ledger.Desk,
	f *files.Desk,
	rec *records.Desk,
	ls *listings.Desk,
	rs *rounds.Desk,
) *Desk {
	return &Desk{store: s, clock: clock, reach: r, shelf: books, ledger: l, files: f, records: rec, listings: ls, rounds: rs}
}
