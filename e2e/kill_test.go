//go:build proofs

package e2e

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"os/exec"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/e2e/browser"
	"uvent/e2e/proof"
	"uvent/e2e/rig"
	"uvent/outside"
	"uvent/outside/visit"
	"uvent/store"
	"uvent/store/storetest"
)

// moment is when the program is killed, within one step of the story.
type moment string

const (
	atOnce moment = "a moment after the step was asked for"
	before moment = "before the outside hears of it"
	after  moment = "after the outside did it, before the answer is heard"
)

// killings are the points of the story at which the program is killed.
var killings = []struct {
	step string
	when moment
}{
	{"keep the file", atOnce},
	{"bring in", atOnce},
	{"search", atOnce},
	{"create", atOnce},
	{"ask for a code", atOnce},
	{"it has arrived", atOnce},
	{"enter a wrong code", atOnce},
	{"enter the right code", atOnce},
	{"look", atOnce},
	{"search", before},
	{"search", after},
	{"create", before},
	{"create", after},
	{"ask for a code", before},
	{"ask for a code", after},
	{
		"enter a wrong code",
		before,
	},
	{"enter a wrong code", after},
	{"enter the right code", before},
	{"enter the right code", after},
	{"look", before},
	{"look", after},
}

// Killed at any point and started again, the program loses nothing, and nothing
// is done twice in the outside.
func TestKilledAtAnyPointNothingIsLostOrDoneTwice(t *testing.T) {
	t.Parallel()
	k := newKilled(t)
	points := proof.Some(t, killings)
	for i, killing := range points {
		t.Run(fmt.Sprintf("%s, %s", killing.step, killing.when), func(t *testing.T) { k.story(t, i, killing.step, killing.when) })
	}
	proof.Count(t, "killed at %d of %d points, and nothing was lost or done twice", len(points), len(killings))
}

// killed is a program that is killed and started again, its outside, and a
// person who works with it.
type killed struct {
	t       *testing.T
	binary  string
	folder  string // for its key
	dbURL   string
	mail    string // where the outside takes letters
	world   visit.World
	store   *store.Store
	owner   *pgx.Conn
	http    *http.Client
	program *exec.Cmd
	base    string
	// fuse is what happens at the next request that reaches the outside's
	// directories; nil for nothing.
	fuse atomic.Pointer[fuse]
}

type fuse struct {
	when  moment
	burnt chan struct{}
}

func newKilled(t *testing.T) *killed {
	k := &killed{t: t, dbURL: storetest.URL(t), binary: program(t), folder: t.TempDir()}
	o, err := outside.Open(t.Context(), k.dbURL, "127.0.0.1:0", rig.Begins, slog.New(slog.NewTextHandler(io.Discard, nil)))
	rig.Must(t, err)
	t.Cleanup(o.Close)
	k.mail = o.MailAddr()
	running, stop := context.WithCancel(context.Background())
	ran := make(chan struct{})
	go func() { o.Run(running); close(ran) }()
	t.Cleanup(func() { stop(); <-ran })
	inner := o.Handler()
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		f := k.fuse.Load()
		if f == nil || !strings.HasPrefix(r.URL.Path, "/fernlook/") || strings.HasSuffix(r.URL.Path, "/offers") || !k.fuse.CompareAndSwap(f, nil) {
			inner.ServeHTTP(w, r)
			return
		}
		if f.when == after {
			inner.ServeHTTP(httptest.NewRecorder(), r.WithContext(context.WithoutCancel(r.Context())))
		}
		k.kill()
		close(f.burnt)
		panic(http.ErrAbortHandler)
	}))
	t.Cleanup(func() { server.CloseClientConnections(); server.Close() })
	k.world = visit.World{Base: server.URL}
	k.store, err = store.Open(t.Context(), k.dbURL)
	rig.Must(t, err)
	t.Cleanup(k.store.Close)
	k.owner = storetest.Owner(t, k.store) // who may look into the outside too

	add := exec.Command(k.binary, "person", "add", "--email", "ines@agency.example", "--name", "Ines Roake")
	add.Env, add.Stdin = append(os.Environ(), "DATABASE_URL="+k.dbURL), strings.NewReader(rig.Password+"\n")
	if out, err := add.CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	jar, err := cookiejar.New(nil)
	rig.Must(t, err)
	k.http = &http.Client{Jar: jar, Timeout: browser.Patience}
	k.start()
	t.Cleanup(k.kill)
	if status, _ := k.ask("POST", "/api/session", map[string]string{"email": "ines@agency.example", "password": rig.Password}, nil); status != http.StatusOK {
		t.Fatalf("signing in answers %d", status)
	}
	return k
}

// start starts the program, at the address it had before, so that the session
// holds.
func (k *killed) start() {
	listen := "127.0.0.1:0"
	if k.base != "" {
		listen = strings.TrimPrefix(k.base, "http://")
	}
	k.program, k.base = k.serve(listen)
}

