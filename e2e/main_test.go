// Package e2e drives the whole of Uvent as people do: in a browser, and by
// killing it.
package e2e

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"sync"
	"testing"
	"time"

	"uvent/core/fact/photo"
	"uvent/demo/paint"
	"uvent/e2e/browser"
	"uvent/e2e/rig"
	"uvent/store/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m, clearFilled) }

// screen is a browser at a rig's application, signed in.
type screen struct {
	*browser.Tab
	t    *testing.T
	rig  *rig.Rig
	base string
}

func open(t *testing.T, directories ...string) *screen {
	t.Helper()
	r := rig.Start(t, directories...)
	base := r.Serve(t)
	tab, stop, err := browser.Start(context.Background())
	rig.Must(t, err)
	t.Cleanup(stop)
	s := &screen{tab, t, r, base}
	s.do(s.Enter(base, r.Who.Email, rig.Password))
	return s
}

// do ends the test when something that a person did or saw did not work.
func (s *screen) do(errs ...error) {
	s.t.Helper()
	for _, err := range errs {
		if err != nil {
			s.t.Fatal(err)
		}
	}
}

// at is an address of the application.
func (s *screen) at(path string) string { return s.base + path }

// now is what a script in the page gives.
func now[T any](s *screen, script string) T {
	s.t.Helper()
	out, err := browser.Ask[T](s.Tab, script)
	s.do(err)
	return out
}

// all widens the scope to all clients, and waits until that is drawn.
func (s *screen) all() error {
	if err := s.Press("All clients"); err != nil {
		return err
	}
	return s.Until(`!!document.querySelector(".scope .all.here")`)
}

// program is the path of the program: the one that UVENT_PROGRAM names, or else one that is built
// once for all tests here.
func program(t *testing.T) string {
	t.Helper()
	binary, err := built()
	rig.Must(t, err)
	return binary
}

var built = sync.OnceValues(func() (string, error) {
	if named := os.Getenv("UVENT_PROGRAM"); named != "" {
		return filepath.Abs(filepath.Join("..", named))
	}
	binary := filepath.Join(os.TempDir(), fmt.Sprintf("uvent-%d", os.Getpid()))
	build := exec.Command("go", "build", "-o", binary, "./cmd/uvent")
	build.Dir = ".."
	if out, err := build.CombinedOutput(); err != nil {
		return "", fmt.Errorf("%w\n%s", err, out)
	}
	return binary, nil
})

// beside is another browser, with somebody's own session.
func (s *screen) beside(email string) *screen {
	s.t.Helper()
	tab, stop, err := browser.Start(context.Background())
	s.do(err)
	s.t.Cleanup(stop)
	other := &screen{tab, s.t, s.rig, s.base}
	s.do(other.SignIn(s.base, email, rig.Password))
	return other
}

// Close leaves the page, as closing the window does.
func (s *screen) Close() error { return s.Open("about:blank") }

// eventually waits until something is so.
func (s *screen) eventually(so func() bool) error {
	for end := time.Now().Add(browser.Patience); !so(); time.Sleep(20 * time.Millisecond) {
		if time.Now().After(end) {
			return errors.New("it never came to be so")
		}
	}
	return nil
}

func itoa(n int) string { return strconv.Itoa(n) }

// encodedFront is a photo of a shop front, different for each seed.
func encodedFront(t *testing.T, seed uint64) []byte {
	t.Helper()
	data, err := photo.Encode(paint.Front(1000, 750, "Spokeshave Cycle Works", "18", paint.Bicycles, seed), photo.JPEG)
	rig.Must(t, err)
	return data
}
