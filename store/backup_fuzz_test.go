package store

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"path/filepath"
	"slices"
	"testing"
)

// Whatever stands in a file that calls itself a backup: what it hands on is a rulebook by its name, no larger than one, and
// what its manifest says.
func FuzzReadBackup(f *testing.F) {
	text := []byte("id: pierbook\n")
	for _, name := range []string{"pierbook.yaml", "../pierbook.yaml", ".bashrc"} {
		var b bytes.Buffer
		archive := zip.NewWriter(&b)
		var m Manifest
		m.Rulebooks = append(m.Rulebooks, File{Name: name, SHA256: sumOf(text)})
		said, err := json.Marshal(m)
		if err != nil {
			f.Fatal(err)
		}
		for at, data := range map[string][]byte{"manifest.json": said, "rulebooks/" + name: text} {
			w, err := archive.Create(at)
			if err != nil {
				f.Fatal(err)
			}
			if _, err := w.Write(data); err != nil {
				f.Fatal(err)
			}
		}
		if err := archive.Close(); err != nil {
			f.Fatal(err)
		}
		f.Add(b.Bytes())
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		archive, m, err := readManifest(bytes.NewReader(data), int64(len(data)))
		if err != nil {
			return
		}
		_ = restoreRulebooks(archive, m, func(name string, data []byte) error { // a refusal is an answer
			if filepath.Base(name) != name || filepath.Ext(name) != ".yaml" || name[0] == '.' || len(data) > mostRulebook ||
				!slices.Contains(m.Rulebooks, File{name, sumOf(data)}) {
				t.Errorf("%q of %d bytes is handed on", name, len(data))
			}
			return nil
		})
	})
}
