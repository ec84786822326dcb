package category

import (
	_ "embed"
	"fmt"
	"slices"
	"strings"
)

//go:embed attributes.txt
var attributesText string

// Attribute is something that a business says yes or no to, or does not say.
type Attribute struct {
	ID   string   `json:"id"`
	Name string   `json:"name"`
	For  []string `json:"for"`  // ids of groups or categories; "all"
	Asks string   `json:"asks"` // what a yes asks for in words: "an ordering link"; empty for nothing
}

var attributes = readAttributes(attributesText)

func readAttributes(text string) (out []Attribute) {
	for i, line := range strings.Split(text, "\n") {
		if line = strings.TrimSpace(line); line == "" || line[0] == '#' {
			continue
		}
		parts := strings.Split(line, ": ")
		if len(parts) < 3 || len(parts) > 4 {
			panic(fmt.Sprintf("attributes.txt, line %d: want id, name, for whom and what it asks for, got %q", i+1, line))
		}
		a := Attribute{ID: parts[0], Name: parts[1], For: strings.Fields(parts[2])}
		if len(parts) == 4 {
			a.Asks = parts[3]
		}
		for _, of := range a.For {
			if _, group := groups[of]; !group && byID[of].ID == "" && of != "all" {
				panic(fmt.Sprintf("attributes.txt, line %d: %q is neither a group nor a category", i+1, of))
			}
		}
		out = append(out, a)
	}
	return out
}

// AllAttributes lists them in the order of the file. It must not be changed.
func AllAttributes() []Attribute { return attributes }

// Attributes lists those that are offered to a business with any of these
// categories, in the order of the file.
func Attributes(categories ...string) []Attribute {
	var out []Attribute
	for _, a := range attributes {
		if slices.Contains(a.For, "all") || slices.ContainsFunc(categories, func(id string) bool {
			return slices.Contains(a.For, id) || slices.Contains(a.For, byID[id].Group)
		}) {
			out = append(out, a)
		}
	}
	return out
}

// FindAttribute is the attribute with this id or name, whatever its case.
func FindAttribute(s string) (Attribute, bool) {
	i := slices.IndexFunc(attributes, func(a Attribute) bool {
		return strings.EqualFold(a.ID, strings.TrimSpace(s)) || strings.EqualFold(a.Name, strings.TrimSpace(s))
	})
	if i < 0 {
		return Attribute{}, false
	}
	return attributes[i], true
}
