//go:build proofs

package e2e

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/emersion/go-smtp"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/e2e/proof"
	"uvent/e2e/rig"
	"uvent/outside"
	"uvent/store/cluster"
)

// battered is two servers, their database, a mail server and a directory, each of which is killed now and then.
type battered struct {
	t       *testing.T
	binary  string
	folder  string // for the servers' key
	dir     string // of the database
	db      *cluster.Cluster
	outside string // address
	post    *postOffice
	away    atomic.Bool // the directory is
	base    [2]string
	servers [2]*exec.Cmd
	http    *http.Client
	ending  atomic.Bool

	mu    sync.Mutex
	acked map[string]int // by verb
}

// postOffice is a mail server that counts what it takes by Message-ID.
type postOffice struct {
	mu    sync.Mutex
	at    string
	up    *smtp.Server
	taken map[string]int
}

var messageID = regexp.MustCompile(`(?im)^Message-ID:\s*<([^>]+)>`)

type delivery struct{ office *postOffice }

func (delivery) Reset()                               {}
func (delivery) Logout() error                        { return nil }
func (delivery) Mail(string, *smtp.MailOptions) error { return nil }
func (delivery) Rcpt(string, *smtp.RcptOptions) error { return nil }
func (d delivery) Data(r io.Reader) error {
	text, err := io.ReadAll(r)
	if found := messageID.FindSubmatch(text); err == nil && found != nil {
		d.office.mu.Lock()
		d.office.taken[string(found[1])]++
		d.office.mu.Unlock()
	}
	return err
}

// open begins it, at the address that it had before.
func (p *postOffice) open(t *testing.T) {
	t.Helper()
	l, err := net.Listen("tcp", p.at)
	rig.Must(t, err)
	p.at = l.Addr().String()
	s := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return delivery{p}, nil }))
	s.Domain = "post.example"
	p.up = s
	go s.Serve(l)
}

func batter(t *testing.T) *battered {
	t.Helper()
	b := &battered{t: t, binary: program(t), folder: t.TempDir(), post: &postOffice{at: "127.0.0.1:0", taken: map[string]int{}}, acked: map[string]int{}}
	quiet := slog.New(slog.NewTextHandler(io.Discard, nil))
	dir, err := os.MkdirTemp("", "uvent-battered-")
	rig.Must(t, err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	b.dir = dir
	b.db, err = cluster.Start(t.Context(), cluster.Options{Dir: dir, Log: quiet})
	rig.Must(t, err)
	t.Cleanup(b.db.Stop)
	b.commanded("migrate")
	o, err := outside.Open(t.Context(), b.db.URL("postgres"), "127.0.0.1:0", rig.Begins, quiet)
	rig.Must(t, err)
	t.Cleanup(o.Close)
	running, stop := context.WithCancel(context.Background())
	ran := make(chan struct{})
	go func() { o.Run(running); close(ran) }()
	t.Cleanup(func() { stop(); <-ran })
	inner := o.Handler()
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if !strings.HasPrefix(r.URL.Path, "/fernlook/") {
			inner.ServeHTTP(w, r)
			return
		}
		if b.away.Load() {
			panic(http.ErrAbortHandler)
		}
		answer := httptest.NewRecorder()
		inner.ServeHTTP(answer, r.WithContext(context.WithoutCancel(r.Context())))
		if b.away.Load() { // it went away before it could say what it has done
			panic(http.ErrAbortHandler)
		}
		for name, values := range answer.Header() {
			w.Header()[name] = values
		}
		w.WriteHeader(answer.Code)
		_, _ = w.Write(answer.Body.Bytes())
	}))
	t.Cleanup(func() { server.CloseClientConnections(); server.Close() })
	b.outside = server.URL
	b.post.open(t)
	t.Cleanup(func() { b.post.up.Close() })
	add := exec.Command(b.binary, "person", "add", "--email", "ines@agency.example", "--name", "Ines Roake")
	add.Env, add.Stdin = b.env(), strings.NewReader(rig.Password+"\n")
	if out, err := add.CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	jar, err := cookiejar.New(nil)
	rig.Must(t, err)
	b.http = &http.Client{Jar: jar, Timeout: 15 * time.Second}
	for i := range b.servers {
		b.serve(i)
	}
	t.Cleanup(func() {
		b.ending.Store(true)
		for _, s := range b.servers {
			s.Process.Kill()
			s.Wait()
		}
	})
	return b
}

func (b *battered) env() []string { return append(os.Environ(), "DATABASE_URL="+b.db.URL("postgres")) }

// commanded gives a command, and tells what it says.
func (b *battered) commanded(args ...string) string {
	b.t.Helper()
	c := exec.Command(b.binary, args...)
	c.Env = b.env()
	out, err := c.CombinedOutput()
	if err != nil {
		b.t.Errorf("%q: %v\n%s", args, err, out)
	}
	return string(out)
}

