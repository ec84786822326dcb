package fit

import (
	"cmp"
	"slices"

	"uvent/core/rule/rulebook"
)

// Lack is something that a record does not say, or not so that it can go, and what
// saying it gains over several directories.
type Lack struct {
	Key         string   `json:"key"` // one of rulebook.Fields
	Title       string   `json:"title"`
	Part        string   `json:"part"`    // of the record's form, where it is filled in
	Minutes     int      `json:"minutes"` // of work, about
	Gain        float64  `json:"gain"`    // the directories' weights, each times the part of a complete listing that is gained there
	Directories []string `json:"directories"`
}

// PerMinute is what a minute of work on it gains.
func (l Lack) PerMinute() float64 {
	if l.Minutes == 0 {
		return 0
	}
	return l.Gain / float64(l.Minutes)
}

// Lacks lists what is lacking over the directories that count, what gains most per
// minute first. fits are a location's, one for each book.
func Lacks(books []rulebook.Rulebook, fits []Fit, counts func(book int) bool) []Lack {
	var out []Lack
	for n := range fits {
		if fits[n].Not != "" || !counts(n) {
			continue
		}
		all := 0
		for _, i := range fits[n].Items {
			all += i.Weight
		}
		for _, i := range fits[n].Items {
			if i.there() {
				continue
			}
			at := slices.IndexFunc(out, func(l Lack) bool { return l.Key == i.Key })
			if at < 0 {
				at = len(out)
				out = append(out, Lack{Key: i.Key, Title: ourTitle(i), Part: i.Part})
			}
			l := &out[at]
			l.Gain += float64(books[n].Weight) * float64(i.Weight) / float64(all)
			l.Minutes = max(l.Minutes, i.Minutes)
			l.Directories = append(l.Directories, books[n].ID)
		}
	}
	slices.SortStableFunc(out, func(a, b Lack) int {
		return cmp.Or(cmp.Compare(b.PerMinute(), a.PerMinute()), cmp.Compare(a.Key, b.Key))
	})
	return out
}

// ourTitle is what we call a field that each directory calls something else.
func ourTitle(i Item) string {
	if k, ok := rulebook.FindKey(i.Key); ok {
		return k.Title
	}
	switch {
	case i.Key == rulebook.AreasKey:
		return "Service area"
	case len(i.Key) > len("photos.") && i.Key[:len("photos.")] == "photos.":
		return "Photo: " + groupName(i.Key[len("photos."):])
	case len(i.Key) > len("text.") && i.Key[:len("text.")] == "text.":
		name := textNames[i.Key[len("text."):]]
		return string(name[0]-'a'+'A') + name[1:]
	}
	return i.Title
}
