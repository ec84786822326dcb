package httpapi_test

import (
	"bytes"
	"encoding/json"
	"io"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"

	"uvent/e2e/rig"
)

// operations lists every route of the contract with its parameters filled in.
func (c *client) operations() (out [][2]string) {
	for path, item := range c.spec.Paths.Map() {
		for method := range item.Operations() {
			filled := strings.NewReplacer(
				"{change}",
				uuid.NewString(),
				"{client}",
				uuid.NewString(),
				"{location}",
				uuid.NewString(),
				"{import}",
				uuid.NewString(),
				"{remark}",
				uuid.NewString(),
				"{directory}",
				"fernlook",
				"{attempt}",
				"none",
				"{saved}",
				"1",
				"{region}",
				uuid.NewString(),
				"{photo}",
				uuid.NewString(),
				"{copy}",
				"small",
				"{paper}",
				uuid.NewString(),
				"{plan}",
				uuid.NewString(),
				"{window}",
				uuid.NewString(),
				"{subject}",
				"new%20client",
				"{format}",
				"jsonld",
				"{account}",
				uuid.NewString(),
				"{secret}",
				"guessed",
				"{link}",
				uuid.NewString(),
				"{round}",
				uuid.NewString(),
				"{batch}",
				uuid.NewString(),
				"{case}",
				"1",
				"{notice}",
				"none",
				"{person}",
				uuid.NewString(),
				"{invitation}",
				uuid.NewString(),
				"{session}",
				"none",
				"{passkey}",
				uuid.NewString(),
				"{key}",
				uuid.NewString(),
				"{feed}",
				uuid.NewString(),
				"{matter}",
				uuid.NewString(),
				"{thing}",
				uuid.Nil.String(),
			).Replace(path)
			out = append(out, [2]string{method, filled})
		}
	}
	slices.SortFunc(out, func(a, b [2]string) int { return strings.Compare(a[1]+a[0], b[1]+b[0]) })
	return out
}

var openToAll = [][2]string{
	{"GET", "/api/sign-in"},
	{"POST", "/api/session"},
	{
		"GET",
		"/api/owner/guessed",
	},
	{"POST", "/api/owner/guessed/things/00000000-0000-0000-0000-000000000000/code"},
	{"POST", "/api/owner/guessed/things/00000000-0000-0000-0000-000000000000/paper"},
	{"POST", "/api/owner/guessed/things/00000000-0000-0000-0000-000000000000/payment"},
	{"POST", "/api/owner/guessed/things/00000000-0000-0000-0000-000000000000/says"},
	{"POST", "/api/owner/guessed/things/00000000-0000-0000-0000-000000000000/time"},
	{"POST", "/api/owner/guessed/things/00000000-0000-0000-0000-000000000000/video"},
	{"GET", "/api/joining/guessed"},
	{"POST", "/api/joining/guessed"},
	{"GET", "/api/calendar/guessed"},
	{"POST", "/api/session/passkey"},
	{"POST", "/api/session/passkey/challenge"},
	{"POST", "/api/password-resets"},
	{"GET", "/api/password-resets/guessed"},
	{"POST", "/api/password-resets/guessed"},
}

func TestWithoutASessionNothingIsTold(t *testing.T) {
	r := rig.Start(t)
	c := newClient(t, r.Serve(t))
	if n := len(c.operations()); n < 25 {
		t.Fatalf("the contract has %d operations", n)
	}
	for _, op := range c.operations() {
		if slices.Contains(openToAll, op) {
			continue
		}
		req, err := http.NewRequest(op[0], c.base+op[1], strings.NewReader("{}"))
		rig.Must(t, err)
		req.Header.Set("Content-Type", "application/json")
		c.send(http.StatusUnauthorized, req, nil)
		req.Header.Set("Cookie", "uvent_session=forged")
		req.Body = io.NopCloser(strings.NewReader("{}"))
		c.send(http.StatusUnauthorized, req, nil)
	}
	for _, op := range openToAll {
		if op[1] == "/api/sign-in" {
			c.want(http.StatusOK, op[0], op[1], nil, nil)
		}
	}
}

func TestNoOtherSiteCanMakeABrowserAct(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	for _, op := range c.operations() {
		if op[0] == http.MethodGet {
			continue
		}
		for _, from := range []map[string]string{{"Origin": "https://elsewhere.example"}, {"Sec-Fetch-Site": "cross-site"}} {
			req, err := http.NewRequest(op[0], c.base+op[1], strings.NewReader("{}"))
			rig.Must(t, err)
			req.Header.Set("Content-Type", "application/json")
			for k, v := range from {
				req.Header.Set(k, v)
			}
			c.send(http.StatusForbidden, req, nil)
		}
	}
	c.want(http.StatusOK, http.MethodGet, "/api/session", nil, nil)
}

