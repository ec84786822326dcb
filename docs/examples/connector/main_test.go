package main

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"path/filepath"
	"strings"
	"testing"

	"uvent/conformance"
	"uvent/reach"
)

var facts = map[string]any{
	"name": "Curlew & Tern", "street": "18 Trial Street", "locality": "Minnow Bay", "phone": "+13605550142", "hours": "Mo-Fr 09:00-17:00", "pigeons": 3.0,
}

// short are the cases in which a connector falls short.
func short(t *testing.T, h http.Handler) (asks []string, all int) {
	t.Helper()
	server := httptest.NewServer(h)
	defer server.Close()
	r := reach.New("", "").WithPrivate([]netip.Prefix{netip.MustParsePrefix("127.0.0.0/8")})
	cases := conformance.Run(t.Context(), r, conformance.Options{Connector: server.URL, Authorization: "Bearer curlew", Facts: facts})
	for _, c := range cases {
		if c.Falls != "" {
			asks = append(asks, c.Asks+": "+c.Falls)
		}
	}
	return asks, len(cases)
}

// The example keeps the protocol, and finds its listings again when it is begun anew.
func TestTheExampleKeepsTheProtocol(t *testing.T) {
	file := filepath.Join(t.TempDir(), "listings.csv")
	d, err := open(file, "curlew")
	if err != nil {
		t.Fatal(err)
	}
	if asks, all := short(t, d); len(asks) > 0 || all < 13 {
		t.Errorf("of %d it falls short of %q", all, asks)
	}
	again, err := open(file, "curlew")
	if err != nil || len(again.rows) != 1 || again.rows[0]["name"] != "Curlew & Tern" || again.rows[0]["withdrawn"] != "yes" ||
		again.rows[0]["hours"] != "Mo-Fr 10:00-16:00" {
		t.Errorf("%+v, %v", again.rows, err)
	}
}

// What falls short is noticed.
func TestWhatFallsShort(t *testing.T) {
	for name, c := range map[string]struct {
		spoil func(d *directory) http.HandlerFunc
		want  string
	}{
		"it makes twice what it is asked twice": {func(d *directory) http.HandlerFunc {
			return func(w http.ResponseWriter, r *http.Request) { r.Header.Del("Idempotency-Key"); d.ServeHTTP(w, r) }
		}, "it was made twice"},
		"it knows everybody": {func(d *directory) http.HandlerFunc {
			return func(w http.ResponseWriter, r *http.Request) {
				r.Header.Set("Authorization", "Bearer curlew")
				d.ServeHTTP(w, r)
			}
		}, "it is done, where it should be refused"},
		"a page stands before it": {func(*directory) http.HandlerFunc {
			return func(w http.ResponseWriter, _ *http.Request) { fmt.Fprint(w, "<!doctype html>") }
		}, "not as the protocol has it"},
		"it says yes to all": {func(*directory) http.HandlerFunc {
			return func(w http.ResponseWriter, _ *http.Request) { fmt.Fprint(w, "{}") }
		}, "a search for what is not there finds nothing"},
		"it tells no change": {func(d *directory) http.HandlerFunc {
			return func(w http.ResponseWriter, r *http.Request) {
				if r.Method == http.MethodPut {
					fmt.Fprint(w, `{"taken": [], "reviewed": [], "refused": {}, "verify_again": false}`)
					return
				}
				d.ServeHTTP(w, r)
			}
		}, "how the change of hours was met"},
		"it does not withdraw": {func(d *directory) http.HandlerFunc {
			return func(w http.ResponseWriter, r *http.Request) {
				if strings.HasSuffix(r.URL.Path, "/visibility") {
					fmt.Fprint(w, "{}")
					return
				}
				d.ServeHTTP(w, r)
			}
		}, "not told as withdrawn"},
	} {
		d, err := open(filepath.Join(t.TempDir(), "listings.csv"), "curlew")
		if err != nil {
			t.Fatal(err)
		}
		if asks, _ := short(t, c.spoil(d)); !strings.Contains(strings.Join(asks, "\n"), c.want) {
			t.Errorf("%s, and it is said that it falls short of %q", name, asks)
		}
	}
}
