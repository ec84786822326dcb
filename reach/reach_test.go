package reach_test

import (
	"errors"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"testing"
	"time"

	"uvent/core/rule/reading"
	"uvent/reach"
)

func TestLook(t *testing.T) {
	status := http.StatusOK
	body := `<script type="application/ld+json">{"@type":"CafeOrCoffeeShop","name":"Café Teredo","telephone":"+13605550142"}</script>`
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.WriteHeader(status)
		w.Write([]byte(body))
	}))
	r := reach.New("http://127.0.0.1:1", "us@agency.example").WithPrivate([]netip.Prefix{netip.MustParsePrefix("127.0.0.0/8")})
	var unanswered *reach.Unanswered
	if s, err := r.Look(t.Context(), server.URL, "/place", reading.In{}); err != nil || s == nil || s.Name != "Café Teredo" {
		t.Errorf("%+v, %v", s, err)
	}
	for _, status = range []int{http.StatusNotFound, http.StatusGone} {
		if s, err := r.Look(t.Context(), server.URL, "/place", reading.In{}); err != nil || s != nil {
			t.Errorf("%d: %+v, %v", status, s, err)
		}
	}
	status = http.StatusBadGateway
	if _, err := r.Look(t.Context(), server.URL, "/place", reading.In{}); !errors.As(err, &unanswered) {
		t.Errorf("a broken page: %v", err)
	}
	status = http.StatusOK
	for want, text := range map[error]string{
		reach.ErrNoPage: "<h1>Town news</h1><p>The market moved to Quay Street, where it will stay until the spring, the town said.</p>",
		reach.ErrHalf:   "<html><body>" + body,
	} {
		body = text
		if _, err := r.Look(t.Context(), server.URL, "/place", reading.In{}); !errors.Is(err, want) || !errors.As(err, &unanswered) {
			t.Errorf("%s: %v", text, err)
		}
	}
	body = "<title>Not found</title><p>There is no listing here any more."
	if s, err := r.Look(t.Context(), server.URL, "/place", reading.In{}); err != nil || s != nil {
		t.Errorf("a page that says that it is gone: %+v, %v", s, err)
	}
	server.Close()
	if _, err := r.Look(t.Context(), server.URL, "/place", reading.In{}); !errors.As(err, &unanswered) {
		t.Errorf("no server: %v", err)
	}
}

func TestRefusedOrUnanswered(t *testing.T) {
	status, body := 409, `{"status":409,"code":"wrong_code","detail":"No.","tries_left":2}`
	var got *http.Request
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		got = r
		w.WriteHeader(status)
		w.Write([]byte(body))
	}))
	defer server.Close()
	r := reach.New(server.URL, "us@agency.example")
	ctx := t.Context()
	var no *reach.Refusal
	if _, err := r.EnterCode(ctx, "outside:/fernlook/api", "key", "id/..", "123456"); !errors.As(err, &no) || no.Code != "wrong_code" || *no.TriesLeft != 2 {
		t.Errorf("%v", err)
	}
	if got.URL.EscapedPath() != "/fernlook/api/verifications/id%2F../code" || got.Header.Get("Idempotency-Key") != "key" ||
		got.Header.Get("Authorization") != "Bearer us@agency.example" {
		t.Errorf("asked %s with %v", got.URL.EscapedPath(), got.Header)
	}
	body = `{"status":404,"detail":"There is no such listing."}`
	if _, err := r.Claim(ctx, "outside:/x", "key", "ref", nil); !errors.As(err, &no) || no.Detail != "There is no such listing." {
		t.Errorf("%v", err)
	}
	var unanswered *reach.Unanswered
	for _, status = range []int{500, 503, 429, 401, 407, 408, 425} { // busy, or we are not known at the moment
		if _, err := r.Create(ctx, "outside:/x", "key", map[string]any{}); !errors.As(err, &unanswered) {
			t.Errorf("%d: %v", status, err)
		}
	}
	for _, body = range []string{"<html>404 Not Found</html>", "", "{}", `{"error":"no upstream"}`} { // of a gateway before it
		for _, status = range []int{403, 404, 409} {
			if _, err := r.Claim(ctx, "outside:/x", "key", "ref", nil); !errors.As(err, &unanswered) {
				t.Errorf("%d with %q: %v", status, body, err)
			}
		}
	}
}

// Well meant or not, what is not as the protocol has it is no answer.
func TestAnswersThatAreNone(t *testing.T) {
	answer, wait := "", ""
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if wait != "" {
			w.Header().Set("Retry-After", wait)
			w.WriteHeader(http.StatusServiceUnavailable)
		}
		w.Write([]byte(answer))
	}))
	defer server.Close()
	r, ctx := reach.New(server.URL, "us@agency.example"), t.Context()
	asks := map[string]func() error{
		"search": func() error { _, err := r.Search(ctx, "outside:/x", reach.Query{}); return err },
		"create": func() error { _, err := r.Create(ctx, "outside:/x", "key", map[string]any{}); return err },
		"change": func() error { _, err := r.Change(ctx, "outside:/x", "key", "a/b", map[string]any{}); return err },
		"told":   func() error { _, err := r.Told(ctx, "outside:/x", "ref"); return err },
		"code": func() error {
			_, err := r.AskCode(ctx, "outside:/x", "key", "ref", "text", "+13605550142", "")
			return err
		},
		"access":  func() error { _, err := r.AskAccess(ctx, "outside:/x", "key", "ref"); return err },
		"request": func() error { _, err := r.Request(ctx, "outside:/x", "7"); return err },
		"offers":  func() error { _, err := r.Offers(ctx, "outside:/x", "ref"); return err },
	}
	var unanswered *reach.Unanswered
	for name, ask := range asks {
		for _, answer = range []string{"{}", "[]", "null", "", "<html></html>", `{"listings":[{}]}`, `{"ref":7,"page":"","holder":"","facts":{}}`, `{"state":"fine"}`} {
			if err := ask(); !errors.As(err, &unanswered) {
				t.Errorf("%s, answered %s: %v", name, answer, err)
			}
		}
	}
	answer = `{"listings":[]}`
	if err := asks["search"](); err != nil {
		t.Error(err)
	}
	for said, after := range map[string]time.Duration{"7": 7 * time.Second, "0": 0, "soon": 0, "99999999": 24 * time.Hour} {
		wait = said
		if err := asks["search"](); !errors.As(err, &unanswered) || unanswered.After != after {
			t.Errorf("Retry-After %s: %v, %+v", said, err, unanswered)
		}
	}
	wait = time.Now().Add(90 * time.Second).UTC().Format(http.TimeFormat)
	if err := asks["search"](); !errors.As(err, &unanswered) || unanswered.After < 80*time.Second || unanswered.After > 90*time.Second {
		t.Errorf("Retry-After %s: %v, %s", wait, err, unanswered.After)
	}
}

func TestPageURL(t *testing.T) {
	r := reach.New("http://127.0.0.1:7301/", "")
	for _, c := range [][3]string{
		{"outside:/fernlook/api", "/fernlook/place/x", "http://127.0.0.1:7301/fernlook/place/x"},
		{"https://directory.example/api", "/place/x", "https://directory.example/place/x"},
		{"https://directory.example/api", "https://pages.example/x", "https://pages.example/x"},
		{"https://directory.example/api", "", ""},
	} {
		if got := r.PageURL(c[0], c[1]); got != c[2] {
			t.Errorf("%s at %s is %q, want %q", c[1], c[0], got, c[2])
		}
	}
}
