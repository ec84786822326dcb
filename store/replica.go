package store

import (
	"context"
	"errors"
	"fmt"
	"sync/atomic"
	"time"

	"github.com/jackc/pgx/v5/pgxpool"

	"uvent/store/db"
)

// replica is a hot standby of the database (https://www.postgresql.org/docs/current/hot-standby.html), which boards are
// read from.
type replica struct {
	pool      *pgxpool.Pool
	queries   *db.Queries
	leftUntil atomic.Int64 // Unix time in ns until which it is not asked, since it did not answer
	read      [2]atomic.Int64
}

// How long a read waits for the replica to have what the database has, between looks whether it has, and how long a replica
// that does not answer is left alone.
const (
	catchingUp = 50 * time.Millisecond
	looksAgain = 2 * time.Millisecond
	leftAlone  = 2 * time.Second
)

// WithReplica has boards be read from a standby of the database from now on. It fails where the address leads to anything
// else.
func (s *Store) WithReplica(ctx context.Context, url string) error {
	pool, err := newPool(ctx, url, takeRole)
	if err != nil {
		return fmt.Errorf("the replica: %w", err)
	}
	if err := s.isOf(ctx, pool); err != nil {
		pool.Close()
		return fmt.Errorf("the replica: %w", err)
	}
	s.replica = &replica{pool: pool, queries: db.New(pool)}
	return nil
}

// isOf checks that a server is a standby of ours.
func (s *Store) isOf(ctx context.Context, pool *pgxpool.Pool) error {
	const who = "select system_identifier, pg_is_in_recovery() from pg_control_system()"
	var ours, theirs int64
	var standby bool
	if err := s.Pool.QueryRow(ctx, who).Scan(&ours, &standby); err != nil {
		return err
	}
	if err := pool.QueryRow(ctx, who).Scan(&theirs, &standby); err != nil {
		return err
	}
	switch {
	case theirs != ours:
		return errors.New("its address leads to another database; it must be a standby of the one that --database names")
	case !standby:
		return errors.New("its address leads to a server that is no standby")
	}
	return nil
}

// Reading is where a board is read: the replica, once it has all that the database had when this was called, so that nobody
// reads what was there before their own change. Where there is none, where it does not answer or stays behind, it is the
// database itself.
func (s *Store) Reading(ctx context.Context) *db.Queries {
	r := s.replica
	if r == nil {
		return s.Queries
	}
	if time.Now().UnixNano() < r.leftUntil.Load() || !r.has(ctx, s.Pool) {
		r.read[0].Add(1)
		return s.Queries
	}
	r.read[1].Add(1)
	return r.queries
}

// reached is up to where what is committed stands in the database's write-ahead log: it may be before that is flushed only
// where that is not waited for.
const reached = `select case current_setting('synchronous_commit') when 'off' then pg_current_wal_insert_lsn() else pg_current_wal_flush_lsn() end::text`

// has reports whether the replica has all that the database has by now, or has it soon.
func (r *replica) has(ctx context.Context, database *pgxpool.Pool) bool {
	var upTo string
	if database.QueryRow(ctx, reached).Scan(&upTo) != nil {
		return false // whoever reads is told why
	}
	for deadline := time.Now().Add(catchingUp); ; {
		var there bool
		soon, stop := context.WithTimeout(ctx, time.Second)
		err := r.pool.QueryRow(soon, "select coalesce(pg_last_wal_replay_lsn() >= $1::text::pg_lsn, false)", upTo).Scan(&there)
		stop()
		switch {
		case err != nil:
			if ctx.Err() == nil {
				r.leftUntil.Store(time.Now().Add(leftAlone).UnixNano())
			}
			return false
		case there:
			return true
		case time.Now().After(deadline):
			return false
		}
		time.Sleep(looksAgain)
	}
}

// Reads counts how many reads of boards went to the database and how many to the replica, where one is named.
func (s *Store) Reads() (database, replica int64, named bool) {
	if s.replica == nil {
		return 0, 0, false
	}
	return s.replica.read[0].Load(), s.replica.read[1].Load(), true
}
