package httpapi

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"log/slog"
	"time"

	"github.com/gin-gonic/gin"
)

// requestHeader names a request in its answer, so that what somebody saw can be found in the log.
const requestHeader = "X-Request-Id"

type requestKey struct{}

// requestOf is the name of the request that is answered; empty outside of one.
func requestOf(ctx context.Context) string {
	id, _ := ctx.Value(requestKey{}).(string)
	return id
}

// Heard is a request that was answered.
type Heard struct {
	Operation string // of the contract; empty for a file
	Method    string
	Status    int
	Took      time.Duration
}

// heard names each request, and tells of it once it is answered. An address is told only as the contract writes it: what
// stands in it may be a secret.
func (s *Server) heard(c *gin.Context) {
	id := make([]byte, 8)
	_, _ = rand.Read(id) // it never fails
	name := hex.EncodeToString(id)
	c.Header(requestHeader, name)
	c.Request = c.Request.WithContext(context.WithValue(c.Request.Context(), requestKey{}, name))
	began := time.Now()
	c.Next()
	h := Heard{Method: c.Request.Method, Status: c.Writer.Status(), Took: time.Since(began)}
	if op := s.contract.of(c); op != nil {
		h.Operation = op.id
	}
	if s.Heard != nil {
		s.Heard(h)
	}
	if s.Access == nil {
		return
	}
	said := []any{
		"request", name, "method", h.Method, "route", c.FullPath(), "status", h.Status, "ms", h.Took.Milliseconds(), "bytes", max(0, c.Writer.Size()),
		"from", c.ClientIP(),
	}
	if p := person(c.Request.Context()); p.Email != "" {
		said = append(said, "person", p.ID)
	}
	s.Access.Log(c.Request.Context(), slog.LevelInfo, "request", said...)
}
