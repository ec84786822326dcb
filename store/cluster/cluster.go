// Package cluster runs a PostgreSQL server of its own, from Debian's packages,
// on a free port of 127.0.0.1, looks after it, and stops it. Programs on the same
// folder share the server: one runs it, and the others join.
package cluster

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/url"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"
)

// role owns the cluster and everything in it.
const role = "uvent"

// ErrNotInstalled means that no server was found; its text says what to do.
var ErrNotInstalled = errors.New(
	"PostgreSQL's server is not installed; install Debian's package postgresql (apt-get install postgresql), or set DATABASE_URL to a server that runs",
)

// secretName is where the password of the cluster's owner is kept.
const secretName = "password"

// logName is where the server writes what happens to it, beside its data.
const logName = "server.log"

// Cluster is a running server: one that this program runs, or one that another program runs on the same folder.
type Cluster struct {
	o    Options
	bin  string
	data string
	as   *syscall.Credential
	url  url.URL

	mu   sync.Mutex
	lock *os.File      // held by the program that runs the server; nil: this one has joined
	cmd  *exec.Cmd     // the server, where this program runs it
	done chan struct{} // closed when that has ended

	stopping context.CancelFunc
	watched  chan struct{} // closed when nobody looks after the server any more
}

// Options of a cluster.
type Options struct {
	Dir string // where it lives; made when missing
	// Throwaway trades safety against power cuts for speed: for tests.
	Throwaway bool
	Log       *slog.Logger // told when the server ends and is started again; nil: nobody is
}

// How long it is waited for a server to answer, and how long before one that ended by itself is started again: longer each
// time that it does not last.
const (
	patience    = 30 * time.Second
	firstPause  = 100 * time.Millisecond
	mostPause   = 15 * time.Second
	lasting     = time.Minute
	looksForOne = 500 * time.Millisecond // between looks of a program that has joined, whether the other is gone
)

// Start makes the cluster when there is none yet, and starts it; where another program runs it, it is joined. When the
// program runs as root the server runs as the user postgres. A server that a killed program left behind is stopped
// first. While this program lives, a server that ends by itself is started again, at the same address, and one that was
// joined is taken over when its program ends. The server also ends when this process dies.
func Start(ctx context.Context, o Options) (*Cluster, error) {
	c := &Cluster{o: o, watched: make(chan struct{}), done: make(chan struct{})}
	close(c.done) // none runs yet
	var err error
	if c.bin, err = find(); err != nil {
		return nil, err
	}
	if c.as, err = credential(); err != nil {
		return nil, err
	}
	if c.o.Dir, err = filepath.Abs(o.Dir); err != nil { // the server's own folder is another
		return nil, err
	}
	if c.o.Log == nil {
		c.o.Log = slog.New(slog.DiscardHandler)
	}
	c.data = filepath.Join(c.o.Dir, "data")
	if err := c.begin(ctx); err != nil {
		return nil, err
	}
	var living context.Context
	living, c.stopping = context.WithCancel(context.WithoutCancel(ctx))
	go c.lookAfter(living)
	return c, nil
}

// begin runs the server, or joins the one that runs.
func (c *Cluster) begin(ctx context.Context) error {
	for deadline := time.Now().Add(patience); ; {
		own, err := c.own()
		switch {
		case err != nil:
			return err
		case own:
			if err = c.run(ctx); err != nil {
				c.leave()
			}
			return err
		}
		if err = c.join(ctx); err == nil {
			return nil
		}
		if time.Now().After(deadline) {
			return fmt.Errorf("another Uvent runs on %s, and its PostgreSQL does not answer: %w", c.o.Dir, err)
		}
		if err := wait(ctx, 50*time.Millisecond); err != nil {
			return err
		}
	}
}

