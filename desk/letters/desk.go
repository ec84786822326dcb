// Package letters is what is written to people, and what directories write to us.
package letters

import (
	"github.com/riverqueue/river"

	"uvent/desk/ledger"
	"uvent/reach"
	"uvent/sealing"
	"uvent/store"
)

// Desk sends letters and keeps those that came. It is safe for concurrent use.
type Desk struct {
	store *store.Store
	clock reach.Clock
	reach *reach.Reach
	jobs  ledger.Jobs
	log   *ledger.Desk
	key   sealing.Key
}

// New makes a desk. key is what the secrets are derived from that letters tell.
func New(s *store.Store, clock reach.Clock, r *reach.Reach, jobs ledger.Jobs, log *ledger.Desk, key sealing.Key) *Desk {
	return &Desk{store: s, clock: clock, reach: r, jobs: jobs, log: log, key: key}
}

// Workers adds those who send letters.
func (d *Desk) Workers(w *river.Workers) { river.AddWorker(w, &mailWorker{desk: d}) }
