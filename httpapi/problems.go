package httpapi

import (
	"encoding/json"
	"errors"
	"math"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"uvent/core/record/record"
	"uvent/desk/problem"
	"uvent/httpapi/api"
)

const faultDetail = "Something went wrong here. Try again; if it happens again, tell whoever runs Uvent."

var statuses = map[problem.Kind]int{
	problem.Invalid: http.StatusUnprocessableEntity, problem.NotFound: http.StatusNotFound, problem.Conflict: http.StatusConflict,
	problem.TooMany: http.StatusTooManyRequests, problem.Denied: http.StatusUnauthorized,
	problem.Forbidden: http.StatusForbidden, problem.Busy: http.StatusServiceUnavailable,
	problem.TooLarge: http.StatusRequestEntityTooLarge,
}

// fail answers with the problem that an error is.
func (s *Server) fail(c *gin.Context, err error) {
	var p *problem.Problem
	switch {
	case errors.As(err, &p):
		if p.After > 0 { // RFC 9110, section 10.2.3
			c.Header("Retry-After", strconv.Itoa(int(math.Ceil(p.After.Seconds()))))
		}
		writeProblem(c, statuses[p.Kind], p.Detail, p.Fields)
	case c.Request.Context().Err() != nil: // nobody waits for an answer
	default:
		s.Log.Error("a request failed", "route", c.FullPath(), "error", err)
		writeProblem(c, http.StatusInternalServerError, faultDetail, nil)
	}
}

// writeProblem answers with a problem.
func writeProblem(c *gin.Context, status int, detail string, fields []record.Problem) {
	sendProblem(c.Writer, status, detail, fields)
}

// sendProblem writes a problem as RFC 9457 has it.
func sendProblem(w http.ResponseWriter, status int, detail string, fields []record.Problem) {
	body := api.Problem{Type: "about:blank", Title: http.StatusText(status), Status: status, Detail: detail}
	if fields != nil {
		list := make([]api.FieldProblem, len(fields))
		for i, f := range fields {
			list[i] = api.FieldProblem{Path: f.Path, Message: f.Message}
		}
		body.Fields = &list
	}
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(body) // whoever asked may be gone
}

func badRequest(err error) string { return "The request cannot be read: " + err.Error() + "." }
