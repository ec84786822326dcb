package said

import (
	"slices"

	"uvent/core/fact/hours"
)

// what an element of a text is about.
type what uint8

const (
	whose    what = iota // days, dates: for whom something is said
	whenOpen             // from one time to another, once or more
	shut                 // closed
	all                  // round the clock
	asked                // by appointment
	others               // the days that nothing else is said of
	without              // except
	pause                // a break
	apart                // a line, a semicolon, a bar
	weak                 // a comma, an "and"
	unread               // what nobody can read
)

// element is a part of what is said, with where it stands in the text, in runes.
type element struct {
	what     what
	parts    []hours.DaySet // of days, in the order in which they are said
	holidays bool
	dates    []hours.DateSpan
	spans    []span
	from, to int
	tab      bool // apart by a tab or a bar: a cell of a table
}

func (e element) days() (out hours.DaySet) {
	for _, p := range e.parts {
		out |= p
	}
	return out
}

// reader reads atoms into elements.
type reader struct {
	*language
	twelve  bool // people count hours by twelve here
	atoms   []atom
	at      int
	choices []string // readings that were one of several
	dayEnd  bool     // the country writes a date's day before its month
	country bool     // it is known which it is
}

func (r *reader) ahead(n int) atom {
	if i := r.at + n; i >= 0 && i < len(r.atoms) {
		return r.atoms[i]
	}
	return atom{token: token{shape: mark, text: "\x00"}}
}

// behind is an atom that was read.
func (r *reader) behind(n int) atom { return r.ahead(-n) }

func (r *reader) here() atom { return r.ahead(0) }

// fillers passes over what means nothing.
func (r *reader) fillers() {
	for r.here().kind == filler {
		r.at++
	}
}

// elements reads all of it.
func (r *reader) elements() (out []element) {
	for r.at < len(r.atoms) {
		a := r.here()
		before := r.at
		e, ok := r.element()
		if !ok {
			r.at = before + 1
			e = element{what: unread, from: a.from, to: a.to}
			if n := len(out); n > 0 && out[n-1].what == unread && a.shape != mark {
				out[n-1].to = a.to // one piece
				continue
			}
			if a.shape == mark {
				continue // a bracket, a colon
			}
		}
		if e.to == 0 {
			e.from, e.to = a.from, r.atoms[r.at-1].to
		}
		if e.what == weak && (len(out) == 0 || out[len(out)-1].what == weak) {
			continue
		}
		out = append(out, e)
	}
	return out
}

func (r *reader) element() (element, bool) {
	if spans := r.times(); spans != nil {
		return element{what: whenOpen, spans: spans}, true
	}
	if e, ok := r.whose(); ok {
		return e, true
	}
	a := r.here()
	r.at++
	switch a.kind {
	case closed:
		return element{what: shut}, true
	case always:
		return element{what: all}, true
	case appointment:
		return element{what: asked}, true
	case rest:
		return element{what: others}, true
	case except:
		return element{what: without}, true
	case lunch:
		return element{what: pause}, true
	case filler, to, hourMark:
		return element{what: weak}, true
	case and:
		return element{what: weak}, true
	}
	if a.shape == mark {
		switch a.text {
		case "\n", ";", "|", "\t":
			return element{what: apart, tab: a.text == "\t" || a.text == "|"}, true
		case ",", "/", "&", "+":
			return element{what: weak}, true
		case "-": // Sun -
			if n, b := r.here(), r.behind(2); (b.kind == day || b.kind == days || b.text == ":") && !n.times && (n.shape == mark || n.kind == day || n.kind == days) {
				return element{what: shut}, true
			}
		}
	}
	return element{}, false
}

// whose reads days and dates, one or a list.
func (r *reader) whose() (e element, ok bool) {
	start := r.at
	for {
		r.fillers()
		d, found := r.oneWhose(&e)
		if !found {
			break
		}
		if d != 0 {
			e.parts = append(e.parts, d)
		}
		ok = true
		start = r.at
		// What joins a list, as long as another day follows.
		r.joints()
	}
	r.at = start
	return e, ok
}

// joints passes over what stands between the parts of a list: commas, slashes, an "and".
func (r *reader) joints() {
	for a := r.here(); a.shape == mark && slices.Contains([]string{",", "&", "+", "/"}, a.text) || a.kind == and || a.kind == filler; a = r.here() {
		r.at++
	}
}

