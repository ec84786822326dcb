package said

import (
	"fmt"
	"slices"
	"strings"

	"uvent/core/fact/hours"
)

// target is for whom something is said.
type target struct {
	days     hours.DaySet
	holidays bool
	dates    []hours.DateSpan
	others   bool // the days that nothing else is said of
	all      bool // nobody is named
}

// clause is what is said for a target.
type clause struct {
	target
	value what // whenOpen, shut, all, asked
	spans []span
}

// assembly puts elements together: who belongs to which times.
type assembly struct {
	runes      []rune
	by12, by24 bool
	choices    []string
	unsure     bool
	left       []Left

	waiting []target // said, and nothing said of them yet
	clauses []clause
	table   bool // the targets that wait stand each on its own
}

func (a *assembly) leave(from, to int, says string) {
	text := string(a.runes[from:to])
	if n := len(a.left); n > 0 && a.left[n-1].Says == says && a.left[n-1].To <= from && strings.TrimSpace(string(a.runes[a.left[n-1].To:from])) == "" {
		a.left[n-1].To = to
		a.left[n-1].Text = string(a.runes[a.left[n-1].From:to])
		return
	}
	a.left = append(a.left, Left{From: from, To: to, Text: text, Says: says})
}

func (a *assembly) choose(format string, args ...any) {
	says := fmt.Sprintf(format, args...)
	if !slices.Contains(a.choices, says) {
		a.choices = append(a.choices, says)
	}
}

// put puts all of it together.
func (a *assembly) put(list []element) Reading {
	if len(a.choices) > 0 {
		a.unsure = true
	}
	list = a.cells(list)
	for i := 0; i < len(list); i++ {
		e := list[i]
		switch e.what {
		case whose:
			i += a.who(list, i)
		case others:
			a.waiting = append(a.waiting, target{others: true})
		case whenOpen, shut, all, asked:
			i += a.value(list, i)
		case without:
			i += a.except(list, i)
		case pause:
			i += a.lunch(list, i)
		case unread:
			a.leave(e.from, e.to, "not understood")
		}
	}
	return a.finish(list)
}

// next is the index of the next element that is more than a comma; past is whether a line or a
// semicolon lies between. -1 for none.
func next(list []element, i int) (at int, past bool) {
	for i++; i < len(list); i++ {
		switch list[i].what {
		case weak:
		case apart:
			past = true
		default:
			return i, past
		}
	}
	return -1, past
}

// value reports whether the element says something of somebody.
func (e element) value() bool {
	return e.what == whenOpen || e.what == shut || e.what == all || e.what == asked
}

func (e element) target() target {
	return target{days: e.days(), holidays: e.holidays, dates: e.dates}
}

// who takes up days. A date behind which weekdays follow is for those of them.
func (a *assembly) who(list []element, i int) int {
	e := list[i]
	if n := len(a.waiting); n > 0 {
		last := &a.waiting[n-1]
		before := i - 1
		for before >= 0 && list[before].what == weak {
			before--
		}
		apartBefore := before >= 0 && list[before].what == apart
		switch {
		case !apartBefore && len(last.dates) > 0 && last.days == 0 && e.dates == nil: // Jun-Aug: Mon-Fri 9-17
			last.days, last.holidays = e.days(), e.holidays
			return 0
		case !apartBefore: // Mon-Fri (and) Sun
			last.days, last.holidays, last.dates = last.days|e.days(), last.holidays || e.holidays, append(last.dates, e.dates...)
			return 0
		}
		a.table = true
	}
	a.waiting = append(a.waiting, e.target())
	return 0
}

