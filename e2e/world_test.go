package e2e

import (
	"bufio"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"uvent/demo"
	"uvent/e2e/rig"
)

// running is a demo at work.
type running struct {
	t             *testing.T
	cmd           *exec.Cmd
	base, outside string
	http          *http.Client
}

// filled is the folder of a demo that was begun and ended, of which each test takes a copy: filling it takes longer than what
// some do with it.
var filled struct {
	sync.Mutex
	dir string
}

func clearFilled() { os.RemoveAll(filled.dir) }

// demoFolder is a folder with the demo as it begins, which goes with its test.
func demoFolder(t *testing.T, binary string) string {
	t.Helper()
	filled.Lock()
	defer filled.Unlock()
	if filled.dir == "" {
		var err error
		filled.dir, err = os.MkdirTemp("", "uvent-filled-")
		rig.Must(t, err)
		startDemo(t, binary, filled.dir).end()
	}
	data, err := os.MkdirTemp("", "uvent-demo-")
	rig.Must(t, err)
	t.Cleanup(func() { os.RemoveAll(data) })
	if out, err := exec.Command("cp", "-a", filled.dir+"/.", data).CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	return data
}

func startDemo(t *testing.T, binary, data string, more ...string) *running {
	t.Helper()
	d := &running{
		t:   t,
		cmd: exec.Command(binary, append([]string{"demo", "--data", data, "--listen", "127.0.0.1:0", "--listen-outside", "127.0.0.1:0"}, more...)...),
	}
	d.cmd.Env = append(os.Environ(), "DATABASE_URL=")
	d.cmd.Stderr = os.Stderr
	out, err := d.cmd.StdoutPipe()
	rig.Must(t, err)
	rig.Must(t, d.cmd.Start())
	t.Cleanup(func() { d.cmd.Process.Kill(); d.cmd.Wait() })
	lines := bufio.NewScanner(out)
	for range 3 {
		if !lines.Scan() {
			t.Fatal("the demo ended as it started")
		}
		if _, address, ok := strings.Cut(lines.Text(), " at http"); ok && strings.HasPrefix(lines.Text(), "Uvent") {
			d.base = "http" + address
		} else if ok {
			d.outside = "http" + address
		}
	}
	jar, err := cookiejar.New(nil)
	rig.Must(t, err)
	d.http = &http.Client{Jar: jar}
	resp, err := d.http.Post(d.base+"/api/session", "application/json", strings.NewReader(`{"email":"`+demo.People[0].Email+`","password":"`+demo.Password+`"}`))
	rig.Must(t, err)
	resp.Body.Close()
	if resp.StatusCode != http.StatusOK {
		t.Fatalf("signing in answers %s", resp.Status)
	}
	return d
}

func (d *running) get(path string, into any) {
	d.t.Helper()
	resp, err := d.http.Get(d.base + path)
	rig.Must(d.t, err)
	defer resp.Body.Close()
	rig.Must(d.t, json.NewDecoder(resp.Body).Decode(into))
}

func (d *running) now() time.Time {
	var session struct{ Now time.Time }
	d.get("/api/session", &session)
	return session.Now
}

// strands counts where the listings stand.
func (d *running) strands() map[string]int {
	var rows []struct {
		Strand struct{ Control, Verification, Visibility string }
	}
	d.get("/api/listings", &rows)
	out := map[string]int{}
	for _, r := range rows {
		out[r.Strand.Control+" "+r.Strand.Verification+" "+r.Strand.Visibility]++
	}
	return out
}

