// Package page lays out what the public would see of a location on a directory, and what it sees there now, as the
// directory's rulebook says that its pages are laid out.
package page

import (
	"slices"
	"strings"
	"uvent/core/record/sighting"

	"uvent/core/fact/hours"
	"uvent/core/record/link"
	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// Page is a public page.
type Page struct {
	Style rulebook.Style `json:"style"`
	Bands [][][]Piece    `json:"bands"` // from the top: of each its columns, of each its pieces
	Row   [][]Piece      `json:"row"`   // the columns of its entry in a list of results; none where it stands in none
}

// Piece is a part of a page.
type Piece struct {
	ID     string  `json:"id"` // of one of rulebook.Pieces
	Lines  []Line  `json:"lines"`
	Photos []Photo `json:"photos"`
	Lacks  string  `json:"lacks"` // why nothing stands there, in words, where something should
}

// Line is something that a page says.
type Line struct {
	Key   string       `json:"key"` // the field
	Label string       `json:"label"`
	Text  string       `json:"text"`
	Mark  compare.Mark `json:"mark"` // how what it would say compares with what it says; empty where that is not known
}

// Photo is a photo in the shape in which it is shown.
type Photo struct {
	ID          string `json:"id"`
	Alternative string `json:"alternative"`
	Width       int    `json:"width"`  // of the shape, in pixels
	Height      int    `json:"height"` // of the shape, in pixels
	Circle      bool   `json:"circle"` // only what lies in the circle inside is seen
	Tiny        int    `json:"tiny"`   // pixels in which it is shown in a list of results; 0: nowhere
	Window      Window `json:"window"`
}

// Window is the part of a photo that is seen: from its top left, in parts of its width and height.
type Window struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
	W float64 `json:"w"`
	H float64 `json:"h"`
}

// Unseen is something that a directory is given and the public does not see.
type Unseen struct {
	Label string `json:"label"`
	Says  string `json:"says"` // why
}

// Would is the page as it would be, with what of it the public would not see. Seen is what the page shows now, to be
// held beside it; nil where that is not known.
func Would(s *fit.Subject, f fit.Fit, book *rulebook.Rulebook, seen *sighting.Sighting) (Page, []Unseen) {
	w := writer{book: book, subject: s, marks: marks(s, book, seen), pieces: map[string]*Piece{}, unseen: []Unseen{}}
	values := f.Values()
	for _, v := range values {
		w.value(v)
	}
	for _, i := range f.Items {
		w.lacking(i)
	}
	if p, placed := w.placed("posts"); placed {
		p.Lacks = "What is posted stands here."
	}
	return w.page(), w.unseen
}

// Is is the page as it was seen last. A page is read for some facts only; pieces of others are left out.
func Is(s *fit.Subject, book *rulebook.Rulebook, seen sighting.Sighting) Page {
	w := writer{book: book, subject: s, pieces: map[string]*Piece{}}
	for _, l := range compare.Facts(s.On(book.ID).Record, *book, &seen, s.Today) {
		if l.Seen == "" {
			if l.Mark == compare.Missing {
				w.add(l.Fact, Line{Key: l.Fact, Label: w.label(l.Fact, l.Title), Mark: l.Mark})
			}
			continue
		}
		seen := l.Seen
		if slices.Contains(fit.Links, l.Fact) {
			seen = link.Bare(seen)
		}
		for _, text := range lines(l.Fact, seen) {
			w.add(l.Fact, Line{Key: l.Fact, Label: w.label(l.Fact, l.Title), Text: text, Mark: l.Mark})
		}
	}
	return w.page()
}

// marks are how what a page would say compares with what it was seen to say, by field.
func marks(s *fit.Subject, book *rulebook.Rulebook, seen *sighting.Sighting) map[string]compare.Mark {
	out := map[string]compare.Mark{}
	if seen == nil {
		return out
	}
	for _, l := range compare.Facts(s.On(book.ID).Record, *book, seen, s.Today) {
		out[l.Fact] = l.Mark
	}
	return out
}

// writer puts fields into pieces.
type writer struct {
	book    *rulebook.Rulebook
	subject *fit.Subject
	marks   map[string]compare.Mark
	pieces  map[string]*Piece
	unseen  []Unseen
}

func (w *writer) label(key, otherwise string) string {
	if rule, taken := w.book.Takes(key); taken {
		return rule.Title()
	}
	return otherwise
}

// piece is the one that shows a field.
func (w *writer) piece(key string) *Piece {
	p, _ := w.placed(w.book.Laid().Shows(key))
	return p
}

// placed is a piece that the layout places, by its id.
func (w *writer) placed(id string) (*Piece, bool) {
	if !slices.Contains(w.book.Laid().Placed(), id) {
		return nil, false
	}
	if w.pieces[id] == nil {
		w.pieces[id] = &Piece{ID: id, Lines: []Line{}, Photos: []Photo{}}
	}
	return w.pieces[id], true
}

