// Package rounds is one thing done for many listings, and courses: the steps by which
// locations close, move or open again on every directory.
package rounds

import (
	"github.com/riverqueue/river"

	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/owners"
	"uvent/desk/people"
	"uvent/desk/records"
	"uvent/desk/shelf"
	"uvent/reach"
	"uvent/store"
)

// Desk does rounds. It is safe for concurrent use.
type Desk struct {
	store    *store.Store
	clock    reach.Clock
	reach    *reach.Reach
	jobs     ledger.Jobs
	shelf    *shelf.Desk
	ledger   *ledger.Desk
	records  *records.Desk
	listings *listings.Desk
	owners   *owners.Desk
	people   *people.Desk
}

// New makes a desk.
func New(
	s *store.Store,
	clock reach.Clock,
	r *reach.Reach,
	jobs ledger.Jobs,
	books *shelf.Desk,
	l *ledger.Desk,
	rec *records.Desk,
	ls *listings.Desk,
	o *owners.Desk,
	who *people.Desk,
) *Desk {
	return &Desk{store: s, clock: clock, reach: r, jobs: jobs, shelf: books, ledger: l, records: rec, listings: ls, owners: o, people: who}
}

// Workers adds those who take up the listings of rounds.
func (d *Desk) Workers(w *river.Workers) {
	river.AddWorker(w, &roundWorker{desk: d})
	river.AddWorker(w, &followWorker{desk: d})
}
