package main

import (
	"context"
	"net/http"
	"testing"

	"uvent/store"
	"uvent/store/storetest"
)

// Whoever watches a server hears that it runs, and whether it can do its work.
func TestHealth(t *testing.T) {
	ctx, end := context.WithCancel(t.Context())
	defer end()
	s, err := store.Open(ctx, storetest.URL(t))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	at, err := health(ctx, "127.0.0.1:0", s)
	if err != nil {
		t.Fatal(err)
	}
	asks := func(path string) (int, string) {
		resp, err := http.Get("http://" + at.String() + path)
		if err != nil {
			t.Fatal(err)
		}
		resp.Body.Close()
		return resp.StatusCode, resp.Header.Get("Retry-After")
	}
	for path, want := range map[string]int{"/healthz": 200, "/readyz": 200, "/": 404} {
		if status, _ := asks(path); status != want {
			t.Errorf("%s answers %d", path, status)
		}
	}
	s.Pool.Close() // it answers no more
	if status, after := asks("/readyz"); status != http.StatusServiceUnavailable || after == "" {
		t.Errorf("without a database it answers %d, Retry-After %q", status, after)
	}
	if status, _ := asks("/healthz"); status != http.StatusOK {
		t.Errorf("it does not run: %d", status)
	}
}
