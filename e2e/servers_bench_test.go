package e2e

import (
	"bufio"
	"bytes"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"uvent/demo"
	"uvent/e2e/rig"
	"uvent/store/cluster"
	"uvent/store/storetest"
)

// How many boards one server, three, and three with a standby to read from answer in a second, where one request of twenty
// changes something; all of them, PostgreSQL, and whoever asks share the machine.
func BenchmarkServers(b *testing.B) {
	binary, err := built()
	rig.Must(b, err)
	dir, err := os.MkdirTemp("", "uvent-servers-")
	rig.Must(b, err)
	b.Cleanup(func() { os.RemoveAll(dir) })
	rig.Must(b, os.Chmod(dir, 0o755)) // PostgreSQL’s folder in it is its user’s
	main, err := cluster.Start(b.Context(), cluster.Options{Dir: filepath.Join(dir, "main")})
	rig.Must(b, err)
	b.Cleanup(main.Stop)
	on := &serving{b: b, binary: binary, dir: dir, url: main.URL("postgres")}
	on.fill(500)
	standby, copied, err := storetest.Standby(b.Context(), on.url, filepath.Join(dir, "main"))
	b.Cleanup(func() { os.RemoveAll(copied) })
	rig.Must(b, err)
	b.Cleanup(standby.Stop)
	for _, of := range []struct {
		name    string
		servers int
		more    []string
	}{
		{"1", 1, nil},
		{"3", 3, nil},
		{"3 and a standby", 3, []string{"--replica", standby.URL("postgres")}},
	} {
		b.Run(of.name, func(b *testing.B) {
			on.asked(b, on.serve(b, of.servers, of.more))
		})
	}
}

// serving is a database that servers stand on.
type serving struct {
	b                *testing.B
	binary, dir, url string
}

func (s *serving) command(args ...string) *exec.Cmd {
	c := exec.Command(s.binary, append(args, "--data", s.dir)...)
	c.Env = append(os.Environ(), "DATABASE_URL="+s.url)
	return c
}

// fill brings locations in, and somebody who signs in.
func (s *serving) fill(places int) {
	var file strings.Builder
	file.WriteString("client,label,name,street,locality,region,country\n")
	for i := range places {
		fmt.Fprintf(&file, "Client %02d,Shop %03d,Spokeshave Cycle Works,%d Tern Street,Minnow Bay,WA,US\n", i/20, i, i+1)
	}
	path := filepath.Join(s.dir, "shops.csv")
	rig.Must(s.b, os.WriteFile(path, []byte(file.String()), 0o600))
	add := s.command("person", "add", "--email", demo.People[0].Email, "--name", demo.People[0].Name)
	add.Stdin = strings.NewReader(demo.Password + "\n")
	for _, c := range []*exec.Cmd{add, s.command("import", path, "--as", demo.People[0].Email)} {
		if out, err := c.CombinedOutput(); err != nil {
			s.b.Fatalf("%v\n%s", err, out)
		}
	}
}

// serve starts servers, which end with the benchmark, and tells their addresses.
func (s *serving) serve(b *testing.B, n int, more []string) (at []string) {
	for i := range n {
		heads := filepath.Join(s.dir, fmt.Sprint("heads-", i))
		c := s.command(append([]string{"serve", "--listen", "127.0.0.1:0", "--rulebooks", "../rulebooks", "--log-requests=false", "--log-heads", heads}, more...)...)
		said, err := c.StdoutPipe()
		rig.Must(b, err)
		rig.Must(b, c.Start())
		b.Cleanup(func() { c.Process.Kill(); c.Wait() })
		line, err := bufio.NewReader(said).ReadString('\n')
		rig.Must(b, err)
		at = append(at, strings.TrimSpace(line[strings.Index(line, "http://"):]))
	}
	return at
}

// asked asks servers in turn, twelve requests at a time, and reports how many were answered in a second and how long the
// slowest twentieth took.
func (s *serving) asked(b *testing.B, at []string) {
	jar, err := cookiejar.New(nil)
	rig.Must(b, err)
	client := &http.Client{Jar: jar}
	ask := func(i int64, method, path, body string) {
		req, err := http.NewRequest(method, at[int(i)%len(at)]+path, bytes.NewReader([]byte(body)))
		rig.Must(b, err)
		req.Header.Set("Content-Type", "application/json")
		resp, err := client.Do(req)
		rig.Must(b, err)
		defer resp.Body.Close()
		said, err := io.ReadAll(resp.Body)
		rig.Must(b, err)
		if resp.StatusCode >= 300 {
			b.Errorf("%s %s: %d %.200s", method, path, resp.StatusCode, said)
		}
	}
	ask(0, "POST", "/api/session", `{"email":"`+demo.People[0].Email+`","password":"`+demo.Password+`"}`)
	boards := []string{"/api/today", "/api/coverage", "/api/listings", "/api/log", "/api/cases"}
	for i, path := range boards { // what is reckoned once is reckoned
		ask(int64(i), "GET", path, "")
	}
	var next atomic.Int64
	var mu sync.Mutex
	var all []time.Duration
	b.ResetTimer()
	began := time.Now()
	var wait sync.WaitGroup
	for range 12 {
		wait.Go(func() {
			for i := next.Add(1); i <= int64(b.N); i = next.Add(1) {
				since := time.Now()
				if i%20 == 0 {
					ask(i, "PUT", "/api/drafts/new%20client", `{"body":"{}"}`)
				} else {
					ask(i, "GET", boards[int(i/3)%len(boards)], "")
				}
				mu.Lock()
				all = append(all, time.Since(since))
				mu.Unlock()
			}
		})
	}
	wait.Wait()
	slices.Sort(all)
	b.ReportMetric(float64(b.N)/time.Since(began).Seconds(), "requests/s")
	b.ReportMetric(float64(all[len(all)*95/100].Milliseconds()), "ms-p95")
}