// serve starts a server on the database, and tells its address.
func (k *killed) serve(listen string) (*exec.Cmd, string) {
	program := exec.Command(k.binary, "serve", "--listen", listen, "--outside", k.world.Base, "--account", rig.Account, "--smtp", k.mail, "--data", k.folder)
	program.Env = append(os.Environ(), "DATABASE_URL="+k.dbURL)
	program.Stderr = os.Stderr
	said, err := program.StdoutPipe()
	rig.Must(k.t, err)
	rig.Must(k.t, program.Start())
	line, err := bufio.NewReader(said).ReadString('\n')
	rig.Must(k.t, err)
	return program, strings.TrimSpace(line[strings.Index(line, "http://"):])
}

// kill is kill -9.
func (k *killed) kill() {
	k.program.Process.Kill()
	k.program.Wait()
}

// ask sends a request; status 0 means that no answer came.
func (k *killed) ask(method, path string, body, into any) (int, error) {
	var payload io.Reader
	if body != nil {
		b, err := rig.AsWritten(body)
		if err != nil {
			return 0, err
		}
		payload = bytes.NewReader(b)
	}
	req, err := http.NewRequest(method, k.base+path, payload)
	if err != nil {
		return 0, err
	}
	req.Header.Set("Content-Type", "application/json")
	return k.send(req, into)
}

func (k *killed) send(req *http.Request, into any) (int, error) {
	resp, err := k.http.Do(req)
	if err != nil {
		return 0, err
	}
	defer resp.Body.Close()
	data, err := io.ReadAll(resp.Body)
	if err != nil {
		return 0, err
	}
	if into != nil && resp.StatusCode < 300 {
		return resp.StatusCode, json.Unmarshal(data, into)
	}
	return resp.StatusCode, nil
}

// standing is where a listing stands, as far as the story asks.
type standing struct {
	Busy       string
	SearchedAt *time.Time `json:"searched_at"`
	LookedAt   *time.Time `json:"looked_at"`
	Row        struct {
		Strand struct{ Control, Verification, Visibility string }
	}
	Attempts []struct {
		ID        string
		State     string
		Live      bool
		TriesLeft int        `json:"tries_left"`
		ArrivedAt *time.Time `json:"arrived_at"`
	}
}

// step is one thing that a person does, and how they see that it is done.
type step struct {
	name string
	do   func() (int, error)
	done func() bool
}

