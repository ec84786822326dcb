package main

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"uvent/desk/people"
	"uvent/store/storetest"
)

// twin is a server that is ended and begun anew on its addresses.
type twin struct {
	o    serving
	end  context.CancelFunc
	done chan error
}

func (s *twin) begin(t *testing.T) {
	t.Helper()
	ctx, end := context.WithCancel(context.Background())
	s.end, s.done = end, make(chan error, 1)
	go func() { s.done <- s.o.run(ctx, io.Discard, io.Discard) }()
	for end := time.Now().Add(time.Minute); !s.ready(); time.Sleep(20 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatal("it is not ready")
		}
	}
}

func (s *twin) ready() bool {
	resp, err := http.Get("http://" + s.o.health + "/readyz")
	if err != nil {
		return false
	}
	resp.Body.Close()
	return resp.StatusCode == http.StatusOK
}

func (s *twin) stop(t *testing.T) {
	t.Helper()
	s.end()
	if err := <-s.done; err != nil {
		t.Error(err)
	}
}

// free is an address that nobody listens on.
func free(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	return l.Addr().String()
}

// Two servers behind a proxy that looks whether they are ready are ended and begun anew one after the other, while twenty
// requests a second come: each is answered, and what was to be added is there once.
func TestTwoServersInTurn(t *testing.T) {
	t.Parallel()
	dir, where := t.TempDir(), storetest.URL(t)
	var servers [2]*twin
	for i := range servers {
		servers[i] = &twin{o: serving{
			data: database{url: where, dir: dir}, listen: free(t), health: free(t), log: "text", account: "listings@agency.example",
			address: "http://uvent.agency.example", drain: time.Second, heads: filepath.Join(dir, fmt.Sprint("heads-", i)),
		}}
		servers[i].begin(t)
		defer func() { servers[i].stop(t) }()
	}
	const email, password = "ines@agency.example", "harbour-lantern-thimble"
	data := database{url: where, dir: dir}
	if err := data.with(t.Context(), func(a *app) error {
		_, err := a.desk.People.AddPerson(t.Context(), people.Person{Email: email, Name: "Ines Roake", Zone: "America/Los_Angeles"}, password)
		return err
	}); err != nil {
		t.Fatal(err)
	}

	// A proxy as nginx is one: it looks now and then who is ready.
	var ready [2]atomic.Bool
	looking, stop := context.WithCancel(t.Context())
	defer stop()
	look := func() {
		for i, s := range servers {
			ready[i].Store(s.ready())
		}
	}
	look()
	go func() {
		for looking.Err() == nil {
			look()
			time.Sleep(100 * time.Millisecond)
		}
	}()
	var next atomic.Int64
	proxy := httptest.NewServer(&httputil.ReverseProxy{Rewrite: func(r *httputil.ProxyRequest) {
		i := int(next.Add(1)) % 2
		if !ready[i].Load() {
			i = 1 - i
		}
		r.SetURL(&url.URL{Scheme: "http", Host: servers[i].o.listen})
	}})
	defer proxy.Close()
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	client := &http.Client{Jar: jar}
	ask := func(method, path, key, body string) (int, string) {
		req, err := http.NewRequest(method, proxy.URL+path, strings.NewReader(body))
		if err != nil {
			return 0, err.Error()
		}
		req.Header.Set("Content-Type", "application/json")
		if key != "" {
			req.Header.Set("Idempotency-Key", key)
		}
		resp, err := client.Do(req)
		if err != nil {
			return 0, err.Error()
		}
		defer resp.Body.Close()
		said, err := io.ReadAll(resp.Body)
		if err != nil {
			return 0, err.Error()
		}
		return resp.StatusCode, string(said)
	}
	if status, said := ask(http.MethodPost, "/api/session", "", fmt.Sprintf(`{"email": %q, "password": %q}`, email, password)); status != http.StatusOK {
		t.Fatalf("%d %s", status, said)
	}

	var asked, added atomic.Int64
	var mu sync.Mutex
	var failed bytes.Buffer
	var wait sync.WaitGroup
	sending, enough := context.WithCancel(t.Context())
	wait.Go(func() {
		for tick := time.NewTicker(50 * time.Millisecond); sending.Err() == nil; <-tick.C {
			n := asked.Add(1)
			wait.Go(func() {
				method, path, body, want := http.MethodGet, "/api/today", "", http.StatusOK
				if n%4 == 0 {
					method, path, want = http.MethodPost, "/api/clients", http.StatusCreated
					body = fmt.Sprintf(`{"name": "Client %d", "legal_name": "Client %d LLC", "owner_name": "Oda", "owner_email": "oda@client.example"}`, n, n)
					added.Add(1)
				}
				if status, said := ask(method, path, fmt.Sprint("key-", n), body); status != want {
					mu.Lock()
					defer mu.Unlock()
					fmt.Fprintf(&failed, "%s %s: %d %.200s\n", method, path, status, said)
				}
			})
		}
	})
	for _, s := range servers {
		time.Sleep(500 * time.Millisecond)
		s.stop(t)
		time.Sleep(300 * time.Millisecond)
		s.begin(t)
	}
	time.Sleep(500 * time.Millisecond)
	enough()
	wait.Wait()
	if failed.Len() > 0 {
		t.Errorf("of %d requests there failed:\n%s", asked.Load(), failed.String())
	}
	_, said := ask(http.MethodGet, "/api/clients", "", "")
	if got := int64(strings.Count(said, `"name":"Client `)); got != added.Load() || got < 10 {
		t.Errorf("%d clients were to be added, and %d are there", added.Load(), got)
	}
	t.Logf("%d requests, %d of which added something", asked.Load(), added.Load())
}
