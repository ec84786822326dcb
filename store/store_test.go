package store_test

import (
	"bytes"
	"context"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

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
	address, err := owner.LoginURL(password)
	if err != nil {
		t.Fatal(err)
	}
	s, err := store.Open(ctx, address)
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

// A server of PostgreSQL that others use too: another owner's role of the application is none of ours.
func TestASecondOwnerOnOneServer(t *testing.T) {
	ctx := t.Context()
	first := storetest.Open(t)
	owner := storetest.Owner(t, first)
	name := "second_" + strings.ReplaceAll(uuid.NewString(), "-", "")
	for _, does := range []string{"create role " + name + " login password 'curlew'", "create database " + name + " owner " + name} {
		if _, err := owner.Exec(ctx, does); err != nil {
			t.Fatal(err)
		}
	}
	t.Cleanup(func() {
		for _, does := range []string{"drop database " + name + " with (force)", "drop role " + name} {
			if _, err := owner.Exec(context.Background(), does); err != nil {
				t.Error(err)
			}
		}
	})
	at, err := url.Parse(first.Pool.Config().ConnString())
	if err != nil {
		t.Fatal(err)
	}
	at.User, at.Path = url.UserPassword(name, "curlew"), "/"+name
	for range 2 { // anew, and once more
		s, err := store.Open(ctx, at.String())
		if err != nil {
			t.Fatal(err)
		}
		defer s.Close()
		if err := s.Migrate(ctx); err != nil {
			t.Fatal(err)
		}
		if _, err := s.AddEvent(ctx, db.AddEventParams{At: time.Now(), Actor: "Test", Kind: "begun", Data: []byte(`{}`)}); err != nil {
			t.Fatal(err)
		}
		if _, err := s.Pool.Exec(ctx, "delete from event"); err == nil || !strings.Contains(err.Error(), "never changed") {
			t.Errorf("events can be deleted: %v", err)
		}
	}
}

// A program that knows less than the database leaves it alone.
func TestANewerSchemaIsLeftAlone(t *testing.T) {
	s, ctx := storetest.Open(t), t.Context()
	owner := storetest.Owner(t, s)
	if _, err := owner.Exec(ctx, "insert into goose_db_version (version_id, is_applied) values (99999, true)"); err != nil {
		t.Fatal(err)
	}
	if err := s.Migrate(ctx); err == nil || !strings.Contains(err.Error(), "of a newer Uvent (its schema is 99999") {
		t.Errorf("it is migrated all the same: %v", err)
	}
}

// A backup of an older Uvent is restored into its schema, and brought up to date.
func TestAnOlderBackup(t *testing.T) {
	ctx := t.Context()
	const old = 32
	older, err := store.Open(ctx, storetest.URL(t))
	if err != nil {
		t.Fatal(err)
	}
	defer older.Close()
	if err := store.Emptied(older, ctx, old); err != nil {
		t.Fatal(err)
	}
	if _, err := older.Pool.Exec(ctx, "insert into client (name) values ('Spokeshave')"); err != nil {
		t.Fatal(err)
	}
	var file bytes.Buffer
	m, err := older.Backup(ctx, &file, nil, func(store.Progress) {})
	if err != nil || m.Migration != old {
		t.Fatalf("it is of %d: %v", m.Migration, err)
	}
	s := storetest.Open(t)
	for range 2 {
		_, err = s.Restore(ctx, bytes.NewReader(file.Bytes()), int64(file.Len()), nil)
		if err != nil {
			break
		}
		var name string
		if err := s.Pool.QueryRow(ctx, "select name from client").Scan(&name); err != nil || name != "Spokeshave" {
			t.Fatalf("%q, %v", name, err)
		}
		if _, err := s.Pool.Exec(ctx, "select from letter"); err != nil { // which is of a later migration
			t.Error(err)
		}
	}
	if err == nil || !strings.Contains(err.Error(), "not empty") {
		t.Errorf("it is restored over what is there: %v", err)
	}
	var newer bytes.Buffer
	if _, err := s.Backup(ctx, &newer, nil, func(store.Progress) {}); err != nil {
		t.Fatal(err)
	}
	if err := store.Emptied(older, ctx, old); err != nil {
		t.Fatal(err)
	}
	if _, err := older.Restore(
		ctx,
		bytes.NewReader(newer.Bytes()),
		int64(newer.Len()),
		nil,
	); err == nil ||
		!strings.Contains(err.Error(), "made by a newer Uvent") {
		t.Errorf("one of a newer Uvent: %v", err)
	}
}
