// Package saying is what a business says through a listing: posts, events and offers,
// held against what a directory takes.
package saying

import (
	"fmt"
	"slices"
	"strings"
	"uvent/core/fact/prose"

	"uvent/core/fact/calendar"
	"uvent/core/rule/rulebook"
)

// Kind is a way of saying something.
type Kind string

const (
	Post  Kind = "post"
	Event Kind = "event" // it ends on a date
	Offer Kind = "offer" // it takes something off
)

// Draft is something to be said through a listing.
type Draft struct {
	Kind    Kind
	Title   string
	Text    string
	Button  string        // one of the directory's; empty for none
	Link    string        // where the button leads
	Radius  int           // kilometres around the location within which it is shown; 0: it is not aimed
	Percent int           // that an offer takes off
	Until   calendar.Date // the last day of an event or an offer; zero for none
}

// Kinds are what can be said, the plainest first.
func Kinds(s rulebook.Speaks) (out []Kind) {
	for _, k := range []struct {
		kind Kind
		most int
	}{{Post, s.PostsPerMonth}, {Event, s.EventsMostDays}, {Offer, s.OffersMost}} {
		if k.most > 0 {
			out = append(out, k.kind)
		}
	}
	return out
}

// Fault is what keeps something from being said, by the field that it is about.
type Fault struct{ Field, Says string }

// Minds are the faults of what is to be said on a day of the directory's calendar; none
// where it may be said as far as the rulebook knows.
func Minds(s rulebook.Speaks, in Draft, today calendar.Date) (out []Fault) {
	mind := func(wrong bool, field, format string, a ...any) {
		if wrong {
			out = append(out, Fault{field, fmt.Sprintf(format, a...)})
		}
	}
	if !slices.Contains(Kinds(s), in.Kind) {
		return []Fault{{"kind", "Such a thing cannot be said there."}}
	}
	mind(strings.TrimSpace(in.Title) == "", "title", "Give it a title.")
	mind(in.Button != "" && !slices.Contains(s.Buttons, in.Button), "button", "There is no such button. They are: %s.", strings.Join(s.Buttons, ", "))
	mind(in.Button != "" && in.Link == "" && in.Button != "call", "link", "Say where the button leads.")
	mind(in.Radius < 0, "radius", "A radius is 0 or more kilometres.")
	mind(in.Radius > 0 && s.PostRadius == 0, "radius", "What is said there cannot be aimed.")
	mind(s.PostRadius > 0 && in.Radius > s.PostRadius, "radius", "It reaches %d km at most.", s.PostRadius)
	days := in.Until.Number() - today.Number()
	dated := in.Until != calendar.Date{}
	mind(in.Kind == Event && !dated, "until", "Say when it ends.")
	mind(dated && days < 0, "until", "That day is past.")
	mind(in.Kind == Event && dated && days > s.EventsMostDays, "until", "An event ends within %s there.", prose.Count(s.EventsMostDays, "day"))
	mind(in.Kind == Offer && (in.Percent < 1 || in.Percent > s.OffersMost), "percent", "An offer takes off 1 to %d per cent there.", s.OffersMost)
	return out
}
