package cluster_test

import (
	"context"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/store/cluster"
)

func start(t *testing.T, dir string) *cluster.Cluster {
	t.Helper()
	return startWith(t, cluster.Options{Dir: dir, Throwaway: true})
}

func startWith(t *testing.T, o cluster.Options) *cluster.Cluster {
	t.Helper()
	c, err := cluster.Start(t.Context(), o)
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
	c.Stop()
	if _, err := pgx.Connect(t.Context(), c.URL("postgres")); err == nil {
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

// Programs on one folder share a server, which goes on when one of them ends, or when it ends by itself, at the same address
// and with all that it kept; and it ends with the last of them.
func TestProgramsOnOneFolderShareAServer(t *testing.T) {
	dir, err := os.MkdirTemp("", "uvent-cluster-")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	first := startWith(t, cluster.Options{Dir: dir})
	run(t, first, "create table kept (word text)")
	run(t, first, "insert into kept values ('still here') returning word")
	second, third := startWith(t, cluster.Options{Dir: dir}), startWith(t, cluster.Options{Dir: dir})
	if first.Joined() || !second.Joined() || !third.Joined() || second.URL("postgres") != first.URL("postgres") {
		t.Fatalf("%s and %s", first.URL("postgres"), second.URL("postgres"))
	}
	third.Stop()
	kept := func(c *cluster.Cluster, when string) {
		t.Helper()
		for end := time.Now().Add(time.Minute); ; time.Sleep(50 * time.Millisecond) {
			conn, err := pgx.Connect(t.Context(), c.URL("postgres"))
			if err == nil {
				conn.Close(t.Context())
				break
			}
			if time.Now().After(end) {
				t.Fatalf("%s: %v", when, err)
			}
		}
		if word := run(t, c, "select word from kept"); word != "still here" {
			t.Errorf("%s it kept %q", when, word)
		}
	}
	kept(second, "after one that had joined was stopped")

	for range 2 {
		pid, err := os.ReadFile(filepath.Join(dir, "data", "postmaster.pid"))
		if err != nil {
			t.Fatal(err)
		}
		n, err := strconv.Atoi(strings.Split(string(pid), "\n")[0])
		if err != nil {
			t.Fatal(err)
		}
		if err := syscall.Kill(n, syscall.SIGKILL); err != nil {
			t.Fatal(err)
		}
		for syscall.Kill(n, 0) == nil {
			time.Sleep(time.Millisecond)
		}
		kept(first, "after it was killed")
	}
	first.Stop()
	kept(second, "after the one that ran it was stopped")
	if second.Joined() {
		t.Error("nobody runs it")
	}
	second.Stop()
	if _, err := pgx.Connect(t.Context(), second.URL("postgres")); err == nil {
		t.Error("it answers after the last one has stopped")
	}
}
