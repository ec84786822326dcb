package main

import (
	"context"
	"net"
	"net/http"
	"time"
)

// How long the database may take to answer for this server to be ready.
const readyWithin = 2 * time.Second

// health answers on an address of its own, for those who watch the server: /healthz while it runs, /readyz while it can do
// its work, and /metrics, until it is stopped.
func health(listen string, a *app, counted http.Handler) (at net.Addr, stop func(), err error) {
	l, err := net.Listen("tcp", listen)
	if err != nil {
		return nil, nil, err
	}
	mux := http.NewServeMux()
	mux.HandleFunc("GET /healthz", func(w http.ResponseWriter, _ *http.Request) { answer(w, http.StatusOK, "it runs") })
	mux.HandleFunc("GET /readyz", func(w http.ResponseWriter, r *http.Request) {
		if a.ends.Load() {
			answer(w, http.StatusServiceUnavailable, "it ends")
			return
		}
		asked, done := context.WithTimeout(r.Context(), readyWithin)
		defer done()
		if err := a.store.Pool.Ping(asked); err != nil {
			w.Header().Set("Retry-After", "2")
			answer(w, http.StatusServiceUnavailable, "the database does not answer")
			return
		}
		answer(w, http.StatusOK, "it is ready")
	})
	mux.Handle("GET /metrics", counted)
	server := &http.Server{Handler: mux, ReadHeaderTimeout: 5 * time.Second}
	go func() { _ = server.Serve(l) }() // it ends by being closed
	return l.Addr(), func() { _ = server.Close() }, nil
}

func answer(w http.ResponseWriter, status int, words string) {
	w.Header().Set("Content-Type", "text/plain; charset=utf-8")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(status)
	_, _ = w.Write([]byte(words + "\n")) // whoever asked may be gone
}
