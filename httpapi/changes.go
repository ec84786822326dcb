package httpapi

import (
	"context"
	"fmt"
	"io"
	"time"

	"uvent/httpapi/api"
)

// GetChanges streams changes as server-sent events
// (https://html.spec.whatwg.org/multipage/server-sent-events.html).
func (s *Server) GetChanges(ctx context.Context, _ api.GetChangesRequestObject) (api.GetChangesResponseObject, error) {
	r, w := io.Pipe()
	changes, leave := s.Desk.Watch()
	ofClient := person(ctx).Client != nil
	go func() {
		defer leave()
		defer func() { _ = w.Close() }()
		fmt.Fprint(w, "retry: 1000\n\n")
		beat := time.NewTicker(15 * time.Second)
		defer beat.Stop()
		for {
			select {
			case <-ctx.Done():
				return
			case <-s.ending:
				return
			case payload := <-changes:
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
