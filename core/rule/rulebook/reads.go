package rulebook

import (
	"fmt"
	"slices"

	"github.com/andybalholm/cascadia"
)

// Read is where a fact stands on a directory's public pages.
type Read struct {
	Fact      string            `yaml:"fact"`      // one of Fields, or of Besides
	At        string            `yaml:"at"`        // the elements that say it: CSS selectors (https://www.w3.org/TR/selectors-3/)
	Attribute string            `yaml:"attribute"` // in which attribute of them; empty: in their text
	Parts     string            `yaml:"parts"`     // what stands between the parts of a list in one text
	Means     map[string]string `yaml:"means"`     // values as we write them, by how it writes them
}

// Besides are what a page may show that no form asks for.
var Besides = []string{"photos", "reviews", "state", "other_categories"}

// ReadsFact reports whether the rulebook says where a fact stands.
func (r Rulebook) ReadsFact(key string) bool {
	return slices.ContainsFunc(r.Reads, func(o Read) bool { return o.Fact == key })
}

func (c *checker) reads(r Rulebook) {
	for i, o := range r.Reads {
		path := fmt.Sprintf("reads.%d", i)
		if !slices.Contains(Besides, o.Fact) {
			c.fields(path+".fact", []string{o.Fact}, r)
		}
		if slices.IndexFunc(r.Reads, func(p Read) bool { return p.Fact == o.Fact }) < i {
			c.add(path+".fact", "%q stands twice; say all of it in one place, with selectors parted by commas", o.Fact)
		}
		if _, err := cascadia.ParseGroup(o.At); err != nil {
			c.add(path+".at", "%q is no selector of elements: %v; write it as in a style sheet, such as dl.facts dd.phone", o.At, err)
		}
	}
}
