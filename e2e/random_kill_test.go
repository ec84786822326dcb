//go:build proofs

package e2e

import (
	"bufio"
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"maps"
	"math/rand/v2"
	"mime/multipart"
	"mime/quotedprintable"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/mail"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"runtime"
	"slices"
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
	"uvent/httpapi/api"
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
	mailbox string // address at which directories write to us
	ines    *worker
	verbs   []operation
	ending  atomic.Bool
	extract []byte // of OpenStreetMap

	mu   sync.Mutex
	done map[string]int // by operation of the contract
	lost int            // answers, of what was done
}

// worker is somebody who works, or an owner, who is not signed in.
type worker struct {
	*battered
	http *http.Client
}

// operation is one of the contract, and the paths it is asked for at.
type operation struct {
	id, method string
	path       *regexp.Regexp
	changes    bool
}

// postOffice is a mail server that counts what it takes by Message-ID.
type postOffice struct {
	mu    sync.Mutex
	at    string
	up    *smtp.Server
	taken map[string]int
	texts []string // each begins with whom it is to
}

type delivery struct{ office *postOffice }

func (delivery) Reset()                               {}
func (delivery) Logout() error                        { return nil }
func (delivery) Mail(string, *smtp.MailOptions) error { return nil }
func (delivery) Rcpt(to string, _ *smtp.RcptOptions) error {
	if strings.HasPrefix(to, "nobody") {
		return &smtp.SMTPError{Code: 550, EnhancedCode: smtp.EnhancedCode{5, 1, 1}, Message: "There is nobody of that name"}
	}
	return nil
}

func (d delivery) Data(r io.Reader) error {
	m, err := mail.ReadMessage(r)
	if err != nil {
		return err
	}
	text, err := io.ReadAll(quotedprintable.NewReader(m.Body))
	if err != nil {
		return err
	}
	d.office.mu.Lock()
	defer d.office.mu.Unlock()
	d.office.taken[strings.Trim(m.Header.Get("Message-ID"), "<>")]++
	d.office.texts = append(d.office.texts, m.Header.Get("To")+"\n"+string(text))
	return nil
}

// twice is how many letters came once more than was meant.
func (p *postOffice) twice() (n int) {
	p.mu.Lock()
	defer p.mu.Unlock()
	for _, times := range p.taken {
		n += times - 1
	}
	return n
}

// breaks ends a story that does not go on as it should.
func (b *battered) breaks(format string, a ...any) {
	b.t.Errorf(format, a...)
	runtime.Goexit()
}

