package clockwork_test

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"io"
	"strings"
	"testing"

	"uvent/e2e/rig"
	"uvent/store"
	"uvent/store/storetest"
)

// A file that was made to write elsewhere, or to fill a disk, restores nothing.
func TestBackupsThatAreHostile(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	var whole bytes.Buffer
	m, err := r.Store.Backup(ctx, &whole, nil, func(store.Progress) {})
	rig.Must(t, err)
	s, err := store.Open(ctx, storetest.URL(t))
	rig.Must(t, err)
	t.Cleanup(s.Close)
	// pack is a backup with another manifest and other parts.
	pack := func(m store.Manifest, parts map[string]io.Reader) []byte {
		text, err := json.Marshal(m)
		rig.Must(t, err)
		var out bytes.Buffer
		z := zip.NewWriter(&out)
		for name, from := range parts {
			w, err := z.Create(name)
			rig.Must(t, err)
			_, err = io.Copy(w, from)
			rig.Must(t, err)
		}
		w, err := z.Create("manifest.json")
		rig.Must(t, err)
		_, err = w.Write(text)
		rig.Must(t, err)
		rig.Must(t, z.Close())
		return out.Bytes()
	}
	endless := func(n int64) io.Reader { return io.LimitReader(zeros{}, n) }
	with := func(tables []store.Table, books ...string) store.Manifest {
		out := store.Manifest{Migration: m.Migration, Tables: tables}
		for _, b := range books {
			out.Rulebooks = append(out.Rulebooks, store.File{Name: b})
		}
		return out
	}
	for says, data := range map[string][]byte{
		`is not called ".bashrc"`:            pack(with(nil, ".bashrc"), map[string]io.Reader{"rulebooks/.bashrc": strings.NewReader("x")}),
		`is not called "../x.yaml"`:          pack(with(nil, "../x.yaml"), map[string]io.Reader{"rulebooks/../x.yaml": strings.NewReader("x")}),
		`is not called "/etc/x.yaml"`:        pack(with(nil, "/etc/x.yaml"), nil),
		"rulebooks/x.yaml: it would come to": pack(with(nil, "x.yaml"), map[string]io.Reader{"rulebooks/x.yaml": endless(1 << 20)}),
		"client.csv: it would come to":       pack(with([]store.Table{{Name: "client"}}), map[string]io.Reader{"client.csv": endless(200 << 20)}),
		"there is no table":                  pack(with([]store.Table{{Name: "pg_authid"}}), nil),
		"client.csv":                         pack(with([]store.Table{{Name: "client"}}), map[string]io.Reader{"client.csv": strings.NewReader("id\n1\n")}),
	} {
		kept := 0
		_, err := s.Restore(ctx, bytes.NewReader(data), int64(len(data)), func(string, []byte) error { kept++; return nil })
		if err == nil || !strings.Contains(err.Error(), says) || kept > 0 {
			t.Errorf("want %q, got %v, and %d files", says, err, kept)
		}
	}
	var left int
	if rig.Must(t, s.Pool.QueryRow(ctx, "select count(*) from client").Scan(&left)); left > 0 {
		t.Errorf("%d clients are there", left)
	}
}

// zeros never end.
type zeros struct{}

// Read gives zeros.
func (zeros) Read(p []byte) (int, error) { clear(p); return len(p), nil }
