package clockwork

import (
	"slices"
	"testing"
	"time"
)

// A server is taken for gone when its name was free at every look for long enough, and not when it came back between two.
func TestWhoIsGone(t *testing.T) {
	m, begin := missing{}, time.Now()
	for _, look := range []struct {
		after time.Duration
		free  []string
		gone  []string
	}{
		{0, []string{"a", "b"}, nil},
		{goneFor / 2, []string{"a"}, nil}, // b has it again
		{goneFor, []string{"a", "b"}, []string{"a"}},
		{3 * goneFor / 2, []string{"b"}, nil},
		{2 * goneFor, []string{"b"}, []string{"b"}},
		{3 * goneFor, nil, nil},
		{4 * goneFor, []string{"b"}, nil},
	} {
		if got := m.gone(look.free, begin.Add(look.after)); !slices.Equal(got, look.gone) {
			t.Errorf("after %s: %v, want %v", look.after, got, look.gone)
		}
	}
}
