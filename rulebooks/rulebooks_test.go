package rulebooks

import (
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"uvent/core/rule/rulebook"
)

// The fifteen that ship are good, differ, and say what they take.
func TestAll(t *testing.T) {
	all, err := All()
	if err != nil {
		t.Fatal(err)
	}
	if len(all) != 15 {
		t.Fatalf("%d rulebooks ship", len(all))
	}
	known := map[string]bool{}
	for _, b := range all {
		known[b.ID] = true
	}
	for i, b := range all {
		if i > 0 && b.Weight > all[i-1].Weight {
			t.Errorf("%s, of weight %d, comes after %s", b.Name, b.Weight, all[i-1].Name)
		}
		said := ""
		for _, s := range b.Sayings(func(id string) string { return "<" + id + ">" }) {
			said += s.About + "\n" + strings.Join(s.Says, "\n") + "\n"
		}
		for _, key := range b.Fields() {
			if title := b.FieldTitle(key); title == "" || !strings.Contains(said, title) {
				t.Errorf("%s does not say that it takes %s, “%s”", b.Name, key, title)
			}
		}
		for _, m := range b.Methods {
			if m.Chance == 0 && b.ID != "fernlook" {
				t.Errorf("%s does not say how likely %s is to work", b.Name, m.Method)
			}
		}
		for _, c := range b.Copies {
			if !known[c.From] || !strings.Contains(said, "<"+c.From+">") {
				t.Errorf("%s copies from %s", b.Name, c.From)
			}
		}
		if (b.Worked == rulebook.Connected || b.Worked == rulebook.Suggestions) != (b.Connector.URL != "") {
			t.Errorf("%s is %s, with the interface %q", b.Name, b.Worked, b.Connector.URL)
		}
	}
}

func TestFolder(t *testing.T) {
	good, err := files.ReadFile("skerry.yaml")
	if err != nil {
		t.Fatal(err)
	}
	dir := fstest.MapFS{"notes.txt": {Data: []byte("no rulebook")}}
	f := Folder{dir}
	books, bad := f.Read()
	empty := f.Stamp()
	if books != nil || bad != nil || empty != "" {
		t.Errorf("%d, %q, %q", len(books), bad, empty)
	}
	dir["skerry.yaml"] = &fstest.MapFile{Data: good, ModTime: time.Unix(1, 0)}
	dir["broken.yaml"] = &fstest.MapFile{Data: []byte("id: broken\n")}
	books, bad = f.Read()
	if len(books) != 1 || books[0].Name != "Skerry" || len(bad) != 1 || !strings.HasPrefix(bad[0], "broken.yaml:1: ") {
		t.Errorf("%d, %q", len(books), bad)
	}
	before := f.Stamp()
	dir["skerry.yaml"].ModTime = time.Unix(2, 0)
	if before == empty || f.Stamp() == before {
		t.Error("a changed file leaves the stamp as it was")
	}
}
