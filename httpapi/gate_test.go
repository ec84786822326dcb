package httpapi_test

import (
	"bufio"
	"encoding/json"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"uvent/e2e/rig"
	"uvent/httpapi"
	"uvent/httpapi/api"
	"uvent/web"
)

// chunked hides how long a body is.
type chunked struct{ io.Reader }

func TestTheGate(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	large := `{"text":"` + strings.Repeat("x", 2<<20) + `"}`
	for name, q := range map[string]struct {
		method, path, kind string
		body               io.Reader
		status             int
		says               string
	}{
		"large":              {"POST", "/api/prose", "application/json", strings.NewReader(large), 413, "larger than 1024 kB"},
		"large, in pieces":   {"POST", "/api/prose", "application/json", chunked{strings.NewReader(large)}, 413, "larger than 1024 kB"},
		"large, to sign in":  {"POST", "/api/session", "application/json", strings.NewReader(large), 413, "larger than 1024 kB"},
		"deep":               {"POST", "/api/clients", "application/json", strings.NewReader(strings.Repeat(`{"a":[`, 20) + strings.Repeat(`]}`, 20)), 400, "nested more than 32 deep"},
		"no JSON":            {"POST", "/api/clients", "application/json", strings.NewReader(`{"name":`), 400, "it is no JSON"},
		"NUL":                {"POST", "/api/clients", "application/json", strings.NewReader(`{"name":"a\u0000b"}`), 400, "holds a NUL"},
		"no text":            {"POST", "/api/clients", "application/json", strings.NewReader("{\"name\":\"a\xff\"}"), 400, "bytes that are no text"},
		"NUL in a path":      {"GET", "/api/drafts/a%00b", "", nil, 400, "bytes that are no text"},
		"no text in a path":  {"GET", "/api/drafts/a%ffb", "", nil, 400, "bytes that are no text"},
		"no text in a query": {"GET", "/api/clients?search=%ff", "", nil, 400, "bytes that are no text"},
		"no query":           {"GET", "/api/clients?a;b=%zz", "", nil, 400, "is no query"},
		"many":               {"GET", "/api/clients?" + strings.Repeat("a=1&", 50), "", nil, 400, "more than 40 parameters"},
		"long":               {"GET", "/api/clients?search=" + strings.Repeat("x", 9000), "", nil, 400, "or 8 kB"},
		"too little":         {"GET", "/api/today?past=-1", "", nil, 400, "past: it is at least 0"},
		"no form":            {"POST", "/api/clients", "application/x-www-form-urlencoded", strings.NewReader("name=x"), 415, "send it as application/json"},
		"an empty id":        {"DELETE", "/api/sessions/", "", nil, 404, "nothing at this address"},
		"missing":            {"POST", "/api/clients", "application/json", strings.NewReader("{}"), 422, "name: it is missing"},
		"long text":          {"POST", "/api/prose", "application/json", strings.NewReader(`{"text":"` + strings.Repeat("x", 500_000) + `"}`), 422, "text: it has at most"},
		"of no kind":         {"POST", "/api/keys", "application/json", strings.NewReader(`{"name":"x","scope":"all","password":"x"}`), 422, "scope: choose one of see, edit, send"},
		"no number":          {"POST", "/api/keys", "application/json", strings.NewReader(`{"name":"x","scope":"see","password":"x","days":"ten"}`), 422, "days: it has to be a whole number"},
	} {
		req, err := http.NewRequest(q.method, c.base+q.path, q.body)
		rig.Must(t, err)
		req.Header.Set("Content-Type", q.kind)
		resp, err := c.http.Do(req)
		rig.Must(t, err)
		var p api.Problem
		rig.Must(t, json.NewDecoder(resp.Body).Decode(&p))
		rig.Must(t, resp.Body.Close())
		said := p.Detail
		if p.Fields != nil {
			for _, f := range *p.Fields {
				said += " " + f.Path + ": " + f.Message
			}
		}
		if resp.StatusCode != q.status || !strings.Contains(said, q.says) {
			t.Errorf("%s: it answers %d, %q", name, resp.StatusCode, said)
		}
	}
	c.want(http.StatusOK, http.MethodGet, "/api/session", nil, nil)
}

