//go:build proofs

package e2e

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"mime/multipart"
	"net"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/google/uuid"

	"uvent/e2e/proof"
	"uvent/e2e/rig"
	"uvent/httpapi/api"
)

// A program that runs is sent what is made to break it, by somebody who is signed in and by somebody who is not: files,
// requests against the contract, sign-ins at once, bodies that do not come. It answers all of it with a refusal, in time and
// within its memory, and goes on.
func TestAttack(t *testing.T) {
	a := &attack{killed: newKilled(t), t: t}
	stop := a.watch()
	a.ordinary(t)
	before := a.settled()
	for _, part := range []struct {
		name string
		does func(*testing.T)
	}{{"files", a.files}, {"requests", a.requests}, {"sign-ins at once", a.signIns}, {"slow bodies", a.slow}} {
		a.most.Store(0)
		t.Run(part.name, part.does)
		most := a.most.Load()
		proof.Count(t, "memory, children included, during %s: at most %d MB", part.name, most>>20)
		if most > 400<<20 {
			t.Errorf("%s took %d MB, and 400 are what it may", part.name, most>>20)
		}
	}
	stop()
	if status, err := a.ask("GET", "/api/session", nil, nil); status != http.StatusOK {
		t.Errorf("after all of it, the session answers %d, %v", status, err)
	}
	var after int64
	for range 24 { // two minutes
		if after = a.settled(); after < before*6/5 {
			break
		}
		time.Sleep(5 * time.Second)
	}
	proof.Count(t, "memory: %d MB before, %d MB after", before>>20, after>>20)
	if after >= max(before*6/5, before+32<<20) { // of as little as this, some MB are nothing
		t.Errorf("it keeps %d MB of %d", after>>20, before>>20)
	}
}

// attack is a program that is attacked.
type attack struct {
	*killed
	t        *testing.T
	location string
	most     atomic.Int64 // bytes that it and its children had at once
}

// settled is what the program and its children have resident, in bytes.
func (a *attack) settled() (n int64) {
	all := []int{a.program.Process.Pid}
	for i := 0; i < len(all); i++ {
		status, err := os.ReadFile(fmt.Sprintf("/proc/%d/statm", all[i]))
		if fields := strings.Fields(string(status)); err == nil && len(fields) > 2 {
			resident, _ := strconv.ParseInt(fields[1], 10, 64)
			shared, _ := strconv.ParseInt(fields[2], 10, 64)
			if n += resident * int64(os.Getpagesize()); i > 0 {
				n -= shared * int64(os.Getpagesize()) // the program's own text, of which there is one
			}
		}
		tasks, _ := filepath.Glob(fmt.Sprintf("/proc/%d/task/*/children", all[i]))
		for _, task := range tasks {
			text, _ := os.ReadFile(task)
			for _, f := range strings.Fields(string(text)) {
				if pid, err := strconv.Atoi(f); err == nil {
					all = append(all, pid)
				}
			}
		}
	}
	return n
}

// watch keeps the most that the program had, until it is stopped.
func (a *attack) watch() (stop func()) {
	done := make(chan struct{})
	var ended sync.WaitGroup
	ended.Go(func() {
		for {
			select {
			case <-done:
				return
			case <-time.After(20 * time.Millisecond):
				a.most.Store(max(a.most.Load(), a.settled()))
			}
		}
	})
	return func() { close(done); ended.Wait() }
}

// refused checks that an answer is one, and none that says that something broke here.
func (a *attack) refused(t *testing.T, what string, status int, err error) {
	t.Helper()
	if err != nil || status == 0 || status >= 500 && status != http.StatusServiceUnavailable {
		t.Errorf("%s: it answers %d, %v", what, status, err)
	}
}

func (a *attack) send(path, name string, data []byte, fields map[string]string) (int, error) {
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	for key, value := range fields {
		_ = w.WriteField(key, value)
	}
	part, err := w.CreateFormFile("file", name)
	if err != nil {
		return 0, err
	}
	_, _ = part.Write(data)
	_ = w.Close()
	req, err := http.NewRequest("POST", a.base+path, &body)
	if err != nil {
		return 0, err
	}
	req.Header.Set("Content-Type", w.FormDataContentType())
	return a.killed.send(req, nil)
}

