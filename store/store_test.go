package store_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"uvent/store"
	"uvent/store/db"
	"uvent/store/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

func TestMigratingTwiceChangesNothing(t *testing.T) {
	s := storetest.Open(t)
	if err := s.Migrate(context.Background()); err != nil {
		t.Fatal(err)
	}
}

func TestEventsAreFinal(t *testing.T) {
	s, ctx := storetest.Open(t), context.Background()
	id, err := s.AddEvent(ctx, db.AddEventParams{At: time.Now(), Actor: "Test", Kind: "begun", Data: []byte(`{}`)})
	if err != nil {
		t.Fatal(err)
	}
	owner := storetest.Owner(t, s)
	for _, sql := range []string{"update event set actor = 'x' where id = $1", "delete from event where id = $1", "update event_seal set hash = '' where event_id = $1"} {
		if _, err := s.Pool.Exec(ctx, sql, id); err == nil || !strings.Contains(err.Error(), "permission denied") {
			t.Errorf("the application: %s: %v", sql, err)
		}
		if _, err := owner.Exec(ctx, sql, id); !strings.Contains(sql, "seal") && (err == nil || !strings.Contains(err.Error(), "never changed")) {
			t.Errorf("the owner: %s: %v", sql, err)
		}
	}
	if _, err := s.Pool.Exec(ctx, "truncate event"); err == nil {
		t.Error("events can be truncated")
	}
}

// The program's login owns nothing: it can neither change the log nor become whoever could.
func TestTheLoginOwnsNothing(t *testing.T) {
	ctx := t.Context()
	owner, err := store.Open(ctx, storetest.URL(t))
	if err != nil {
		t.Fatal(err)
	}
	defer owner.Close()
	const password = "it's a 'word'"
	if err := owner.Login(ctx, password); err != nil {
		t.Fatal(err)
	}
	url, err := owner.LoginURL(password)
	if err != nil {
		t.Fatal(err)
	}
	s, err := store.Open(ctx, url)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if _, err := s.Pool.Exec(ctx, "insert into client (name) values ('Spokeshave')"); err != nil {
		t.Errorf("it cannot work: %v", err)
	}
	for _, does := range []string{
		"update event set kind = 'x'", "delete from event", "truncate event", "drop table event", "alter table event disable trigger all", "drop trigger event_is_final on event",
		"set session_replication_role = replica", "create role another superuser", "reset role; delete from event", "set role uvent", "set session authorization uvent",
		"copy client to program 'true'", "select pg_read_file('/etc/passwd')", "create extension dblink", "alter role uvent_app superuser",
	} {
		if _, err := s.Pool.Exec(ctx, does); err == nil {
			t.Errorf("it may %s", does)
		}
	}
	var holds bool
	if err := s.Pool.QueryRow(
		ctx,
		`select rolsuper or rolcreaterole or rolcreatedb or rolreplication or rolbypassrls or exists (select from pg_class where relowner = r.oid)
		from pg_roles r where rolname = current_user and current_user = session_user`,
	).Scan(
		&holds,
	); err != nil ||
		holds {
		t.Errorf("it holds more than it needs: %v, %v", holds, err)
	}
}
