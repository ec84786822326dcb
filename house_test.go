// Package uvent checks the house: which folder may import which.
package uvent

import (
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path"
	"regexp"
	"strconv"
	"strings"
	"testing"
)

// outwards is what leads out of the core.
var outwards = []string{"net/http", "os", "database/sql", "io/fs", "log", "github.com/jackc", "github.com/gin-gonic", "github.com/riverqueue"}

// house says what the code of a folder may import: of ours, and what it must
// not of others. Tests may import more, so that they can use the rig.
type house struct {
	folder string
	ours   []string // folders, with all that is below them
	never  []string // packages of others, with all that is below them
}

var rooms = []house{
	{"core/fact", []string{"core/fact"}, outwards},
	{"core/record", []string{"core/fact", "core/record"}, outwards},
	{"core/rule", []string{"core/fact", "core/record", "core/rule"}, outwards},
	{"core/listing", []string{"core/fact", "core/record", "core/rule", "core/listing"}, outwards},
	{"core/reckon", []string{"core"}, outwards},
	{"sealing", nil, []string{"net/http", "github.com/jackc", "github.com/gin-gonic"}},
	{"bounded", nil, []string{"net/http", "github.com/jackc", "github.com/gin-gonic"}},
	{"rulebooks", []string{"core/rule/rulebook"}, []string{"net/http", "os"}},
	{"store", []string{"core", "store"}, []string{"net/http", "github.com/gin-gonic"}},
	{"docs/examples", nil, []string{"github.com/jackc", "github.com/gin-gonic"}},
	{"docs", nil, []string{"net/http", "os", "github.com/jackc", "github.com/gin-gonic"}},
	{"reach", []string{"core", "docs"}, []string{"os", "github.com/jackc", "github.com/gin-gonic"}},
	{"conformance", []string{"reach"}, []string{"os", "github.com/jackc", "github.com/gin-gonic"}},
	{"outside/visit", nil, []string{"os", "github.com/jackc"}},
	{"outside", []string{"core/fact/calendar", "core/fact/hours"}, []string{"github.com/gin-gonic", "github.com/riverqueue"}},
	{"httpapi", []string{"core", "desk", "httpapi"}, []string{"os", "database/sql", "github.com/jackc", "github.com/riverqueue"}},
	{"metrics", []string{"store"}, []string{"os", "github.com/gin-gonic"}},
	{"web", nil, []string{"net/http"}},
	{"demo/paint", nil, []string{"net/http", "os"}},
	{"demo", []string{"core", "desk", "demo", "outside/visit"}, []string{"net/http", "os", "github.com/jackc"}},
}

// desk are the rooms of desk/, in order: each imports only those before it.
var desk = []string{
	"problem",
	"once",
	"shelf",
	"people",
	"doors",
	"ledger",
	"letters",
	"files",
	"records",
	"imports",
	"sightings",
	"listings",
	"owners",
	"matters",
	"rounds",
	"boards",
	"clockwork",
}

func TestNoArrowRunsTheWrongWay(t *testing.T) {
	rooms, before := rooms, []string{"core", "store", "reach", "bounded", "sealing"}
	for _, room := range desk {
		rooms = append(rooms, house{"desk/" + room, before, []string{"net/http", "os", "github.com/gin-gonic"}})
		before = append(before[:len(before):len(before)], "desk/"+room)
	}
	seen := map[string]bool{}
	err := fs.WalkDir(os.DirFS("."), ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() && (d.Name() == "node_modules" || strings.HasPrefix(d.Name(), ".") && name != ".") {
			if err == nil {
				err = fs.SkipDir
			}
			return err
		}
		folder := path.Dir(name)
		if !strings.HasSuffix(name, ".go") || strings.HasSuffix(name, "_test.go") || folder == "." || strings.Contains(folder, "storetest") {
			return nil
		}
		f, err := parser.ParseFile(token.NewFileSet(), name, nil, parser.ImportsOnly)
		if err != nil {
			return err
		}
		if folder == "desk" {
			t.Errorf("%s is in no room", name)
		}
		for _, room := range rooms {
			if !within(folder, room.folder) {
				continue
			}
			seen[room.folder] = true
			for _, i := range f.Imports {
				of, _ := strconv.Unquote(i.Path.Value)
				if ours, ok := strings.CutPrefix(of, "uvent/"); ok && !anyWithin(ours, room.ours) {
					t.Errorf("%s imports %s", name, of)
				}
				if anyWithin(of, room.never) {
					t.Errorf("%s imports %s", name, of)
				}
			}
			break
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	for _, room := range rooms {
		if !seen[room.folder] {
			t.Errorf("there is no code in %s", room.folder)
		}
	}
}

func within(folder, above string) bool {
	return folder == above || strings.HasPrefix(folder, above+"/")
}

func anyWithin(folder string, above []string) bool {
	for _, a := range above {
		if within(folder, a) {
			return true
		}
	}
	return false
}

// A rule of a directory is data, and time is an argument: the core names no
// directory and reads no clock.
func TestTheCoreNamesNoDirectoryAndReadsNoClock(t *testing.T) {
	names, err := fs.Glob(os.DirFS("rulebooks"), "*.yaml")
	if err != nil || len(names) == 0 {
		t.Fatalf("rulebooks: %v, %v", names, err)
	}
	pattern := `time\.(Now|Since|Until|After|Tick|Sleep)\(`
	for _, n := range names {
		pattern += "|(?i)" + regexp.QuoteMeta(strings.TrimSuffix(n, ".yaml"))
	}
	bad := regexp.MustCompile(pattern)
	for _, room := range []string{"core", "desk", "reach", "store", "httpapi", "web/src"} {
		err := fs.WalkDir(os.DirFS("."), room, func(name string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || strings.HasSuffix(name, "_test.go") ||
				!strings.HasSuffix(name, ".go") && !strings.HasSuffix(name, ".ts") && !strings.HasSuffix(name, ".tsx") {
				return err
			}
			text, err := os.ReadFile(name)
			if err != nil {
				return err
			}
			for i, line := range strings.Split(string(text), "\n") {
				found := bad.FindString(line)
				if found != "" && (room == "core" || !strings.HasPrefix(found, "time.")) {
					t.Errorf("%s:%d: %s", name, i+1, strings.TrimSpace(line))
				}
			}
			return nil
		})
		if err != nil {
			t.Fatal(err)
		}
	}
}
