// Package rulebooks holds the directories that ship, as data.
package rulebooks

import (
	"embed"
	"fmt"
	"io/fs"
	"slices"
	"strings"

	"uvent/core/rule/rulebook"
)

//go:embed *.yaml
var files embed.FS

// All reads the rulebooks that ship, heaviest first.
func All() ([]rulebook.Rulebook, error) {
	names, err := fs.Glob(files, "*.yaml")
	if err != nil {
		return nil, err
	}
	var out []rulebook.Rulebook
	for _, name := range names {
		r, err := Read(strings.TrimSuffix(name, ".yaml"))
		if err != nil {
			return nil, err
		}
		if slices.ContainsFunc(out, func(o rulebook.Rulebook) bool { return o.ID == r.ID }) {
			return nil, fmt.Errorf("%s: the id %q is another rulebook's already", name, r.ID)
		}
		out = append(out, r)
	}
	slices.SortFunc(out, func(a, b rulebook.Rulebook) int { return b.Weight - a.Weight })
	return out, nil
}

// Read reads one rulebook that ships, by the name of its file.
func Read(name string) (rulebook.Rulebook, error) {
	name += ".yaml"
	data, err := files.ReadFile(name)
	if err != nil {
		return rulebook.Rulebook{}, err
	}
	r, problems := rulebook.Parse(name, data)
	if problems != nil {
		return rulebook.Rulebook{}, problems[0]
	}
	return r, nil
}
