package said

import (
	"cmp"
	"slices"

	"uvent/core/fact/hours"
)

// half says what is known of a time of day: nothing, the half of the day, or that it is counted by
// twenty-four hours.
type half uint8

const (
	anyHalf half = iota
	before       // am
	after        // pm
	exact
)

// point is a time of day as it is written, in minutes, and which half of the day it means.
type point struct {
	minute int // 0 to 24:00; of one in a half, 1:00 to 12:59
	half   half
	zero   bool // it is written as 09:00
	by24   bool // it is written as hours are that are counted by twenty-four: 09, 17, 9 Uhr
}

// span is from one time to another.
type span struct {
	from, to point
	at       int // where it stands
	end      int
	open     bool // its end, or its beginning, is not said
}

// times reads spans of time, one or a list.
func (r *reader) times() (out []span) {
	start := r.at
	for {
		r.fillers()
		s, ok := r.span()
		if !ok {
			break
		}
		out = append(out, s)
		start = r.at
		r.joints()
	}
	r.at = start
	return out
}

// daysOfMonth reports whether two numbers are days and no hours: 18–21 Nov, 18–21 Nov 2026; but not 10–14 Nov 26.
func (r *reader) daysOfMonth() bool {
	for n, want := range []bool{true, false, true} {
		if (r.ahead(n).shape == number) != want {
			return false
		}
	}
	after := r.ahead(4)
	return r.ahead(1).text == "-" && r.ahead(0).hour < r.ahead(2).hour && r.ahead(3).kind == month && (after.shape != number || len(after.text) == 4)
}

// span reads from one time to another: 9-5, 9 to 5, between 9 and 5.
func (r *reader) span() (s span, ok bool) {
	start := r.at
	between := r.at > 0 && slices.Contains([]string{"between", "zwischen", "entre"}, r.atoms[r.at-1].text)
	s.at = r.here().from
	if r.daysOfMonth() {
		return s, false
	}
	if s.from, ok = r.point(); !ok {
		r.at = start
		return s, false
	}
	for r.here().kind == filler && r.ahead(1).joins() {
		r.at++
	}
	a := r.here()
	if a.kind == open { // 8 till late
		r.at++
		s.open, s.end = true, a.to
		return s, true
	}
	if !a.joins() && !(between && a.kind == and) {
		r.at = start
		return s, false
	}
	for r.here().joins() || r.here().kind == and && between {
		r.at++
		between = false
	}
	r.fillers()
	if r.here().kind == open {
		r.at++
		s.open, s.end = true, r.atoms[r.at-1].to
		return s, true
	}
	if s.to, ok = r.point(); !ok {
		r.at = start
		return s, false
	}
	s.end = r.atoms[r.at-1].to
	if n := r.here(); n.shape == mark && n.text == "+" && n.glued { // 18:00+
		s.open = true
	}
	return s, true
}

// point reads one time of day.
func (r *reader) point() (p point, ok bool) {
	a := r.here()
	switch {
	case a.kind == noon:
		r.at++
		return point{minute: 12 * 60, half: exact}, true
	case a.kind == midnight:
		r.at++
		return point{minute: 24 * 60, half: exact}, true
	case !a.times:
		return p, false
	}
	hour, minute := a.hour, a.minute
	military := a.shape == number && len(a.text) >= 3
	if military {
		if len(a.text) > 4 || a.hour%100 > 59 {
			return p, false
		}
		hour, minute = a.hour/100, a.hour%100
	}
	if hour > 24 || hour == 24 && minute > 0 {
		return p, false
	}
	r.at++
	p = point{minute: hour*60 + minute, zero: a.zero || military && len(a.text) == 4 && a.text[0] == '0'}
	switch {
	case hour == 0 || hour > 12 || p.zero:
		p.half, p.by24 = exact, true
	case a.shape == clock && r.marked(a):
		p.half, p.by24 = exact, true
	}
	r.halves(&p)
	return p, true
}

// marked reports whether a clock is written with an h, as only those of twenty-four hours are.
func (r *reader) marked(a atom) bool { return !r.twelve && a.h }

// halves reads what stands behind a time: am, pm, Uhr, h.
func (r *reader) halves(p *point) {
	for {
		a := r.here()
		switch {
		case a.kind == am || a.text == "a" && a.glued && a.shape == word && !r.ahead(1).times:
			if p.half == exact && p.minute > 12*60+59 {
				return
			}
			p.half = before
		case a.kind == pm || a.text == "p" && a.glued && a.shape == word:
			if p.minute >= 13*60 { // 13pm: what is meant is plain
				p.half = exact
				r.at++
				continue
			}
			p.half = after
		case a.kind == hourMark && a.shape == word:
			if p.half == anyHalf && (!r.twelve || a.text != "h" && a.text != "hr") {
				p.half, p.by24 = exact, true
			}
			// 9 Uhr 30
			if n := r.ahead(
				1,
			); n.shape == number && len(n.text) == 2 && n.hour < 60 && n.hour > 24 && p.minute%60 == 0 && a.text == "uhr" &&
				r.ahead(2).kind != hourMark {
				p.minute += n.hour
				r.at++
			}
		case a.kind == noon && p.minute == 12*60:
			p.half = exact
		case a.kind == midnight && p.minute == 12*60:
			p.minute, p.half = 24*60, exact
		case a.text == "o'clock" || a.text == "oclock":
		default:
			return
		}
		r.at++
	}
}

