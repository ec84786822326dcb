package desk_test

import (
	"errors"
	"strings"
	"testing"

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
