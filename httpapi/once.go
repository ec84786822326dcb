package httpapi

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"uvent/desk/once"
)

// What is asked for with an Idempotency-Key is done once, however often it is asked for within a day
// (draft-ietf-httpapi-idempotency-key-header): the second time it is answered as the first time. The key is of the person, or
// of whoever knows the secret in the address, and of what is asked for.
const (
	onceHeader     = "Idempotency-Key"
	replayedHeader = "Idempotency-Replayed" // the answer is that of before
	mostOnceKey    = 255
	mostOnceBody   = 1 << 20 // bytes of an answer that are kept
	keptWithin     = 5 * time.Second
)

// Types of a problem: what is asked for is being done, and may be asked for again; and it was begun, and nobody knows what
// was answered.
const (
	UnderWay = "urn:uvent:under-way"
	Unknown  = "urn:uvent:unknown"
)

// once does what is asked for with a key, unless it was done before.
func (s *Server) once(c *gin.Context) {
	op := s.contract.of(c)
	said := c.GetHeader(onceHeader)
	who := whose(c)
	if said == "" || op == nil || who == "" || c.Request.Method == http.MethodGet || c.Request.Method == http.MethodHead {
		return
	}
	key, good := onceKey(said)
	if !good {
		writeProblem(c, http.StatusBadRequest, fmt.Sprintf("%s is 1 to %d visible characters, such as a UUID.", onceHeader, mostOnceKey), nil)
		c.Abort()
		return
	}
	what, err := digest(c, op)
	if err != nil {
		writeProblem(c, http.StatusBadRequest, "The request broke off.", nil)
		c.Abort()
		return
	}
	ctx, turn, answer, err := s.Desk.Once.Begin(c.Request.Context(), once.Asking{Who: who, Key: key, What: what})
	if turn == nil {
		s.before(c, answer, err)
		c.Abort()
		return
	}
	heard := &hearing{ResponseWriter: c.Writer}
	c.Writer, c.Request = heard, c.Request.WithContext(ctx)
	defer s.kept(c, op, turn, heard)
	c.Next()
}

// before answers what was asked for before.
func (s *Server) before(c *gin.Context, answer *once.Answer, err error) {
	refuse := func(status int, kind, detail string) {
		body := problemOf(status, detail, nil)
		body.Type = kind
		sendProblem(c.Writer, body)
	}
	switch {
	case answer != nil && err == nil:
		for name, value := range answer.Headers {
			c.Header(name, value)
		}
		c.Header(replayedHeader, "true")
		c.Status(answer.Status)
		_, _ = c.Writer.Write(answer.Body) // whoever asked may be gone
	case errors.Is(err, once.ErrOther):
		refuse(http.StatusUnprocessableEntity, "about:blank", "Another request went by this "+onceHeader+". Choose a new one for each.")
	case errors.Is(err, once.ErrUnderWay):
		c.Header("Retry-After", "1")
		refuse(http.StatusConflict, UnderWay, "It is being done. Ask again in a moment.")
	case errors.Is(err, once.ErrUnknown):
		refuse(http.StatusConflict, Unknown, "It was begun, and what came of it was not kept. Look at what is there now.")
	default:
		s.fail(c, err)
	}
}

// kept keeps what was answered, where it would be answered again.
func (s *Server) kept(c *gin.Context, op *operation, turn *once.Turn, heard *hearing) {
	ctx, done := context.WithTimeout(context.WithoutCancel(c.Request.Context()), keptWithin)
	defer done()
	passes := []int{http.StatusRequestTimeout, http.StatusTooManyRequests}
	status := heard.Status()
	var err error
	if cause := recover(); cause != nil { // of what broke nothing is known
		_ = s.Desk.Once.LetGo(ctx, turn)
		panic(cause)
	}
	if status >= http.StatusInternalServerError || slices.Contains(passes, status) || heard.over {
		err = s.Desk.Once.LetGo(ctx, turn)
	} else {
		answer := once.Answer{Status: status, Headers: map[string]string{}, Body: without(op.tells, heard.body.Bytes())}
		for _, name := range []string{"Content-Type", "ETag", "Location"} {
			if value := heard.Header().Get(name); value != "" {
				answer.Headers[name] = value
			}
		}
		err = s.Desk.Once.Keep(ctx, turn, answer)
	}
	if err != nil {
		s.Log.Error("an answer was not kept; asked again, it is said that it was begun", "route", c.FullPath(), "error", err)
	}
}

// whose is of whom a key is; empty where nobody is known.
func whose(c *gin.Context) string {
	if p := person(c.Request.Context()); p.Email != "" {
		return "person " + p.ID.String()
	}
	// Other secrets sign somebody in, and a cookie is not given twice.
	if secret := c.Param("secret"); strings.HasPrefix(c.FullPath(), "/api/owner/") {
		sum := sha256.Sum256([]byte(secret))
		return "secret " + hex.EncodeToString(sum[:])
	}
	return ""
}

// onceKey reads a key: a string as RFC 8941 writes it, in quotes, or bare.
func onceKey(said string) (key string, good bool) {
	key = strings.TrimSpace(said)
	if inner, quoted := strings.CutPrefix(key, `"`); quoted {
		if key, good = strings.CutSuffix(inner, `"`); !good {
			return "", false
		}
	}
	visible := func(r rune) bool { return r > ' ' && r < 0x7f && r != '"' && r != '\\' }
	good = key != "" && len(key) <= mostOnceKey && !strings.ContainsFunc(key, func(r rune) bool { return !visible(r) })
	return key, good
}

// digest tells what is asked for from anything else: how, where, and the body. A form with a file, which is read only once,
// goes by its length.
func digest(c *gin.Context, op *operation) ([]byte, error) {
	sum := sha256.New()
	fmt.Fprintf(sum, "%s %s %d\n", c.Request.Method, c.Request.URL.RequestURI(), c.Request.ContentLength)
	if !op.form {
		data, err := io.ReadAll(c.Request.Body)
		if err != nil {
			return nil, err
		}
		sum.Write(data)
		c.Request.Body = io.NopCloser(bytes.NewReader(data))
	}
	return sum.Sum(nil), nil
}

// without is an answer in JSON without its secrets, which stand there as if they were empty.
func without(names []string, body []byte) []byte {
	var value any
	if len(names) == 0 || json.Unmarshal(body, &value) != nil {
		return body
	}
	var clear func(any)
	clear = func(v any) {
		switch v := v.(type) {
		case []any:
			for _, one := range v {
				clear(one)
			}
		case map[string]any:
			for name, one := range v {
				if !slices.Contains(names, name) {
					clear(one)
				} else if _, list := one.([]any); list {
					v[name] = []any{}
				} else {
					v[name] = ""
				}
			}
		}
	}
	clear(value)
	out, err := json.Marshal(value)
	if err != nil {
		return nil
	}
	return out
}

// hearing hears what is answered.
type hearing struct {
	gin.ResponseWriter
	body bytes.Buffer
	over bool // more than is kept
}

// Write passes it on.
func (h *hearing) Write(p []byte) (int, error) {
	if h.over = h.over || h.body.Len()+len(p) > mostOnceBody; !h.over {
		h.body.Write(p)
	}
	return h.ResponseWriter.Write(p)
}

// WriteString passes it on.
func (h *hearing) WriteString(p string) (int, error) { return h.Write([]byte(p)) }

// Unwrap is what deadlines are set on.
func (h *hearing) Unwrap() http.ResponseWriter { return h.ResponseWriter }