// minutes of a point in a half of the day.
func (p point) in(h half) int {
	m := p.minute
	switch {
	case h == before && m >= 12*60 && m < 13*60:
		return m - 12*60
	case h == after && m < 12*60:
		return m + 12*60
	}
	return m
}

// settled is a span with how sure it is.
type settled struct {
	hours.Sitting
	sure   bool
	choice bool // another reading was possible: it is told
}

// What a day's opening is like where nothing else is known, in minutes.
const (
	earliest   = 5 * 60    // nobody opens before
	longestDay = 15*60 - 1 // nor is open as long
	latestEnd  = 6 * 60    // of a night
	nightFrom  = 10 * 60   // the earliest start of what ends at night
)

// around is what is known around a span.
type around struct {
	previous   int  // when the one before it on the same day ends; 0 for none
	more       bool // another one follows on the same day
	by24, by12 bool // hours are counted by twenty-four here, or by twelve
}

// settle chooses the half of the day of a span's ends.
func (s span) settle(here around) settled {
	froms, tos := s.from.options(), s.to.options()
	var can []hours.Sitting
	for _, f := range froms {
		for _, t := range tos {
			if f == 24*60 {
				f = 0
			}
			if t == 0 {
				t = 24 * 60
			}
			if t <= f {
				t += 24 * 60
			}
			can = append(can, hours.Sitting{Start: f, End: t})
		}
	}
	if len(can) == 1 {
		long := can[0].End - can[0].Start
		return settled{can[0], long <= 19*60+30 || long == 24*60 && s.from.half == exact && s.from.minute == 0, false}
	}
	literal := can[0]
	by24 := here.by24
	if by24 && literal.Start >= earliest && literal.End-literal.Start <= longestDay+60 || s.to.zero {
		plain := literal.End <= 24*60 || s.from.half == exact
		return settled{literal, plain && literal.End-literal.Start <= 16*60, !plain}
	}
	longest := longestDay
	if s.to.half == after || s.to.half == before {
		longest = 16*60 + 30
	}
	good := byLikelihood(slices.DeleteFunc(slices.Clone(can), func(c hours.Sitting) bool { return !plausible(c, longest) || here.more && c.End > 17*60 }))
	if previous := here.previous; previous > 0 { // it goes on after what was before it
		later := slices.DeleteFunc(slices.Clone(good), func(c hours.Sitting) bool { return c.Start < previous || c.End-c.Start > 12*60 })
		if len(later) > 0 {
			sure := len(later) == 1 || later[0].Start < 15*60
			return settled{later[0], sure && !by24, !sure}
		}
	}
	if len(good) == 0 {
		return settled{can[0], false, true}
	}
	best := good[0]
	if best.Start < 7*60 && best.End <= 12*60 { // 5-9: who writes no half of the day opens in the evening
		if i := slices.Index(good, hours.Sitting{Start: best.Start + 12*60, End: best.End + 12*60}); i > 0 {
			return settled{good[i], false, true}
		}
	}
	sure := true
	for _, g := range good[1:] {
		evening := g.Start >= 12*60 && g.Start-best.Start == 12*60
		switch {
		case s.to.half != anyHalf, s.from.half != anyHalf, !evening:
			sure = false // 10-12: to noon or to midnight?
		case best.Start < 8*60 && best.End > best.Start && best.End <= 12*60: // 6-10: in the morning or in the evening?
			sure = false
		case best.Start < 7*60 || best.Start < 8*60 && g.End-24*60 <= 3*60: // 6-2
			sure = false
		}
	}
	if by24 && !here.by12 { // 9-5, where people write 17
		sure = false
	}
	return settled{best, sure, true}
}

// byLikelihood puts what ends on its own day first, and of those the earlier.
func byLikelihood(all []hours.Sitting) []hours.Sitting {
	slices.SortStableFunc(all, func(a, b hours.Sitting) int {
		return cmp.Or(max(a.End, 24*60)-max(b.End, 24*60), a.Start-b.Start, a.End-b.End)
	})
	return all
}

func plausible(c hours.Sitting, longest int) bool {
	long := c.End - c.Start
	switch {
	case c.Start < earliest, long < 15, long > longest:
		return false
	case c.End > 24*60:
		return c.Start >= nightFrom && c.End-24*60 <= latestEnd
	}
	return true
}

// options are the minutes that a point may mean, the one as it is written first.
func (p point) options() []int {
	switch p.half {
	case exact:
		return []int{p.minute}
	case before, after:
		return []int{p.in(p.half)}
	}
	if p.minute >= 12*60 && p.minute < 13*60 { // noon, or midnight
		return []int{p.minute, p.minute + 12*60}
	}
	return []int{p.minute, p.minute + 12*60}
}
