// Package shelf is the rulebooks in force: those that ship, those of a folder, and what was
// written here over them, with their versions.
package shelf

import (
	"context"
	"log/slog"
	"sync"
	"sync/atomic"

	"uvent/core/rule/rulebook"
	"uvent/reach"
	"uvent/store"
)

// Desk keeps the rulebooks. It is safe for concurrent use.
type Desk struct {
	store *store.Store
	clock reach.Clock
	log   *slog.Logger
	books atomic.Pointer[Library]
	files []rulebook.Rulebook // those that ship

	mu   sync.Mutex
	more MoreBooks // nil for none
	read string    // what was read last
	bad  []string  // what is wrong with those that are not in force
}

// New makes a desk with the rulebooks that ship, and takes up what was written over them.
func New(ctx context.Context, s *store.Store, clock reach.Clock, books []rulebook.Rulebook, log *slog.Logger) (*Desk, error) {
	d := &Desk{store: s, clock: clock, log: log, files: books}
	d.books.Store(newLibrary(books))
	return d, d.Reshelve(ctx)
}
