package e2e

import (
	"context"
	"net/http"
	"net/http/httputil"
	"net/url"
	"strings"
	"sync/atomic"
	"testing"

	"uvent/e2e/browser"
	"uvent/e2e/rig"
)

// A part of Uvent that does not come is asked for again; where another Uvent is served meanwhile, the page is loaded anew,
// and shows what was wanted.
func TestAPartThatDoesNotCome(t *testing.T) {
	r := rig.Start(t)
	r.Add(t, rig.Shop("Minnow Bay"))
	served, err := url.Parse(r.Serve(t))
	rig.Must(t, err)
	var refused atomic.Int32
	var another atomic.Bool // is served by now
	behind := &httputil.ReverseProxy{Rewrite: func(p *httputil.ProxyRequest) {
		p.SetURL(served)
		p.Out.Host = p.In.Host
	}}
	base := rig.Serving(t, http.HandlerFunc(func(w http.ResponseWriter, req *http.Request) {
		byScript := req.Header.Get("Sec-Fetch-Dest") == "empty"
		switch {
		case strings.HasPrefix(req.URL.Path, "/assets/CoverageView") && refused.Load() < 2:
			refused.Add(1)
			w.WriteHeader(http.StatusServiceUnavailable)
		case strings.HasPrefix(req.URL.Path, "/assets/VerificationView") && another.Load():
			w.WriteHeader(http.StatusNotFound)
		case req.URL.Path == "/" && byScript && another.Load():
			_, _ = w.Write([]byte("another Uvent"))
			another.Store(false) // what is loaded now is that one
		default:
			behind.ServeHTTP(w, req)
		}
	}))
	tab, stop, err := browser.Start(context.Background())
	rig.Must(t, err)
	t.Cleanup(stop)
	s := &screen{tab, t, r, base}
	s.do(s.Enter(base, r.Who.Email, rig.Password))
	s.do(
		s.Open(s.at("/today")),
		s.Until(`!!document.querySelector("h1")`),
		s.Until(`window.before = true`),
		s.Press("Coverage"),
		s.Until(`document.querySelector("h1")?.innerText === "Coverage"`),
		s.Until(`window.before`),
	)
	if n := refused.Load(); n != 2 {
		t.Errorf("it was refused %d times", n)
	}
	another.Store(true)
	s.do(
		s.Press("Verification"),
		s.Until(`!window.before && location.pathname === "/verification"`),
		s.Until(`document.querySelector("h1")?.innerText === "Verification"`),
	)
}
