// Package store keeps Uvent's data in PostgreSQL, in a schema of its own. The
// SQL is in queries/ and the code made from it in db/.
package store

import (
	"context"
	"embed"
	"fmt"
	"io/fs"
	neturl "net/url"

	"github.com/alexedwards/scs/pgxstore"
	"github.com/alexedwards/scs/v2"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"
	pgxuuid "github.com/vgarvardt/pgx-google-uuid/v5"

	"uvent/store/db"
)

//go:embed migrations/*.sql
var migrations embed.FS

const schema = "uvent"

// Store is a pool of connections.
type Store struct {
	*db.Queries // outside any transaction
	Pool        *pgxpool.Pool
	replica     *replica // nil: none is named
	watchers    watchers
}

// takeRole makes a connection the application's: one that may add to the log and read
// it, and not change it. Before the first migration there is no such role, and on a server that others use too it may be
// none of ours.
const takeRole = "select set_config('role', 'uvent_app', false) from pg_roles where rolname = 'uvent_app' and pg_has_role(oid, 'member')"

// Open connects to a database, as the application. It does not migrate it.
func Open(ctx context.Context, url string) (*Store, error) {
	return open(ctx, url, takeRole)
}

// open connects, and does something on each connection first.
func open(ctx context.Context, url, first string) (*Store, error) {
	pool, err := newPool(ctx, url, first)
	if err != nil {
		return nil, err
	}
	return &Store{Queries: db.New(pool), Pool: pool, watchers: watchers{all: map[chan string]bool{}}}, nil
}

func newPool(ctx context.Context, url, first string) (*pgxpool.Pool, error) {
	config, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("the database's address: %w", err)
	}
	config.ConnConfig.RuntimeParams["search_path"] = schema
	config.ConnConfig.RuntimeParams["timezone"] = "UTC"
	// A scope is an argument that may be missing, and the plan that is good without it is bad with it.
	config.ConnConfig.RuntimeParams["plan_cache_mode"] = "force_custom_plan"
	config.MaxConns = max(config.MaxConns, 24)
	config.AfterConnect = func(ctx context.Context, c *pgx.Conn) error {
		pgxuuid.Register(c.TypeMap()) // as sixteen bytes, not by way of text
		_, err := c.Exec(ctx, first)
		return err
	}
	pool, err := pgxpool.NewWithConfig(ctx, config)
	if err != nil {
		return nil, err
	}
	if err := pool.Ping(ctx); err != nil {
		pool.Close()
		return nil, fmt.Errorf("the database does not answer: %w", err)
	}
	return pool, nil
}

// Sessions keeps the sessions of those who are signed in.
func (s *Store) Sessions() scs.Store { return pgxstore.NewWithCleanupInterval(s.Pool, 0) }

// Close ends the connections.
func (s *Store) Close() {
	s.Pool.Close()
	if s.replica != nil {
		s.replica.pool.Close()
	}
}

// rights are what the application's role may do: all, but change what was logged. The role
// is the whole server's; where we may not make one, the triggers guard the log alone.
const rights = `do $$ begin
	if not exists (select from pg_roles where rolname = 'uvent_app') then
		create role uvent_app nologin;
	end if;
	if not pg_has_role(current_user, 'uvent_app', 'member') then
		execute format('grant uvent_app to %I', current_user);
	end if;
	grant usage on schema uvent to uvent_app;
	grant all on all tables in schema uvent to uvent_app;
	grant all on all sequences in schema uvent to uvent_app;
	revoke update, delete, truncate on event, event_seal from uvent_app;
exception when insufficient_privilege or duplicate_object or unique_violation then
	raise notice 'the role uvent_app cannot be made here: %', sqlerrm;
end $$`

// Migrate brings the schema up to date, ours and River's, as the owner of the database.
func (s *Store) Migrate(ctx context.Context) error {
	owner, err := open(ctx, s.Pool.Config().ConnString(), "reset role")
	if err != nil {
		return err
	}
	defer owner.Close()
	if err := owner.migrate(ctx, newest); err != nil {
		return err
	}
	s.Pool.Reset() // connections of before take the role anew
	return nil
}

// newest is the last of all migrations.
const newest = 0

// emptied has an empty database be of the schema of some migration, as one that a backup of an older Uvent is restored into.
func (s *Store) emptied(ctx context.Context, migration int64) error {
	owner, err := open(ctx, s.Pool.Config().ConnString(), "reset role")
	if err != nil {
		return err
	}
	defer owner.Close()
	if _, err := owner.Pool.Exec(ctx, "drop schema if exists "+schema+" cascade"); err != nil {
		return err
	}
	if err := owner.migrate(ctx, migration); err != nil {
		return err
	}
	s.Pool.Reset()
	return nil
}

// Login lets the application's role sign in by a password: one who owns nothing, and cannot become anybody else.
func (s *Store) Login(ctx context.Context, password string) error {
	owner, err := open(ctx, s.Pool.Config().ConnString(), "reset role")
	if err != nil {
		return err
	}
	defer owner.Close()
	if _, err := owner.Pool.Exec(ctx, "alter role uvent_app login password "+literal(password)); err != nil {
		return fmt.Errorf("letting the application sign in: %w", err)
	}
	return nil
}

// LoginURL is the address at which the application's role signs in by a password.
func (s *Store) LoginURL(password string) (string, error) {
	at, err := neturl.Parse(s.Pool.Config().ConnString())
	if err != nil {
		return "", err
	}
	at.User = neturl.UserPassword("uvent_app", password)
	return at.String(), nil
}

// migrate brings the schema up to a migration.
func (s *Store) migrate(ctx context.Context, to int64) error {
	conn, err := s.Pool.Acquire(ctx)
	if err != nil {
		return err
	}
	defer conn.Release()
	if _, err := conn.Exec(ctx, "select pg_advisory_lock($1)", lockMigrating); err != nil {
		return err
	}
	defer conn.Exec(context.WithoutCancel(ctx), "select pg_advisory_unlock($1)", lockMigrating)
	if _, err := conn.Exec(ctx, "create schema if not exists "+schema); err != nil {
		return err
	}
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	sqlDB := stdlib.OpenDBFromPool(s.Pool)
	defer sqlDB.Close()
	provider, err := goose.NewProvider(goose.DialectPostgres, sqlDB, files)
	if err != nil {
		return err
	}
	is, knows, err := provider.GetVersions(ctx)
	switch {
	case err != nil:
		return err
	case is > knows:
		return fmt.Errorf("the database is of a newer Uvent (its schema is %d, this one knows %d): run that one, or restore a backup from before", is, knows)
	}
	if to == newest {
		to = knows
	}
	if _, err := provider.UpTo(ctx, to); err != nil {
		return fmt.Errorf("migrating: %w", err)
	}
	river, err := rivermigrate.New(riverpgxv5.New(s.Pool), nil)
	if err != nil {
		return err
	}
	if _, err := river.Migrate(ctx, rivermigrate.DirectionUp, nil); err != nil {
		return fmt.Errorf("migrating the job tables: %w", err)
	}
	if _, err := conn.Exec(ctx, rights); err != nil {
		return fmt.Errorf("giving the application its rights: %w", err)
	}
	return nil
}
