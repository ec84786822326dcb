package httpapi

import (
	"context"
	"net/http"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"uvent/desk/ledger"
	"uvent/httpapi/api"
)

// Everything that is asked of a directory is answered alike: with the listing as it then stands, as
// 200 when the directory has answered, and as 202 when it has not in the time that a person would
// look at a button.

const unansweredKey = "unanswered"

// asked waits for a directory's answer and tells the listing as it then stands.
func (s *Server) asked(ctx context.Context, at ledger.Place) func(call uuid.UUID, err error) (api.Listing, error) {
	return func(call uuid.UUID, err error) (api.Listing, error) {
		if err != nil {
			return api.Listing{}, err
		}
		answered, err := s.Desk.Ledger.Await(ctx, call)
		if err != nil {
			return api.Listing{}, err
		}
		if mark, ok := ctx.Value(unansweredKey).(*bool); ok {
			*mark = !answered
		}
		return s.listing(ctx, at)
	}
}

// accepted writes an answer as 202 where the directory has not answered yet.
func accepted(f api.StrictHandlerFunc, _ string) api.StrictHandlerFunc {
	return func(c *gin.Context, request any) (any, error) {
		unanswered := false
		c.Set(unansweredKey, &unanswered)
		response, err := f(c, request)
		if unanswered && err == nil {
			c.Writer = acceptedWriter{c.Writer}
		}
		return response, err
	}
}

type acceptedWriter struct{ gin.ResponseWriter }

// WriteHeader writes 202 for 200.
func (w acceptedWriter) WriteHeader(status int) {
	if status == http.StatusOK {
		status = http.StatusAccepted
	}
	w.ResponseWriter.WriteHeader(status)
}
