package clockwork_test

import (
	"testing"

	"github.com/jackc/pgx/v5"

	"uvent/e2e/rig"
)

// A server whose connection is lost takes its name again, so that no other takes it for gone.
func TestANameThatIsLostIsTakenAgain(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	r.Second(t)
	// The numbers of names are large; those of what is locked for a moment are small.
	const named = `from pg_locks l join pg_database d on d.oid = l.database
		where l.locktype = 'advisory' and l.granted and l.classid > 0 and d.datname = current_database()`
	names := func() (n int) {
		rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) "+named).Scan(&n))
		return n
	}
	r.Eventually(t, func() bool { return names() == 2 })
	owner, err := pgx.Connect(ctx, r.Store.Pool.Config().ConnString()) // who may end others
	rig.Must(t, err)
	defer owner.Close(ctx)
	for range 3 {
		_, err := owner.Exec(ctx, "select pg_terminate_backend(l.pid) "+named)
		rig.Must(t, err)
		r.Eventually(t, func() bool { return names() == 2 })
	}
}
