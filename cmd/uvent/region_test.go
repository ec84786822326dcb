package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"uvent/store/storetest"
)

func TestRegionsFromTheShell(t *testing.T) {
	t.Setenv("DATABASE_URL", storetest.URL(t))
	extracts := "../../core/fact/extract/testdata/"
	for _, c := range []struct{ file, want string }{
		{"reach.osm.pbf", "reach is in: 3 towns, 4 stretches of road.\nOf 1 of the towns"}, {"reach.osm", "already"},
	} {
		says, err := run(t, "", "region", "add", extracts+c.file)
		if err != nil {
			says = err.Error()
		}
		if !strings.Contains(says, c.want) {
			t.Errorf("%s: %s", c.file, says)
		}
	}
	if says, err := run(t, "", "region", "add", extracts+"reach.osm", "--name", "Another"); err != nil || !strings.HasPrefix(says, "Another is in") {
		t.Errorf("%s, %v", says, err)
	}
	none := filepath.Join(t.TempDir(), "none.osm")
	if err := os.WriteFile(none, []byte("Tuesday to Friday"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := run(t, "", "region", "add", none); err == nil || !strings.Contains(err.Error(), "no extract of OpenStreetMap") {
		t.Errorf("%v", err)
	}
	if _, err := run(t, "", "region", "drop", "ANOTHER"); err != nil {
		t.Error(err)
	}
	if _, err := run(t, "", "region", "drop", "another"); err == nil {
		t.Error("it is dropped twice")
	}
	if says, err := run(t, "", "region", "list"); err != nil || says != "reach\t3 towns\t4 stretches of road\tready\n" {
		t.Errorf("%q, %v", says, err)
	}
}