// own takes the folder for this program, until it ends; false where another has it.
func (c *Cluster) own() (bool, error) {
	if err := os.MkdirAll(c.o.Dir, 0o700); err != nil {
		return false, err
	}
	f, err := os.OpenFile(filepath.Join(c.o.Dir, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return false, err
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		f.Close()
		if errors.Is(err, syscall.EWOULDBLOCK) {
			return false, nil
		}
		return false, fmt.Errorf("taking %s: %w", c.o.Dir, err)
	}
	c.mu.Lock()
	c.lock = f
	c.mu.Unlock()
	return true, nil
}

// leave gives the folder to whoever wants it.
func (c *Cluster) leave() {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.lock != nil {
		c.lock.Close()
		c.lock = nil
	}
}

// Joined reports whether another program runs the server.
func (c *Cluster) Joined() bool {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.lock == nil
}

// join connects to the server that another program runs.
func (c *Cluster) join(ctx context.Context) error {
	password, err := os.ReadFile(filepath.Join(c.o.Dir, secretName))
	if err != nil {
		return err
	}
	said, err := os.ReadFile(filepath.Join(c.data, "postmaster.pid"))
	if err != nil {
		return err
	}
	lines := strings.Split(string(said), "\n") // its fourth line is the port (PostgreSQL, src/include/utils/pidfile.h)
	if len(lines) < 4 {
		return errors.New("it is only starting")
	}
	port, err := strconv.Atoi(strings.TrimSpace(lines[3]))
	if err != nil {
		return err
	}
	c.at(port, string(password))
	return c.answers(ctx)
}

func (c *Cluster) at(port int, password string) {
	c.url = url.URL{Scheme: "postgres", User: url.UserPassword(role, password), Host: fmt.Sprintf("127.0.0.1:%d", port), Path: "postgres"}
}

// run starts the server, at the address that it had before, and waits until it answers.
func (c *Cluster) run(ctx context.Context) error {
	password, err := prepare(ctx, c.bin, c.o, c.data, c.as)
	if err != nil {
		return err
	}
	if err := stopLeftover(ctx, c.data); err != nil {
		return err
	}
	if c.url.Host == "" {
		port, err := freePort()
		if err != nil {
			return err
		}
		c.at(port, password)
	}
	args := []string{
		"-D", c.data, "-c", "listen_addresses=127.0.0.1", "-c", "port=" + c.url.Port(), "-c", "unix_socket_directories=", "-c", "max_connections=400",
	}
	if c.o.Throwaway {
		args = append(args, "-c", "fsync=off", "-c", "synchronous_commit=off", "-c", "full_page_writes=off", "-c", "password_encryption=md5")
	}
	cmd := exec.Command(filepath.Join(c.bin, "postgres"), args...)
	log, err := os.OpenFile(filepath.Join(c.o.Dir, logName), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer log.Close()
	cmd.Dir, cmd.Stdout, cmd.Stderr = c.o.Dir, log, log
	// Its own group, so that Ctrl-C reaches us first; SIGINT is its fast shutdown.
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: c.as, Setpgid: true, Pdeathsig: syscall.SIGINT}
	if err := cmd.Start(); err != nil {
		return fmt.Errorf("starting PostgreSQL: %w", err)
	}
	done := make(chan struct{})
	go func() { cmd.Wait(); close(done) }()
	c.mu.Lock()
	c.cmd, c.done = cmd, done
	c.mu.Unlock()
	if err := c.ready(ctx); err != nil {
		c.end()
		return err
	}
	return nil
}

// lookAfter starts the server again whenever it ends by itself, and takes it over when the program that ran it is gone,
// until the context ends.
func (c *Cluster) lookAfter(ctx context.Context) {
	defer close(c.watched)
	began := time.Now()
	for pause := firstPause; ; {
		if c.Joined() {
			if wait(ctx, looksForOne) != nil {
				return
			}
			if own, err := c.own(); err != nil || !own {
				continue
			}
			c.o.Log.Info("the program that ran PostgreSQL is gone; this one runs it now")
		} else {
			select {
			case <-ctx.Done():
				return
			case <-c.done:
			}
			if time.Since(began) > lasting {
				pause = firstPause
			}
			c.o.Log.Error("PostgreSQL has ended by itself; it is started again", "in", pause, "see", filepath.Join(c.o.Dir, logName))
			if wait(ctx, pause) != nil {
				return
			}
			pause = min(2*pause, mostPause)
		}
		began = time.Now()
		if err := c.run(ctx); err != nil && ctx.Err() == nil {
			c.o.Log.Error("PostgreSQL does not start", "error", err)
		}
	}
}

func wait(ctx context.Context, d time.Duration) error {
	select {
	case <-ctx.Done():
		return ctx.Err()
	case <-time.After(d):
		return nil
	}
}

// URL is the address of a database in the cluster.
func (c *Cluster) URL(database string) string {
	u := c.url
	u.Path = database
	return u.String()
}

// Stop ends the server, breaking off what is under way, and waits for it; one that another program runs goes on.
func (c *Cluster) Stop() {
	c.stopping()
	<-c.watched
	c.end()
	c.leave()
}

// end ends the server where this program runs it.
func (c *Cluster) end() {
	if c.Joined() || c.cmd == nil {
		return
	}
	_ = c.cmd.Process.Signal(syscall.SIGINT) // it may have ended by itself
	<-c.done
}

func (c *Cluster) answers(ctx context.Context) error {
	conn, err := pgx.Connect(ctx, c.URL("postgres"))
	if err != nil {
		return err
	}
	return conn.Close(ctx)
}

func (c *Cluster) ready(ctx context.Context) error {
	for deadline := time.Now().Add(patience); ; {
		err := c.answers(ctx)
		if err == nil {
			return nil
		}
		select {
		case <-c.done:
			return fmt.Errorf("PostgreSQL ended as it started: %v; see %s", c.cmd.ProcessState, filepath.Join(c.o.Dir, logName))
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(20 * time.Millisecond):
		}
		if time.Now().After(deadline) {
			return fmt.Errorf("PostgreSQL does not answer: %w", err)
		}
	}
}

// find is the folder of the newest server that Debian's packages installed.
func find() (string, error) {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/postgres")
	slices.SortFunc(found, func(a, b string) int { return version(b) - version(a) })
	for _, f := range found {
		if _, err := os.Stat(filepath.Join(filepath.Dir(f), "initdb")); err == nil {
			return filepath.Dir(f), nil
		}
	}
	return "", ErrNotInstalled
}

func version(path string) int {
	n, _ := strconv.Atoi(strings.Split(path, "/")[4])
	return n
}

// credential is the user postgres when we are root, which PostgreSQL refuses
// to run as; nil otherwise.
func credential() (*syscall.Credential, error) {
	if os.Getuid() != 0 {
		return nil, nil
	}
	u, err := user.Lookup("postgres")
	if err != nil {
		return nil, fmt.Errorf("PostgreSQL does not run as root, and there is no user postgres to run it as: %w", err)
	}
	uid, _ := strconv.Atoi(u.Uid)
	gid, _ := strconv.Atoi(u.Gid)
	return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, nil
}

// prepare makes the cluster when there is none and returns its password.
func prepare(ctx context.Context, bin string, o Options, data string, as *syscall.Credential) (string, error) {
	secret := filepath.Join(o.Dir, secretName)
	if _, err := os.Stat(filepath.Join(data, "PG_VERSION")); err == nil {
		b, err := os.ReadFile(secret)
		return string(b), err
	}
	if err := os.MkdirAll(o.Dir, 0o700); err != nil {
		return "", err
	}
	if err := os.RemoveAll(data); err != nil { // what a killed initdb left
		return "", err
	}
	random := make([]byte, 16)
	rand.Read(random)
	password := hex.EncodeToString(random)
	if err := os.WriteFile(secret, []byte(password), 0o600); err != nil {
		return "", err
	}
	if as != nil {
		for _, path := range []string{o.Dir, secret} {
			if err := os.Chown(path, int(as.Uid), int(as.Gid)); err != nil {
				return "", err
			}
		}
	}
	// Made aside and renamed, so that a cluster that is there is whole.
	half := data + ".new"
	if err := os.RemoveAll(half); err != nil {
		return "", err
	}
	args := []string{"-D", half, "-U", role, "--auth=scram-sha-256", "--pwfile=" + secret, "--encoding=UTF8", "--locale=C.UTF-8"}
	if o.Throwaway {
		args = append(args, "--no-sync", "--auth=md5") // connecting takes a tenth of what it takes with SCRAM
	}
	cmd := exec.CommandContext(ctx, filepath.Join(bin, "initdb"), args...)
	cmd.Dir, cmd.SysProcAttr = o.Dir, &syscall.SysProcAttr{Credential: as, Setpgid: true, Pdeathsig: syscall.SIGKILL}
	if out, err := cmd.CombinedOutput(); err != nil {
		return "", fmt.Errorf("making a PostgreSQL cluster in %s: %w\n%s", o.Dir, err, out)
	}
	return password, os.Rename(half, data)
}

// stopLeftover ends a server that still runs on the cluster, as it may for a
// moment after the program that started it was killed.
func stopLeftover(ctx context.Context, data string) error {
	asked := false
	for deadline := time.Now().Add(20 * time.Second); ; {
		b, err := os.ReadFile(filepath.Join(data, "postmaster.pid"))
		if errors.Is(err, os.ErrNotExist) {
			return nil
		}
		pid, _ := strconv.Atoi(strings.TrimSpace(strings.SplitN(string(b), "\n", 2)[0]))
		if err != nil || pid <= 0 || !runsOn(pid, data) {
			return err // a stale file: the server clears it itself
		}
		if !asked {
			asked = true
			_ = syscall.Kill(pid, syscall.SIGINT) // it may have ended by itself
		}
		if time.Now().After(deadline) {
			return fmt.Errorf("another PostgreSQL (process %d) runs on %s and does not end; is Uvent running there already?", pid, data)
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(20 * time.Millisecond):
		}
	}
}

func runsOn(pid int, data string) bool {
	cmdline, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	return err == nil && slices.Contains(strings.Split(string(cmdline), "\x00"), data)
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}
