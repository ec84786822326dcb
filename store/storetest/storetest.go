// Package storetest gives tests a real PostgreSQL: one throwaway server for a run of tests (see
// the command beside it) or else for a test program, and a migrated database of its own for each
// test.
package storetest

import (
	"context"
	"fmt"
	"net/url"
	"os"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/jackc/pgx/v5"

	"uvent/bounded"
	"uvent/store"
	"uvent/store/cluster"
)

// Server is the variable that names the server for a run, prepared by Begin.
const Server = "UVENT_TEST_SERVER"

var (
	start    sync.Once
	server   string // address of its database postgres
	stop     = func() {}
	startErr error
	count    atomic.Int64
)

const template = "uvent_template"

// Main runs a package's tests and then stops the server, if one was started, and clears away what else they share.
func Main(m *testing.M, clear ...func()) {
	bounded.Serve()
	code := m.Run()
	stop()
	for _, c := range clear {
		c()
	}
	os.Exit(code)
}

// Begin starts a throwaway server with the template of which tests' databases are made. address
// is that of its database postgres.
func Begin(ctx context.Context) (address string, end func(), err error) {
	dir, err := os.MkdirTemp("", "uvent-test-")
	if err != nil {
		return "", nil, err
	}
	c, err := cluster.Start(ctx, cluster.Options{Dir: dir, Throwaway: true})
	if err != nil {
		os.RemoveAll(dir)
		return "", nil, err
	}
	end = func() {
		c.Stop()
		os.RemoveAll(dir)
	}
	address = c.URL("postgres")
	if err := prepare(ctx, address); err != nil {
		end()
		return "", nil, err
	}
	return address, end, nil
}

func prepare(ctx context.Context, address string) error {
	if err := run(ctx, address, "create database "+template); err != nil {
		return err
	}
	at, err := of(address, template)
	if err != nil {
		return err
	}
	s, err := store.Open(ctx, at)
	if err != nil {
		return err
	}
	defer s.Close()
	return s.Migrate(ctx)
}

// of is the address of a database on the same server.
func of(address, database string) (string, error) {
	u, err := url.Parse(address)
	if err != nil {
		return "", err
	}
	u.Path = "/" + database
	return u.String(), nil
}

func run(ctx context.Context, address, sql string) error {
	conn, err := pgx.Connect(ctx, address)
	if err != nil {
		return err
	}
	defer conn.Close(ctx)
	_, err = conn.Exec(ctx, sql)
	return err
}

// URL is the address of a new, migrated, empty database, which goes with its test.
func URL(t testing.TB) string {
	t.Helper()
	start.Do(func() {
		if server = os.Getenv(Server); server == "" {
			server, stop, startErr = Begin(context.Background())
			if stop == nil {
				stop = func() {}
			}
		}
	})
	if startErr != nil {
		t.Fatal(startErr)
	}
	name := fmt.Sprintf("uvent_%d_%d", os.Getpid(), count.Add(1))
	if err := run(context.Background(), server, "create database "+name+" template "+template); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		if err := run(context.Background(), server, "drop database "+name+" with (force)"); err != nil {
			t.Error(err)
		}
	})
	at, err := of(server, name)
	if err != nil {
		t.Fatal(err)
	}
	return at
}

// Open is a store on a new database. It is closed when the test ends.
func Open(t testing.TB) *store.Store {
	t.Helper()
	s, err := store.Open(context.Background(), URL(t))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	return s
}

// Owner connects to a store's database as its owner, who may do what the application may
// not.
func Owner(t testing.TB, s *store.Store) *pgx.Conn {
	t.Helper()
	c, err := pgx.Connect(context.Background(), s.Pool.Config().ConnString())
	if err == nil {
		_, err = c.Exec(context.Background(), "set search_path = uvent, outside")
	}
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { c.Close(context.Background()) })
	return c
}
