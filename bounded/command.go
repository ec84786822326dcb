package bounded

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"strconv"
	"syscall"
	"time"

	"golang.org/x/sys/unix"
)

// Failed is that a program ended with a fault, and what it said of it.
type Failed struct {
	Code int
	Says string // the end of what it wrote as errors
}

func (f *Failed) Error() string { return fmt.Sprintf("it ended with %d: %s", f.Code, f.Says) }

// What is kept of what a program says, in bytes.
const (
	mostSaid   = 4 << 10
	mostOutput = 8 << 20
)

// fileOf is some bytes as a file that lies in memory alone.
func fileOf(data []byte) (*os.File, error) {
	fd, err := unix.MemfdCreate("input", unix.MFD_CLOEXEC)
	if err != nil {
		return nil, err
	}
	f := os.NewFile(uintptr(fd), "input")
	if _, err := f.Write(data); err != nil {
		return nil, errors.Join(err, f.Close())
	}
	_, err = f.Seek(0, io.SeekStart)
	return f, err
}

// Command runs a program of the system on some bytes, and gives what it writes, 8 MB at most, and the beginning of what it
// says of faults. It has the processor for no
// longer than the time, as much address space as the memory, and neither our variables nor our files. It reads the bytes from its
// standard input, in which it may go back and forth (memfd_create(2)). The error is
// ErrBounds where it took more, and a *Failed where it ended with a fault (prlimit(1), setrlimit(2)).
func Command(ctx context.Context, most Limits, input []byte, program string, args ...string) (out []byte, says string, err error) {
	in, err := fileOf(input)
	if err != nil {
		return nil, "", err
	}
	defer in.Close()
	ctx, cancel := context.WithTimeout(ctx, 2*most.Time) // by the wall it may take longer, where others compute too
	defer cancel()
	seconds := strconv.Itoa(max(1, int(most.Time.Seconds())))
	c := exec.CommandContext(ctx, "/usr/bin/prlimit", append([]string{
		"--cpu=" + seconds + ":" + seconds, "--as=" + strconv.FormatInt(most.Memory, 10), "--core=0", "--fsize=0", "--nofile=64", "--", program,
	}, args...)...)
	c.Env, c.Dir, c.Stdin = []string{"LC_ALL=C.UTF-8"}, "/", in
	c.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGKILL}
	c.Cancel = func() error { return syscall.Kill(-c.Process.Pid, syscall.SIGKILL) } // and all that it has begun
	c.WaitDelay = time.Second
	wrote, faults := &limited{most: mostOutput, full: cancel}, &limited{most: mostSaid}
	c.Stdout, c.Stderr = wrote, faults
	err = c.Run()
	var ended *exec.ExitError
	switch {
	case err == nil:
		return wrote.kept.Bytes(), faults.kept.String(), nil
	case wrote.over || ctx.Err() != nil:
		return nil, "", ErrBounds
	case errors.As(err, &ended) && ended.ExitCode() >= 0 && ended.ExitCode() < 128:
		return nil, "", &Failed{ended.ExitCode(), faults.kept.String()}
	case errors.As(err, &ended):
		return nil, "", ErrBounds // a signal ended it
	}
	return nil, "", err
}

// limited keeps the beginning of what is written.
type limited struct {
	kept bytes.Buffer // not embedded: it would read past the limit by itself
	most int
	over bool
	full func() // is called when there is more; nil: it is passed over
}

// Write keeps what there is room for.
func (l *limited) Write(p []byte) (int, error) {
	room := l.most - l.kept.Len()
	if len(p) <= room {
		return l.kept.Write(p)
	}
	l.over = true
	l.kept.Write(p[:room])
	if l.full != nil {
		l.full()
		return room, io.ErrShortWrite
	}
	return len(p), nil
}
