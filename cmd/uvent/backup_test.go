package main

import (
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"filippo.io/age"
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
