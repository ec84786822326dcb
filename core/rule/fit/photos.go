package fit

import (
	"fmt"
	"image"
	"slices"

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
