// Package cluster runs a PostgreSQL server of its own, from Debian's packages,
// on a free port of 127.0.0.1, and stops it.
package cluster

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"net"
	"net/url"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
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

// logName is where the server writes what happens to it, beside its data.
const logName = "server.log"

// Cluster is a running server.
type Cluster struct {
	cmd  *exec.Cmd
	done chan struct{} // closed when the server has ended
	url  url.URL
}

// Options of a cluster.
type Options struct {
	Dir string // where it lives; made when missing
	// Throwaway trades safety against power cuts for speed: for tests.
	Throwaway bool
}

// Start makes the cluster when there is none yet, and starts it. When the
// program runs as root the server runs as the user postgres. A server that a
// killed program left behind is stopped first. The server also ends when this
// process dies.
func Start(ctx context.Context, o Options) (*Cluster, error) {
	bin, err := find()
	if err != nil {
		return nil, err
	}
	as, err := credential()
	if err != nil {
		return nil, err
	}
	if o.Dir, err = filepath.Abs(o.Dir); err != nil { // the server's own folder is another
		return nil, err
	}
	data := filepath.Join(o.Dir, "data")
	password, err := prepare(ctx, bin, o, data, as)
	if err != nil {
		return nil, err
	}
	if err := stopLeftover(ctx, data); err != nil {
		return nil, err
	}
	port, err := freePort()
	if err != nil {
		return nil, err
	}
	args := []string{
		"-D",
		data,
		"-c",
		"listen_addresses=127.0.0.1",
		"-c",
		"port=" + strconv.Itoa(port),
		"-c",
		"unix_socket_directories=",
		"-c",
		"max_connections=400",
	}
	if o.Throwaway {
		args = append(args, "-c", "fsync=off", "-c", "synchronous_commit=off", "-c", "full_page_writes=off", "-c", "password_encryption=md5")
	}
	c := &Cluster{cmd: exec.Command(filepath.Join(bin, "postgres"), args...), done: make(chan struct{})}
	log, err := os.OpenFile(filepath.Join(o.Dir, logName), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return nil, err
	}
	defer log.Close()
	c.cmd.Dir, c.cmd.Stdout, c.cmd.Stderr = o.Dir, log, log
	// Its own group, so that Ctrl-C reaches us first; SIGINT is its fast shutdown.
	c.cmd.SysProcAttr = &syscall.SysProcAttr{Credential: as, Setpgid: true, Pdeathsig: syscall.SIGINT}
	if err := c.cmd.Start(); err != nil {
		return nil, fmt.Errorf("starting PostgreSQL: %w", err)
	}
	go func() { c.cmd.Wait(); close(c.done) }()
	c.url = url.URL{Scheme: "postgres", User: url.UserPassword(role, password), Host: fmt.Sprintf("127.0.0.1:%d", port), Path: "postgres"}
	if err := c.ready(ctx); err != nil {
		c.Stop()
		return nil, err
	}
	return c, nil
}

// URL is the address of a database in the cluster.
func (c *Cluster) URL(database string) string {
	u := c.url
	u.Path = database
	return u.String()
}

// Stop ends the server, breaking off what is under way, and waits for it.
func (c *Cluster) Stop() {
	c.cmd.Process.Signal(syscall.SIGINT)
	<-c.done
}

func (c *Cluster) ready(ctx context.Context) error {
	for deadline := time.Now().Add(30 * time.Second); ; {
		conn, err := pgx.Connect(ctx, c.URL("postgres"))
		if err == nil {
			return conn.Close(ctx)
		}
		select {
		case <-c.done:
			return fmt.Errorf("PostgreSQL ended as it started: %v; see %s", c.cmd.ProcessState, filepath.Join(c.cmd.Dir, logName))
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
	secret := filepath.Join(o.Dir, "password")
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
