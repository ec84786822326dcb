package rulebook

import (
	"slices"
	"strings"

	"uvent/core/record/link"
	"uvent/core/record/record"
)

// PageAddress is the public page's address where it is made from the name.
type PageAddress struct {
	Begins         string `yaml:"begins"` // what stands before the name: pierbook.example/shops/
	MostCharacters int    `yaml:"most_characters"`
	Note           string `yaml:"note"`
}

// Propose makes names for a location's page, the best first: its name, its name with
// the town, with the street, and with its own code; those that fit whole before those
// that are cut between words.
func (p PageAddress) Propose(r record.Record) []string {
	var whole, cut []string
	for _, parts := range [][]string{{r.Name}, {r.Name, r.Address.Locality}, {r.Name, r.Label}, {r.Name, r.Address.Street}, {r.Name, r.StoreCode},
		{firstWord(r.Name), r.Address.Locality}} {
		full := link.Slug(strings.Join(parts, " "))
		switch name := p.fit(full); {
		case name == "" || slices.Contains(whole, name) || slices.Contains(cut, name):
		case name == full:
			whole = append(whole, name)
		default:
			cut = append(cut, name)
		}
	}
	return append(whole, cut...)
}

func firstWord(name string) string {
	words := strings.Fields(name)
	if len(words) == 0 {
		return ""
	}
	return words[0]
}

// fit cuts a name between its words where it is too long.
func (p PageAddress) fit(name string) string {
	for p.MostCharacters > 0 && len(name) > p.MostCharacters {
		cut := strings.LastIndexByte(name, '-')
		if cut < 0 {
			return ""
		}
		name = name[:cut]
	}
	return name
}
