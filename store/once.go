package store

import (
	"context"
	"errors"
	"sync/atomic"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/store/db"
)

// Turn is a request's right to do what was asked for with a key of whoever asked. Where another request has taken it, nothing
// more can be done by this one.
type Turn struct {
	Who, Key string
	ID       uuid.UUID
	done     atomic.Bool // something was committed
}

// Done reports whether something was committed in this turn.
func (t *Turn) Done() bool { return t.done.Load() }

// ErrTaken is that another request does the same.
var ErrTaken = errors.New("another request does the same")

type turnKey struct{}

// InTurn has all transactions of a context be those of a turn.
func InTurn(ctx context.Context, t *Turn) context.Context {
	return context.WithValue(ctx, turnKey{}, t)
}

// Tx does f in one transaction: all of it or, when f or the commit fails, nothing. In a turn it is done with it that
// something was; where another request has taken the turn, nothing is, and the error is ErrTaken.
func (s *Store) Tx(ctx context.Context, f func(q *db.Queries, tx pgx.Tx) error) error {
	turn, _ := ctx.Value(turnKey{}).(*Turn)
	first := turn != nil && !turn.Done()
	err := pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error {
		q := s.WithTx(tx)
		if err := f(q, tx); err != nil || !first {
			return err
		}
		// Last, so that the row is held no longer than the commit takes.
		n, err := q.OnceIsDone(ctx, db.OnceIsDoneParams{Who: turn.Who, Key: turn.Key, Turn: turn.ID})
		if err == nil && n == 0 {
			err = ErrTaken
		}
		return err
	})
	if err == nil && first {
		turn.done.Store(true)
	}
	return err
}