// ordinary does what is done every day: a location, a photo, a paper; and waits until all is still again.
func (a *attack) ordinary(t *testing.T) {
	var client, location struct{ ID uuid.UUID }
	if status, err := a.ask(
		"POST",
		"/api/clients",
		map[string]any{"name": "Spokeshave", "legal_name": "", "owner_name": "", "owner_email": ""},
		&client,
	); status != 201 {
		t.Fatalf("%d, %v", status, err)
	}
	if status, err := a.ask("POST", "/api/clients/"+client.ID.String()+"/locations", rig.Shop("Minnow Bay"), &location); status != 201 {
		t.Fatalf("%d, %v", status, err)
	}
	a.location = location.ID.String()
	sound := soundFiles(t)
	for name, path := range map[string]string{"front.jpeg": "photos", "sound.heic": "photos", "letter.pdf": "papers"} {
		if status, err := a.send("/api/"+path+"?location="+a.location, name, sound[name], map[string]string{"group": "exterior"}); status != 201 {
			t.Fatalf("%s: %d, %v", name, status, err)
		}
	}
	for _, path := range []string{"today", "coverage", "listings", "forecast"} {
		if status, err := a.ask("GET", "/api/"+path, nil, nil); status != 200 {
			t.Fatalf("%s: %d, %v", path, status, err)
		}
	}
	time.Sleep(40 * time.Second)
}

// files sends files of each format in each kind of disrepair to each place that takes one.
func (a *attack) files(t *testing.T) {
	kinds := hostileFiles(t)
	if len(kinds) < 150 {
		t.Fatalf("%d kinds", len(kinds))
	}
	places := map[string]map[string]string{
		"/api/photos?location=" + a.location: {"group": "exterior"}, "/api/papers?location=" + a.location: nil,
		"/api/imports": nil, "/api/own-values": nil, "/api/locations/" + a.location + "/videos": nil, "/api/region-extracts": {"name": "x"},
	}
	some := proof.Some(t, kinds)
	answers := map[int]int{}
	var slowest time.Duration
	var what string
	for _, k := range some {
		for path, fields := range places {
			began := time.Now()
			status, err := a.send(path, k.name, k.data, fields)
			a.refused(t, k.name+" to "+path, status, err)
			answers[status]++
			if took := time.Since(began); took > slowest {
				slowest, what = took, k.name+" to "+path
			}
		}
	}
	proof.Count(t, "%d kinds of files to %d places: %v; the slowest took %v, %s", len(some), len(places), answers, slowest.Round(time.Millisecond), what)
}

// requests asks for each operation of the contract with what it does not take.
func (a *attack) requests(t *testing.T) {
	spec, err := api.GetSpec()
	rig.Must(t, err)
	draw := proof.Random(t)
	answers := map[int]int{}
	n := proof.Size(t, 1000)
	type asked struct {
		method, path string
		op           *openapi3.Operation
	}
	var all []asked
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			if id := strings.ToLower(op.OperationID); id != "signout" && id != "endsessions" && id != "getchanges" && id != "endaccess" && id != "savesecurity" {
				all = append(all, asked{method, path, op})
			}
		}
	}
	slices.SortFunc(all, func(x, y asked) int { return strings.Compare(x.path+x.method, y.path+y.method) })
	var slowest time.Duration
	var what string
	for i := range n {
		q := all[i%len(all)]
		path := q.path
		for strings.Contains(path, "{") {
			from, to := strings.Index(path, "{"), strings.Index(path, "}")
			path = path[:from] + url.PathEscape(nasty(draw)) + path[to+1:]
		}
		if draw.IntN(2) == 0 {
			path += "?" + url.QueryEscape(nasty(draw)) + "=" + url.QueryEscape(nasty(draw)) + "&past=-1&most=99999999999999999999&client=" + url.QueryEscape(nasty(draw))
		}
		var body io.Reader
		if q.method != http.MethodGet {
			body = bytes.NewReader(wrongBody(draw, q.op))
		}
		req, err := http.NewRequest(q.method, a.base+path, body)
		if err != nil {
			continue // no address that a client could ask for
		}
		req.Header.Set("Content-Type", "application/json")
		began := time.Now()
		status, err := a.killed.send(req, nil)
		a.refused(t, q.method+" "+path, status, err)
		answers[status]++
		if took := time.Since(began); took > slowest {
			slowest, what = took, q.method+" "+q.path
		}
	}
	proof.Count(t, "%d malformed requests of %d operations: %v; the slowest took %v, %s", n, len(all), answers, slowest.Round(time.Millisecond), what)
}

// signIns signs in many times at once, with passwords that have to be hashed.
func (a *attack) signIns(t *testing.T) {
	var all sync.WaitGroup
	var mu sync.Mutex
	answers := map[int]int{}
	for i := range 40 {
		all.Go(func() {
			body := fmt.Sprintf(`{"email":"somebody%d@agency.example","password":"wrong-password"}`, i)
			resp, err := http.Post(a.base+"/api/session", "application/json", strings.NewReader(body))
			if err != nil {
				t.Error(err)
				return
			}
			resp.Body.Close()
			mu.Lock()
			defer mu.Unlock()
			answers[resp.StatusCode]++
			if resp.StatusCode == http.StatusServiceUnavailable && resp.Header.Get("Retry-After") == "" {
				t.Error("it says not when to come again")
			}
		})
	}
	all.Wait()
	if answers[http.StatusUnauthorized]+answers[http.StatusTooManyRequests]+answers[http.StatusServiceUnavailable] != 40 || answers[http.StatusUnauthorized] == 0 {
		t.Errorf("%v", answers)
	}
	proof.Count(t, "40 sign-ins at once: %v", answers)
}

