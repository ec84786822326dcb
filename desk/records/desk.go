// Package records is clients and locations: their records, how they are taken out, what is planned for them and
// what is missing, and how they fit each directory.
package records

import (
	"sync/atomic"

	"github.com/riverqueue/river"

	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/letters"
	"uvent/desk/people"
	"uvent/desk/shelf"
	"uvent/reach"
	"uvent/store"
)

// Desk keeps the records. It is safe for concurrent use.
type Desk struct {
	store   *store.Store
	clock   reach.Clock
	reach   *reach.Reach
	jobs    ledger.Jobs
	shelf   *shelf.Desk
	people  *people.Desk
	ledger  *ledger.Desk
	letters *letters.Desk
	files   *files.Desk
	regions atomic.Pointer[country]
}

// New makes a desk.
func New(
	s *store.Store,
	clock reach.Clock,
	r *reach.Reach,
	jobs ledger.Jobs,
	books *shelf.Desk,
	p *people.Desk,
	l *ledger.Desk,
	post *letters.Desk,
	f *files.Desk,
) *Desk {
	return &Desk{store: s, clock: clock, reach: r, jobs: jobs, shelf: books, people: p, ledger: l, letters: post, files: f}
}

// Workers adds those who let planned changes take effect, and make regions.
func (d *Desk) Workers(w *river.Workers) {
	river.AddWorker(w, &planWorker{desk: d})
	river.AddWorker(w, &regionWorker{desk: d})
}
