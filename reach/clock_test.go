package reach

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"testing"
	"time"
)

// An answer that was under way while the clock was moved does not set it back.
func TestTheClockOnlyGoesForward(t *testing.T) {
	began := time.Date(2026, time.November, 24, 9, 0, 0, 0, time.UTC)
	read, answer := make(chan struct{}), make(chan struct{})
	held := false
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, q *http.Request) {
		now := began
		switch {
		case q.Method == http.MethodPost:
			now = began.Add(2 * time.Hour)
		case held:
			close(read)
			<-answer
		}
		w.Header().Set("Content-Type", "application/json")
		fmt.Fprintf(w, `{"now": %q}`, now.Format(time.RFC3339))
	}))
	defer server.Close()
	c, err := New(server.URL, "a@agency.example").Follow(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	held = true
	late := make(chan error)
	go func() { _, err := c.Sync(t.Context()); late <- err }()
	<-read
	if _, err := c.Move(t.Context(), began.Add(2*time.Hour)); err != nil {
		t.Fatal(err)
	}
	close(answer)
	if err := <-late; err != nil {
		t.Fatal(err)
	}
	if now := c.Now(); now.Before(began.Add(2 * time.Hour)) {
		t.Errorf("it is %v, and was moved to %v", now, began.Add(2*time.Hour))
	}
}
