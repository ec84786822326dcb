package rulebook

import (
	"maps"
	"slices"

	"uvent/core/fact/category"
	"uvent/core/fact/photo"
)

// Fact is what the directory does with one fact.
type Fact struct {
	Fact           string `yaml:"fact"`  // the ID of one of Keys
	Label          string `yaml:"label"` // as its form calls it; empty: as we do
	Required       bool   `yaml:"required"`
	Weight         int    `yaml:"weight"`          // how much it counts for a complete listing; 0: 1
	MostCharacters int    `yaml:"most_characters"` // of it, or of each of a list; 0 for no limit
	Most           int    `yaml:"most"`            // of a list; 0 for no limit
	Show           string `yaml:"show"`            // the switch without which nobody sees it; empty for none
	Note           string `yaml:"note"`
}

// Takes finds the rule on a fact; false when the directory does not take it.
func (r Rulebook) Takes(fact string) (Fact, bool) {
	i := slices.IndexFunc(r.Facts, func(f Fact) bool { return f.Fact == fact })
	if i < 0 {
		return Fact{}, false
	}
	return r.Facts[i], true
}

// Title is what the directory's form calls the fact.
func (f Fact) Title() string {
	if f.Label != "" {
		return f.Label
	}
	k, _ := FindKey(f.Fact)
	return k.Title
}

// Counts is how much the fact counts for a complete listing.
func (f Fact) Counts() int { return max(1, f.Weight) }

// Prose is a place for words on the directory.
type Prose struct {
	Text           string `yaml:"text"`  // which of a record's words fills it: tagline, short, medium, long, story
	Label          string `yaml:"label"` // as the directory calls it
	Required       bool   `yaml:"required"`
	Weight         int    `yaml:"weight"` // 0: 1
	MostCharacters int    `yaml:"most_characters"`
	Note           string `yaml:"note"`
}

// Key is the place's field.
func (p Prose) Key() string { return "text." + p.Text }

// Counts is how much the words count for a complete listing.
func (p Prose) Counts() int { return max(1, p.Weight) }

// Areas is how a directory takes a service area.
type Areas struct {
	Most   int    `yaml:"most"` // towns; 0: it has no field for them
	Label  string `yaml:"label"`
	Weight int    `yaml:"weight"` // 0: 1
}

// Title is what the directory's form calls the field.
func (a Areas) Title() string {
	if a.Label != "" {
		return a.Label
	}
	return "Service area"
}

// Counts is how much an area counts for a complete listing.
func (a Areas) Counts() int { return max(1, a.Weight) }

// Photos is what the directory does with photos of some groups.
type Photos struct {
	Groups           []string       `yaml:"groups"` // ours, in the order in which they are taken
	Label            string         `yaml:"label"`
	Required         bool           `yaml:"required"`
	Weight           int            `yaml:"weight"` // 0: 1
	Most             int            `yaml:"most"`
	Crop             photo.Crop     `yaml:"crop"`
	Least            photo.Size     `yaml:"least"`
	Formats          []photo.Format `yaml:"formats"`
	MostKilobytes    int            `yaml:"most_kilobytes"`
	TinyWidth        int            `yaml:"tiny_width"` // pixels in which it is shown where there is little room; 0: nowhere
	CaptionMost      int            `yaml:"caption_most_characters"`
	AlternativesMost int            `yaml:"alternative_text_most_characters"`
	Tag              string         `yaml:"tag"`  // what it must be marked as there to count; empty for nothing
	With             string         `yaml:"with"` // the label of photos that must come in the same go; empty for none
	Note             string         `yaml:"note"`
}

// Key is the photos' field.
func (p Photos) Key() string { return "photos." + p.Groups[0] }

// Format is how the photos are given: as JPEG wherever that is taken.
func (p Photos) Format() photo.Format {
	if slices.Contains(p.Formats, photo.JPEG) || len(p.Formats) == 0 {
		return photo.JPEG
	}
	return p.Formats[0]
}

// Counts is how much the photos count for a complete listing.
func (p Photos) Counts() int { return max(1, p.Weight) }

// Hours is what opening hours the directory can express.
type Hours struct {
	SittingsPerDay int    `yaml:"sittings_per_day"`
	PastMidnight   bool   `yaml:"past_midnight"`
	FreeText       bool   `yaml:"free_text"`  // written in words, so that all can be said
	AgreeWith      string `yaml:"agree_with"` // the id of a directory whose hours must be the same; empty for none
}

// Categories maps our categories to the directory's own.
type Categories struct {
	Most      int               `yaml:"most"` // the main one and others together
	StaffOnly bool              `yaml:"staff_only"`
	Map       map[string]string `yaml:"map"`   // our id to their name
	Other     string            `yaml:"other"` // theirs for what has no better; empty for none

	settled map[string]CategoryFit // by our id, once the rulebook has been read
}

// Theirs are the directory's own categories, by name.
func (c Categories) Theirs() []string {
	out := slices.Collect(maps.Values(c.Map))
	if c.Other != "" {
		out = append(out, c.Other)
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// CategoryFit is what one of our categories becomes on a directory.
type CategoryFit struct {
	Theirs   string   // empty: they have nothing near
	Ours     string   // which of ours it stands for; another than asked for where it is a substitute
	Exact    bool     // theirs means ours
	UsedBy   []string // names of our other categories that they list under it
	Fallback bool     // it is theirs for all that has no better
}

// Category finds a directory's category for one of ours: its own, else the nearest
// that it has of the same trade (the one that shares most words, the first in our
// list among equals), else its catch-all.
func (c Categories) Category(id string) CategoryFit {
	if f, ok := c.settled[id]; ok {
		return f
	}
	f := CategoryFit{Theirs: c.Map[id], Ours: id, Exact: true}
	if f.Theirs == "" {
		ours, _ := category.Find(id)
		f.Exact = false
		best := 0
		for _, o := range category.All() {
			if c.Map[o.ID] == "" || o.Group != ours.Group || ours.ID == "" {
				continue
			}
			if near := 1 + category.Shared(ours, o); near > best {
				best, f.Ours, f.Theirs = near, o.ID, c.Map[o.ID]
			}
		}
		if f.Theirs == "" && ours.ID != "" {
			f.Theirs, f.Fallback = c.Other, true
		}
	}
	if f.Theirs == "" {
		return CategoryFit{}
	}
	for _, o := range category.All() {
		if o.ID != id && c.Map[o.ID] == f.Theirs {
			f.UsedBy = append(f.UsedBy, o.Name)
		}
	}
	return f
}

// settle finds the category for all of ours, so that it need not be looked for again.
func (c *Categories) settle() {
	settled := make(map[string]CategoryFit, len(category.All()))
	for _, o := range category.All() {
		settled[o.ID] = c.Category(o.ID)
	}
	c.settled = settled
}

// Attributes maps what a business says yes or no to to the directory's own words.
type Attributes struct {
	Map map[string]string `yaml:"map"` // our id to their label
}