// serve starts a server, as often as it takes: without its database it does not start.
func (b *battered) serve(i int) {
	listen := "127.0.0.1:0"
	if b.base[i] != "" {
		listen = strings.TrimPrefix(b.base[i], "http://")
	}
	for tries := 0; !b.ending.Load(); tries++ {
		program := exec.Command(b.binary, "serve", "--listen", listen, "--address", "http://uvent.example", "--outside", b.outside, "--account", rig.Account,
			"--smtp", b.post.at, "--data", b.folder, "--log-heads", filepath.Join(b.folder, fmt.Sprint("heads-", i)), "--log-requests=false")
		program.Env = b.env()
		said, err := program.StdoutPipe()
		rig.Must(b.t, err)
		rig.Must(b.t, program.Start())
		line, err := bufio.NewReader(said).ReadString('\n')
		if err == nil {
			b.servers[i], b.base[i] = program, strings.TrimSpace(line[strings.Index(line, "http://"):])
			return
		}
		program.Wait()
		if tries > 100 {
			b.t.Error("a server does not start")
			return
		}
		time.Sleep(100 * time.Millisecond)
	}
}

// does asks for something, of either server, until it is answered for good; it is told what the answer says.
func (b *battered) does(verb, method, path string, body, into any) bool {
	data, err := rig.AsWritten(body)
	rig.Must(b.t, err)
	key := uuid.NewString()
	last := ""
	for end := time.Now().Add(3 * time.Minute); time.Now().Before(end); time.Sleep(time.Duration(rand.IntN(200)) * time.Millisecond) {
		req, err := http.NewRequest(method, b.base[rand.IntN(2)]+path, bytes.NewReader(data))
		rig.Must(b.t, err)
		req.Header.Set("Content-Type", "application/json")
		if method != http.MethodGet {
			req.Header.Set("Idempotency-Key", key)
		}
		resp, err := b.http.Do(req)
		if err != nil {
			last = err.Error()
			continue
		}
		said, err := io.ReadAll(resp.Body)
		resp.Body.Close()
		if last = fmt.Sprint(resp.StatusCode, " ", string(said)); err != nil {
			continue
		}
		switch {
		case resp.StatusCode < 300:
			if into != nil && json.Unmarshal(said, into) != nil {
				b.t.Errorf("%s: %s", verb, last)
			}
			b.mu.Lock()
			b.acked[verb]++
			b.mu.Unlock()
			return true
		case resp.StatusCode == http.StatusConflict && strings.Contains(last, "urn:uvent:unknown"):
			b.mu.Lock()
			b.acked["(answer lost) "+verb]++
			b.mu.Unlock()
			return true // it was done; what was answered was lost with the server
		case resp.StatusCode >= 500 || resp.StatusCode == http.StatusConflict || resp.StatusCode == http.StatusTooManyRequests:
			continue
		}
		break
	}
	b.t.Errorf("%s is not done: %s", verb, last)
	return false
}

// settles waits until a listing is asked nothing.
func (b *battered) settles(at string) (l standing) {
	for end := time.Now().Add(5 * time.Minute); time.Now().Before(end); time.Sleep(100 * time.Millisecond) {
		l = standing{Busy: "?"}
		if b.does("(look)", http.MethodGet, at, nil, &l); l.Busy == "" {
			return l
		}
	}
	b.t.Errorf("%s is still busy with %q", at, l.Busy)
	return l
}

// story does all there is to do for one client and location.
func (b *battered) story(n int) {
	var client, location struct{ ID string }
	name := fmt.Sprintf("Client %d", n)
	facts := map[string]any{"name": name, "legal_name": name + " LLC", "owner_name": "Oda", "owner_email": fmt.Sprintf("oda%d@client.example", n)}
	if !b.does("add a client", http.MethodPost, "/api/clients", facts, &client) {
		return
	}
	b.does("keep a draft", http.MethodPut, "/api/drafts/new%20client", map[string]string{"body": name}, nil)
	b.does("invite", http.MethodPost, "/api/invitations", map[string]string{"email": fmt.Sprintf("hob%d@agency.example", n), "role": "helper"}, nil)
	rec := rig.Shop(fmt.Sprintf("Shop %d", n))
	rec.Phones[0].E164 = fmt.Sprintf("+1360555%04d", n)
	rec.Address.Street = fmt.Sprintf("%d Quay", n)
	if client.ID == "" { // the answer was lost
		client.ID = b.one("select id::text from client where name = $1", name)
	}
	if !b.does("add a location", http.MethodPost, "/api/clients/"+client.ID+"/locations", rec, &location) {
		return
	}
	if location.ID == "" {
		location.ID = b.one("select id::text from location where label = $1", rec.Label)
	}
	at := "/api/listings/" + location.ID + "/fernlook"
	b.does("search", http.MethodPost, at+"/search", struct{}{}, nil)
	b.settles(at)
	b.does("create", http.MethodPost, at+"/create", struct{}{}, nil)
	b.settles(at)
	rec.Hours = "Mo-Fr 10:00-16:00"
	b.does("save", http.MethodPut, "/api/locations/"+location.ID+"?version=1", rec, nil)
	b.does("send", http.MethodPost, at+"/send", struct{}{}, nil)
	b.settles(at)
	b.does("ask for a code", http.MethodPost, at+"/codes", map[string]string{"method": "postcard"}, nil)
	b.settles(at)
}

