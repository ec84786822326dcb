package main

import (
	"context"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"uvent/metrics"
	"uvent/store/storetest"
)

// Whoever watches a server hears that it runs, and whether it can do its work.
func TestHealth(t *testing.T) {
	ctx, end := context.WithCancel(t.Context())
	defer end()
	s, err := migrated(ctx, storetest.URL(t))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	counted := metrics.New(s)
	running := &app{store: s}
	counted.Request("listClients", http.MethodGet, http.StatusOK, time.Second)
	at, stop, err := health("127.0.0.1:0", running, counted.Handler())
	if err != nil {
		t.Fatal(err)
	}
	defer stop()
	reads := func(path string) (*http.Response, string) {
		resp, err := http.Get("http://" + at.String() + path)
		if err != nil {
			t.Fatal(err)
		}
		defer resp.Body.Close()
		said, err := io.ReadAll(resp.Body)
		if err != nil {
			t.Fatal(err)
		}
		return resp, string(said)
	}
	asks := func(path string) (int, string) {
		resp, _ := reads(path)
		return resp.StatusCode, resp.Header.Get("Retry-After")
	}
	measured := func(wants ...string) {
		t.Helper()
		_, said := reads("/metrics")
		for _, want := range wants {
			if !strings.Contains(said, want) {
				t.Errorf("the metrics do not say %q:\n%s", want, said)
			}
		}
	}
	measured(
		`uvent_request_seconds_count{method="GET",operation="listClients",status="200"} 1`, "uvent_events_unsealed 0", "uvent_database_read 1",
		`uvent_database_connections{state="most"}`, "go_goroutines",
	)
	for path, want := range map[string]int{"/healthz": 200, "/readyz": 200, "/": 404} {
		if status, _ := asks(path); status != want {
			t.Errorf("%s answers %d", path, status)
		}
	}
	running.ends.Store(true)
	if status, _ := asks("/readyz"); status != http.StatusServiceUnavailable {
		t.Errorf("it ends, and /readyz answers %d", status)
	}
	running.ends.Store(false)
	s.Pool.Close() // it answers no more
	if status, after := asks("/readyz"); status != http.StatusServiceUnavailable || after == "" {
		t.Errorf("without a database it answers %d, Retry-After %q", status, after)
	}
	if status, _ := asks("/healthz"); status != http.StatusOK {
		t.Errorf("it does not run: %d", status)
	}
	measured("uvent_database_read 0", "go_goroutines")
}
