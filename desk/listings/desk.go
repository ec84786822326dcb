// Package listings is what is done with listings: what is asked of directories, what their yes
// and no mean, what people do there themselves, and what is said of each.
package listings

import (
	"github.com/riverqueue/river"

	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/letters"
	"uvent/desk/records"
	"uvent/desk/shelf"
	"uvent/desk/sightings"
	"uvent/reach"
	"uvent/store"
)

// Desk works on listings. It is safe for concurrent use.
type Desk struct {
	store     *store.Store
	clock     reach.Clock
	reach     *reach.Reach
	jobs      ledger.Jobs
	shelf     *shelf.Desk
	ledger    *ledger.Desk
	letters   *letters.Desk
	files     *files.Desk
	records   *records.Desk
	sightings *sightings.Desk
}

// New makes a desk, and has the ledger ask directories through it.
func New(
	s *store.Store,
	clock reach.Clock,
	r *reach.Reach,
	jobs ledger.Jobs,
	books *shelf.Desk,
	l *ledger.Desk,
	post *letters.Desk,
	f *files.Desk,
	rec *records.Desk,
	seen *sightings.Desk,
) *Desk {
	d := &Desk{store: s, clock: clock, reach: r, jobs: jobs, shelf: books, ledger: l, letters: post, files: f, records: rec, sightings: seen}
	l.Serve(d.put)
	return d
}

// Workers adds those who do what falls due on listings.
func (d *Desk) Workers(w *river.Workers) { river.AddWorker(w, &dueWorker{desk: d}) }
