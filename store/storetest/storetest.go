// Package storetest gives tests a real PostgreSQL: one throwaway server a test
// program, and a migrated database of its own for each test.
package storetest

import (
	"context"
	"fmt"
	"os"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/jackc/pgx/v5"

	"uvent/store"
	"uvent/store/cluster"
)

var (
	start    sync.Once
	server   *cluster.Cluster
	startErr error
	count    atomic.Int64
)

const template = "uvent_template"

// Main runs a package's tests and then stops the server, if one was started.
func Main(m *testing.M) {
	code := m.Run()
	if server != nil {
		server.Stop()
		os.RemoveAll(dir)
	}
	os.Exit(code)
}

var dir string

func begin() {
	ctx := context.Background()
	if dir, startErr = os.MkdirTemp("", "uvent-test-"); startErr != nil {
		return
	}
	if server, startErr = cluster.Start(ctx, cluster.Options{Dir: dir, Throwaway: true}); startErr != nil {
		return
	}
	if startErr = exec(ctx, "postgres", "create database "+template); startErr != nil {
		return
	}
	var s *store.Store
	if s, startErr = store.Open(ctx, server.URL(template)); startErr != nil {
		return
	}
	startErr = s.Migrate(ctx)
	s.Close()
}

func exec(ctx context.Context, database, sql string) error {
	conn, err := pgx.Connect(ctx, server.URL(database))
	if err != nil {
		return err
	}
	defer conn.Close(ctx)
	_, err = conn.Exec(ctx, sql)
	return err
}

// URL is the address of a new, migrated, empty database.
func URL(t testing.TB) string {
	t.Helper()
	start.Do(begin)
	if startErr != nil {
		t.Fatal(startErr)
	}
	name := fmt.Sprintf("uvent_%d", count.Add(1))
	if err := exec(context.Background(), "postgres", "create database "+name+" template "+template); err != nil {
		t.Fatal(err)
	}
	return server.URL(name)
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