// story is the whole way of one location, killed once.
func (k *killed) story(t *testing.T, i int, killStep string, when moment) {
	town := fmt.Sprintf("Port %d", i)
	phone := fmt.Sprintf("+1360555%04d", 100+i)
	csv := fmt.Sprintf(
		"client,label,name,street,locality,region,country,phone,phone_can,category,opening_hours\nClient %d,%s,Shop of %s,1 Quay,%s,WA,US,%s,voice text,Bicycle repair,24/7\n",
		i,
		town,
		town,
		town,
		phone,
	)
	var imported, location, code string
	var l standing
	path := func(rest string) string { return "/api/listings/" + location + "/fernlook" + rest }
	look := func() bool {
		for range 4000 {
			if status, err := k.ask("GET", path(""), nil, &l); err == nil && status == 200 && l.Busy == "" {
				return true
			}
			time.Sleep(15 * time.Millisecond)
		}
		t.Fatalf("still busy: %+v", l)
		return false
	}
	attempt := func() string { return path("/codes/" + l.Attempts[len(l.Attempts)-1].ID) }
	steps := []step{
		{"keep the file", func() (int, error) {
			var out struct{ ID string }
			status, err := k.upload(csv, &out)
			imported = out.ID
			return status, err
		}, func() bool { return imported != "" }},
		{"bring in", func() (int, error) { return k.ask("POST", "/api/imports/"+imported+"/apply", nil, nil) }, func() bool {
			var in struct{ State string }
			if status, err := k.ask("GET", "/api/imports/"+imported, nil, &in); err != nil || status != 200 {
				t.Fatalf("the file is lost: %d, %v", status, err)
			}
			for range 400 { // it goes on by itself
				if in.State != "bringing" {
					break
				}
				time.Sleep(15 * time.Millisecond)
				_, _ = k.ask("GET", "/api/imports/"+imported, nil, &in)
			}
			if in.State == "in" {
				location = k.one(t, "select id::text from location where label = $1", town)
			}
			return in.State == "in"
		}},
		{"search", func() (int, error) { return k.ask("POST", path("/search"), nil, nil) }, func() bool { return look() && l.SearchedAt != nil }},
		{"create", func() (int, error) { return k.ask("POST", path("/create"), nil, nil) }, func() bool { return look() && l.Row.Strand.Control == "held" }},
		{"ask for a code", func() (int, error) {
			return k.ask("POST", path("/codes"), map[string]string{"method": "postcard"}, nil)
		}, func() bool { return look() && len(l.Attempts) > 0 }},
		{
			"it has arrived",
			func() (int, error) { return k.ask("POST", attempt()+"/arrived", nil, nil) },
			func() bool { return look() && l.Attempts[0].ArrivedAt != nil },
		},
		{"enter a wrong code", func() (int, error) {
			return k.ask("PUT", attempt(), map[string]string{"code": wrong(code)}, nil)
		}, func() bool { return look() && l.Attempts[0].TriesLeft < 3 }},
		{
			"enter the right code",
			func() (int, error) { return k.ask("PUT", attempt(), map[string]string{"code": code}, nil) },
			func() bool { return look() && l.Row.Strand.Verification == "verified" },
		},
		{"look", func() (int, error) { return k.ask("POST", path("/looks"), nil, nil) }, func() bool { return look() && l.LookedAt != nil }},
	}
	for _, s := range steps {
		if s.name == "it has arrived" {
			code = k.posted(t, "1 Quay, "+town)
		}
		if s.name != killStep {
			if status, err := s.do(); err != nil || status >= 300 {
				t.Fatalf("%s: %d, %v", s.name, status, err)
			}
		} else {
			k.killDuring(t, s, when)
		}
		for tries := 0; !s.done(); tries++ { // as a person who sees that it was not done
			if tries == 3 {
				t.Fatalf("%s is not done", s.name)
			}
			if status, err := s.do(); err != nil || status >= 300 && status != http.StatusConflict {
				t.Fatalf("%s again: %d, %v", s.name, status, err)
			}
		}
	}
	if l.Attempts[0].TriesLeft != 2 || len(l.Attempts) != 1 {
		t.Errorf("%d attempts, %d tries left: something was entered or asked for twice", len(l.Attempts), l.Attempts[0].TriesLeft)
	}
	for what, want := range map[string]string{
		"select count(*)::text from location where label = $1":                                                                     "1",
		"select count(*)::text from outside.listing where facts->>'locality' = $1":                                                 "1",
		"select count(*)::text from outside.verification v join outside.listing using (ref) where facts->>'locality' = $1":         "1",
		"select tries_left::text from outside.verification v join outside.listing using (ref) where facts->>'locality' = $1":       "2",
		"select count(*)::text from event e join location o on o.id = e.location_id where o.label = $1 and kind = 'created'":       "1",
		"select count(*)::text from event e join location o on o.id = e.location_id where o.label = $1 and kind = 'code_sent'":     "1",
		"select count(*)::text from event e join location o on o.id = e.location_id where o.label = $1 and kind = 'code_refused'":  "1",
		"select count(*)::text from event e join location o on o.id = e.location_id where o.label = $1 and kind = 'code_accepted'": "1",
	} {
		if got := k.one(t, what, town); got != want {
			t.Errorf("%s: %s, want %s", what, got, want)
		}
	}
}

// killDuring does a step and kills the program on the way; then it starts it again.
func (k *killed) killDuring(t *testing.T, s step, when moment) {
	t.Helper()
	switch when {
	case atOnce:
		asked := make(chan struct{})
		go func() { s.do(); close(asked) }()
		time.Sleep(time.Duration(rand.IntN(12_000)) * time.Microsecond)
		k.kill()
		<-asked
	default:
		f := &fuse{when, make(chan struct{})}
		k.fuse.Store(f)
		s.do()
		select {
		case <-f.burnt:
		case <-time.After(browser.Patience):
			t.Fatal("the program never reached the outside")
		}
	}
	k.start()
}

// posted moves the clock until the post is there, and reads the code.
func (k *killed) posted(t *testing.T, place string) string {
	t.Helper()
	for range 40 {
		if code, err := k.world.Code(t.Context(), place); err == nil {
			return code
		}
		if status, err := k.ask("POST", "/api/clock/moves", map[string]string{"by": "day"}, nil); err != nil || status != 200 {
			t.Fatalf("moving the clock: %d, %v", status, err)
		}
	}
	t.Fatal("the postcard never comes")
	return ""
}

func (k *killed) upload(csv string, into any) (int, error) {
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	part, err := w.CreateFormFile("file", "locations.csv")
	if err = errors.Join(err, ignoreN(io.WriteString(part, csv)), w.Close()); err != nil {
		return 0, err
	}
	req, err := http.NewRequest("POST", k.base+"/api/imports", &body)
	if err != nil {
		return 0, err
	}
	req.Header.Set("Content-Type", w.FormDataContentType())
	return k.send(req, into)
}

func ignoreN(_ int, err error) error { return err }

// one is the single value that a query gives.
func (k *killed) one(t *testing.T, query string, args ...any) (out string) {
	t.Helper()
	rig.Must(t, k.owner.QueryRow(t.Context(), query, args...).Scan(&out))
	return out
}

// wrong is a code of six digits that is not the right one.
func wrong(code string) string {
	if code == "000000" {
		return "111111"
	}
	return "000000"
}
