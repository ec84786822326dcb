package httpapi_test

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"
	"net/http/cookiejar"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/legacy"

	"uvent/e2e/rig"
	"uvent/httpapi/api"
	"uvent/store/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

// client speaks to a server and holds every answer against the contract.
type client struct {
	t      *testing.T
	base   string
	http   *http.Client
	router routers.Router
	spec   *openapi3.T
}

func newClient(t *testing.T, base string) *client {
	t.Helper()
	spec, err := api.GetSpec()
	rig.Must(t, err)
	spec.Servers = openapi3.Servers{{URL: base}}
	router, err := legacy.NewRouter(spec)
	rig.Must(t, err)
	jar, err := cookiejar.New(nil)
	rig.Must(t, err)
	return &client{t, base, &http.Client{Jar: jar}, router, spec}
}

// signedIn is a client of a rig's server with a session.
func signedIn(t *testing.T, r *rig.Rig) *client {
	t.Helper()
	c := newClient(t, r.Serve(t))
	c.want(http.StatusOK, http.MethodPost, "/api/session", map[string]string{"email": r.Who.Email, "password": rig.Password}, nil)
	return c
}

// want sends a request, checks the answer's status and shape, and decodes it. What a directory has not answered
// yet, which is 202, is waited for where the answer is wanted.
func (c *client) want(status int, method, path string, body, into any) []byte {
	c.t.Helper()
	var payload io.Reader
	if body != nil {
		b, err := rig.AsWritten(body)
		rig.Must(c.t, err)
		payload = bytes.NewReader(b)
	}
	req, err := http.NewRequest(method, c.base+path, payload)
	rig.Must(c.t, err)
	if body != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	if status != http.StatusOK || !listingPath.MatchString(path) {
		return c.send(status, req, into)
	}
	return c.answered(req, into)
}

var listingPath = regexp.MustCompile(`^/api/listings/[^/]+/[^/?]+`)

// answered sends a request about a listing, waits until the directory has answered, and decodes the answer.
func (c *client) answered(req *http.Request, into any) []byte {
	c.t.Helper()
	status, data := c.answer(req)
	at := listingPath.FindString(req.URL.Path)
	for end := time.Now().Add(2 * time.Minute); status == http.StatusAccepted && time.Now().Before(end); time.Sleep(20 * time.Millisecond) {
		var l api.Listing
		if data = c.want(http.StatusOK, http.MethodGet, at, nil, &l); l.Busy == "" {
			status = http.StatusOK
		}
	}
	return c.took(http.StatusOK, status, req, data, into)
}

func (c *client) send(status int, req *http.Request, into any) []byte {
	c.t.Helper()
	got, data := c.answer(req)
	return c.took(status, got, req, data, into)
}

// answer is what a request is answered, held against the contract.
func (c *client) answer(req *http.Request) (status int, data []byte) {
	c.t.Helper()
	resp, err := c.http.Do(req)
	rig.Must(c.t, err)
	defer resp.Body.Close()
	data, err = io.ReadAll(resp.Body)
	rig.Must(c.t, err)
	c.check(req, resp, data)
	return resp.StatusCode, data
}

// took decodes an answer, where its status is the one that is wanted.
func (c *client) took(want, status int, req *http.Request, data []byte, into any) []byte {
	c.t.Helper()
	if status != want {
		c.t.Fatalf("%s %s answers %d, want %d: %s", req.Method, req.URL.Path, status, want, data)
	}
	if into != nil {
		rig.Must(c.t, json.Unmarshal(data, into))
	}
	return data
}

func (c *client) check(req *http.Request, resp *http.Response, data []byte) {
	c.t.Helper()
	route, params, err := c.router.FindRoute(req)
	if err != nil {
		c.t.Fatalf("%s %s is not in the contract: %v", req.Method, req.URL.Path, err)
	}
	in := &openapi3filter.ResponseValidationInput{
		RequestValidationInput: &openapi3filter.RequestValidationInput{Request: req, PathParams: params, Route: route},
		Status:                 resp.StatusCode, Header: resp.Header, Body: io.NopCloser(bytes.NewReader(data)),
		Options: &openapi3filter.Options{IncludeResponseStatus: true, MultiError: true},
	}
	if strings.HasPrefix(resp.Header.Get("Content-Type"), "text/csv") {
		in.Options.ExcludeResponseBody = true
	}
	if err := openapi3filter.ValidateResponse(context.Background(), in); err != nil {
		c.t.Fatalf("%s %s answers against the contract: %v\n%s", req.Method, req.URL.Path, err, data)
	}
}

// problem is what a refusal says, with its fields.
func (c *client) problem(status int, method, path string, body any) api.Problem {
	c.t.Helper()
	var p api.Problem
	c.want(status, method, path, body, &p)
	if p.Status != status || p.Detail == "" || p.Title == "" {
		c.t.Fatalf("%s %s: a problem that says nothing: %+v", method, path, p)
	}
	return p
}
