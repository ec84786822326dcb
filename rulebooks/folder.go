package rulebooks

import (
	"fmt"
	"io/fs"
	"strings"

	"uvent/core/rule/rulebook"
)

// Folder is a folder in which every .yaml file is a rulebook.
type Folder struct{ fs.FS }

func (f Folder) files() []string {
	names, err := fs.Glob(f, "*.yaml")
	if err != nil {
		return nil // the pattern is good; nothing else is an error
	}
	return names
}

// Stamp tells one state of the folder from another: by names, sizes and times of change.
func (f Folder) Stamp() string {
	var b strings.Builder
	for _, name := range f.files() {
		if info, err := fs.Stat(f, name); err == nil {
			fmt.Fprintln(&b, name, info.Size(), info.ModTime().UnixNano())
		}
	}
	return b.String()
}

// Read reads the folder's rulebooks, and what is wrong with those that have mistakes.
func (f Folder) Read() (books []rulebook.Rulebook, bad []string) {
	for _, name := range f.files() {
		data, err := fs.ReadFile(f, name)
		if err != nil {
			bad = append(bad, err.Error())
			continue
		}
		b, problems := rulebook.Parse(name, data)
		if problems != nil {
			bad = append(bad, problems[0].Error())
			continue
		}
		books = append(books, b)
	}
	return books, bad
}
