package outside_test

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"sync"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/legacy"

	"uvent/outside"
	"uvent/outside/visit"
	"uvent/store/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var begins = time.Date(2026, time.November, 24, 17, 12, 0, 0, time.UTC) // Tuesday, 09:12 Pacific

// world is an outside at work, and an account that speaks to it.
type world struct {
	t *testing.T
	*outside.Outside
	visit.World
	account string
}

func start(t *testing.T) *world {
	t.Helper()
	t.Parallel()
	o := open(t, storetest.URL(t))
	t.Cleanup(o.Close)
	server := httptest.NewServer(o.Handler())
	t.Cleanup(server.Close)
	return &world{t, o, visit.World{Base: server.URL}, "us@agency.example"}
}

func open(t *testing.T, url string) *outside.Outside {
	t.Helper()
	o, err := outside.Open(t.Context(), url, "127.0.0.1:0", begins, slog.New(slog.NewTextHandler(io.Discard, nil)))
	must(t, err)
	return o
}

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

// answer is what a directory's interface may say.
type answer struct {
	Ref, Page, ID, Holder, Code, Detail string
	State, Says                         string
	HeldBy                              string `json:"held_by"`
	TriesLeft                           *int   `json:"tries_left"`
	Digits, Tries                       int
	Expires                             time.Time
	Methods                             []string
	Taken, Reviewed                     []string
	Refused                             map[string]string
	Suspended                           string
	PublicAt                            *time.Time `json:"public_at"`
	Left, People                        int
	Reviews                             []struct{ By, Text string }
	Roles                               []struct{ Account, Role string }
	VerifyAgain                         bool `json:"verify_again"`
	Listings                            []struct{ Ref, Holder string }
}

// ask sends a request to Fernlook's interface.
func (w *world) ask(method, path, key string, body any) (int, answer) {
	w.t.Helper()
	return w.askOf("fernlook", method, path, key, body)
}

// askOf sends a request to a directory's interface.
func (w *world) askOf(directory, method, path, key string, body any) (int, answer) {
	w.t.Helper()
	b, err := json.Marshal(body)
	must(w.t, err)
	req, err := http.NewRequest(method, w.Base+"/"+directory+"/api"+path, bytes.NewReader(b))
	must(w.t, err)
	req.Header.Set("Authorization", "Bearer "+w.account)
	if key != "" {
		req.Header.Set("Idempotency-Key", key)
	}
	resp, err := http.DefaultClient.Do(req)
	must(w.t, err)
	defer resp.Body.Close()
	said, err := io.ReadAll(resp.Body)
	must(w.t, err)
	w.keepsTo(req, path, resp, said)
	var a answer
	must(w.t, json.Unmarshal(said, &a))
	return resp.StatusCode, a
}

// protocol is docs/connector.yaml.
var protocol = sync.OnceValues(func() (routers.Router, error) {
	spec, err := openapi3.NewLoader().LoadFromFile("../docs/connector.yaml")
	if err != nil {
		return nil, err
	}
	return legacy.NewRouter(spec)
})

// keepsTo holds an answer against the connector protocol.
func (w *world) keepsTo(req *http.Request, path string, resp *http.Response, said []byte) {
	w.t.Helper()
	router, err := protocol()
	must(w.t, err)
	as := req.Clone(w.t.Context())
	as.URL, err = url.Parse("https://pierbook.example/api" + path)
	must(w.t, err)
	as.Host = as.URL.Host
	route, params, err := router.FindRoute(as)
	if err != nil {
		w.t.Errorf("%s %s is not in the protocol: %v", req.Method, path, err)
		return
	}
	in := &openapi3filter.ResponseValidationInput{
		RequestValidationInput: &openapi3filter.RequestValidationInput{Request: as, PathParams: params, Route: route},
		Status:                 resp.StatusCode, Header: resp.Header, Options: &openapi3filter.Options{IncludeResponseStatus: true},
	}
	in.SetBodyBytes(said)
	if err := openapi3filter.ValidateResponse(w.t.Context(), in); err != nil {
		w.t.Errorf("%s %s answers %d %s, which is not in the protocol: %v", req.Method, path, resp.StatusCode, said, err)
	}
}

// page is what a visitor sees at a path.
func (w *world) page(path string) (int, string) {
	w.t.Helper()
	resp, err := http.Get(w.Base + path)
	must(w.t, err)
	defer resp.Body.Close()
	data, err := io.ReadAll(resp.Body)
	must(w.t, err)
	return resp.StatusCode, string(data)
}

// move sets the clock.
func (w *world) move(to time.Time) {
	w.t.Helper()
	b, err := json.Marshal(map[string]time.Time{"to": to})
	must(w.t, err)
	resp, err := http.Post(w.Base+"/clock", "application/json", bytes.NewReader(b))
	must(w.t, err)
	resp.Body.Close()
}

func (w *world) now() time.Time {
	w.t.Helper()
	resp, err := http.Get(w.Base + "/clock")
	must(w.t, err)
	defer resp.Body.Close()
	var c struct{ Now time.Time }
	must(w.t, json.NewDecoder(resp.Body).Decode(&c))
	return c.Now
}

var shop = visit.Facts{
	"name":        "Spokeshave Cycle Works",
	"street":      "18 Tern Street",
	"locality":    "Minnow Bay",
	"region":      "WA",
	"postal_code": "98990",
	"country":     "US",
	"phone":       "+13605550142",
	"website":     "https://spokeshave.example",
	"category":    "Bike repair service",
	"hours":       "Tu-Fr 09:00-12:00,13:00-18:00; Sa 20:00-02:00; 2026 Nov 26 off",
}

// created is the reference of a new listing that is ours.
func (w *world) created() string {
	w.t.Helper()
	status, a := w.ask("POST", "/listings", "", shop)
	if status != http.StatusCreated || a.Holder != "you" {
		w.t.Fatalf("creating answers %d, %+v", status, a)
	}
	return a.Ref
}

// code asks for one by a method and reads it where it arrives.
func (w *world) sent(ref, method, to string) (id, code string) {
	w.t.Helper()
	status, a := w.ask("POST", "/listings/"+ref+"/verifications", "", map[string]string{"method": method, "to": to})
	if status != http.StatusCreated {
		w.t.Fatalf("asking answers %d, %+v", status, a)
	}
	code, err := w.Code(context.Background(), to)
	must(w.t, err)
	return a.ID, code
}
