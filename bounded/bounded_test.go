package bounded_test

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"uvent/bounded"
)

// no is a refusal whose type is told.
type no string

func (n no) Error() string { return string(n) }

type named struct {
	Name string
	Pid  int
}

var (
	few    = bounded.Limits{Time: 2 * time.Second, Memory: 300 << 20}
	greets = bounded.Of("greet", bounded.Usual, func(name string) (named, error) {
		switch name {
		case "nobody":
			return named{}, no("nobody is not greeted")
		case "broken":
			return named{}, errors.New("it broke")
		case "panic":
			panic("it is the end")
		case "exit":
			os.Exit(3)
		}
		return named{"hello " + name, os.Getpid()}, nil
	})
	loops = bounded.Of("loop", few, func(int) (int, error) {
		for n := 0; ; n++ {
			if n < 0 {
				n = 0
			}
		}
	})
	hogs = bounded.Of("hog", few, func(int) (int, error) {
		var all [][]byte
		for {
			b := make([]byte, 16<<20)
			for i := range b {
				b[i] = 1
			}
			all = append(all, b)
			if len(all) > 10_000 {
				return 0, nil
			}
		}
	})
	naps = bounded.Of("nap", bounded.Limits{Time: time.Minute, Memory: 1 << 30, Long: true}, func(n int) (int, error) {
		time.Sleep(700 * time.Millisecond)
		return n, nil
	})
	held  []byte
	keeps = bounded.Of("keep", bounded.Usual, func(bytes int) (int, error) {
		held = make([]byte, bytes)
		for i := 0; i < bytes; i += 4096 {
			held[i] = 1
		}
		return os.Getpid(), nil
	})
	// unpacks leaves a file behind, and says where it lies.
	unpacks = bounded.Of("unpack", few, func(ends bool) (string, error) {
		dir, err := os.MkdirTemp("", "unpacked-")
		for err == nil && ends {
			err = os.WriteFile(filepath.Join(dir, "sheet"), make([]byte, 1<<20), 0o600)
		}
		return dir, err
	})
	sees = bounded.Of("see", bounded.Usual, func(string) (string, error) { return strings.Join(os.Environ(), " "), nil })
)

func TestMain(m *testing.M) {
	bounded.Refusals(no(""))
	bounded.Serve()
	os.Exit(m.Run())
}

func TestReadingInAProcessOfItsOwn(t *testing.T) {
	ctx := t.Context()
	for _, broken := range []string{"", "panic", "exit"} { // what comes after one that broke is read as before
		if broken != "" {
			if _, err := greets(ctx, broken); !errors.Is(err, bounded.ErrBounds) {
				t.Errorf("%s: %v", broken, err)
			}
		}
		got, err := greets(ctx, "world")
		if err != nil || got.Name != "hello world" || got.Pid == os.Getpid() || got.Pid == 0 {
			t.Errorf("%+v, %v", got, err)
		}
	}
	var refusal no
	if _, err := greets(ctx, "nobody"); !errors.As(err, &refusal) || refusal != "nobody is not greeted" {
		t.Errorf("%v", err)
	}
	if _, err := greets(ctx, "broken"); err == nil || err.Error() != "it broke" {
		t.Errorf("%v", err)
	}
	t.Setenv("UVENT_SECRET", "hush")
	if env, err := sees(ctx, ""); err != nil || strings.Contains(env, "hush") {
		t.Errorf("it sees %q, %v", env, err)
	}
	ended, cancel := context.WithCancel(ctx)
	cancel()
	if _, err := greets(ended, "world"); err == nil {
		t.Error("it is read for nobody")
	}
}

func TestWhatTakesTooMuchIsEnded(t *testing.T) {
	for name, does := range map[string]func(context.Context, int) (int, error){"time": loops, "memory": hogs} {
		if _, err := does(t.Context(), 1); !errors.Is(err, bounded.ErrBounds) {
			t.Errorf("of %s: %v", name, err)
		}
	}
	if got, err := greets(t.Context(), "world"); err != nil || got.Name != "hello world" {
		t.Errorf("after them: %+v, %v", got, err)
	}
}

// When the program ends, nothing that it began goes on; what is read after that is read anew.
func TestNothingGoesOnAfterTheEnd(t *testing.T) {
	got, err := greets(t.Context(), "world")
	if err != nil {
		t.Fatal(err)
	}
	bounded.End()
	if err := syscall.Kill(got.Pid, 0); !errors.Is(err, syscall.ESRCH) {
		t.Errorf("process %d: %v", got.Pid, err)
	}
	if again, err := greets(t.Context(), "world"); err != nil || again.Pid == got.Pid {
		t.Errorf("%+v, %v", again, err)
	}
}

// A process that is left with much does not stay, and nothing that is read right after it is lost with it.
func TestWhatIsLeftWithMuchEnds(t *testing.T) {
	before := 0
	for range 12 {
		pid, err := keeps(t.Context(), 128<<20)
		if err != nil {
			t.Fatal(err)
		}
		if pid == before {
			t.Fatalf("process %d stayed", pid)
		}
		before = pid
	}
}

// Whatever is unpacked of a file goes with it: a file that breaks what reads it would fill the disk else, sent often enough.
func TestNothingIsLeftOnTheDisk(t *testing.T) {
	t.Setenv("TMPDIR", t.TempDir())
	bounded.End() // what waits was made with another folder
	left := func() (out []string) {
		_ = filepath.WalkDir(os.TempDir(), func(path string, d os.DirEntry, _ error) error {
			if strings.HasPrefix(d.Name(), "unpacked-") {
				out = append(out, path)
			}
			return nil
		})
		return out
	}
	dir, err := unpacks(t.Context(), false)
	if err != nil || !strings.HasPrefix(dir, os.TempDir()) {
		t.Fatalf("%q, %v", dir, err)
	}
	if _, err := greets(t.Context(), "world"); err != nil { // the same process, which has emptied its folder before it waited
		t.Error(err)
	}
	if there := left(); len(there) > 0 {
		t.Errorf("after it was read: %v", there)
	}
	if _, err := unpacks(t.Context(), true); !errors.Is(err, bounded.ErrBounds) {
		t.Errorf("%v", err)
	}
	if there := left(); len(there) > 0 {
		t.Errorf("after it took too long: %v", there)
	}
	bounded.End()
	if all, err := os.ReadDir(os.TempDir()); err != nil || len(all) > 0 {
		t.Errorf("after the end: %v, %v", all, err)
	}
}

// What takes minutes keeps nothing else waiting.
func TestWhatIsLongKeepsNothingElseWaiting(t *testing.T) {
	var long sync.WaitGroup
	for range 3 {
		long.Go(func() {
			if n, err := naps(t.Context(), 1); n != 1 || err != nil {
				t.Errorf("%d, %v", n, err)
			}
		})
	}
	ended := make(chan struct{})
	go func() { long.Wait(); close(ended) }()
	if _, err := greets(t.Context(), "world"); err != nil {
		t.Error(err)
	}
	select {
	case <-ended:
		t.Error("it waited for what is long")
	default:
	}
	<-ended
}

func TestManyAtOnce(t *testing.T) {
	var all sync.WaitGroup
	for i := range 40 {
		all.Go(func() {
			name := fmt.Sprint(i)
			if got, err := greets(t.Context(), name); err != nil || got.Name != "hello "+name {
				t.Errorf("%s: %+v, %v", name, got, err)
			}
		})
	}
	all.Wait()
}