// oneWhose reads one weekday, range of weekdays, set of them, or date.
func (r *reader) oneWhose(e *element) (d hours.DaySet, ok bool) {
	switch a := r.here(); a.kind {
	case holiday:
		r.at++
		e.holidays = true
		return 0, true
	case days:
		r.at++
		return a.days, true
	case looseDays:
		r.at++
		r.choose("“%s” read as %s", a.text, dayWords(a.days))
		return a.days, true
	}
	if span, ok := r.dates(); ok {
		e.dates = append(e.dates, span)
		return 0, true
	}
	if list := r.initials(); list != nil {
		return r.inOrder(list), true
	}
	first, ok := r.day(0)
	if !ok {
		return 0, false
	}
	start := r.at
	if b := r.here(); b.shape == mark && b.text == "-" || b.kind == to {
		r.at++
		r.fillers()
		if last, ok := r.day(first); ok {
			return between(first, last), true
		}
		r.at = start
	}
	return first, true
}

// between are the days from one to another, both with it, around the week's end too.
func between(first, last hours.DaySet) (out hours.DaySet) {
	for d := first; ; {
		out |= d
		if d == last {
			return out
		}
		if d <<= 1; d > sunday {
			d = monday
		}
	}
}

// day reads one weekday. after is the one that a range begins with; 0 for none.
func (r *reader) day(after hours.DaySet) (hours.DaySet, bool) {
	a := r.here()
	switch {
	case a.kind == day:
		r.at++
		return a.days, true
	case a.kind == initial && (after != 0 || r.initialStands()):
		r.at++
		return r.oneOf(a, after), true
	}
	return 0, false
}

// initialStands reports whether a single letter can be a weekday where it stands: beside a dash, a
// time, another letter or day.
func (r *reader) initialStands() bool {
	n := r.ahead(1)
	near := func(a atom) bool { return a.kind == day || a.kind == initial }
	return n.times || n.kind == filler && r.ahead(2).times || n.shape == mark || near(n) || n.kind == to || n.kind == closed || n.kind == and
}

// oneOf chooses which weekday a letter means.
func (r *reader) oneOf(a atom, after hours.DaySet) hours.DaySet {
	var can []hours.DaySet
	for d := monday; d <= sunday; d <<= 1 {
		if a.days&d != 0 {
			can = append(can, d)
		}
	}
	if len(can) == 1 {
		return can[0]
	}
	if after == can[0] { // S-S
		return can[1]
	}
	for i, other := range can { // T beside a Th is Tuesday, S beside Su is Saturday
		if r.names(other) && !r.names(can[1-i]) {
			return can[1-i]
		}
	}
	r.choose("“%s” read as %s", a.text, dayWords(can[0]))
	return can[0]
}

// names reports whether a weekday is called by a name of its own somewhere.
func (r *reader) names(d hours.DaySet) bool {
	return slices.ContainsFunc(r.atoms, func(a atom) bool { return (a.kind == day || a.kind == initial) && a.days == d })
}

// initials reads weekdays that are written as one word of capitals, or letter by letter: MWF, TTh,
// M T W T F.
func (r *reader) initials() (out []hours.DaySet) {
	if a := r.here(); a.shape == word && a.kind == unknown && a.upper >= 2 {
		for rest := a.text; rest != ""; {
			n := min(2, len(rest))
			s, ok := r.senses[rest[:n]]
			if !ok || s.kind != day {
				n = 1
				if s, ok = r.senses[rest[:1]]; !ok || s.kind != initial {
					return nil
				}
			}
			out, rest = append(out, s.days), rest[n:]
		}
		r.at++
		return out
	}
	n := 0
	for ; r.ahead(n).kind == initial || n > 0 && r.ahead(n).kind == day; n++ {
		out = append(out, r.ahead(n).days)
	}
	if n < 2 {
		return nil
	}
	r.at += n
	return out
}

// inOrder chooses, of letters that may be several weekdays, each the next after the one before.
func (r *reader) inOrder(list []hours.DaySet) (out hours.DaySet) {
	last := hours.DaySet(0)
	for _, set := range list {
		for d := monday; d <= sunday; d <<= 1 {
			if set&d != 0 && d > last {
				out, last = out|d, d
				break
			}
		}
	}
	return out
}
