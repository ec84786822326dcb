package fit

import (
	"fmt"
	"image"
	"slices"
	"strings"

	"uvent/core/fact/photo"
	"uvent/core/rule/rulebook"
)

// PhotoGroups are what a photo may be of, in the order in which people see them.
var PhotoGroups = []struct{ ID, Name string }{
	{"logo", "Logo"}, {"cover", "Cover"}, {"exterior", "Exterior"}, {"interior", "Interior"}, {"team", "Team"}, {"at_work", "At work"}, {"product", "Product"},
}

// Photo is what is known of one.
type Photo struct {
	ID          string
	Group       string
	Size        photo.Size
	Focus       photo.Focus
	Caption     string
	Alternative string
}

// PhotoFit is what becomes of a photo on a directory.
type PhotoFit struct {
	Rule   rulebook.Photos
	Window image.Rectangle // the part that is shown, in pixels of the photo
	Faults []string        // what keeps the directory from taking or showing it well; none when it fits
}

// Photos says what becomes of a photo on a directory: once for each place there
// that its group fills.
func Photos(p Photo, book rulebook.Rulebook) (out []PhotoFit) {
	for _, rule := range book.Photos {
		if !slices.Contains(rule.Groups, p.Group) {
			continue
		}
		out = append(out, PhotoFit{Rule: rule, Window: rule.Crop.Window(p.Size, p.Focus), Faults: faultsOf(p, rule)})
	}
	return out
}

// faultsOf are what keeps a directory from taking a photo, or from showing it well.
func faultsOf(p Photo, rule rulebook.Photos) (out []string) {
	add := func(format string, a ...any) { out = append(out, fmt.Sprintf(format, a...)) }
	if w := rule.Crop.Window(p.Size, p.Focus); w.Dx() < rule.Least.Width || w.Dy() < rule.Least.Height {
		add("Cut to its shape, %d by %d pixels are left; it wants %d by %d.", w.Dx(), w.Dy(), rule.Least.Width, rule.Least.Height)
	}
	if rule.Crop.Cuts(p.Size, p.Focus) {
		if rule.Crop.Circle {
			add("The circle cuts into what must be seen.")
		} else {
			add("What must be seen does not fit into its shape.")
		}
	}
	if n := chars(p.Caption); rule.CaptionMost > 0 && n > rule.CaptionMost {
		add("The caption has %d characters; it takes %d.", n, rule.CaptionMost)
	}
	if n := chars(p.Alternative); rule.AlternativesMost > 0 && n > rule.AlternativesMost {
		add("The alternative text has %d characters; it takes %d.", n, rule.AlternativesMost)
	}
	return out
}

// Name is what people call a photo.
func (p Photo) Name() string {
	if p.Caption != "" {
		return p.Caption
	}
	return groupName(p.Group)
}

func groupName(id string) string {
	for _, g := range PhotoGroups {
		if g.ID == id {
			return g.Name
		}
	}
	return id
}

// given are the photos, as Photos counts them, that a place of a directory is given.
func (s *Subject) given(rule rulebook.Photos) (out []int) {
	if chosen := s.chosen[rule.Key()]; chosen != nil {
		for _, id := range chosen {
			if i := slices.IndexFunc(s.Photos, func(p Photo) bool { return p.ID == id }); i >= 0 && len(out) < rule.Most && faultsOf(s.Photos[i], rule) == nil {
				out = append(out, i)
			}
		}
		return out
	}
	for _, group := range rule.Groups {
		for i, p := range s.Photos {
			if p.Group == group && len(out) < rule.Most && faultsOf(p, rule) == nil {
				out = append(out, i)
			}
		}
	}
	return out
}

// losePhotos notes the photos that this place is the first to ask for, and that no place of the
// directory shows.
func (c composer) losePhotos(rule rulebook.Photos) {
	shown := map[int]bool{}
	for _, other := range c.book.Photos {
		for _, i := range c.given(other) {
			shown[i] = true
		}
	}
	asked, fault := 0, ""
	for i, p := range c.Photos {
		first := slices.IndexFunc(c.book.Photos, func(r rulebook.Photos) bool { return slices.Contains(r.Groups, p.Group) })
		if !slices.Contains(rule.Groups, p.Group) {
			continue
		}
		if asked++; shown[i] || c.book.Photos[first].Key() != rule.Key() {
			continue
		}
		c.lose(p.Name())
		if faults := faultsOf(p, rule); faults != nil && fault == "" {
			fault = faults[0]
		}
	}
	if lost := len(c.i.Lost); lost > 0 {
		c.tell("%s", strings.TrimSpace(left(lost, asked)+". "+fault))
	}
}
