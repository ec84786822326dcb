// Package letters is what is written to people, and what directories write to us.
package letters

import (
	"github.com/riverqueue/river"

	"uvent/desk/ledger"
	"uvent/reach"
	"uvent/store"
)

// Desk sends letters and keeps those that came. It is safe for concurrent use.
type Desk struct {
	store *store.Store
	reach *reach.Reach
	jobs  ledger.Jobs
}

// New makes a desk.
func New(s *store.Store, r *reach.Reach, jobs ledger.Jobs) *Desk {
	return &Desk{store: s, reach: r, jobs: jobs}
}

// Workers adds those who send letters.
func (d *Desk) Workers(w *river.Workers) { river.AddWorker(w, &mailWorker{desk: d}) }