// Over TLS, cookies are kept to this host and to TLS, and so is the browser.
func TestOverTLS(t *testing.T) {
	r := rig.Start(t)
	plain := newClient(t, r.Serve(t))
	credentials := `{"email":"` + r.Who.Email + `","password":"` + rig.Password + `"}`
	resp, err := plain.http.Post(
		plain.base+"/api/session",
		"application/json",
		strings.NewReader(credentials),
	)
	rig.Must(t, err)
	resp.Body.Close()
	if resp.Header.Get("Strict-Transport-Security") != "" || resp.Header.Get("Cross-Origin-Opener-Policy") != "same-origin" ||
		!strings.Contains(resp.Header.Get("Permissions-Policy"), "camera=()") || strings.Contains(resp.Header.Get("Content-Security-Policy"), "unsafe") {
		t.Errorf("%v", resp.Header)
	}
	r.Desk.People.ServeAt("https://uvent.agency.example")
	h, err := httpapi.New(t.Context(), httpapi.Options{Desk: r.Desk, Sessions: r.Store.Sessions(), Files: web.Files(), Log: r.Quiet})
	rig.Must(t, err)
	secure := rig.Serving(t, h)
	resp, err = http.Post(
		secure+"/api/session",
		"application/json",
		strings.NewReader(credentials),
	)
	rig.Must(t, err)
	resp.Body.Close()
	if resp.StatusCode != http.StatusOK || !strings.HasPrefix(resp.Header.Get("Strict-Transport-Security"), "max-age=") {
		t.Errorf("%s, %v", resp.Status, resp.Header)
	}
	cookies := resp.Cookies()
	if len(cookies) != 2 {
		t.Errorf("%v", cookies)
	}
	for _, k := range cookies {
		if !strings.HasPrefix(k.Name, "__Host-") || !k.Secure || !k.HttpOnly || k.Path != "/" || k.Domain != "" || k.SameSite != http.SameSiteLaxMode {
			t.Errorf("%+v", k)
		}
	}
}

// Whoever's session has ended is told of no change any more, from then on; and so of their key, and their role.
func TestStreamsEndWithTheSession(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	for _, ends := range []func(){
		func() { c.want(http.StatusNoContent, http.MethodDelete, "/api/session", nil, nil) },
		func() {
			c.want(http.StatusOK, http.MethodPost, "/api/session", map[string]string{"email": r.Who.Email, "password": rig.Password}, nil)
			c.want(http.StatusNoContent, http.MethodDelete, "/api/sessions", nil, nil)
		},
	} {
		c.want(http.StatusOK, http.MethodPost, "/api/session", map[string]string{"email": r.Who.Email, "password": rig.Password}, nil)
		resp, err := c.http.Get(c.base + "/api/changes")
		rig.Must(t, err)
		lines := bufio.NewReader(resp.Body)
		if line, err := lines.ReadString('\n'); err != nil || !strings.HasPrefix(line, "retry") {
			t.Fatalf("%q, %v", line, err)
		}
		ended := make(chan struct{})
		go func() { _, _ = io.Copy(io.Discard, lines); close(ended) }()
		began := time.Now()
		ends()
		select {
		case <-ended:
		case <-time.After(10 * time.Second): // a beat comes after fifteen
			t.Errorf("it goes on %v after the session", time.Since(began))
		}
		resp.Body.Close()
	}
}

// An administrator sees where somebody is signed in, and ends it: sessions and keys.
func TestAccessIsSeenAndEnded(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	var key struct{ Secret string }
	c.want(http.StatusCreated, http.MethodPost, "/api/keys", map[string]any{"name": "Export", "scope": "see", "password": rig.Password, "days": 3}, &key)
	at := "/api/people/" + r.Who.ID.String() + "/access"
	var access struct {
		Sessions []api.SessionSeen
		Keys     []api.ApiKey
	}
	if c.want(http.StatusOK, http.MethodGet, at, nil, &access); len(access.Sessions) != 1 || !access.Sessions[0].This || len(access.Keys) != 1 {
		t.Errorf("%+v", access)
	}
	c.want(http.StatusNoContent, http.MethodDelete, at, nil, nil)
	c.want(http.StatusUnauthorized, http.MethodGet, at, nil, nil)
	req, err := http.NewRequest(http.MethodGet, c.base+"/api/clients", nil)
	rig.Must(t, err)
	req.Header.Set("Authorization", "Bearer "+key.Secret)
	c.send(http.StatusUnauthorized, req, nil)
}

// Whose role asks for a second factor that they do not have can do nothing but set one up.
func TestAFactorFirst(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	c.want(http.StatusNoContent, http.MethodPut, "/api/security", map[string]any{"second_factor": []string{"administrator"}}, nil)
	var session api.Session
	if c.want(http.StatusOK, http.MethodGet, "/api/session", nil, &session); !session.MustFactor {
		t.Errorf("%+v", session)
	}
	p := c.problem(http.StatusForbidden, http.MethodGet, "/api/clients", nil)
	if !strings.Contains(p.Detail, "Set up a second factor first") {
		t.Errorf("%+v", p)
	}
	c.want(http.StatusOK, http.MethodPost, "/api/second-factor", map[string]string{"password": rig.Password}, nil)
}