// one is the single value that a query gives, once the database answers.
func (b *battered) one(query string, args ...any) (out string) {
	var err error
	for range 200 {
		var c *pgx.Conn
		if c, err = pgx.Connect(context.Background(), b.db.URL("postgres")); err == nil {
			_, err = c.Exec(context.Background(), "set search_path = uvent, outside")
			if err == nil {
				err = c.QueryRow(context.Background(), query, args...).Scan(&out)
			}
			c.Close(context.Background())
			if err == nil {
				return out
			}
		}
		time.Sleep(50 * time.Millisecond)
	}
	b.t.Errorf("%s: %v", query, err)
	return ""
}

// killed kills something, and has it come back.
func (b *battered) killed(random *rand.Rand) string {
	pause := time.Duration(100+random.IntN(700)) * time.Millisecond
	switch random.IntN(12) {
	case 0, 1, 2, 3, 4, 5, 6:
		i := random.IntN(2)
		b.servers[i].Process.Kill()
		b.servers[i].Wait()
		b.serve(i)
		return "a server"
	case 7: // seldom: one that ends again and again is started again later and later
		said, err := os.ReadFile(filepath.Join(b.dir, "data", "postmaster.pid"))
		pid, wrong := strconv.Atoi(strings.SplitN(string(said), "\n", 2)[0])
		if err == nil && wrong == nil {
			_ = syscall.Kill(pid, syscall.SIGKILL)
		}
		time.Sleep(pause)
		return "the database"
	case 8, 9:
		b.post.up.Close()
		time.Sleep(pause)
		b.post.open(b.t)
		return "the mail server"
	}
	b.away.Store(true)
	time.Sleep(pause)
	b.away.Store(false)
	return "the directory"
}

// Two servers, their database, the mail server and the directory are killed at random while four people work: nothing that
// was acknowledged is lost, nothing is done twice outside, and no letter is sent twice but where it was not said that it was taken.
func TestKilledAtRandom(t *testing.T) {
	const all = 200
	b := batter(t)
	random := proof.Random(t)
	b.does("sign in", http.MethodPost, "/api/session", map[string]string{"email": "ines@agency.example", "password": rig.Password}, nil)
	var next atomic.Int64
	enough := make(chan struct{})
	var people sync.WaitGroup
	for range 4 {
		people.Go(func() {
			for {
				select {
				case <-enough:
					return
				default:
					b.story(int(next.Add(1)))
				}
			}
		})
	}
	kills := map[string]int{}
	for range proof.Size(t, all) {
		time.Sleep(time.Duration(random.IntN(500)) * time.Millisecond)
		kills[b.killed(random)]++
	}
	close(enough)
	people.Wait()
	b.does("try now", http.MethodPost, "/api/connections/fernlook/tries", struct{}{}, nil)
	stories := fmt.Sprint(next.Load())
	for end := time.Now().Add(2 * time.Minute); b.one("select count(*)::text from letter where state = 'queued'") != "0" && time.Now().Before(end); {
		time.Sleep(200 * time.Millisecond)
	}
	for what, want := range map[string]string{
		"select count(*)::text from client":                                                               stories,
		"select count(*)::text from location":                                                             stories,
		"select count(*)::text from invitation":                                                           stories,
		"select count(*)::text from letter where state = 'taken'":                                         stories,
		"select count(*)::text from listing where control = 'held'":                                       stories,
		"select count(*)::text from outside.listing":                                                      stories,
		"select count(distinct facts->>'street')::text from outside.listing":                              stories,
		"select count(*)::text from outside.listing where facts->>'hours' like '%10:00-16:00%'":           stories,
		"select count(*)::text from outside.verification":                                                 stories,
		"select count(*)::text from event where kind = 'created'":                                         stories,
		"select count(*)::text from event where kind = 'code_sent'":                                       stories,
		"select count(*)::text from location where version = 2 and record->>'hours' like '%10:00-16:00%'": stories,
		"select count(*)::text from call where done_at is null":                                           "0",
		"select count(*)::text from event e where e.kind = 'call_given_up'":                               "0",
	} {
		if got := b.one(what); got != want {
			t.Errorf("%s: %s, want %s", what, got, want)
		}
	}
	if said := b.commanded("log", "replay", "--check"); !strings.Contains(said, "nothing differs") {
		t.Errorf("replaying the log says %q", said)
	}
	b.commanded("log", "verify")
	b.post.mu.Lock()
	defer b.post.mu.Unlock()
	twice := 0
	for _, n := range b.post.taken {
		twice += n - 1
	}
	if fmt.Sprint(len(b.post.taken)) != stories {
		t.Errorf("%d letters came for %s stories", len(b.post.taken), stories)
	}
	if most := kills["a server"] + kills["the mail server"] + kills["the database"]; twice > most {
		t.Errorf("%d letters came twice, and there were only %d kills that could make one unsaid", twice, most)
	}
	proof.Count(t, "killed %d times, %v: %s stories, acknowledged %v; %d letters, of which %d came twice with the same id",
		proof.Size(t, all), kills, stories, b.acked, len(b.post.taken), twice)
}
