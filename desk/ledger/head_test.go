package ledger

import "testing"

// A line is a head only as it was signed.
func FuzzReadHead(f *testing.F) {
	f.Add(`{"head":{"at":"2026-11-24T00:00:00Z","position":1,"hash":"","by":""},"signature":""}`)
	f.Add("{}")
	f.Fuzz(func(t *testing.T, line string) {
		if h, err := ReadHead(line, make([]byte, 32)); err == nil {
			t.Errorf("%q is taken for %+v", line, h)
		}
	})
}
