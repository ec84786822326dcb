package main

import (
	"bytes"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"filippo.io/age"

	"uvent/store"
)

// A backup that is made for a key can be read with that key alone.
func TestABackupForAKey(t *testing.T) {
	t.Parallel()
	folder := t.TempDir()
	mine, err := age.GenerateX25519Identity()
	if err != nil {
		t.Fatal(err)
	}
	other, err := age.GenerateX25519Identity()
	if err != nil {
		t.Fatal(err)
	}
	for name, k := range map[string]*age.X25519Identity{"mine": mine, "other": other} {
		if err := os.WriteFile(filepath.Join(folder, name), []byte("# a comment\n"+k.String()+"\n"), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	path := filepath.Join(folder, "backup")
	f, err := os.Create(path)
	if err != nil {
		t.Fatal(err)
	}
	w, err := sealedFor(f, []string{mine.Recipient().String()})
	if err != nil {
		t.Fatal(err)
	}
	if _, err = io.WriteString(w, "what is private"); err != nil || w.Close() != nil || f.Close() != nil {
		t.Fatal(err)
	}
	if text, err := os.ReadFile(path); err != nil || strings.Contains(string(text), "private") {
		t.Errorf("it can be read: %q, %v", text, err)
	}
	got, done, err := opened(path, filepath.Join(folder, "mine"))
	if err != nil {
		t.Fatal(err)
	}
	if text, err := io.ReadAll(io.NewSectionReader(got, 0, 100)); err != nil || string(text) != "what is private" {
		t.Errorf("%q, %v", text, err)
	}
	done()
	if _, _, err := opened(path, filepath.Join(folder, "other")); err == nil {
		t.Error("another key opens it")
	}
	if _, err := sealedFor(f, []string{"age1nobody"}); err == nil || !strings.Contains(err.Error(), "no public key") {
		t.Errorf("%v", err)
	}
	left, err := os.ReadDir(folder)
	if err != nil || len(left) != 3 {
		t.Errorf("%v, %v", left, err)
	}
}

func TestABackupTellsHowFarItIs(t *testing.T) {
	var out bytes.Buffer
	now := time.Unix(0, 0)
	tell := told(&out, "all.zip", func() time.Time { return now })
	for range 3 {
		tell(store.Progress{Table: "event", Tables: 11, Of: 63, Bytes: 1_500_000, Share: .114})
		now = now.Add(3 * time.Second)
	}
	if got, want := out.String(), "all.zip: 11 %, event (12 of 63 tables), 2 MB before they are compressed\n"; got != want {
		t.Errorf("it says %q", got)
	}
}
