package store

import (
	"context"
	"encoding/json"

	"github.com/google/uuid"

	"uvent/store/db"
)

// Change says what has changed, for whoever watches.
type Change struct {
	Location *uuid.UUID `json:"location,omitempty"` // nil: more than one, or none
	Clock    bool       `json:"clock,omitempty"`
	Books    bool       `json:"books,omitempty"` // rulebooks
}

// Notify tells whoever watches, once the transaction is committed.
func Notify(ctx context.Context, q *db.Queries, c Change) error {
	payload, err := json.Marshal(c)
	if err != nil {
		return err
	}
	return q.Notify(ctx, string(payload))
}

// Watch calls f for every change that any server commits, until the context
// ends or the connection is lost.
func (s *Store) Watch(ctx context.Context, f func(payload string)) error {
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
		f(n.Payload)
	}
}
