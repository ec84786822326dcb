package uvent

import (
	"io/fs"
	"os"
	"path"
	"regexp"
	"slices"
	"strings"
	"testing"
)

var (
	hotkeys  = regexp.MustCompile(`useHotkeys\(\s*'([^']+)'`)
	activity = regexp.MustCompile(`(?m)^  \{ id: '[^']+', title: '[^']+', key: '([^']+)' \}`)
	listened = regexp.MustCompile(`window\.addEventListener\('keydown', \w+(, true)?\)`)
	compared = regexp.MustCompile(`e\.key [!=]== '([^']+)'`)
	mapped   = regexp.MustCompile(`(?m)^        (\w+): \(\) =>`)
	imported = regexp.MustCompile(`(?m) from '(\.[^']+)'$`)
	helped   = regexp.MustCompile(`(?m)^  \[\[([^\]]*'[^\n]*)\], '`)
)

// bound are the keys that a file binds, each as often as it does, and whether it takes them before
// anything else does.
func bound(text string) (keys []string, first bool) {
	for _, call := range hotkeys.FindAllStringSubmatch(text, -1) {
		keys = append(keys, strings.Split(call[1], ",")...)
	}
	for _, m := range activity.FindAllStringSubmatch(text, -1) {
		keys = append(keys, m[1])
	}
	if l := listened.FindStringSubmatch(text); l != nil {
		first = l[1] != ""
		for _, m := range append(compared.FindAllStringSubmatch(text, -1), mapped.FindAllStringSubmatch(text, -1)...) {
			keys = append(keys, m[1])
		}
	}
	return keys, first
}

// A key does one thing in a view: what works everywhere is bound once, no view binds it again unless
// it takes it first, and the list of keys tells of each.
func TestNoKeyIsBoundTwice(t *testing.T) {
	everywhere := map[string]string{}
	views := map[string][]string{}
	src := os.DirFS("web/src")
	err := fs.WalkDir(src, ".", func(path string, _ fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".ts") && !strings.HasSuffix(path, ".tsx") {
			return err
		}
		text, err := fs.ReadFile(src, path)
		keys, first := bound(string(text))
		own := map[string]bool{}
		for _, key := range keys {
			switch {
			case own[key]:
				t.Errorf("%s binds %s twice", path, key)
			case strings.HasPrefix(path, "app/") && everywhere[key] != "":
				t.Errorf("%s binds %s, and so does %s", path, key, everywhere[key])
			case strings.HasPrefix(path, "app/"):
				everywhere[key] = path
			case !first:
				folder, _, _ := strings.Cut(path, "/")
				views[key] = append(views[key], folder+" in "+path)
			}
			own[key] = true
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	for key, paths := range views {
		folders := map[string]bool{} // what stands in the kit stands in every view
		for _, p := range paths {
			folder, _, _ := strings.Cut(p, " ")
			if everywhere[key] != "" || folders[folder] || folders["kit"] || folder == "kit" && len(folders) > 0 {
				t.Errorf("%s is bound by %s", key, strings.Join(append(paths, everywhere[key]), ", "))
			}
			folders[folder] = true
		}
	}
	if len(everywhere) < 12 || len(views) < 2 {
		t.Fatalf("bindings are not found: %v, %v", everywhere, views)
	}
	text, err := os.ReadFile("web/src/app/keys.tsx")
	if err != nil {
		t.Fatal(err)
	}
	help := "activities"
	for _, line := range helped.FindAllStringSubmatch(string(text), -1) {
		help += " " + line[1]
	}
	for key, path := range everywhere {
		if !strings.Contains(help, "'"+key+"'") && path != "app/place.ts" && key != "shift+?" {
			t.Errorf("%s, bound by %s, is not in the list of keys", key, path)
		}
	}
	for key := range views {
		if named := map[string]string{"space": "Space", "shift+space": "Space", "escape": "esc"}[key]; named != "" {
			key = named
		}
		if !strings.Contains(help, "'"+key+"'") {
			t.Errorf("%s is not in the list of keys", key)
		}
	}
}

// No file of the front end needs itself, by whatever way round.
func TestTheFrontEndHasNoCircles(t *testing.T) {
	src := os.DirFS("web/src")
	files, err := fs.Glob(src, "*/*.ts*")
	if err != nil {
		t.Fatal(err)
	}
	deep, err := fs.Glob(src, "*/*/*.ts*")
	if err != nil {
		t.Fatal(err)
	}
	needs := map[string][]string{}
	for _, file := range append(files, deep...) {
		text, err := fs.ReadFile(src, file)
		if err != nil {
			t.Fatal(err)
		}
		name := strings.TrimSuffix(file, path.Ext(file))
		for _, m := range imported.FindAllStringSubmatch(string(text), -1) {
			needs[name] = append(needs[name], path.Join(path.Dir(file), m[1]))
		}
	}
	if len(needs) < 50 {
		t.Fatalf("only %d files import something", len(needs))
	}
	done := map[string]bool{}
	var walk func(file string, way []string)
	walk = func(file string, way []string) {
		if i := slices.Index(way, file); i >= 0 {
			t.Errorf("a circle: %s", strings.Join(append(way[i:], file), " → "))
			return
		}
		if done[file] {
			return
		}
		done[file] = true
		for _, to := range needs[file] {
			walk(to, append(slices.Clone(way), file))
		}
	}
	for file := range needs {
		walk(file, nil)
	}
}
