package httpapi

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"sync"
	"time"

	"uvent/desk/clockwork"
	"uvent/httpapi/api"
)

// hub passes every change that any server commits to all who watch here.
type hub struct {
	mu       sync.Mutex
	watchers map[chan string]bool
}

func newHub() *hub { return &hub{watchers: map[chan string]bool{}} }

func (h *hub) run(ctx context.Context, d *clockwork.Desk, log *slog.Logger) {
	for ctx.Err() == nil {
		if err := d.Watch(ctx, h.tell); err != nil && ctx.Err() == nil {
			log.Warn("changes are not heard for a moment", "error", err)
			time.Sleep(time.Second)
			h.tell("{}") // something may have been missed
		}
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	for w := range h.watchers {
		close(w)
		delete(h.watchers, w)
	}
}

func (h *hub) tell(payload string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for w := range h.watchers {
		select {
		case w <- payload:
		default: // it has more than enough to fetch anew already
		}
	}
}

func (h *hub) join() (c chan string, leave func()) {
	c = make(chan string, 64)
	h.mu.Lock()
	defer h.mu.Unlock()
	h.watchers[c] = true
	return c, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		delete(h.watchers, c)
	}
}

// GetChanges streams changes as server-sent events
// (https://html.spec.whatwg.org/multipage/server-sent-events.html).
func (s *Server) GetChanges(ctx context.Context, _ api.GetChangesRequestObject) (api.GetChangesResponseObject, error) {
	r, w := io.Pipe()
	changes, leave := s.changes.join()
	ofClient := person(ctx).Client != nil
	go func() {
		defer leave()
		defer w.Close()
		fmt.Fprint(w, "retry: 1000\n\n")
		beat := time.NewTicker(15 * time.Second)
		defer beat.Stop()
		for {
			select {
			case <-ctx.Done():
				return
			case payload, open := <-changes:
				if !open {
					return
				}
				if ofClient {
					payload = "{}" // that something changed is all that they are told
				}
				if _, err := fmt.Fprintf(w, "data: %s\n\n", payload); err != nil {
					return
				}
			case <-beat.C:
				if _, err := fmt.Fprint(w, ": still here\n\n"); err != nil {
					return
				}
			}
		}
	}()
	return api.GetChanges200TexteventStreamResponse{Body: r}, nil
}
