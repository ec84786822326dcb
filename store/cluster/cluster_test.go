package cluster_test

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"

	"uvent/store/cluster"
)

func start(t *testing.T, dir string) *cluster.Cluster {
	t.Helper()
	c, err := cluster.Start(t.Context(), cluster.Options{Dir: dir, Throwaway: true})
	if err != nil {
		t.Fatal(err)
	}
	return c
}

// run does a statement on a cluster.
func run(t *testing.T, c *cluster.Cluster, sql string) string {
	t.Helper()
	conn, err := pgx.Connect(t.Context(), c.URL("postgres"))
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(context.Background())
	var out string
	if err := conn.QueryRow(t.Context(), sql).Scan(&out); err != nil && err != pgx.ErrNoRows {
		t.Fatal(err)
	}
	return out
}

func TestAClusterIsMadeStoppedAndStartedAgain(t *testing.T) {
	dir, err := os.MkdirTemp("", "uvent-cluster-")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	t.Chdir(filepath.Dir(dir))
	c := start(t, filepath.Base(dir)) // also by a name from here
	run(t, c, "create table kept (word text)")
	run(t, c, "insert into kept values ('still here') returning word")
	if listens := run(t, c, "show listen_addresses"); listens != "127.0.0.1" {
		t.Errorf("it listens on %s", listens)
	}
	// A second program on the same folder, as after a kill: the first server
	// is stopped, and nothing is lost.
	second := start(t, dir)
	if word := run(t, second, "select word from kept"); word != "still here" {
		t.Errorf("it kept %q", word)
	}
	second.Stop()
	c.Stop()
	if _, err := pgx.Connect(t.Context(), second.URL("postgres")); err == nil {
		t.Error("it answers after it was stopped")
	}
	// What a killed first start leaves is cleared away.
	if err := os.MkdirAll(filepath.Join(dir, "data.new", "base"), 0o700); err != nil {
		t.Fatal(err)
	}
	third := start(t, dir)
	defer third.Stop()
	if word := run(t, third, "select word from kept"); word != "still here" {
		t.Errorf("started again it kept %q", word)
	}
	if info, err := os.Stat(filepath.Join(dir, "password")); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("its password: %v, %v", info, err)
	}
	if _, err := pgx.Connect(t.Context(), strings.Replace(third.URL("postgres"), "uvent:", "uvent:x", 1)); err == nil {
		t.Error("any password opens it")
	}
}

func TestAServerThatCannotStartSaysWhere(t *testing.T) {
	dir, err := os.MkdirTemp("", "uvent-cluster-")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	start(t, dir).Stop()
	if err := os.WriteFile(filepath.Join(dir, "data", "postgresql.conf"), []byte("no such setting = 1\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	_, err = cluster.Start(t.Context(), cluster.Options{Dir: dir, Throwaway: true})
	if err == nil || !strings.Contains(err.Error(), filepath.Join(dir, "server.log")) {
		t.Errorf("it says %v", err)
	}
}