// secret is what stands after a path in a letter to somebody, and is none of those that are known; it waits for the letter.
func (b *battered) secret(to, path string, known ...string) string {
	found := regexp.MustCompile(regexp.QuoteMeta(path) + `([\w-]+)`)
	for end := time.Now().Add(3 * time.Minute); time.Now().Before(end); time.Sleep(100 * time.Millisecond) {
		b.post.mu.Lock()
		texts := slices.Clone(b.post.texts)
		b.post.mu.Unlock()
		for _, text := range slices.Backward(texts) {
			if head, _, _ := strings.Cut(text, "\n"); strings.Contains(head, to) {
				if m := found.FindStringSubmatch(text); m != nil && !slices.Contains(known, m[1]) {
					return m[1]
				}
			}
		}
	}
	b.breaks("no letter to %s has %s", to, path)
	return ""
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
	b := &battered{
		t:      t,
		binary: program(t),
		folder: t.TempDir(),
		post:   &postOffice{at: "127.0.0.1:0", taken: map[string]int{}},
		done:   map[string]int{},
		verbs:  operations(t),
	}
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
		if !strings.Contains(r.URL.Path, "/api/") {
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
	b.outside, b.mailbox = server.URL, o.MailAddr()
	b.post.open(t)
	t.Cleanup(func() { b.post.up.Close() })
	add := exec.Command(b.binary, "person", "add", "--email", "ines@agency.example", "--name", "Ines Roake")
	add.Env, add.Stdin = b.env(), strings.NewReader(rig.Password+"\n")
	if out, err := add.CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	b.ines = b.newcomer()
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
		program := exec.Command(
			b.binary,
			"serve",
			"--listen",
			listen,
			"--address",
			"http://uvent.example",
			"--outside",
			b.outside,
			"--account",
			rig.Account,
			"--smtp",
			b.post.at,
			"--data",
			b.folder,
			"--log-heads",
			filepath.Join(b.folder, fmt.Sprint("heads-", i)),
			"--log-requests=false",
			"--private-connectors",
			"127.0.0.0/8",
		)
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

// newcomer is somebody with a browser, and no session yet.
func (b *battered) newcomer() *worker {
	jar, err := cookiejar.New(nil)
	rig.Must(b.t, err)
	return &worker{b, &http.Client{Jar: jar, Timeout: 15 * time.Second}}
}

// operations are those of the contract; of two that a path could be, the one with fewer holes comes first.
func operations(t *testing.T) (out []operation) {
	t.Helper()
	spec, err := api.GetSpec()
	rig.Must(t, err)
	hole := regexp.MustCompile(`\\\{\w+\\\}`)
	paths := slices.SortedFunc(maps.Keys(spec.Paths.Map()), func(a, b string) int {
		return cmp.Or(cmp.Compare(strings.Count(a, "{"), strings.Count(b, "{")), strings.Compare(a, b))
	})
	for _, path := range paths {
		for method, op := range spec.Paths.Value(path).Operations() {
			at := regexp.MustCompile("^" + hole.ReplaceAllString(regexp.QuoteMeta(path), "[^/]+") + "$")
			out = append(out, operation{op.OperationID, method, at, method != http.MethodGet})
		}
	}
	return out
}

// form is a body that is sent as a form with a file.
type form struct {
	name   string
	file   []byte
	fields map[string]string
}

// asSent is a body as it is sent, and of what type.
func asSent(body any) (data []byte, media string, err error) {
	f, is := body.(form)
	if !is {
		data, err = rig.AsWritten(body)
		return data, "application/json", err
	}
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	for name, value := range f.fields {
		if err := w.WriteField(name, value); err != nil {
			return nil, "", err
		}
	}
	part, err := w.CreateFormFile("file", f.name)
	if err != nil {
		return nil, "", err
	}
	_, err = part.Write(f.file)
	err = errors.Join(err, w.Close())
	return b.Bytes(), w.FormDataContentType(), err
}

// does asks for something, of either server, until it is answered for good. What is answered may be lost with its server,
// although the thing is done.
func (w *worker) does(method, path string, body, into any) bool {
	if body == nil && method != http.MethodGet {
		body = said{}
	}
	data, media, err := asSent(body)
	rig.Must(w.t, err)
	u, err := url.Parse(path)
	rig.Must(w.t, err)
	i := slices.IndexFunc(w.verbs, func(o operation) bool { return o.method == method && o.path.MatchString(u.Path) })
	if i < 0 {
		w.breaks("%s %s is not in the contract", method, path)
		return false
	}
	verb, key, last := w.verbs[i], uuid.NewString(), ""
	for end := time.Now().Add(3 * time.Minute); time.Now().Before(end); time.Sleep(time.Duration(rand.IntN(200)) * time.Millisecond) {
		req, err := http.NewRequest(method, w.base[rand.IntN(2)]+path, bytes.NewReader(data))
		rig.Must(w.t, err)
		req.Header.Set("Content-Type", media)
		if verb.changes {
			req.Header.Set("Idempotency-Key", key)
		}
		resp, err := w.http.Do(req)
		if err != nil {
			last = err.Error()
			continue
		}
		said, err := io.ReadAll(resp.Body)
		resp.Body.Close()
		if last = fmt.Sprint(resp.StatusCode, " ", string(said)); err != nil {
			continue
		}
		lost := resp.StatusCode == http.StatusConflict && strings.Contains(last, "urn:uvent:unknown")
		switch {
		case resp.StatusCode < 300 || lost:
			if into != nil && !lost && json.Unmarshal(said, into) != nil {
				w.t.Errorf("%s: %s", verb.id, last)
			}
			w.mu.Lock()
			defer w.mu.Unlock()
			if w.done[verb.id]++; lost {
				w.lost++
			}
			return true
		case resp.StatusCode >= 500 || resp.StatusCode == http.StatusTooManyRequests,
			resp.StatusCode == http.StatusConflict && strings.Contains(last, "urn:uvent:under-way"):
			continue
		}
		break
	}
	w.breaks("%s is not done at %s: %s", verb.id, path, last)
	return false
}

// posts, puts, drops: what is answered is not looked at.
func (w *worker) posts(path string, body any) bool { return w.does(http.MethodPost, path, body, nil) }
func (w *worker) puts(path string, body any) bool  { return w.does(http.MethodPut, path, body, nil) }
func (w *worker) drops(path string) bool           { return w.does(http.MethodDelete, path, nil, nil) }

// asks has a directory asked for something, and waits until it has answered.
func (w *worker) asks(method, at, what string, body any) (l standing) {
	w.does(method, at+what, body, nil)
	for end := time.Now().Add(5 * time.Minute); time.Now().Before(end); time.Sleep(100 * time.Millisecond) {
		l = standing{Busy: "?"}
		if w.does(http.MethodGet, at, nil, &l); l.Busy == "" {
			return l
		}
	}
	w.breaks("%s is still busy with %q", at, l.Busy)
	return l
}

// all are the values that a query gives, once the database answers.
func (b *battered) all(query string, args ...any) (out []string) {
	read := func(ctx context.Context) error {
		c, err := pgx.Connect(ctx, b.db.URL("postgres"))
		if err != nil {
			return err
		}
		defer c.Close(ctx)
		if _, err = c.Exec(ctx, "set search_path = uvent, outside"); err != nil {
			return err
		}
		rows, err := c.Query(ctx, query, args...)
		if err != nil {
			return err
		}
		out, err = pgx.CollectRows(rows, pgx.RowTo[string])
		return err
	}
	var err error
	for end := time.Now().Add(3 * time.Minute); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		if err = read(context.Background()); err == nil {
			return out
		}
	}
	b.breaks("%s: %v", query, err)
	return nil
}

// one is the single value that a query gives.
func (b *battered) one(query string, args ...any) string {
	out := b.all(query, args...)
	if len(out) != 1 {
		b.breaks("%s %v gives %q", query, args, out)
		return ""
	}
	return out[0]
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

// Two servers, their database, the mail server and the directories are killed at random while four people do all that can be
// done: nothing that was acknowledged is lost, nothing is done twice outside, and no letter is sent twice but where it was not
// said that it was taken.
func TestKilledAtRandom(t *testing.T) {
	const all = 200
	packed, err := os.ReadFile("../core/fact/extract/testdata/reach.osm.pbf")
	rig.Must(t, err)
	b := batter(t)
	b.extract = packed
	random := proof.Random(t)
	b.ines.posts("/api/session", said{"email": "ines@agency.example", "password": rig.Password})
	var next atomic.Int64
	var stories []*story
	enough := make(chan struct{})
	var people sync.WaitGroup
	for range 4 {
		people.Go(func() {
			for {
				select {
				case <-enough:
					return
				default:
					s := b.story(int(next.Add(1)))
					b.mu.Lock()
					stories = append(stories, s)
					b.mu.Unlock()
				}
			}
		})
	}
	kills, most := map[string]int{}, proof.Size(t, all)
	killing := func(n int) {
		for range n {
			time.Sleep(time.Duration(random.IntN(500)) * time.Millisecond)
			kills[b.killed(random)]++
		}
	}
	killing(most - most/10)
	close(enough)
	people.Wait()
	b.settled(stories)
	people.Go(func() { b.later(stories) })
	killing(most / 10)
	people.Wait()
	twice := b.post.twice()
	if could := kills["a server"] + kills["the mail server"] + kills["the database"]; twice > could {
		t.Errorf("%d letters came twice, and there were only %d kills that could make one unsaid", twice, could)
	}
	sum := 0
	for _, n := range b.done {
		sum += n
	}
	proof.Count(
		t,
		"killed %d times, %v: %d stories, %d things done by %d operations, of which %d answers were lost; %d letters, of which %d came twice with the same id",
		proof.Size(t, all),
		kills,
		len(stories),
		sum,
		len(b.done),
		b.lost,
		len(b.post.taken),
		twice,
	)
}
