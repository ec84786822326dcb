package rulebook

import (
	"fmt"
	"strings"

	"uvent/core/photo"
)

// Prose is a place for words on the directory.
type Prose struct {
	Text           string `yaml:"text"`  // which of a record's words fills it: tagline, short, medium, long, story
	Label          string `yaml:"label"` // as the directory calls it
	MostCharacters int    `yaml:"most_characters"`
}

// Areas is how a directory takes a service area.
type Areas struct {
	Most int `yaml:"most"` // towns; 0: it has no field for them
}

// Photos is what the directory does with photos of some groups.
type Photos struct {
	Groups           []string       `yaml:"groups"` // ours, in the order in which they are taken
	Label            string         `yaml:"label"`
	Most             int            `yaml:"most"`
	Crop             photo.Crop     `yaml:"crop"`
	Least            photo.Size     `yaml:"least"`
	Formats          []photo.Format `yaml:"formats"`
	MostKilobytes    int            `yaml:"most_kilobytes"`
	TinyWidth        int            `yaml:"tiny_width"` // pixels in which it is shown where there is little room; 0: nowhere
	CaptionMost      int            `yaml:"caption_most_characters"`
	AlternativesMost int            `yaml:"alternative_text_most_characters"`
}

func (r Rulebook) sayMore() (out []string) {
	for _, t := range r.Texts {
		out = append(out, fmt.Sprintf("%s, up to %d characters.", t.Label, t.MostCharacters))
	}
	if r.Areas.Most > 0 {
		out = append(out, fmt.Sprintf("A service area of up to %s.", count(r.Areas.Most, "town")))
	}
	for _, p := range r.Photos {
		s := fmt.Sprintf("%s: up to %d, cut to %d by %d pixels, from at least %d by %d", p.Label, p.Most, p.Crop.Width, p.Crop.Height, p.Least.Width, p.Least.Height)
		if p.Crop.Circle {
			s += ", shown in a circle"
		}
		formats := make([]string, len(p.Formats))
		for i, f := range p.Formats {
			formats[i] = strings.ToUpper(string(f))
		}
		out = append(out, s+"; "+strings.Join(formats, ", ")+fmt.Sprintf(" of up to %d KB.", p.MostKilobytes))
	}
	return out
}
