package reach

import (
	"context"
	"errors"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"strings"
	"testing"
	"time"

	"uvent/core/rule/reading"
)

// inner are addresses to which nothing that people can write may lead: this machine, networks beside it, what clouds tell
// their machines, and the same in other clothes.
var inner = strings.Fields(
	`127.0.0.1 127.1.2.3 127.0.0.1:5432 localhost localhost:22 LOCALHOST. 0.0.0.0 0.1.2.3 10.0.0.1 10.255.255.255 172.16.0.1 172.31.255.254
	192.168.0.1 192.168.255.255 169.254.169.254 169.254.0.1 100.64.0.1 100.127.255.255 192.0.0.1 192.0.0.170 192.0.2.1 192.88.99.1 198.18.0.1 198.19.255.255
	198.51.100.1 203.0.113.7 224.0.0.1 239.255.255.250 240.0.0.1 255.255.255.255 [::1] [::] [::1]:8080 [::ffff:127.0.0.1] [::ffff:10.0.0.1] [::ffff:169.254.169.254]
	[::127.0.0.1] [::7f00:1] [64:ff9b::7f00:1] [64:ff9b::10.0.0.1] [64:ff9b:1::1] [2002:7f00:1::] [2002:a00:1::] [2002:c0a8:1::1] [2001::1] [2001:db8::1] [2001:10::1]
	[fc00::1] [fd00::1] [fd12:3456:789a::1] [fe80::1] [fe80::1%25lo] [fec0::1] [ff02::1] [ff05::2] [100::1] [5f00::1] [3fff::1]
	example.com spokeshave.example deep.spokeshave.example. a.test b.invalid c.onion`,
)

func TestNothingLeadsInside(t *testing.T) {
	if len(inner) < 60 {
		t.Fatalf("%d addresses", len(inner))
	}
	r := New("", "us@agency.example")
	for _, host := range inner {
		for _, scheme := range []string{"http://", "https://"} {
			address := scheme + host + "/"
			if got := r.CheckLink(t.Context(), address); got.Good {
				t.Errorf("%s: %+v", address, got)
			}
			err := r.Ask(t.Context(), http.MethodPost, address, "", struct{}{}, &struct{}{})
			if !errors.Is(err, errPrivate) && !errors.Is(err, errNowhere) {
				t.Errorf("as a connector, %s: %v", address, err)
			}
			if _, err := r.Look(t.Context(), "", address, reading.In{}); !errors.Is(err, errPrivate) && !errors.Is(err, errNowhere) {
				t.Errorf("as a page, %s: %v", address, err)
			}
		}
	}
	if n := r.guard.let.Load(); n != 0 {
		t.Errorf("the dialer let %d through", n)
	}
}

// What is public is let through, as far as the dialer: nothing is dialled here.
func TestWhatIsPublic(t *testing.T) {
	g := &guard{}
	for _, address := range strings.Fields("8.8.4.4:443 1.1.1.1:80 [2606:4700::1]:443 172.32.0.1:443 100.128.0.1:443 198.20.0.1:80 11.0.0.1:80") {
		if err := g.control("tcp", address, nil); err != nil {
			t.Errorf("%s: %v", address, err)
		}
	}
	g.private = []netip.Prefix{netip.MustParsePrefix("10.1.0.0/16")}
	if g.control("tcp", "10.1.2.3:80", nil) != nil || g.control("tcp", "10.2.2.3:80", nil) == nil {
		t.Error("the ranges that were named are not those that are let through")
	}
}

// A connector's redirection is not followed, and what it says is told as letters.
func TestAConnectorThatLeadsElsewhere(t *testing.T) {
	asked := 0
	s := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		asked++
		switch r.URL.Path {
		case "/leads":
			http.Redirect(w, r, "/secret", http.StatusTemporaryRedirect)
		case "/says":
			w.WriteHeader(http.StatusConflict)
			_, _ = w.Write([]byte(`{"detail":"no\u202e ` + strings.Repeat("x", 2000) + `\u0007"}`))
		default:
			_, _ = w.Write([]byte("{}"))
		}
	}))
	defer s.Close()
	r := New(s.URL, "us@agency.example")
	var late *Unanswered
	if err := r.Ask(t.Context(), http.MethodPost, s.URL+"/leads", "", struct{}{}, &struct{}{}); !errors.As(err, &late) || asked != 1 {
		t.Errorf("after %d requests: %v", asked, err)
	}
	var no *Refusal
	if err := r.Ask(t.Context(), http.MethodPost, s.URL+"/says", "", struct{}{}, &struct{}{}); !errors.As(err, &no) ||
		len([]rune(no.Detail)) > mostSaid+1 || strings.ContainsAny(no.Detail, "\u202e\a") || !strings.HasPrefix(no.Detail, "no xxx") {
		t.Errorf("%v", err)
	}
	ctx, cancel := context.WithTimeout(t.Context(), time.Second)
	defer cancel()
	if err := New("", "").Ask(ctx, http.MethodGet, s.URL, "", nil, &struct{}{}); !errors.Is(err, errPrivate) {
		t.Errorf("a server beside this one that is not the outside: %v", err)
	}
}
