// Package shown keeps, of each fact on a page, since when it shows what it shows, and how often it was seen to change.
package shown

import (
	"reflect"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/record/sighting"
)

// Fact is one on a page.
type Fact struct {
	After *time.Time `json:"after,omitempty"` // the last look that saw something else; nil: it showed this when it was first looked at
	From  time.Time  `json:"from"`            // the first look that saw it
	Seen
}

// Seen is what looks at one fact have seen, as far as it tells how often it changes by itself.
type Seen struct {
	Quiet   float64   `json:"quiet"`             // days in all between looks that saw it unchanged
	Changed []float64 `json:"changed,omitempty"` // days between looks of which the second saw it changed, the latest last
}

// MostChanged is how many changes are remembered: older ones say little of today.
const MostChanged = 12

// With is what is known after another look, so many days after the one before.
func (s Seen) With(days float64, changed bool) Seen {
	if days <= 0 {
		return s
	}
	if !changed {
		s.Quiet += days
		return s
	}
	s.Changed = append(append([]float64(nil), s.Changed...), days)
	if over := len(s.Changed) - MostChanged; over > 0 {
		s.Quiet *= float64(MostChanged) / float64(len(s.Changed))
		s.Changed = s.Changed[over:]
	}
	return s
}

// Look is one at a page.
type Look struct {
	At      time.Time
	Today   calendar.Date     // at the directory: special dates that are past say nothing
	Showing sighting.Sighting // what it showed
}

// Next is what is known of each fact after another look. last is the look before; nil for none. Where somebody sent a change
// meanwhile, what changed is not counted as changed by others.
func Next(before map[string]Fact, last *Look, now Look, sent bool) map[string]Fact {
	out := make(map[string]Fact, len(before))
	for _, f := range sighting.Facts {
		for _, key := range keysOf(f.Key) {
			is := one(f, key, now)
			was, known := before[key]
			switch {
			case last == nil || !known && empty(is):
				if !empty(is) {
					out[key] = Fact{From: now.At}
				}
				continue
			case !known: // it comes up
				was = Fact{From: last.At}
			}
			days := now.At.Sub(last.At).Hours() / 24
			if reflect.DeepEqual(is, one(f, key, Look{last.At, now.Today, last.Showing})) {
				was.Seen = was.With(days, false)
				out[key] = was
				continue
			}
			if !sent {
				was.Seen = was.With(days, true)
			}
			at := last.At
			was.After, was.From = &at, now.At
			out[key] = was
		}
	}
	return out
}

// keysOf are the facts that one of a sighting holds: the usual week and the special dates change apart.
func keysOf(key string) []string {
	if key == "hours" {
		return []string{"hours", "special_dates"}
	}
	return []string{key}
}

func empty(v any) bool { return v == nil || reflect.ValueOf(v).IsZero() }

// one is what a look saw of a fact.
func one(f sighting.Fact, key string, l Look) any {
	if f.Empty(l.Showing) {
		return nil
	}
	if f.Key == "hours" {
		schedule, ok := l.Showing.Schedule()
		switch {
		case !ok && key == "hours":
			return l.Showing.Hours
		case !ok:
			return nil
		case key == "hours":
			return schedule.Usual().String()
		}
		return ahead(schedule, l.Today)
	}
	var s sighting.Sighting
	f.Take(&s, l.Showing)
	return s
}

// ahead writes the special dates that are still to come; nil for none.
func ahead(s hours.Schedule, today calendar.Date) any {
	text := ""
	for _, d := range s.Ahead(today).Specials() {
		text += d.Words(today) + "; "
	}
	if text == "" {
		return nil
	}
	return text
}
