// Package desk is what a specialist does: a file per verb of the job. A verb
// begins the transaction, holds the facts against the rules of core, adds the
// events and derives the present from them, and enqueues what has to be asked
// of a directory.
package desk

import (
	"context"
	"fmt"
	"log/slog"
	"sync/atomic"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"
	"golang.org/x/sync/semaphore"

	"uvent/core/fact/photo"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
	"uvent/reach"
	"uvent/store"
)

// Desk does the specialist's verbs. It is safe for concurrent use.
type Desk struct {
	store   *store.Store
	reach   *reach.Reach
	clock   reach.Clock
	books   atomic.Pointer[library]
	shelf   shelf
	log     *slog.Logger
	id      string // of this server among others on the same database
	jobs    *river.Client[pgx.Tx]
	putting Put

	address  atomic.Pointer[string]   // where owners open their pages
	lastRead atomic.Pointer[readings] // of an import
	regions  atomic.Pointer[country]
	pixels   *semaphore.Weighted // how many can be worked on at once
}

// New makes a desk. Nothing is done in the background until Run.
func New(s *store.Store, r *reach.Reach, clock reach.Clock, books []rulebook.Rulebook, log *slog.Logger) (*Desk, error) {
	d := &Desk{store: s, reach: r, clock: clock, log: log, id: uuid.NewString(), pixels: semaphore.NewWeighted(photo.MostPixels)}
	d.shelf.files = books
	d.putting = d.put
	d.books.Store(newLibrary(books))
	if err := d.Reshelve(context.Background()); err != nil {
		return nil, err
	}
	var err error
	d.jobs, err = d.newJobs()
	return d, err
}

// Actor is who does something.
type Actor struct {
	ID   uuid.UUID
	Name string
}

// Uvent acts where nobody asked: by the clock.
var Uvent = Actor{Name: "Uvent"}

// Now is the job's time.
func (d *Desk) Now() time.Time { return d.clock.Now() }

// ProblemKind sorts problems by what the caller can do about them.
type ProblemKind int

const (
	Invalid  ProblemKind = iota // the input must be mended
	NotFound                    // there is no such thing
	Conflict                    // not as things stand
	TooMany                     // wait before asking again
	Denied                      // the sign-in is wrong
)

// Problem is a request that cannot be done, in words for the person who asked.
type Problem struct {
	Kind   ProblemKind
	Detail string
	Fields []record.Problem // the input's faults, where Kind is Invalid
}

func (p *Problem) Error() string { return p.Detail }

func invalid(fields []record.Problem) *Problem {
	if len(fields) == 1 {
		return &Problem{Kind: Invalid, Detail: "One fact cannot be kept as it is.", Fields: fields}
	}
	return &Problem{Kind: Invalid, Detail: fmt.Sprintf("%d facts cannot be kept as they are.", len(fields)), Fields: fields}
}

func conflict(format string, a ...any) *Problem {
	return &Problem{Kind: Conflict, Detail: fmt.Sprintf(format, a...)}
}

// Run works in the background until the context ends: jobs, and what falls due
// by the clock. It returns when all of it has stopped.
func (d *Desk) Run(ctx context.Context) error {
	stop, err := d.holdName(ctx)
	if err != nil {
		return err
	}
	defer stop()
	if err := d.jobs.Start(context.WithoutCancel(ctx)); err != nil {
		return err
	}
	d.tickUntil(ctx)
	last, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
	defer cancel()
	if err := d.jobs.Stop(last); err != nil {
		return d.jobs.StopAndCancel(context.WithoutCancel(ctx))
	}
	return nil
}

// ServeAt says at which address people reach this server, as http://host:port.
func (d *Desk) ServeAt(address string) { d.address.Store(&address) }

// Address is where people reach this server; empty until it is known.
func (d *Desk) Address() string {
	if a := d.address.Load(); a != nil {
		return *a
	}
	return ""
}

// Account is the one that directories know us by.
func (d *Desk) Account() string { return d.reach.Account() }
