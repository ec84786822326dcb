package desk_test

import (
	"errors"
	"strings"
	"testing"
	"time"

	"uvent/desk"
	"uvent/store/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

// refused checks that an error is a problem of a kind that says something.
func refused(t *testing.T, err error, kind desk.ProblemKind, says string) {
	t.Helper()
	var p *desk.Problem
	if !errors.As(err, &p) || p.Kind != kind {
		t.Fatalf("got %v, want a problem of kind %d that says %q", err, kind, says)
	}
	all := p.Detail
	for _, f := range p.Fields {
		all += " " + f.Path + ": " + f.Message
	}
	if !strings.Contains(all, says) {
		t.Fatalf("it says %q, want %q", all, says)
	}
}

// tasks are the rows of Today.
func tasks(t desk.Today, err error) ([]desk.Cell, error) { return t.Rows, err }

// eventually waits for what is done in the background.
func eventually(t *testing.T, so func() bool) {
	t.Helper()
	for end := time.Now().Add(60 * time.Second); !so(); time.Sleep(10 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatal("it never came to be so")
		}
	}
}
