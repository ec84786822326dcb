package httpapi

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"runtime/debug"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/gin-gonic/gin"

	"uvent/core/record/record"
	"uvent/desk/problem"
)

// What a request may be, whoever sends it.
const (
	mostQuery      = 8 << 10 // bytes
	mostParameters = 40
	mostDepth      = 32 // of lists and objects in each other

	// A body comes at this pace at least, and never stands still for longer than this.
	leastPace    = 32 << 10 // bytes a second
	mostStanding = 15 * time.Second

	// mostDrained is how much of a body that is too large is still read, so that whoever sends it hears why
	// it is refused rather than a broken line.
	mostDrained = 256 << 20
)

// gate is the first that a request comes to: it bounds what is read of it, and for how long, and turns away
// what no operation could want. What it asks for is looked at by guard, and what it says by checked.
func (s *Server) gate(c *gin.Context) {
	if why := unreadable(c.Request.URL); why != "" {
		writeProblem(c, http.StatusBadRequest, why, nil)
		c.Abort()
		return
	}
	most := int64(usualBytes)
	op := s.contract.of(c)
	if op != nil {
		most = op.most
	}
	body := &timely{
		ReadCloser: c.Request.Body,
		line:       http.NewResponseController(c.Writer),
		end:        time.Now().Add(mostStanding + time.Second*time.Duration(most/leastPace)),
	}
	if c.Request.ContentLength != 0 { // whoever answers without reading it waits for the rest of it no longer than this
		_ = body.line.SetReadDeadline(time.Now().Add(mostStanding))
	}
	if c.Request.ContentLength > most {
		_, _ = io.CopyN(io.Discard, body, mostDrained)
		tooLarge(c, op, most)
		return
	}
	c.Request.Body = http.MaxBytesReader(c.Writer, body, most)
	if op != nil && op.form && c.Request.ContentLength > usualBytes {
		c.Next()
		debug.FreeOSMemory() // a file is large, and the next may come at once
	}
}

// unreadable says what no address may hold.
func unreadable(u *url.URL) string {
	query, err := url.ParseQuery(u.RawQuery)
	parameters := 0
	said := u.Path
	for name, values := range query {
		parameters += len(values)
		said += name + strings.Join(values, "")
	}
	switch {
	case len(u.RawQuery) > mostQuery || parameters > mostParameters:
		return fmt.Sprintf("The address asks for too much: more than %d parameters, or %d kB.", mostParameters, mostQuery>>10)
	case err != nil:
		return "The address cannot be read: what stands behind its question mark is no query."
	case !utf8.ValidString(said) || strings.ContainsRune(said, 0):
		return "The address cannot be read: it holds bytes that are no text."
	}
	return ""
}

// checked holds what a request says against the contract.
func (s *Server) checked(c *gin.Context) {
	op := s.contract.of(c)
	if op == nil {
		return
	}
	if faults := op.faultsOfParameters(c.Request.Context(), c); faults != nil {
		writeProblem(c, http.StatusBadRequest, "The request cannot be read: "+faults[0].Path+": "+faults[0].Message+".", faults)
		c.Abort()
		return
	}
	if op.body == nil {
		return
	}
	data, err := io.ReadAll(c.Request.Body)
	var large *http.MaxBytesError
	var late net.Error
	switch kind, _, _ := strings.Cut(c.GetHeader("Content-Type"), ";"); {
	case errors.As(err, &large):
		tooLarge(c, op, op.most)
		return
	case errors.As(err, &late) && late.Timeout():
		writeProblem(c, http.StatusRequestTimeout, "The request did not come to its end in time. Send it again.", nil)
	case err != nil:
		writeProblem(c, http.StatusBadRequest, "The request broke off.", nil)
	case len(data) == 0 && !op.takes:
		return
	case len(data) > 0 && strings.TrimSpace(kind) != "application/json":
		writeProblem(c, http.StatusUnsupportedMediaType, "The request cannot be read: send it as application/json.", nil)
	default:
		body, why, faults := op.faults(data)
		c.Set(bodyKey, body)
		if faults != nil {
			err := problem.Fields(faults)
			writeProblem(c, statuses[err.Kind], err.Detail, faults)
		} else if why != "" {
			writeProblem(c, http.StatusBadRequest, "The request cannot be read: "+why+".", nil)
		}
	}
	if c.Writer.Written() {
		c.Abort()
		return
	}
	c.Request.Body = io.NopCloser(bytes.NewReader(data))
}

// bodyKey is under what a request keeps its body as it was read by the gate.
const bodyKey = "body"

// faults reads a body, and says why it cannot be read, or what of it is not as the contract has it.
func (o *operation) faults(data []byte) (value any, why string, faults []record.Problem) {
	if !utf8.Valid(data) {
		return nil, "it holds bytes that are no text", nil
	}
	if depth(data) > mostDepth {
		return nil, fmt.Sprintf("it is nested more than %d deep", mostDepth), nil
	}
	if err := json.Unmarshal(data, &value); err != nil {
		return nil, "it is no JSON: " + err.Error(), nil
	}
	if holdsNUL(value) {
		return nil, "it holds a NUL, which is no text", nil
	}
	faults = o.faultsOfBody(value)
	if len(faults) > 0 && faults[0].Path == "" {
		return nil, faults[0].Message, nil
	}
	return value, "", faults
}

// depth is how deep the lists and objects of JSON stand in each other.
func depth(data []byte) (deepest int) {
	in, escaped, now := false, false, 0
	for _, b := range data {
		switch {
		case escaped:
			escaped = false
		case in:
			escaped, in = b == '\\', b != '"'
		case b == '"':
			in = true
		case b == '[' || b == '{':
			now++
			deepest = max(deepest, now)
		case b == ']' || b == '}':
			now--
		}
	}
	return deepest
}

func holdsNUL(value any) bool {
	switch v := value.(type) {
	case string:
		return strings.ContainsRune(v, 0)
	case []any:
		return slices.ContainsFunc(v, holdsNUL)
	case map[string]any:
		for key, one := range v {
			if strings.ContainsRune(key, 0) || holdsNUL(one) {
				return true
			}
		}
	}
	return false
}

// tooLarge refuses a body that has more than is taken.
func tooLarge(c *gin.Context, op *operation, most int64) {
	if op != nil && op.form {
		p := fileTooLarge(most)
		writeProblem(c, statuses[p.Kind], p.Detail, p.Fields)
	} else {
		writeProblem(c, http.StatusRequestEntityTooLarge, fmt.Sprintf("The request is larger than %d kB, the most that is taken here.", most>>10), nil)
	}
	c.Abort()
}

// timely is a body that has to come in time.
type timely struct {
	io.ReadCloser
	line *http.ResponseController
	end  time.Time
}

// Read waits only as long as a body may stand still, and as it may take in all.
func (t *timely) Read(p []byte) (int, error) {
	wait := time.Now().Add(mostStanding)
	if t.end.Before(wait) {
		wait = t.end
	}
	_ = t.line.SetReadDeadline(wait) // a line that has none waits as it does
	n, err := t.ReadCloser.Read(p)
	if errors.Is(err, io.EOF) { // from here on the line is listened to, and would be taken for broken
		_ = t.line.SetReadDeadline(time.Time{})
	}
	return n, err
}
