package store

import (
	"context"
	"hash/fnv"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// PostgreSQL's advisory locks, all of them here, so that no two purposes share one.
const (
	lockMigrating = 7_315_001 // one server migrates at a time
	lockSealing   = 7_315_002 // one seals the log
	lockReckoning = 7_315_003 // one reckons tasks
	lockFirst     = 7_315_004 // one becomes the first administrator
	lockCalls     = 7_315_005 // one books calls, so that no two come at once
	lockOwners    = 7_315_006 // one writes to an owner
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

// LockCalls waits for the right to book a call, and has it until the transaction ends.
func LockCalls(ctx context.Context, tx pgx.Tx) error {
	_, err := tx.Exec(ctx, "select pg_advisory_xact_lock($1)", int64(lockCalls))
	return err
}

// LockOwner has the right to write to one owner of a client until the transaction ends; false where somebody else has it.
func LockOwner(ctx context.Context, tx pgx.Tx, client uuid.UUID, email string) (mine bool, err error) {
	err = tx.QueryRow(ctx, "select pg_try_advisory_xact_lock($1, hashtext($2))", int32(lockOwners), client.String()+" "+email).Scan(&mine)
	return mine, err
}

// LockFirst waits for the right to become the first administrator, and has it until the transaction ends.
func LockFirst(ctx context.Context, tx pgx.Tx) error {
	_, err := tx.Exec(ctx, "select pg_advisory_xact_lock($1)", int64(lockFirst))
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

// How often the connection that holds a name is asked whether it lives, how long that may take, and how long it is waited
// before the name is taken again.
const (
	holdLooks = 500 * time.Millisecond
	holdWaits = 5 * time.Second
	holdPause = 100 * time.Millisecond
)

// HoldName holds the lock that says that a server is alive, on a connection of its own, so that it goes the moment the server
// does, until the context ends. Where the connection is lost, as when the database restarts, it is taken anew; held tells
// whether it is there.
func (s *Store) HoldName(ctx context.Context, name string, held func(bool)) {
	for ctx.Err() == nil {
		_ = s.holdOnce(ctx, name, held) // why it was lost is told by whatever else fails then
		held(false)
		select {
		case <-ctx.Done():
		case <-time.After(holdPause):
		}
	}
}

func (s *Store) holdOnce(ctx context.Context, name string, held func(bool)) error {
	conn, err := s.Pool.Acquire(ctx)
	if err != nil {
		return err
	}
	defer conn.Release()
	if _, err := conn.Exec(ctx, "select pg_advisory_lock($1)", nameLock(name)); err != nil {
		return err
	}
	held(true)
	look := time.NewTicker(holdLooks)
	defer look.Stop()
	for {
		select {
		case <-ctx.Done():
			_, err := conn.Exec(context.WithoutCancel(ctx), "select pg_advisory_unlock($1)", nameLock(name))
			return err
		case <-look.C:
		}
		asked, done := context.WithTimeout(ctx, holdWaits)
		err := conn.Ping(asked)
		done()
		if err != nil && ctx.Err() == nil {
			return err
		}
	}
}

// NameIsFree reports whether the server of a name is gone; until the transaction ends, none takes
// the name.
func NameIsFree(ctx context.Context, tx pgx.Tx, name string) (bool, error) {
	return tryLock(ctx, tx, nameLock(name))
}
