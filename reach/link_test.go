package reach_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"uvent/reach"
)

func TestCheckLink(t *testing.T) {
	asked := map[string]int{}
	outside := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		asked[r.URL.Path]++
		switch r.URL.Path {
		case "/web/gone.example/gift":
			w.WriteHeader(http.StatusNotFound)
		case "/web/old.example/":
			http.Redirect(w, r, "https://new.example/home", http.StatusMovedPermanently)
		case "/web/round.example":
			http.Redirect(w, r, "https://round.example", http.StatusFound)
		case "/web/trap.example":
			http.Redirect(w, r, "http://127.0.0.1:1/secret", http.StatusFound)
		case "/web/broken.example":
			w.WriteHeader(http.StatusBadGateway)
		}
	}))
	defer outside.Close()
	r := reach.New(outside.URL, "us@agency.example")
	for address, want := range map[string]struct {
		good bool
		says string
	}{
		"https://spokeshave.example/book?x=1":   {true, "It answers."},
		"https://gone.example/gift":             {false, "no page at this address (404)"},
		"https://old.example/":                  {true, "leads to new.example"},
		"https://round.example":                 {false, "leads on and on"},
		"https://trap.example":                  {false, "private network"},
		"https://broken.example":                {false, "an error (502)"},
		outside.URL + "/web/spokeshave.example": {false, "private network"}, // the outside itself only by way of its names
		"http://localhost:5432":                 {false, "private network"},
		"http://[::1]/":                         {false, "private network"},
		"http://169.254.169.254/latest":         {false, "private network"},
		"http://[64:ff9b::7f00:1]/":             {false, "private network"},
		"http://100.64.0.1/":                    {false, "private network"},
		"http://10.0.0.8/":                      {false, "private network"},
		"http://0.0.0.0/":                       {false, "private network"},
		"ftp://spokeshave.example":              {false, "does not answer"},
	} {
		got := r.CheckLink(t.Context(), address)
		if got.Good != want.good || !strings.Contains(got.Says, want.says) || got.Address != address {
			t.Errorf("%s: %+v", address, got)
		}
	}
	if asked["/web/new.example/home"] != 1 || asked["/web/round.example"] != 5 {
		t.Errorf("asked %v", asked)
	}
	over, cancel := context.WithCancel(t.Context())
	cancel()
	if got := r.CheckLink(over, "https://spokeshave.example"); got.Good {
		t.Error("an answer came after the end")
	}
	// Without an outside, names that cannot exist are asked of nobody but the resolver.
	if got := reach.New("", "").CheckLink(t.Context(), "https://spokeshave.example"); got.Good {
		t.Errorf("%+v", got)
	}
}
