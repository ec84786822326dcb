package bounded_test

import (
	"errors"
	"strings"
	"testing"
	"time"

	"uvent/bounded"
)

func TestProgramsOfTheSystem(t *testing.T) {
	most := bounded.Limits{Time: time.Second, Memory: 200 << 20}
	out, _, err := bounded.Command(t.Context(), most, []byte("hello"), "/bin/cat")
	if err != nil || string(out) != "hello" {
		t.Errorf("%q, %v", out, err)
	}
	t.Setenv("UVENT_SECRET", "hush")
	if out, _, err = bounded.Command(t.Context(), most, nil, "/usr/bin/env"); err != nil || strings.Contains(string(out), "hush") {
		t.Errorf("it sees %q, %v", out, err)
	}
	var failed *bounded.Failed
	if _, _, err = bounded.Command(
		t.Context(),
		most,
		nil,
		"/bin/sh",
		"-c",
		"echo no >&2; exit 3",
	); !errors.As(err, &failed) || failed.Code != 3 ||
		!strings.Contains(failed.Says, "no") {
		t.Errorf("%v", err)
	}
	for name, script := range map[string]string{
		"time":     "while :; do :; done",
		"waiting":  "sleep 60",
		"output":   "head -c 9000000 /dev/zero",
		"no end":   "yes",
		"a signal": "kill -9 $$",
	} {
		began := time.Now()
		if _, _, err = bounded.Command(t.Context(), most, nil, "/bin/sh", "-c", script); !errors.Is(err, bounded.ErrBounds) {
			t.Errorf("%s: %v", name, err)
		}
		t.Logf("%s: ended after %v", name, time.Since(began).Round(10*time.Millisecond))
	}
	// What wants more memory is refused it, and ends by itself.
	if _, _, err = bounded.Command(t.Context(), most, nil, "/bin/sh", "-c", "head -c 400000000 /dev/zero | tail -n 1"); err == nil {
		t.Error("it had its 400 MB")
	}
}
