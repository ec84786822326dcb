package store_test

import (
	"context"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"uvent/store"
	"uvent/store/cluster"
	"uvent/store/storetest"
)

// Boards are read from a standby, and yet nobody reads there what was before their own change: not while it lags, not while
// it is gone, nor once it is back.
func TestAReplicaTellsNothingOld(t *testing.T) {
	ctx := t.Context()
	dir, err := os.MkdirTemp("", "uvent-main-")
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	must(err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	main, err := cluster.Start(ctx, cluster.Options{Dir: dir})
	must(err)
	t.Cleanup(main.Stop)
	s, err := store.Open(ctx, main.URL("postgres"))
	must(err)
	t.Cleanup(s.Close)
	must(s.Migrate(ctx))
	standby, copied, err := storetest.Standby(ctx, main.URL("postgres"), dir)
	t.Cleanup(func() { os.RemoveAll(copied) })
	must(err)
	t.Cleanup(func() { standby.Stop() })

	if err := s.WithReplica(ctx, main.URL("postgres")); err == nil || !strings.Contains(err.Error(), "no standby") {
		t.Errorf("the database as its own replica: %v", err)
	}
	if err := s.WithReplica(ctx, storetest.URL(t)); err == nil || !strings.Contains(err.Error(), "another database") {
		t.Errorf("some other server: %v", err)
	}
	must(s.WithReplica(ctx, standby.URL("postgres")))
	n := 0
	says := func() {
		t.Helper()
		for range 100 {
			n++
			_, err := s.Pool.Exec(ctx, "insert into client (id, name) values (gen_random_uuid(), 'Client ' || $1::int)", n)
			must(err)
			clients, err := s.Reading(ctx).Clients(ctx)
			must(err)
			if len(clients) != n {
				t.Fatalf("%d clients are there, and %d are read", n, len(clients))
			}
		}
	}
	counted := func(do func()) (database, replica int64) {
		d0, r0, _ := s.Reads()
		do()
		d1, r1, _ := s.Reads()
		return d1 - d0, r1 - r0
	}
	if database, replica := counted(says); replica < 80 {
		t.Errorf("of 100 reads %d went to the database and %d to a standby that has nothing else to do", database, replica)
	}

	behind, err := store.Open(ctx, standby.URL("postgres"))
	must(err)
	t.Cleanup(behind.Close)
	_, err = behind.Pool.Exec(ctx, "reset role; select pg_wal_replay_pause()")
	must(err)
	for paused := false; !paused; {
		must(behind.Pool.QueryRow(ctx, "select pg_get_wal_replay_pause_state() = 'paused'").Scan(&paused))
	}
	if _, replica := counted(func() {
		soon, stop := context.WithTimeout(ctx, time.Minute)
		defer stop()
		n++
		_, err := s.Pool.Exec(soon, "insert into client (id, name) values (gen_random_uuid(), 'Last')")
		must(err)
		if clients, err := s.Reading(soon).Clients(soon); err != nil || len(clients) != n {
			t.Errorf("while it lags %d of %d are read: %v", len(clients), n, err)
		}
	}); replica != 0 {
		t.Error("one that lags was read")
	}
	behind.Close()

	said, err := os.ReadFile(filepath.Join(copied, "data", "postmaster.pid"))
	must(err)
	pid, err := strconv.Atoi(strings.SplitN(string(said), "\n", 2)[0])
	must(err)
	must(syscall.Kill(pid, syscall.SIGKILL))
	if database, _ := counted(says); database < 80 {
		t.Errorf("when it was gone %d of 100 reads went to the database", database)
	}
	for back := false; !back; { // it is started again, at the same address
		_, replica := counted(says)
		back = replica > 80
	}
}
