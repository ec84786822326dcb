package httpapi

import (
	"encoding/json"
	"errors"
	"math"
	"net/http"
	"strconv"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"uvent/core/record/record"
	"uvent/desk/problem"
	"uvent/httpapi/api"
)

// fault answers that something is wrong with Uvent itself, by the name under which it stands in the log.
func fault(c *gin.Context) {
	detail := "Something went wrong here. Try again; if it happens again, tell whoever runs Uvent the number " + requestOf(c.Request.Context()) + "."
	writeProblem(c, http.StatusInternalServerError, detail, nil)
}

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
	case problem.Away(err):
		if s.outages.begins() {
			s.Log.Error("the database does not answer; requests are answered 503", "error", err)
		}
		c.Header("Retry-After", "2")
		detail := awayDetail
		if problem.Full(err) {
			detail = fullDetail
		}
		body := problemOf(http.StatusServiceUnavailable, detail, nil)
		body.Type = DatabaseAway
		if _, begun := c.Get(begunKey); !begun {
			body.Type = NotBegun
		}
		sendProblem(c.Writer, body)
	default:
		s.Log.Error("a request failed", "request", requestOf(c.Request.Context()), "route", c.FullPath(), "error", err)
		fault(c)
	}
}

// Types of a problem (RFC 9457, section 3.1.1): the database does not answer, and nothing or something of what was asked for
// may have been begun. What was not begun may be asked for again without anything being done twice.
const (
	DatabaseAway = "urn:uvent:database-away"
	NotBegun     = "urn:uvent:not-begun"
)

// begunKey is under what a request keeps that it has passed the guard, so that something may have been begun.
const begunKey = "begun"

const awayDetail = "Uvent’s database does not answer at the moment. It is tried again by itself; look in a moment whether it was done."

const fullDetail = "The disk of Uvent’s database is full. Whoever runs Uvent has to make room; it is tried again by itself."

// outages tells when one begins, so that it stands in the log once and not with every request.
type outages struct {
	mu   sync.Mutex
	last time.Time
}

// How long nothing has to be away for what is away next to be another outage.
const between = 30 * time.Second

func (o *outages) begins() bool {
	o.mu.Lock()
	defer o.mu.Unlock()
	now := time.Now()
	defer func() { o.last = now }()
	return now.Sub(o.last) > between
}

// writeProblem answers with a problem.
func writeProblem(c *gin.Context, status int, detail string, fields []record.Problem) {
	sendProblem(c.Writer, problemOf(status, detail, fields))
}

func problemOf(status int, detail string, fields []record.Problem) api.Problem {
	body := api.Problem{Type: "about:blank", Title: http.StatusText(status), Status: status, Detail: detail}
	if fields != nil {
		list := make([]api.FieldProblem, len(fields))
		for i, f := range fields {
			list[i] = api.FieldProblem{Path: f.Path, Message: f.Message}
		}
		body.Fields = &list
	}
	return body
}

// sendProblem writes a problem as RFC 9457 has it.
func sendProblem(w http.ResponseWriter, body api.Problem) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(body.Status)
	_ = json.NewEncoder(w).Encode(body) // whoever asked may be gone
}

func badRequest(err error) string { return "The request cannot be read: " + err.Error() + "." }
