package httpapi_test

import (
	"bytes"
	"context"
	"io"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/e2e/rig"
	"uvent/httpapi/api"
	"uvent/store"
	"uvent/store/db"
)

// keyed sends a request with a key, and tells what it is answered.
func (c *client) keyed(key, method, path string, body any) (status int, replayed bool, said string) {
	c.t.Helper()
	data, err := rig.AsWritten(body)
	rig.Must(c.t, err)
	req, err := http.NewRequest(method, c.base+path, bytes.NewReader(data))
	rig.Must(c.t, err)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Idempotency-Key", key)
	resp, err := c.http.Do(req)
	rig.Must(c.t, err)
	defer resp.Body.Close()
	told, err := io.ReadAll(resp.Body)
	rig.Must(c.t, err)
	c.check(req, resp, told)
	return resp.StatusCode, resp.Header.Get("Idempotency-Replayed") == "true", string(told)
}

// named is a client of a name, which is another for each.
func named(name string) map[string]string {
	return map[string]string{"name": name, "legal_name": name + " LLC", "owner_name": "Oda Kettering", "owner_email": "oda@client.example"}
}

func TestAskedTwiceDoneOnce(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	clients := func() (n int) {
		t.Helper()
		rig.Must(t, r.Store.Pool.QueryRow(t.Context(), "select count(*) from client").Scan(&n))
		return n
	}
	before := clients()
	status, replayed, first := c.keyed(`"one"`, http.MethodPost, "/api/clients", named("Tern & Daughter"))
	if status != http.StatusCreated || replayed {
		t.Fatalf("%d, %v: %s", status, replayed, first)
	}
	for _, key := range []string{`"one"`, "one", " one "} { // a string of RFC 8941, or bare
		if status, replayed, again := c.keyed(key, http.MethodPost, "/api/clients", named("Tern & Daughter")); status != http.StatusCreated ||
			!replayed || again != first {
			t.Errorf("asked again by %q: %d, %v: %s", key, status, replayed, again)
		}
	}
	if status, _, said := c.keyed("one", http.MethodPost, "/api/clients", named("Another")); status != http.StatusUnprocessableEntity ||
		!strings.Contains(said, "Another request went by this") {
		t.Errorf("another thing by the same key: %d %s", status, said)
	}
	if n := clients(); n != before+1 {
		t.Errorf("%d clients were made", n-before)
	}

	// What is answered with nothing is so again.
	for _, replays := range []bool{false, true} {
		status, replayed, said := c.keyed("nothing", http.MethodPut, "/api/drafts/new%20client", api.Draft{Body: `{"half": "a wo`})
		if status != http.StatusNoContent || replayed != replays || said != "" {
			t.Errorf("a draft: %d, %v: %s", status, replayed, said)
		}
	}

	// A refusal is one again; what is somebody else's is another.
	status, _, refused := c.keyed("two", http.MethodPost, "/api/clients", named("Tern & Daughter"))
	if again, replayed, said := c.keyed("two", http.MethodPost, "/api/clients", named("Tern & Daughter")); again != status || !replayed || said != refused {
		t.Errorf("a refusal: %d %s, then %d %s", status, refused, again, said)
	}
	for key, want := range map[string]int{strings.Repeat("k", 256): 400, `"open`: 400, "two words": 400, strings.Repeat("k", 255): 201} {
		if status, _, said := c.keyed(key, http.MethodPost, "/api/clients", named("Client "+key[:4])); status != want {
			t.Errorf("the key %q: %d %s", key, status, said)
		}
	}

	// A secret is told once, and a password cannot be guessed by what is kept.
	var kept string
	asked := map[string]any{"name": "Export", "scope": "see", "password": rig.Password, "days": 3}
	_, _, told := c.keyed("three", http.MethodPost, "/api/keys", asked)
	if status, replayed, again := c.keyed("three", http.MethodPost, "/api/keys", asked); status != http.StatusCreated || !replayed ||
		!strings.Contains(told, `"secret":"uvent_`) || !strings.Contains(again, `"secret":""`) {
		t.Errorf("a secret: %s, then %d %s", told, status, again)
	}
	rig.Must(t, r.Store.Pool.QueryRow(t.Context(), "select string_agg(o::text || convert_from(body, 'UTF8'), ' ') from asked_once o").Scan(&kept))
	if strings.Contains(kept, rig.Password) || strings.Contains(kept, "uvent_") {
		t.Error("a secret is kept")
	}
}

