// Package giving reckons what a directory is still to be given of a listing: what its record says
// otherwise than the directory was given last, or shows.
package giving

import (
	"encoding/json"
	"maps"
	"reflect"
	"slices"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/listing/verification"
	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// Listing is one on a directory, as far as it matters what the directory has of it.
type Listing struct {
	Book  *rulebook.Rulebook
	State verification.State
	Last  fit.Values // that it was given last, by people or by a program; nil: none
}

// Changed is a value that a directory was given otherwise, or not at all.
type Changed struct {
	fit.Value
	Before string // what it was given; empty for nothing
	Meets  string // what the directory does with such a change, in words; empty: it takes it at once
}

// Changes are several.
type Changes []Changed

// Keys are those of the changed values.
func (c Changes) Keys() (out []string) {
	for _, one := range c {
		out = append(out, one.Key)
	}
	return out
}

// Due are the values of which the directory was last given others, or never any and does not show
// them, and those that it was given and was seen to show otherwise since, in the order of its form. What is taken out of the record is
// not taken out there. Nothing
// is due where it may not list the location, where it changes its panels itself, where nobody knows what people have given it, and
// where another listing is wanted since the location has moved.
func (l Listing) Due(s *fit.Subject) (due Changes) {
	b := l.Book
	claimed := b.Worked == rulebook.Connected && l.State.Control == verification.Held // though it was given nothing yet
	if l.Last == nil && !claimed || b.Worked == rulebook.Suggestions || b.MayList(s.Record) != "" || l.State.Elsewhere(s.Record, *b) {
		return nil
	}
	seen := l.seen(s)
	for _, v := range fit.Of(s, b).Values() {
		before, given := l.Last.Find(v.Key)
		held := given && same(ahead(before.Data, s.Today), ahead(v.Data, s.Today))
		other, undone := l.undone(seen, v.Key)
		switch {
		case strings.HasPrefix(v.Key, "photos.") || v.Data == nil || !given && shows(seen, v):
			continue
		case held && undone:
			before.Text = other
		case held:
			continue
		}
		due = append(due, Changed{Value: v, Before: before.Text, Meets: meets(b, v.Key)})
	}
	return due
}

// undone is what the page was seen to show instead of a value, after it was given last; false where it shows the value,
// where nobody has looked since, and where it cannot show it.
func (l Listing) undone(seen []compare.Line, key string) (shows string, undone bool) {
	if l.State.SeenAt == nil || l.State.Change != nil {
		return "", false
	}
	for _, at := range []*time.Time{l.State.SentAt, l.State.GivenAt} {
		if at != nil && !l.State.SeenAt.After(*at) {
			return "", false
		}
	}
	for _, o := range seen {
		goes := o.Fact == key || key == "hours" && o.Fact == "special_dates" // the dates go with the hours
		if goes && o.Mark.Differs() && o.Cannot == "" {
			return o.Seen, true
		}
	}
	return "", false
}

// Holds are the values that a directory holds, as far as that is known: what it was given last, and what
// its page was seen to say as the record does.
func (l Listing) Holds(s *fit.Subject) fit.Values {
	out := slices.Clone(l.Last)
	seen := l.seen(s)
	for _, v := range fit.Of(s, l.Book).Values() {
		if _, given := out.Find(v.Key); !given && shows(seen, v) {
			out = append(out, v)
		}
	}
	return out
}

// seen is what the page shows beside what it is told of the location.
func (l Listing) seen(s *fit.Subject) []compare.Line {
	out := compare.Facts(s.On(l.Book.ID).Record, *l.Book, l.State.Sighting, s.Today)
	i := slices.IndexFunc(l.State.Own, func(o fit.Own) bool { return o.Key == "category" })
	if i < 0 || l.State.Sighting == nil {
		return out
	}
	for n := range out { // the directory's own name of a category stands in no record
		if out[n].Fact == "category" {
			out[n].Mark = compare.Unequal
			if strings.EqualFold(l.State.Sighting.Category, l.State.Own[i].Text) {
				out[n].Mark = compare.Equal
			}
		}
	}
	return out
}

// shows reports whether the public page was seen to say a value; of one in several parts that is
// not known.
func shows(seen []compare.Line, v fit.Value) bool {
	return len(v.Parts) <= 1 && slices.ContainsFunc(seen, func(l compare.Line) bool {
		return l.Fact == v.Key && (l.Mark == compare.Equal || l.Mark == compare.Alike)
	})
}

func meets(b *rulebook.Rulebook, key string) (words string) {
	for _, e := range b.Edits {
		if slices.Contains(e.Facts, key) {
			words = e.Meets()
		}
	}
	return words
}

// ahead is what connectors are given without the special dates that are past: nobody gives them
// again because they are over.
func ahead(data map[string]any, today calendar.Date) map[string]any {
	text, ok := data["hours"].(string)
	schedule, _, err := hours.Parse(text)
	if !ok || err != nil {
		return data
	}
	data = maps.Clone(data)
	data["hours"] = schedule.Ahead(today).String()
	return data
}

// same compares what connectors are given; what was read back from JSON has other types than what
// was just made.
func same(a, b map[string]any) bool {
	plain := func(m map[string]any) (out any) {
		text, err := json.Marshal(m)
		if err == nil {
			err = json.Unmarshal(text, &out)
		}
		if err != nil {
			return m
		}
		return out
	}
	return reflect.DeepEqual(plain(a), plain(b))
}
