package httpapi

import (
	"context"
	"fmt"
	"io"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/httpapi/api"
)

// GetChanges streams changes as server-sent events
// (https://html.spec.whatwg.org/multipage/server-sent-events.html).
func (s *Server) GetChanges(ctx context.Context, _ api.GetChangesRequestObject) (api.GetChangesResponseObject, error) {
	c, who := ctx.(*gin.Context), person(ctx)
	done, err := s.streams.begin(who.ID)
	if err != nil {
		return nil, err
	}
	r, w := io.Pipe()
	changes, leave := s.Desk.Watch()
	limited := who.Limited()
	go func() {
		defer done()
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
				if strings.Contains(payload, `"people":true`) && !s.still(c, who) {
					return
				}
				if limited {
					payload = "{}" // that something changed is all that they are told
				}
				if _, err := fmt.Fprintf(w, "data: %s\n\n", payload); err != nil {
					return
				}
			case <-beat.C:
				if !s.still(c, who) {
					return
				}
				if _, err := fmt.Fprint(w, ": still here\n\n"); err != nil {
					return
				}
			}
		}
	}()
	return api.GetChanges200TexteventStreamResponse{Body: r}, nil
}

// still reports whether whoever looks may still see what they saw when they began: their session, or their key, has not
// ended, and they are what they were.
func (s *Server) still(c *gin.Context, who people.Person) bool {
	token, _ := c.Cookie(s.sessions.Cookie.Name)             // none comes with a key
	now, err := s.sessions.Load(context.Background(), token) // as it is now, not as it was when it asked
	if err != nil {
		return false
	}
	p, err := s.whoAsks(c.Request.WithContext(now))
	return err == nil && p.ID == who.ID && p.Role == who.Role && p.Limited() == who.Limited() && slices.Equal(p.Clients, who.Clients)
}

// mostStreams is how many browser windows of one person are told of changes at once.
const mostStreams = 24

// streams counts those who are told of changes.
type streams struct {
	mu sync.Mutex
	of map[uuid.UUID]int
}

// begin counts one more, and tells how to end that.
func (s *streams) begin(who uuid.UUID) (end func(), err error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.of == nil {
		s.of = map[uuid.UUID]int{}
	}
	if s.of[who] >= mostStreams {
		return nil, &problem.Problem{Kind: problem.TooMany, After: time.Minute, Detail: "Uvent is open in too many windows. Close some of them."}
	}
	s.of[who]++
	return func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		if s.of[who]--; s.of[who] == 0 {
			delete(s.of, who)
		}
	}, nil
}
