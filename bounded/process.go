package bounded

import (
	"cmp"
	"context"
	"encoding/gob"
	"errors"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"runtime/debug"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"time"
)

// reads is the variable that makes a process of this program one that reads.
const reads = "UVENT_READS"

var serving atomic.Bool

// Serve reads and answers until its input ends, where this process was made for that, and then ends it. Otherwise it
// returns at once, and what is read from then on is read in processes of their own.
func Serve() {
	if os.Getenv(reads) == "" {
		serving.Store(true)
		return
	}
	leaves := os.TempDir() // whoever made this process made the folder for it alone
	go endWith(os.Getppid(), leaves)
	in, out := gob.NewDecoder(os.Stdin), gob.NewEncoder(os.Stdout)
	for {
		var q question
		if err := in.Decode(&q); err != nil {
			os.Exit(0)
		}
		if err := out.Encode(answered(q)); err != nil {
			os.Exit(1)
		}
		q = question{}
		empty(leaves)
		// It may wait for long: with what it took for this it does not. It says so, as something to read may already be on
		// its way.
		debug.FreeOSMemory()
		stays := resident(os.Getpid()) <= mostWaiting
		if err := out.Encode(stays); err != nil || !stays {
			os.Exit(0)
		}
	}
}

// endWith ends this process soon after the one that has made it, whatever it reads, and leaves no files behind.
func endWith(maker int, leaves string) {
	for os.Getppid() == maker {
		time.Sleep(50 * time.Millisecond)
	}
	_ = os.RemoveAll(leaves)
	os.Exit(0)
}

// empty removes what lies in a folder: a library that could not read a file may have left what it had unpacked of it.
func empty(dir string) {
	inside, err := os.ReadDir(dir)
	if err != nil {
		return
	}
	for _, f := range inside {
		_ = os.RemoveAll(filepath.Join(dir, f.Name()))
	}
}

// process is one that reads.
type process struct {
	cmd *exec.Cmd
	dir string // for what it writes while it reads; goes with it
	in  io.WriteCloser
	to  *gob.Encoder
	of  *gob.Decoder

	since time.Time // when it began to wait; zero: it has read nothing yet

	ended sync.Once
}

// What a process has at most while it waits for something to read, in bytes, and for how long it waits.
const (
	mostWaiting = 64 << 20
	waits       = 30 * time.Second
)

// live are the processes that run.
var live sync.Map

// End ends all processes that read, before this one ends. What is being read then fails.
func End() {
	live.Range(func(p, _ any) bool {
		p.(*process).end()
		return true
	})
}

// mostAtOnce is how many processes read at once.
var mostAtOnce = max(2, runtime.NumCPU()/2)

// pool is processes that read at once.
type pool struct {
	idle chan *process // that wait for something to read
	room chan struct{} // taken by those that do not wait
}

func newPool(most int) pool { return pool{make(chan *process, most), make(chan struct{}, most)} }

var short, long = newPool(mostAtOnce), newPool(1)

// wait has a process wait for something to read, and ends those that have waited for long: whoever is before them in the
// line was there first.
func (at pool) wait(p *process) {
	p.since = time.Now()
	at.idle <- p
	time.AfterFunc(waits+time.Second, func() {
		for {
			select {
			case p := <-at.idle:
				if time.Since(p.since) < waits {
					at.idle <- p
					return
				}
				p.end()
			default:
				return
			}
		}
	})
}

// begin makes a process. It knows nothing of what this one does: neither its variables nor its files.
func begin() (*process, error) {
	self, err := os.Executable()
	if err != nil {
		return nil, err
	}
	dir, err := os.MkdirTemp("", "uvent-reads-")
	if err != nil {
		return nil, err
	}
	p := &process{cmd: exec.Command(self), dir: dir}
	p.cmd.Env = []string{reads + "=1", "GOMAXPROCS=1", "TMPDIR=" + dir}
	p.cmd.Dir = "/"
	if err := p.start(); err != nil {
		return nil, errors.Join(err, os.RemoveAll(dir))
	}
	live.Store(p, nil)
	return p, nil
}

// start starts a process, and what it is spoken to through.
func (p *process) start() (err error) {
	if p.in, err = p.cmd.StdinPipe(); err != nil {
		return err
	}
	out, err := p.cmd.StdoutPipe()
	if err != nil {
		return err
	}
	p.to, p.of = gob.NewEncoder(p.in), gob.NewDecoder(out)
	return p.cmd.Start()
}

// end ends a process, whatever it does.
func (p *process) end() {
	p.ended.Do(func() {
		_ = p.cmd.Process.Kill()
		_ = p.in.Close()
		_ = p.cmd.Wait()
		_ = os.RemoveAll(p.dir)
		live.Delete(p)
	})
}

// ask has a process read something. One that took too much, or broke, is ended, and the next one is made anew.
func ask(ctx context.Context, name string, data []byte, most Limits) ([]byte, error) {
	at := short
	if most.Long {
		at = long
	}
	select {
	case at.room <- struct{}{}:
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	defer func() { <-at.room }()
	for {
		var p *process
		select {
		case p = <-at.idle:
		default:
			var err error
			if p, err = begin(); err != nil {
				return nil, err
			}
		}
		a, sent, err := p.ask(ctx, question{name, data}, most)
		switch {
		case err != nil:
			p.end()
			if !sent && !p.since.IsZero() && ctx.Err() == nil {
				continue // it had ended while it waited
			}
			return nil, cmp.Or(ctx.Err(), ErrBounds)
		case a.Refusal != nil:
			err = a.Refusal
		case a.Failed != "":
			err = errors.New(a.Failed)
		}
		at.wait(p)
		return a.Data, err
	}
}

// ask waits for an answer, within what it may take. sent is false where the process did not take the question.
func (p *process) ask(ctx context.Context, q question, most Limits) (a answer, sent bool, err error) {
	ctx, cancel := context.WithTimeout(ctx, most.Time)
	defer cancel()
	done := make(chan error, 1)
	go func() { done <- p.handOver(q, &a, &sent) }()
	watch := time.NewTicker(20 * time.Millisecond)
	defer watch.Stop()
	for {
		select {
		case err := <-done:
			return a, sent, err
		case <-watch.C:
			if resident(p.cmd.Process.Pid) > most.Memory {
				cancel()
			}
		case <-ctx.Done():
			_ = p.cmd.Process.Kill()
			err := errors.Join(ctx.Err(), <-done)
			return a, true, err
		}
	}
}

// errEnds is that a process that waited does not stay.
var errEnds = errors.New("it ends")

// handOver gives a process something to read, once it has said that it stays for that, and takes what it answers.
func (p *process) handOver(q question, a *answer, sent *bool) error {
	if !p.since.IsZero() {
		var stays bool
		if err := p.of.Decode(&stays); err != nil {
			return err
		}
		if !stays {
			return errEnds
		}
	}
	if err := p.to.Encode(q); err != nil {
		return err
	}
	*sent = true
	return p.of.Decode(a)
}

// resident is how much memory a process has, in bytes (proc_pid_statm(5), its second field, in pages).
func resident(pid int) int64 {
	data, err := os.ReadFile("/proc/" + strconv.Itoa(pid) + "/statm")
	if err != nil {
		return 0
	}
	fields := strings.Fields(string(data))
	if len(fields) < 2 {
		return 0
	}
	pages, _ := strconv.ParseInt(fields[1], 10, 64)
	return pages * int64(os.Getpagesize())
}