func TestTheDemo(t *testing.T) {
	t.Parallel()
	binary := program(t)
	data := demoFolder(t, binary)
	d := startDemo(t, binary, data)
	if now := d.now(); now.Before(demo.Now) || now.After(demo.Now.Add(time.Minute)) {
		t.Errorf("it is %v", now)
	}
	want := map[string]int{
		"held verified public":             16,
		"held verified suspended":          1,
		"held verified publishing":         2,
		"held code_at_hand hidden":         1,
		"held code_on_its_way hidden":      7,
		"held lapsed hidden":               3,
		"held not_begun hidden":            3,
		"held_by_another not_begun absent": 2,
		"asked not_begun absent":           1,
		"held in_review hidden":            1,
		"none not_begun absent":            188,
	}
	check := func(when string) {
		t.Helper()
		got := d.strands()
		for strand, n := range want {
			if got[strand] != n {
				t.Errorf("%s: %d listings are %s, want %d (%v)", when, got[strand], strand, n, got)
			}
		}
	}
	check("new")
	resp, err := http.Get(d.outside + "/")
	rig.Must(t, err)
	resp.Body.Close()

	// Ctrl-C ends everything that it started, and it goes on where it was.
	children := childrenOf(d.cmd.Process.Pid)
	if len(children) < 2 {
		t.Errorf("it started %v, want PostgreSQL and the outside", children)
	}
	d.cmd.Process.Signal(syscall.SIGINT)
	if err := d.cmd.Wait(); err != nil {
		t.Errorf("it ended with %v", err)
	}
	for _, pid := range children {
		if runs(pid) {
			t.Errorf("process %d still runs", pid)
		}
	}
	if _, err := os.Stat(filepath.Join(data, "data", "postmaster.pid")); err == nil {
		t.Error("PostgreSQL was not stopped cleanly")
	}
	time.Sleep(4 * time.Second)
	d = startDemo(t, binary, data)
	if now := d.now(); now.Before(demo.Now) || now.After(demo.Now.Add(time.Minute)) {
		t.Errorf("started again it is %v", now)
	}
	check("started again")

	// kill -9 loses nothing either; what it started ends with it.
	children = childrenOf(d.cmd.Process.Pid)
	d.cmd.Process.Kill()
	d.cmd.Wait()
	d = startDemo(t, binary, data)
	check("killed and started again")
	for _, pid := range children {
		if runs(pid) {
			t.Errorf("process %d outlived the program", pid)
		}
	}

	// A move is undone by beginning anew.
	resp, err = d.http.Post(d.base+"/api/clock/moves", "application/json", strings.NewReader(`{"by":"day"}`))
	rig.Must(t, err)
	resp.Body.Close()
	d.end()
	d = startDemo(t, binary, data, "--fresh")
	if now := d.now(); now.After(demo.Now.Add(time.Minute)) {
		t.Errorf("begun anew it is %v", now)
	}
	check("begun anew")
	d.end()
	if said := replayed(t, binary, data); !strings.Contains(said, "nothing differs") {
		t.Errorf("replaying the log says %q", said)
	}
}

// end ends the demo as its user does.
func (d *running) end() {
	d.cmd.Process.Signal(syscall.SIGTERM)
	d.cmd.Wait()
}

// replayed is what replaying a demo's log says; it ends the test where something differs.
func replayed(t *testing.T, binary, data string) string {
	t.Helper()
	replay := exec.Command(binary, "log", "replay", "--check", "--data", data)
	replay.Env = append(os.Environ(), "DATABASE_URL=")
	out, err := replay.CombinedOutput()
	if err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	return strings.TrimSpace(string(out))
}

// runs reports whether a process is at work, and not only unburied.
func runs(pid int) bool {
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	_, state, _ := strings.Cut(string(text), ") ")
	return err == nil && !strings.HasPrefix(state, "Z")
}

// childrenOf lists the processes that a process started.
func childrenOf(pid int) (out []int) {
	found, _ := filepath.Glob("/proc/[0-9]*/stat")
	for _, f := range found {
		text, err := os.ReadFile(f)
		if err != nil {
			continue
		}
		_, rest, _ := strings.Cut(string(text), ") ")
		fields := strings.Fields(rest)
		if len(fields) > 1 && fields[1] == strconv.Itoa(pid) {
			child, _ := strconv.Atoi(strings.Split(f, "/")[2])
			out = append(out, child)
		}
	}
	return out
}