// slow opens lines that say that a body comes, and then say nothing; each is let go, and others are served meanwhile.
func (a *attack) slow(t *testing.T) {
	var all sync.WaitGroup
	var longest atomic.Int64
	at := strings.TrimPrefix(a.base, "http://")
	for range 50 {
		all.Go(func() {
			line, err := net.Dial("tcp", at)
			if err != nil {
				t.Error(err)
				return
			}
			defer line.Close()
			began := time.Now()
			fmt.Fprint(line, "POST /api/session HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 1000\r\n\r\n{")
			_ = line.SetReadDeadline(began.Add(2 * time.Minute))
			if _, err := io.Copy(io.Discard, line); err != nil {
				t.Errorf("it is not let go: %v", err)
			}
			longest.Store(max(longest.Load(), int64(time.Since(began))))
		})
	}
	if status, err := a.ask("GET", "/api/clients", nil, nil); status != http.StatusOK {
		t.Errorf("meanwhile it answers %d, %v", status, err)
	}
	all.Wait()
	proof.Count(t, "50 bodies that do not come: let go after %v at most", time.Duration(longest.Load()).Round(100*time.Millisecond))
}

// nasty is a text that something could stumble over.
func nasty(draw *rand.Rand) string {
	all := []string{
		"",
		" ",
		"-1",
		"0",
		"null",
		"undefined",
		"NaN",
		"1e400",
		"9223372036854775808",
		"../../etc/passwd",
		"..%2f..%2f",
		"'",
		"';--",
		`" or ""="`,
		"${7*7}",
		"{{7*7}}",
		"<script>alert(1)</script>",
		"%00",
		"\u202e",
		"\ufeff",
		"\U0010ffff",
		strings.Repeat("a", 5000),
		strings.Repeat("é", 2000),
		uuid.NewString(),
		uuid.Nil.String(),
		"fernlook",
		"2026-02-30",
		"9999-99-99T99:99:99Z",
		"Mo-Su 00:00-24:00",
		"x\r\nSet-Cookie: a=b",
		"\\",
		"|true",
		"$(true)",
		"%s%s%n",
		"true",
		"[]",
		"{}",
	}
	return all[draw.IntN(len(all))]
}

// wrongBody is a body that an operation does not take: of the wrong kinds, too deep, too long, cut off, or no JSON.
func wrongBody(draw *rand.Rand, op *openapi3.Operation) []byte {
	switch draw.IntN(8) {
	case 0:
		return []byte(strings.Repeat("[", 1+draw.IntN(5000)))
	case 1:
		return []byte(nasty(draw))
	case 2:
		return []byte("{\"a\":\"\xff\\u0000\"}")
	}
	var schema *openapi3.Schema
	if op.RequestBody != nil {
		if m := op.RequestBody.Value.Content.Get("application/json"); m != nil {
			schema = m.Schema.Value
		}
	}
	b, _ := json.Marshal(wrongValue(draw, schema, 0))
	if draw.IntN(6) == 0 && len(b) > 1 {
		b = b[:draw.IntN(len(b))]
	}
	return b
}

// wrongValue is a value much like what a schema wants, with some of it of another kind.
func wrongValue(draw *rand.Rand, s *openapi3.Schema, depth int) any {
	if s == nil || depth > 8 || draw.IntN(5) == 0 {
		return []any{nil, true, -1, 1e300, nasty(draw), []any{nasty(draw)}, map[string]any{nasty(draw): nasty(draw)}}[draw.IntN(7)]
	}
	switch {
	case s.Type.Is("object"):
		out := map[string]any{}
		for name, p := range s.Properties {
			if draw.IntN(6) > 0 {
				out[name] = wrongValue(draw, p.Value, depth+1)
			}
		}
		return out
	case s.Type.Is("array"):
		out := make([]any, draw.IntN(4))
		for i := range out {
			out[i] = wrongValue(draw, s.Items.Value, depth+1)
		}
		return out
	case s.Type.Is("boolean"):
		return draw.IntN(2) == 0
	case s.Type.Is("integer"), s.Type.Is("number"):
		return []any{0, -1, 1, 1 << 40, 0.5, -1e18}[draw.IntN(6)]
	case len(s.Enum) > 0 && draw.IntN(2) == 0:
		return s.Enum[draw.IntN(len(s.Enum))]
	}
	return nasty(draw)
}
