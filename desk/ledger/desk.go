// Package ledger is the spine of every verb: it locks a listing, adds events to it and derives
// the present from them, asks directories, and keeps the log of all that was done.
package ledger

import (
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"uvent/desk/shelf"
	"uvent/reach"
	"uvent/store"
)

// Jobs enqueues what is done in the background.
type Jobs = *river.Client[pgx.Tx]

// Desk keeps the ledger. It is safe for concurrent use.
type Desk struct {
	store *store.Store
	clock reach.Clock
	reach *reach.Reach
	jobs  Jobs
	shelf *shelf.Desk
	put   Put
}

// New makes a desk. Nothing can be asked of a directory before Serve.
func New(s *store.Store, clock reach.Clock, r *reach.Reach, jobs Jobs, books *shelf.Desk) *Desk {
	return &Desk{store: s, clock: clock, reach: r, jobs: jobs, shelf: books}
}

// now is the job's time as the database keeps it: in microseconds, at Greenwich.
func (d *Desk) now() time.Time { return d.clock.Now().UTC().Truncate(time.Microsecond) }

// Serve says how directories are asked.
func (d *Desk) Serve(put Put) { d.put = put }

// Workers adds those who ask directories.
func (d *Desk) Workers(w *river.Workers) { river.AddWorker(w, &callWorker{desk: d}) }
