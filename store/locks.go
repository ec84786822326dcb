package store

import (
	"context"
	"hash/fnv"

	"github.com/jackc/pgx/v5"
)

// PostgreSQL's advisory locks, all of them here, so that no two purposes share one.
const (
	lockMigrating = 7_315_001 // one server migrates at a time
	lockSealing   = 7_315_002 // one seals the log
	lockReckoning = 7_315_003 // one reckons tasks
)

// TryLockSealing takes the right to seal the log until the transaction ends; false where another
// server has it.
func TryLockSealing(ctx context.Context, tx pgx.Tx) (bool, error) {
	return tryLock(ctx, tx, lockSealing)
}

// LockReckoning waits for the right to reckon tasks, and has it until the transaction ends.
func LockReckoning(ctx context.Context, tx pgx.Tx) error {
	_, err := tx.Exec(ctx, "select pg_advisory_xact_lock($1)", int64(lockReckoning))
	return err
}

func tryLock(ctx context.Context, tx pgx.Tx, lock int64) (taken bool, err error) {
	err = tx.QueryRow(ctx, "select pg_try_advisory_xact_lock($1)", lock).Scan(&taken)
	return taken, err
}

// nameLock turns a server's name into a lock's number: 64 bits of it, far from the few above.
func nameLock(name string) int64 {
	h := fnv.New64a()
	h.Write([]byte(name))
	return int64(h.Sum64())
}

// HoldName takes the lock that says that a server is alive, on a connection of its own, so that
// it goes the moment the server does.
func (s *Store) HoldName(ctx context.Context, name string) (release func(), err error) {
	conn, err := s.Pool.Acquire(ctx)
	if err != nil {
		return nil, err
	}
	if _, err := conn.Exec(ctx, "select pg_advisory_lock($1)", nameLock(name)); err != nil {
		conn.Release()
		return nil, err
	}
	return func() {
		conn.Exec(context.Background(), "select pg_advisory_unlock($1)", nameLock(name))
		conn.Release()
	}, nil
}

// NameIsFree reports whether the server of a name is gone; until the transaction ends, none takes
// the name.
func NameIsFree(ctx context.Context, tx pgx.Tx, name string) (bool, error) {
	return tryLock(ctx, tx, nameLock(name))
}
