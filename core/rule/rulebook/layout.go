package rulebook

import (
	"fmt"
	"slices"
	"strings"
)

// Layout is how a directory's public page is laid out, as far as it takes to show what the public would see.
type Layout struct {
	Style  Style      `yaml:"style"`
	Bands  [][]string `yaml:"bands"` // from the top: of each its columns, of each its Pieces from the top, with spaces between
	Row    []string   `yaml:"row"`   // the columns of its entry in a list of results; empty: it stands in none
	Unseen []Unseen   `yaml:"unseen"`
}

// Style is a plain look for a page.
type Style string

// Styles are all of them: hairlines between bands; a box around each piece; all in one column in the middle; the
// first band dark; labels in a margin of their own.
var Styles = []Style{"ruled", "boxed", "centred", "slab", "margin"}

// Unseen are fields that are given and that nobody sees.
type Unseen struct {
	Fields []string `yaml:"fields"`
	Says   string   `yaml:"says"` // why, in words
}

// Piece is a part of a page, of some fields.
type Piece struct {
	ID string
	Of []string // its fields; one that ends in a point stands for all that begin so
}

// Pieces are all parts that a layout can place, with the fields that each shows. What no piece of a layout
// shows stands among the facts.
var Pieces = []Piece{
	{"title", []string{"name"}},
	{"kind", []string{"category"}},
	{"line", []string{"text.tagline", "text.short"}},
	{"cover", []string{"photos.cover", "photos.exterior"}},
	{"logo", []string{"photos.logo"}},
	{"gallery", []string{"photos."}},
	{"words", []string{"text.", "specialities", "keywords"}},
	{"hours", []string{"hours"}},
	{"dates", []string{"special_dates"}},
	{"map", []string{"pin"}},
	{"way", []string{"address", "directions", "parking", "areas"}},
	{"reach", []string{"phone", "other_phones", "email"}},
	{"links", []string{"website", "booking", "ordering", "quote", "menu", "gift_card", "app", "socials", "videos"}},
	{"button", []string{"button"}},
	{"offerings", []string{"offerings", "payments"}},
	{"attributes", []string{"attributes"}},
	{"team", []string{"team"}},
	{"facts", []string{}},
	{"posts", []string{}},
}

// Shows is the piece that shows a field: one that names it before one that shows all of its sort.
func (l Layout) Shows(key string) string {
	placed := l.Placed()
	for _, holds := range []func(of string) bool{
		func(of string) bool { return key == of },
		func(of string) bool { return strings.HasSuffix(of, ".") && strings.HasPrefix(key, of) },
	} {
		for _, id := range placed {
			if p, _ := FindPiece(id); slices.ContainsFunc(p.Of, holds) {
				return id
			}
		}
	}
	return "facts"
}

// FindPiece is the piece with an id.
func FindPiece(id string) (Piece, bool) {
	i := slices.IndexFunc(Pieces, func(p Piece) bool { return p.ID == id })
	if i < 0 {
		return Piece{}, false
	}
	return Pieces[i], true
}

// plain is the layout of a directory that tells none.
var plain = Layout{
	Style: "ruled",
	Bands: [][]string{{"title kind line"}, {"cover"}, {"reach way links facts", "hours dates"}, {"words"}, {"offerings", "attributes"}, {"gallery"}},
	Row:   []string{"title kind", "hours"},
}

// Laid is how its pages are laid out.
func (r Rulebook) Laid() Layout {
	if r.Layout.Bands == nil {
		return plain
	}
	return r.Layout
}

// Placed are the pieces of a layout, in the order in which one reads them.
func (l Layout) Placed() (out []string) {
	for _, band := range l.Bands {
		for _, column := range band {
			out = append(out, strings.Fields(column)...)
		}
	}
	return out
}

func (c *checker) layout(r Rulebook) {
	l := r.Layout
	placed := l.Placed()
	known := func(path, columns string) {
		for _, id := range strings.Fields(columns) {
			if _, ok := FindPiece(id); !ok {
				c.add(path, "there is no piece %q; there are %s", id, strings.Join(pieceIDs(), ", "))
			}
		}
	}
	for i, band := range l.Bands {
		for n, column := range band {
			known(fmt.Sprintf("layout.bands.%d.%d", i, n), column)
		}
	}
	for i, column := range l.Row {
		known(fmt.Sprintf("layout.row.%d", i), column)
	}
	for i, id := range placed {
		if slices.Index(placed, id) < i {
			c.add("layout.bands", "%q stands twice; a piece stands in one place", id)
		}
	}
	if l.Bands != nil && !slices.Contains(placed, "facts") {
		c.add("layout.bands", "place facts somewhere; what no other piece shows stands there")
	}
	for i, u := range l.Unseen {
		c.fields(fmt.Sprintf("layout.unseen.%d.fields", i), u.Fields, r)
	}
}

func pieceIDs() (out []string) {
	for _, p := range Pieces {
		out = append(out, p.ID)
	}
	return out
}
