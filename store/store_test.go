package store_test

import (
	"context"
	"strings"
	"testing"
	"time"

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