func TestAskedTwiceAtOnce(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	var wait sync.WaitGroup
	var mu sync.Mutex
	counted := map[int]int{}
	ids := map[string]bool{}
	for range 12 {
		wait.Go(func() {
			status, _, said := c.keyed("at-once", http.MethodPost, "/api/clients", named("Sandpiper"))
			mu.Lock()
			defer mu.Unlock()
			counted[status]++
			if status == http.StatusCreated {
				ids[said] = true
			}
		})
	}
	wait.Wait()
	if len(ids) != 1 || counted[http.StatusCreated]+counted[http.StatusConflict] != 12 || counted[http.StatusCreated] == 0 {
		t.Errorf("twelve at once: %v, %d different answers", counted, len(ids))
	}
}

// What a server that died had begun: before anything of it was in the database another does it, after that nobody does.
func TestWhatWasBegunAndNotAnswered(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	c := signedIn(t, r)
	begun := func(key string) *store.Turn {
		t.Helper()
		turn := &store.Turn{Who: "person " + r.Who.ID.String(), Key: key, ID: uuid.New()}
		_, _, _ = c.keyed(key, http.MethodPost, "/api/clients", named("Curlew "+key))
		_, err := r.Store.Pool.Exec(ctx, "update asked_once set status = null, done = false, turn = $2 where key = $1", key, turn.ID)
		rig.Must(t, err)
		_, err = r.Store.Pool.Exec(ctx, "delete from client where name = $1", "Curlew "+key)
		rig.Must(t, err)
		return turn
	}
	earlier := func(key, by string) {
		t.Helper()
		_, err := r.Store.Pool.Exec(ctx, "update asked_once set begun_at = begun_at - $2::interval where key = $1", key, by)
		rig.Must(t, err)
	}
	commit := func(turn *store.Turn) error {
		return r.Store.Tx(store.InTurn(ctx, turn), func(*db.Queries, pgx.Tx) error { return nil })
	}
	ask := func(key string, want int, says string) {
		t.Helper()
		if status, _, said := c.keyed(key, http.MethodPost, "/api/clients", named("Curlew "+key)); status != want || !strings.Contains(said, says) {
			t.Errorf("%s: %d %s, want %d and %q", key, status, said, want, says)
		}
	}

	turn := begun("nothing-done")
	ask(turn.Key, http.StatusConflict, "urn:uvent:under-way")
	earlier(turn.Key, "6 seconds")
	ask(turn.Key, http.StatusCreated, "Curlew nothing-done")
	if err := commit(turn); err != store.ErrTaken {
		t.Errorf("the first may still do it: %v", err)
	}

	turn = begun("done")
	rig.Must(t, commit(turn))
	earlier(turn.Key, "6 seconds")
	ask(turn.Key, http.StatusConflict, "urn:uvent:under-way")
	earlier(turn.Key, "60 seconds")
	ask(turn.Key, http.StatusConflict, "urn:uvent:unknown")
	rig.Must(t, commit(turn)) // the rest of it

	// Another asks while the first is about to commit: only one does it.
	turn = begun("about-to")
	earlier(turn.Key, "6 seconds")
	var asked sync.WaitGroup
	err := r.Store.Tx(context.WithoutCancel(ctx), func(q *db.Queries, _ pgx.Tx) error {
		_, err := q.OnceIsDone(ctx, db.OnceIsDoneParams{Who: turn.Who, Key: turn.Key, Turn: turn.ID})
		asked.Go(func() { ask(turn.Key, http.StatusConflict, "urn:uvent:under-way") })
		time.Sleep(100 * time.Millisecond)
		return err
	})
	rig.Must(t, err)
	asked.Wait()
	earlier(turn.Key, "24 hours")
	rig.Must(t, r.Desk.Once.ForgetOld(ctx))
	var left int
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from asked_once where key = $1", turn.Key).Scan(&left))
	if left != 0 {
		t.Error("what was asked for a day ago is kept")
	}
}