func (w *writer) add(key string, l Line) {
	p := w.piece(key)
	p.Lines = append(p.Lines, l)
}

func (w *writer) hide(label, says string) { w.unseen = append(w.unseen, Unseen{label, says}) }

// value puts what is given where the public sees it, or says why it does not.
func (w *writer) value(v fit.Value) {
	for _, u := range w.book.Laid().Unseen {
		if slices.Contains(u.Fields, v.Key) {
			w.hide(v.Label, u.Says)
			return
		}
	}
	if strings.HasPrefix(v.Key, "photos.") {
		w.photos(v)
		return
	}
	if v.Tick != "" {
		w.hide(v.Label, "seen only once “"+v.Tick+"” is ticked")
	}
	text := v.Text
	switch {
	case v.Key == "address":
		text = w.address(v)
	case v.Key == "hours":
		text = w.hours(v)
	case v.Key == "pin" && !w.book.ShowsStreet(w.subject.Record):
		w.hide(v.Label, "given, and not shown: nobody is to come there")
		return
	case slices.Contains(fit.Links, v.Key):
		text = link.Bare(v.Text)
	}
	for _, t := range lines(v.Key, text) {
		if v.Key == "socials" {
			t = link.Bare(t)
		}
		w.add(v.Key, Line{v.Key, v.Label, t, w.marks[v.Key]})
	}
}

// hours are the usual week, where special dates have a place of their own.
func (w *writer) hours(v fit.Value) string {
	text, _ := v.Data["hours"].(string)
	schedule, _, err := hours.Parse(text)
	if _, dated := w.book.Takes("special_dates"); err != nil || !dated {
		return v.Text
	}
	return schedule.Usual().Words()
}

// address is what of an address is shown.
func (w *writer) address(v fit.Value) string {
	if w.book.ShowsStreet(w.subject.Record) {
		return v.Text
	}
	a := w.subject.Record.Address
	if w.book.GivesStreet(w.subject.Record) && a.Street != "" {
		w.hide("The street", "given, and not shown")
	}
	a.Street, a.Unit, a.PostalCode = "", "", ""
	return a.Line() + " and around"
}

// lines are how a value is read on a page: what is listed stands line by line.
func lines(key, text string) []string {
	switch key {
	case "hours":
		return strings.Split(text, "; ")
	case "special_dates", "attributes", "offerings", "socials", "other_phones", "team", "licence", "videos":
		return strings.Split(text, "\n")
	}
	return []string{text}
}

func (w *writer) photos(v fit.Value) {
	rule := w.book.Photos[slices.IndexFunc(w.book.Photos, func(p rulebook.Photos) bool { return p.Key() == v.Key })]
	p := w.piece(v.Key)
	places, _ := v.Data["photos"].(map[string]any)
	list, _ := places[rule.Groups[0]].([]any)
	for _, one := range list {
		id, _ := one.(map[string]any)["id"].(string)
		i := slices.IndexFunc(w.subject.Photos, func(p fit.Photo) bool { return p.ID == id })
		if i < 0 {
			continue
		}
		of := w.subject.Photos[i]
		shown := Photo{ID: id, Alternative: of.Alternative, Width: rule.Crop.Width, Height: rule.Crop.Height, Circle: rule.Crop.Circle, Tiny: rule.TinyWidth}
		cut, width, height := rule.Crop.Window(of.Size, of.Focus), float64(of.Size.Width), float64(of.Size.Height)
		shown.Window = Window{float64(cut.Min.X) / width, float64(cut.Min.Y) / height, float64(cut.Dx()) / width, float64(cut.Dy()) / height}
		p.Photos = append(p.Photos, shown)
	}
}

// lacking says why a piece that should be there has nothing in it.
func (w *writer) lacking(i fit.Item) {
	if i.State != fit.Missing && i.State != fit.Broken || !i.Required && i.Key != "name" {
		return
	}
	if p := w.piece(i.Key); p.Lacks == "" {
		p.Lacks = i.Says
	}
}

func (w *writer) page() Page {
	l := w.book.Laid()
	out := Page{Style: l.Style, Bands: [][][]Piece{}, Row: [][]Piece{}}
	for _, band := range l.Bands {
		if columns := w.columns(band); columns != nil {
			out.Bands = append(out.Bands, columns)
		}
	}
	out.Row = append(out.Row, w.columns(l.Row)...)
	return out
}

// columns are those in which something stands.
func (w *writer) columns(of []string) (out [][]Piece) {
	for _, column := range of {
		var pieces []Piece
		for _, id := range strings.Fields(column) {
			if p := w.pieces[id]; p != nil && (len(p.Lines)+len(p.Photos) > 0 || p.Lacks != "") {
				pieces = append(pieces, *p)
			}
		}
		if pieces != nil {
			out = append(out, pieces)
		}
	}
	return out
}
