// Package owners is the private pages through which owners do what only they can.
package owners

import (
	"sync"

	"github.com/riverqueue/river"

	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/letters"
	"uvent/desk/listings"
	"uvent/desk/people"
	"uvent/desk/shelf"
	"uvent/reach"
	"uvent/store"
)

// Desk keeps the private pages. It is safe for concurrent use.
type Desk struct {
	store    *store.Store
	clock    reach.Clock
	jobs     ledger.Jobs
	shelf    *shelf.Desk
	people   *people.Desk
	ledger   *ledger.Desk
	letters  *letters.Desk
	files    *files.Desk
	listings *listings.Desk
	reading  sync.Map // ids of links of which a file is being read
}

// New makes a desk.
func New(
	s *store.Store,
	clock reach.Clock,
	jobs ledger.Jobs,
	books *shelf.Desk,
	p *people.Desk,
	l *ledger.Desk,
	post *letters.Desk,
	f *files.Desk,
	ls *listings.Desk,
) *Desk {
	return &Desk{store: s, clock: clock, jobs: jobs, shelf: books, people: p, ledger: l, letters: post, files: f, listings: ls}
}

// Workers adds those who ask for the calls that owners have chosen.
func (d *Desk) Workers(w *river.Workers) { river.AddWorker(w, &ownerCallWorker{desk: d}) }
