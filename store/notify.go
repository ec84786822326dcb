package store

import (
	"context"
	"encoding/json"
	"log/slog"
	"sync"
	"time"

	"github.com/google/uuid"

	"uvent/store/db"
)

// Change says what has changed, for whoever watches.
type Change struct {
	Location *uuid.UUID `json:"location,omitempty"` // nil: more than one, or none
	Listing  bool       `json:"listing,omitempty"`  // one of the location's listings, and nothing of its record
	Clock    bool       `json:"clock,omitempty"`
	Books    bool       `json:"books,omitempty"`   // rulebooks
	Regions  bool       `json:"regions,omitempty"` // what is known of the country
	People   bool       `json:"people,omitempty"`  // who may see what: somebody's session has ended, or their role is another
}

// Notify tells whoever watches, once the transaction is committed.
func Notify(ctx context.Context, q *db.Queries, c Change) error {
	payload, err := json.Marshal(c)
	if err != nil {
		return err
	}
	return q.Notify(ctx, string(payload))
}

// watchers are those here who are told of every change that any server commits.
type watchers struct {
	mu  sync.Mutex
	all map[chan string]bool
}

// enough is how many changes wait for a watcher who is slow; one who has as many looks at everything
// anew anyway.
const enough = 64

// Watch tells of every change, as JSON of Change, while Follow is at work. leave ends it.
func (s *Store) Watch() (changes <-chan string, leave func()) {
	c := make(chan string, enough)
	s.watchers.mu.Lock()
	defer s.watchers.mu.Unlock()
	s.watchers.all[c] = true
	return c, func() {
		s.watchers.mu.Lock()
		defer s.watchers.mu.Unlock()
		delete(s.watchers.all, c)
	}
}

func (w *watchers) tell(payload string) {
	w.mu.Lock()
	defer w.mu.Unlock()
	for c := range w.all {
		select {
		case c <- payload:
		default:
		}
	}
}

// Follow hears of changes, on a connection of its own, and tells whoever watches, until the context
// ends. After a connection was lost it tells of a change of everything, since some may have been
// missed.
func (s *Store) Follow(ctx context.Context, log *slog.Logger) {
	for ctx.Err() == nil {
		err := s.listen(ctx)
		if ctx.Err() != nil {
			return
		}
		log.Warn("changes are not heard for a moment", "error", err)
		select {
		case <-ctx.Done():
		case <-time.After(time.Second):
		}
		s.watchers.tell("{}")
	}
}

func (s *Store) listen(ctx context.Context) error {
	conn, err := s.Pool.Acquire(ctx)
	if err != nil {
		return err
	}
	defer conn.Release()
	if _, err := conn.Exec(ctx, "listen uvent_changed"); err != nil {
		return err
	}
	defer conn.Exec(context.WithoutCancel(ctx), "unlisten uvent_changed")
	for {
		n, err := conn.Conn().WaitForNotification(ctx)
		if err != nil {
			return err
		}
		s.watchers.tell(n.Payload)
	}
}