func TestSessions(t *testing.T) {
	r := rig.Start(t)
	c := newClient(t, r.Serve(t))
	if p := c.problem(http.StatusUnauthorized, "POST", "/api/session", map[string]string{"email": r.Who.Email, "password": "wrong"}); !strings.Contains(
		p.Detail,
		"do not belong together",
	) {
		t.Errorf("it says %q", p.Detail)
	}
	resp, err := c.http.Post(c.base+"/api/session", "application/json", strings.NewReader(`{"email":"`+r.Who.Email+`","password":"`+rig.Password+`"}`))
	rig.Must(t, err)
	resp.Body.Close()
	if cookie := resp.Header.Get("Set-Cookie"); !strings.Contains(cookie, "HttpOnly") || !strings.Contains(cookie, "SameSite=Lax") {
		t.Errorf("the cookie is %q", cookie)
	}
	var session struct {
		Name string
		Demo bool
	}
	c.want(http.StatusOK, "GET", "/api/session", nil, &session)
	if session.Name != "Ines Roake" || !session.Demo {
		t.Errorf("%+v", session)
	}
	kept := c.http.Jar.Cookies(resp.Request.URL)
	c.want(http.StatusNoContent, "DELETE", "/api/session", nil, nil)
	c.want(http.StatusUnauthorized, "GET", "/api/session", nil, nil)
	c.http.Jar.SetCookies(resp.Request.URL, kept)
	c.want(http.StatusUnauthorized, "GET", "/api/session", nil, nil) // it ended on the server too
	var stored int
	rig.Must(t, r.Store.Pool.QueryRow(t.Context(), "select count(*) from sessions where token = $1", kept[0].Value).Scan(&stored))
	if stored != 0 {
		t.Error("the token itself is kept in the database")
	}
}

func TestWhatCannotBeRead(t *testing.T) {
	r := rig.Start(t)
	c := signedIn(t, r)
	for _, q := range []struct {
		method, path, body string
		status             int
		says               string
	}{
		{"POST", "/api/clients", "{", 400, "cannot be read"},
		{"POST", "/api/clients", "[]", 400, "cannot be read"},
		{"GET", "/api/clients/none", "", 400, "cannot be read"},
		{"GET", "/api/today?client=none", "", 400, "cannot be read"},
		{"GET", "/api/clients/" + uuid.NewString(), "", 404, "no such client"},
		{"GET", "/api/locations/" + uuid.NewString(), "", 404, "no such location"},
		{"GET", "/api/listings/" + uuid.NewString() + "/fernlook", "", 404, "no such location"},
		{"POST", "/api/imports/" + uuid.NewString() + "/apply", "", 404, "no such import"},
		{"POST", "/api/clock/moves", "{}", 422, "Say how far"},
	} {
		req, err := http.NewRequest(q.method, c.base+q.path, strings.NewReader(q.body))
		rig.Must(t, err)
		req.Header.Set("Content-Type", "application/json")
		var p struct{ Detail string }
		rig.Must(t, json.Unmarshal(c.send(q.status, req, nil), &p))
		if !strings.Contains(p.Detail, q.says) {
			t.Errorf("%s %s %s: it says %q, want %q", q.method, q.path, q.body, p.Detail, q.says)
		}
	}
}

func TestPagesAndFiles(t *testing.T) {
	r := rig.Start(t)
	c := newClient(t, r.Serve(t))
	get := func(path string) (*http.Response, []byte) {
		t.Helper()
		resp, err := c.http.Get(c.base + path)
		rig.Must(t, err)
		defer resp.Body.Close()
		data, err := io.ReadAll(resp.Body)
		rig.Must(t, err)
		return resp, data
	}
	home, page := get("/")
	for _, path := range []string{"/today", "/verification/l/x/fernlook", "/record/import"} {
		if resp, data := get(path); resp.StatusCode != 200 || !bytes.Equal(data, page) {
			t.Errorf("%s is not the front end's page: %d", path, resp.StatusCode)
		}
	}
	if csp := home.Header.Get("Content-Security-Policy"); !strings.Contains(csp, "default-src 'self'") || !strings.Contains(csp, "frame-ancestors 'none'") {
		t.Errorf("the page may load %q", csp)
	}
	if resp, _ := get("/assets/none.js"); resp.StatusCode != 404 {
		t.Errorf("a file that is not there answers %d", resp.StatusCode)
	}
	if resp, _ := get("/api/none"); resp.StatusCode != 401 || resp.Header.Get("Content-Type") != "application/problem+json" {
		t.Errorf("an address that is not there answers %d", resp.StatusCode)
	}
	_, rest, found := strings.Cut(string(page), `src="/`)
	script, _, _ := strings.Cut(rest, `"`)
	if resp, _ := get("/" + script); !found || resp.StatusCode != 200 || !strings.Contains(resp.Header.Get("Cache-Control"), "immutable") {
		t.Errorf("the script %q answers %d, %q", script, resp.StatusCode, resp.Header.Get("Cache-Control"))
	}
	resp, err := c.http.Post(c.base+"/today", "text/plain", nil)
	rig.Must(t, err)
	resp.Body.Close()
	if resp.StatusCode != http.StatusMethodNotAllowed {
		t.Errorf("posting to a page answers %d", resp.StatusCode)
	}
}
