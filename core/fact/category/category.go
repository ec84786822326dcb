// Package category is our own list of what businesses are.
package category

import (
	_ "embed"
	"fmt"
	"slices"
	"strings"
)

//go:embed categories.txt
var text string

// Category is one kind of business.
type Category struct {
	ID    string   `json:"id"`
	Name  string   `json:"name"`
	Words []string `json:"words"` // other words that find it
	Group string   `json:"group"` // the id of the trade that it belongs to
}

var (
	groups = map[string]string{} // id to name
	all    = read(text)
	byID   = func() map[string]Category {
		m := map[string]Category{}
		for _, c := range all {
			m[c.ID] = c
		}
		return m
	}()
)

func read(text string) (out []Category) {
	group := ""
	for i, line := range strings.Split(text, "\n") {
		if line = strings.TrimSpace(line); line == "" || line[0] == '#' {
			continue
		}
		if heading, ok := strings.CutPrefix(line, "= "); ok {
			id, name, found := strings.Cut(heading, ": ")
			if !found {
				panic(fmt.Sprintf("categories.txt, line %d: want a group's id and name, got %q", i+1, line))
			}
			group, groups[id] = id, name
			continue
		}
		parts := strings.Split(line, ": ")
		if len(parts) != 3 || group == "" {
			panic(fmt.Sprintf("categories.txt, line %d: want id, name and words under a group, got %q", i+1, line))
		}
		out = append(out, Category{parts[0], parts[1], strings.Split(parts[2], ", "), group})
	}
	return out
}

// GroupName is a group's name for people.
func GroupName(id string) string { return groups[id] }

// All lists the categories in the order of the file. It must not be changed.
func All() []Category { return all }

// Name is a category's name for people, or the id itself when it is unknown.
func Name(id string) string {
	if c, ok := byID[id]; ok {
		return c.Name
	}
	return id
}

// Shared counts the words that two categories have in common, in their names and in
// the other words that find them.
func Shared(a, b Category) (n int) {
	for _, w := range inWords[a.ID] {
		if slices.Contains(inWords[b.ID], w) {
			n++
		}
	}
	return n
}

// inWords are the words of each category's name and of the others that find it, by id.
var inWords = func() map[string][]string {
	out := make(map[string][]string, len(all))
	for _, c := range all {
		for _, w := range strings.Fields(strings.ToLower(c.Name + " " + strings.Join(c.Words, " "))) {
			if len(w) > 2 {
				out[c.ID] = append(out[c.ID], w)
			}
		}
	}
	return out
}()

// Find is the category with this id or name, whatever its case.
func Find(s string) (Category, bool) {
	if c, ok := byID[s]; ok {
		return c, true
	}
	for _, c := range all {
		if strings.EqualFold(c.Name, strings.TrimSpace(s)) || strings.EqualFold(c.ID, strings.TrimSpace(s)) {
			return c, true
		}
	}
	return Category{}, false
}