// value gives what is said to whom it is said of, and returns how many more elements that took.
func (a *assembly) value(list []element, i int) int {
	e := list[i]
	at, past := next(list, i)
	if len(a.waiting) == 0 && i > 0 && list[i-1].what == unread || at >= 0 && !past && list[at].what == unread && len(a.waiting) == 0 && e.what == shut {
		a.leave(e.from, e.to, "it is not clear of what this is said")
		return 0
	}
	switch {
	case len(a.waiting) > 0 && (a.table || len(a.waiting) == 1 || e.what != whenOpen && e.what != all):
		a.say(a.waiting[0], e)
		if a.waiting = a.waiting[1:]; len(a.waiting) == 0 {
			a.table = false
		}
		return 0
	case len(a.waiting) > 0:
		for _, t := range a.waiting {
			a.say(t, e)
		}
		a.waiting = nil
		return 0
	}
	if e.what == shut && at >= 0 && !past && list[at].what == whenOpen && len(list[at].spans) == 1 && len(a.clauses) > 0 {
		return a.lunch(list, i) // closed 12-1
	}
	// 9-5 Mon-Fri; closed Sundays
	if at >= 0 && list[at].what == whose && (!past || len(a.clauses) == 0 && e.what == whenOpen) {
		after, pastAfter := next(list, at)
		mine := after < 0 || !list[after].value() || pastAfter || list[after].what != whenOpen && e.what == whenOpen
		if e.what == shut && after >= 0 && list[after].what == whenOpen && !pastAfter && len(list[at].parts) > 1 {
			// Closed Mon, Tue-Sun 9-5
			last := len(list[at].parts) - 1
			first := element{what: whose, parts: list[at].parts[:last]}
			a.say(first.target(), e)
			a.waiting = append(a.waiting, target{days: list[at].parts[last]})
			return at - i
		}
		if len(a.clauses) == 0 || a.timesFirst(list, i) || mine && (e.what != whenOpen || len(a.clauses) > 0) {
			if mine || a.timesFirst(list, i) {
				a.say(list[at].target(), e)
				return at - i
			}
		}
	}
	if at >= 0 && list[at].what == others && !past && e.what == whenOpen && len(a.clauses) > 0 && a.timesFirst(list, i) {
		a.say(target{others: true}, e)
		return at - i
	}
	if n := len(a.clauses); n > 0 && e.what == whenOpen && !a.clauses[n-1].all && a.clauses[n-1].value == whenOpen {
		// More of the same day: 9-12 and, on a line of its own, 13-18.
		a.clauses[n-1].spans = append(a.clauses[n-1].spans, e.spans...)
		a.unsure = true
		a.choose("%s read as of the same days", clockTexts(e.spans, a))
		return 0
	}
	if n := len(a.clauses); n > 0 && e.what == asked && a.clauses[n-1].value == whenOpen {
		a.leave(e.from, e.to, "besides; opening_hours has no place for it")
		a.left[len(a.left)-1].Besides = true
		return 0
	}
	a.say(target{all: true}, e)
	return 0
}

// timesFirst reports whether the text says times before days throughout.
func (a *assembly) timesFirst(list []element, i int) bool {
	for _, e := range list[:i+1] {
		switch e.what {
		case whenOpen:
			return true
		case whose, others:
			return false
		}
	}
	return false
}

func (a *assembly) say(t target, e element) {
	a.clauses = append(a.clauses, clause{t, e.what, slices.Clone(e.spans)})
}

// except takes days out: daily except Sundays.
func (a *assembly) except(list []element, i int) int {
	at, past := next(list, i)
	if at < 0 || past || list[at].what != whose {
		a.leave(list[i].from, list[i].to, "not understood")
		return 0
	}
	out := list[at]
	if n := len(a.waiting); n > 0 && out.dates == nil {
		a.waiting[n-1].days &^= out.days()
		a.waiting[n-1].others = false
	}
	after, pastAfter := next(list, at)
	if after >= 0 && list[after].value() && !pastAfter && len(a.waiting) == 0 && len(a.clauses) > 0 {
		return 0 // except Sat 10-2: what follows says it
	}
	if n := len(a.clauses); n > 0 {
		last := &a.clauses[n-1]
		if last.all {
			last.all, last.days = false, everyDay
		}
		last.days &^= out.days()
	}
	a.clauses = append(a.clauses, clause{out.target(), shut, nil})
	return at - i
}

// lunch takes a break out of what was said last.
func (a *assembly) lunch(list []element, i int) int {
	at, past := next(list, i)
	if at < 0 || past && list[i].what != pause || list[at].what != whenOpen || len(list[at].spans) != 1 || len(a.clauses) == 0 {
		a.leave(list[i].from, list[i].to, "not understood")
		return 0
	}
	for n := range a.clauses {
		if c := &a.clauses[n]; c.value == whenOpen && len(c.spans) == 1 {
			whole, gap := c.spans[0], list[at].spans[0]
			first := a.settle([]span{whole}, target{})
			if len(first) != 1 {
				continue
			}
			g := gap.settle(around{previous: first[0].Start, by24: a.by24, by12: a.by12})
			if g.Start <= first[0].Start || g.End >= first[0].End {
				continue
			}
			c.spans = []span{exactly(whole, first[0].Start, g.Start), exactly(whole, g.End, first[0].End)}
		}
	}
	return at - i
}

// exactly is a span of which all is known.
func exactly(s span, from, to int) span {
	s.from, s.to = point{minute: from, half: exact}, point{minute: to, half: exact}
	return s
}

// cells reads a table of seven cells without days, which begins on Monday.
func (a *assembly) cells(list []element) []element {
	var values []element
	cut := 0
	for _, e := range list {
		switch {
		case e.value():
			values = append(values, e)
		case e.what == apart:
			cut++
		case e.what != weak:
			return list
		}
	}
	if len(values) != 7 || cut < 6 {
		return list
	}
	alike := true
	for _, v := range values {
		alike = alike && v.what == values[0].what && string(a.runes[v.from:v.to]) == string(a.runes[values[0].from:values[0].to])
	}
	if !alike {
		a.choose("seven cells read as Monday to Sunday")
		a.unsure = true
	}
	var out []element
	for i, v := range values {
		out = append(out, element{what: whose, parts: []hours.DaySet{1 << i}}, v, element{what: apart})
	}
	return out
}
