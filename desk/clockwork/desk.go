// Package clockwork winds up all rooms of the desk, and does what falls due: jobs, deadlines,
// digests, the sealing of the log.
package clockwork

import (
	"context"
	"log/slog"
	"sync"
	"sync/atomic"
	"time"

	"github.com/google/uuid"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivertype"

	"uvent/core/rule/rulebook"
	"uvent/desk/boards"
	"uvent/desk/doors"
	"uvent/desk/files"
	"uvent/desk/imports"
	"uvent/desk/ledger"
	"uvent/desk/letters"
	"uvent/desk/listings"
	"uvent/desk/matters"
	"uvent/desk/once"
	"uvent/desk/owners"
	"uvent/desk/people"
	"uvent/desk/records"
	"uvent/desk/rounds"
	"uvent/desk/shelf"
	"uvent/desk/sightings"
	"uvent/reach"
	"uvent/sealing"
	"uvent/store"
	"uvent/store/db"
)

// Desk is all rooms, and what keeps them going. It is safe for concurrent use.
type Desk struct {
	Once      *once.Desk
	Shelf     *shelf.Desk
	People    *people.Desk
	Doors     *doors.Desk
	Ledger    *ledger.Desk
	Letters   *letters.Desk
	Files     *files.Desk
	Records   *records.Desk
	Imports   *imports.Desk
	Sightings *sightings.Desk
	Listings  *listings.Desk
	Owners    *owners.Desk
	Matters   *matters.Desk
	Rounds    *rounds.Desk
	Boards    *boards.Desk

	store *store.Store
	clock reach.Clock
	log   *slog.Logger
	id    string // of this server among others on the same database
	wake  chan struct{}
	works ledger.Jobs // it does the jobs that others enqueue
	key   sealing.Key
	heads Heads

	alive  atomic.Bool // this server's name is held
	missed missing     // the ticker's alone
}

// Fetching is how soon jobs that were enqueued are fetched, and how often it is looked for them
// where nobody has told.
const (
	fetchCooldown = 5 * time.Millisecond
	fetchPoll     = 250 * time.Millisecond
)

// Parts are what a desk is made of.
type Parts struct {
	Store *store.Store
	Reach *reach.Reach
	Clock reach.Clock
	Books []rulebook.Rulebook // that ship
	Log   *slog.Logger
	Cost  people.Cost // of guessing a password; the zero Cost: people.Dear
	Key   sealing.Key // that seals what only the servers on this database may read
	Heads Heads
	Heard doors.Heard // is told what directories were asked; nil: nobody is
}

// New makes a desk. Nothing is done in the background until Run.
func New(p Parts) (*Desk, error) {
	if p.Cost == (people.Cost{}) {
		p.Cost = people.Dear
	}
	s, r, clock, books, log := p.Store, p.Reach, p.Clock, p.Books, p.Log
	d := &Desk{store: s, clock: clock, log: log, id: uuid.NewString(), wake: make(chan struct{}, 1), key: p.Key, heads: p.Heads, missed: missing{}}
	jobs, err := river.NewClient(riverpgxv5.New(s.Pool), &river.Config{FetchCooldown: fetchCooldown, FetchPollInterval: fetchPoll, Logger: log})
	if err != nil {
		return nil, err
	}
	d.Once = once.New(s, p.Key)
	if d.Shelf, err = shelf.New(context.Background(), s, clock, books, log); err != nil {
		return nil, err
	}
	d.Doors = doors.New(doors.Parts{
		Store: s, Reach: r, Clock: clock, Shelf: d.Shelf, Key: p.Key, Heard: p.Heard, Log: log,
		Note: func(ctx context.Context, q *db.Queries, by people.Actor, kind string, data any) error {
			return d.Ledger.NoteAbout(ctx, q, by, kind, data)
		},
	})
	r = r.WithDoor(d.Doors)
	d.Ledger = ledger.New(s, clock, r, jobs, d.Shelf)
	d.Letters = letters.New(s, clock, r, jobs, d.Ledger, p.Key)
	d.People = people.New(s, clock, d.Ledger, d.Letters, p.Cost, p.Key)
	d.Files = files.New(s, clock, d.Shelf, d.Ledger)
	d.Records = records.New(s, clock, r, jobs, d.Shelf, d.People, d.Ledger, d.Letters, d.Files)
	d.Imports = imports.New(s, clock, jobs, d.Ledger)
	d.Sightings = sightings.New(s, clock, r, d.Ledger)
	d.Listings = listings.New(s, clock, r, jobs, d.Shelf, d.Ledger, d.Letters, d.Files, d.Records, d.Sightings)
	d.Owners = owners.New(s, clock, jobs, d.Shelf, d.People, d.Ledger, d.Letters, d.Files, d.Listings)
	d.Matters = matters.New(s, clock, d.Shelf, d.People, d.Ledger)
	d.Rounds = rounds.New(s, clock, r, jobs, d.Shelf, d.Ledger, d.Records, d.Listings, d.Owners, d.People)
	d.Boards = boards.New(s, clock, r, d.Shelf, d.Ledger, d.Files, d.Records, d.Listings, d.Rounds)
	workers := river.NewWorkers()
	for _, room := range []interface{ Workers(*river.Workers) }{d.Ledger, d.Letters, d.Records, d.Imports, d.Listings, d.Owners, d.Rounds} {
		room.Workers(workers)
	}
	// Jobs run on real time; what is due by the job's own clock comes to them from the ticker.
	d.works, err = river.NewClient(riverpgxv5.New(s.Pool), &river.Config{
		ID:                d.id,
		Workers:           workers,
		Middleware:        []rivertype.Middleware{aliveOnly{&d.alive}},
		Queues:            map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: 16}},
		FetchCooldown:     fetchCooldown,
		FetchPollInterval: fetchPoll,
		Logger:            log,
	})
	return d, err
}

// aliveOnly has jobs wait while this server's name is not held: another would take it for gone, and do them too.
type aliveOnly struct{ alive *atomic.Bool }

// IsMiddleware makes it one of River's.
func (aliveOnly) IsMiddleware() bool { return true }

// Work does a job, or puts it off.
func (a aliveOnly) Work(ctx context.Context, _ *rivertype.JobRow, do func(context.Context) error) error {
	if !a.alive.Load() {
		return river.JobSnooze(time.Second)
	}
	return do(ctx)
}

// Now is the job's time.
func (d *Desk) Now() time.Time { return d.clock.Now() }

// Run works in the background until the context ends: jobs, and what falls due
// by the clock. It returns when all of it has stopped.
func (d *Desk) Run(ctx context.Context) error {
	holding, letGo := context.WithCancel(context.WithoutCancel(ctx))
	let := make(chan struct{})
	defer func() { letGo(); <-let }()
	first := make(chan struct{})
	go func() {
		defer close(let)
		once := sync.OnceFunc(func() { close(first) })
		d.store.HoldName(holding, d.id, func(held bool) {
			d.alive.Store(held)
			if held {
				once()
			}
		})
	}()
	select {
	case <-ctx.Done():
		return nil
	case <-first:
	}
	if err := d.People.SealOld(ctx); err != nil {
		return err
	}
	if err := d.works.Start(context.WithoutCancel(ctx)); err != nil {
		return err
	}
	heard := make(chan struct{})
	go func() { d.store.Follow(ctx, d.log); close(heard) }()
	d.tickUntil(ctx)
	<-heard
	last, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
	defer cancel()
	if err := d.works.Stop(last); err != nil {
		return d.works.StopAndCancel(context.WithoutCancel(ctx))
	}
	return nil
}
