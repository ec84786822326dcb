// Package differences says where the pages of one location do not mean what its record says: what each difference costs, since
// when, where it came from and in which order it is mended.
package differences

import (
	"cmp"
	"slices"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/listing/giving"
	"uvent/core/listing/verification"
	"uvent/core/reckon/source"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/cost"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// Ourselves is the source of what a directory was not given: it is in the record, and was not sent.
const Ourselves = "ourselves"

// Listing is one of the location's.
type Listing struct {
	Book  *rulebook.Rulebook
	State verification.State
	Last  fit.Values // that it was given last; nil: nothing is known
}

// Difference is a fact that one page shows otherwise.
type Difference struct {
	Book *rulebook.Rulebook
	compare.Line
	Cost  cost.Cost
	After *time.Time // the last look that saw something else
	From  *time.Time // the first that saw this; nil: nobody has looked, it is what was given
	Sent  bool       // a change of it is on its way

	Source      string // a directory, or Ourselves
	Unseen      bool   // nobody has seen it at the source
	Parent      string // from which the page has it; empty: from nobody
	Follows     *calendar.Window
	Overwritten *calendar.Window
}

// Of reckons them for the listings of one location. books are all directories, for what copies from what.
func Of(r record.Record, listings []Listing, books []rulebook.Rulebook, now time.Time) (out []Difference) {
	today := r.Today(now)
	for _, l := range listings {
		given := giving.Ticked(l.Last)
		told := compare.Facts(r, *l.Book, &given, today)
		for _, line := range lines(r, l, today) {
			if !line.Mark.Differs() {
				continue
			}
			d := Difference{Book: l.Book, Line: line, Cost: cost.OfLine(line, r, cost.Acting(l.Book.Weight)), Source: l.Book.ID}
			if s, ok := l.State.Shown[line.Fact]; ok {
				d.After, d.From = s.After, &s.From
			} else if l.State.Sighting != nil {
				d.From = l.State.SeenAt
			}
			if ours(l, line, told) {
				d.Source = Ourselves
			}
			d.Sent = sent(l, line.Fact, d.Source == Ourselves)
			out = append(out, d)
		}
	}
	trace(out, books, now)
	return out
}

// lines are the comparisons of a listing: with what its page was seen to show, or, where people work on it and nobody has
// looked, with what it was given.
func lines(r record.Record, l Listing, today calendar.Date) []compare.Line {
	seen := l.State.Sighting
	switch {
	case l.Book.MayList(r) != "" || l.State.Elsewhere(r, *l.Book):
		return nil
	case seen == nil && l.Last != nil && l.Book.Worked.People():
		given := giving.Ticked(l.Last)
		seen = &given
	case seen == nil || l.State.Visibility != verification.Public:
		return nil
	}
	out := compare.Facts(r, *l.Book, seen, today)
	return slices.DeleteFunc(out, func(line compare.Line) bool { // a value of its own is not the record's
		return slices.ContainsFunc(l.State.Own, func(o fit.Own) bool { return o.Key == line.Fact && same(o.Text, line.Seen) })
	})
}

func same(a, b string) bool { return address.Fold(a) == address.Fold(b) }

// sent reports whether a change of the fact is with the directory, or was sent since anybody looked.
func sent(l Listing, fact string, unsent bool) bool {
	if c := l.State.Change; c != nil && slices.Contains(c.Keys, fact) {
		return true
	}
	key := fact
	if key == "special_dates" { // which go with the hours
		key = "hours"
	}
	_, given := l.Last.Find(key)
	for _, at := range []*time.Time{l.State.SentAt, l.State.GivenAt} {
		if given && !unsent && at != nil && l.State.SeenAt != nil && at.After(*l.State.SeenAt) {
			return true
		}
	}
	return false
}

// ours reports whether the page shows what it was given, or was never given the fact: then it is for us to send it. told are
// the comparisons with what it was given.
func ours(l Listing, line compare.Line, told []compare.Line) bool {
	if l.Last == nil { // of a listing that was claimed and given nothing, what is missing is for us
		return line.Mark == compare.Missing && l.State.Control == verification.Held && l.Book.Worked == rulebook.Connected
	}
	if l.State.Sighting == nil {
		return true
	}
	i := slices.IndexFunc(told, func(o compare.Line) bool { return o.Fact == line.Fact })
	switch given := told[i]; {
	case given.Mark == "": // it was not given
		return line.Mark == compare.Missing
	case !given.Mark.Differs():
		return false
	case line.Fact == "special_dates": // days that both have wrong were not sent
		return true
	default:
		return same(given.Seen, line.Seen)
	}
}

// trace finds where the same value came from.
func trace(all []Difference, books []rulebook.Rulebook, now time.Time) {
	groups := map[string][]*Difference{}
	for i := range all {
		if d := &all[i]; d.Source != Ourselves && d.From != nil && d.Mark == compare.Unequal {
			key := d.Fact + "\x00" + address.Fold(d.Seen)
			groups[key] = append(groups[key], d)
		}
	}
	for _, group := range groups {
		fact := group[0].Fact
		shown := make([]source.Showing, len(group))
		for i, d := range group {
			shown[i] = source.Showing{Directory: d.Book.ID, After: d.After, From: *d.From}
		}
		for _, way := range source.Trace(shown, edges(books, fact), now, func(id string) calendar.Window { return mended(books, id, fact, now) }) {
			for _, n := range way.Nodes {
				i := slices.IndexFunc(group, func(d *Difference) bool { return d.Book.ID == n.Directory })
				d := group[i]
				d.Source, d.Unseen, d.Parent, d.Follows, d.Overwritten = way.Source, way.Unseen, n.Parent, n.Follows, n.Overwritten
			}
		}
	}
}

// edges are what copies a fact from what.
func edges(books []rulebook.Rulebook, fact string) (out []source.Edge) {
	for i := range books {
		b := &books[i]
		for _, c := range b.Copies {
			if c.Carry(fact) {
				out = append(out, source.Edge{From: c.From, To: b.ID, Window: c.Window, Place: b.Calendar.Place(), OnRequest: c.OnRequest})
			}
		}
	}
	return out
}

// mended is when a correction of a fact that is sent now shows at a directory.
func mended(books []rulebook.Rulebook, id, fact string, now time.Time) calendar.Window {
	i := slices.IndexFunc(books, func(b rulebook.Rulebook) bool { return b.ID == id })
	if i < 0 {
		return calendar.Window{From: now}
	}
	return Mended(&books[i], fact, now)
}

// Mended is when a correction of a fact that is sent now shows at a directory: at once, once its people have looked at it, or
// once they have answered a letter.
func Mended(b *rulebook.Rulebook, fact string, now time.Time) calendar.Window {
	place := b.Calendar.Place()
	rule := calendar.Rule{Min: 0, Max: 1, Unit: calendar.Days}
	for _, e := range b.Edits {
		if slices.Contains(e.Facts, fact) && e.Window.Unit != "" {
			rule = e.Window
		}
	}
	if b.Worked == rulebook.Written && b.Review.Reviewed() {
		rule = b.Review.Window
	}
	return place.Window(rule, now)
}

// Sort puts the dearest first.
func Sort(all []Difference, today calendar.Date) {
	slices.SortStableFunc(all, func(a, b Difference) int { return cmp.Compare(b.Cost.Order(today), a.Cost.Order(today)) })
}
