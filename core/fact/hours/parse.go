package hours

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"
)

// Error is a mistake in an opening_hours text, or something it may say that is
// not supported here.
type Error struct {
	Column  int    `json:"column"` // of the first character concerned, counted from 1
	Message string `json:"message"`
}

func (e *Error) Error() string { return fmt.Sprintf("column %d: %s", e.Column, e.Message) }

// Errors are the mistakes of one text, at most one a rule, in their order.
type Errors []*Error

func (e Errors) Error() string {
	lines := make([]string, len(e))
	for i := range e {
		lines[i] = e[i].Error()
	}
	return strings.Join(lines, "; ")
}

// maxLength is OpenStreetMap's own limit on a value, in characters, times four.
const maxLength = 1020

// Parse reads an opening_hours text. Sittings of a rule that overlap are joined
// and reported as warnings. The error is of type Errors.
//
// Read are weekdays and their ranges, also around the week's end (Fr-Mo); PH;
// months, days and ranges of both, with and without a year; several sittings,
// past midnight as 22:00-02:00 or 22:00-26:00; 24/7; off and closed; comments;
// ";" between rules that decide and "," before one that adds. Anything else of
// the specification is refused at its column.
func Parse(s string) (Schedule, []Error, error) {
	if len(s) > maxLength && utf8.RuneCountInString(s) > maxLength {
		return Schedule{}, nil, Errors{{maxLength + 1, fmt.Sprintf("the text is longer than %d characters", maxLength)}}
	}
	tokens, bad := split(s)
	if bad != nil {
		return Schedule{}, nil, Errors{bad}
	}
	p := parser{tokens: tokens}
	var out Schedule
	var errs Errors
	adds := false
	for {
		r, err := p.rule(adds)
		if err != nil {
			errs = append(errs, err)
			p.skipRule()
		}
		r.Adds = adds
		out.Rules = append(out.Rules, r)
		if p.take(",") {
			adds = true
			continue
		}
		adds = false
		if p.here().kind == endToken {
			break
		}
		p.at++ // the semicolon
		if p.here().kind == endToken {
			break
		}
	}
	if errs != nil {
		return Schedule{}, nil, errs
	}
	return out, p.warnings, nil
}

type parser struct {
	tokens   []token
	at       int
	warnings []Error
}

func (p *parser) here() token { return p.tokens[p.at] }

func (p *parser) ahead(n int) token { return p.tokens[min(p.at+n, len(p.tokens)-1)] }

func (p *parser) take(mark string) bool {
	if t := p.here(); t.kind == markToken && t.text == mark {
		p.at++
		return true
	}
	return false
}

func (p *parser) skipRule() {
	for t := p.here(); t.kind != endToken && t.text != ";"; t = p.here() {
		p.at++
	}
}

func (t token) fail(format string, a ...any) *Error {
	return &Error{t.column, fmt.Sprintf(format, a...)}
}

var dayNames = []string{"Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"}

var monthNames = []string{"Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"}

// unsupported are words of the specification that are refused, and why.
var unsupported = map[string]string{
	"sh":      "school holidays (SH) are not supported; give their dates",
	"easter":  "easter is not supported; give the date",
	"week":    "week numbers are not supported; give dates",
	"sunrise": "sunrise is not supported; give a time",
	"sunset":  "sunset is not supported; give a time",
	"dawn":    "dawn is not supported; give a time",
	"dusk":    "dusk is not supported; give a time",
	"unknown": `"unknown" is not supported; leave the rule out or put a comment in quotes`,
}

func indexFold(names []string, word string) int {
	return slices.IndexFunc(names, func(n string) bool { return strings.EqualFold(n, word) })
}

func (t token) day() int {
	if t.kind != wordToken {
		return -1
	}
	return indexFold(dayNames, t.text)
}

func (t token) month() time.Month {
	if t.kind != wordToken {
		return 0
	}
	return time.Month(indexFold(monthNames, t.text) + 1)
}

func (t token) holiday() bool { return t.kind == wordToken && strings.EqualFold(t.text, "PH") }

func (t token) year() int {
	if t.kind == numberToken && len(t.text) == 4 {
		n, _ := strconv.Atoi(t.text)
		return n
	}
	return 0
}

// rule reads up to the semicolon or comma that ends it.
func (p *parser) rule(adds bool) (r Rule, err *Error) {
	start := p.here()
	if start.kind == alwaysToken {
		if adds {
			return r, start.fail("24/7 cannot be added with a comma; put a semicolon before it")
		}
		p.at++
		r.Sittings = []Sitting{{0, DayMinutes}}
	} else if err = p.selectors(&r); err != nil {
		return r, err
	}
	selected := p.here().column != start.column
	said := start.kind == alwaysToken
	switch t := p.here(); {
	case t.kind == timeToken && !said:
		said = true
		if r.Sittings, err = p.sittings(); err != nil {
			return r, err
		}
	case t.kind == wordToken && (strings.EqualFold(t.text, "off") || strings.EqualFold(t.text, "closed")):
		if adds {
			return r, t.fail("a rule after a comma adds opening and cannot be %s; put a semicolon before it", t.text)
		}
		p.at++
		said = true
		r.Kind, r.Sittings = Closed, nil
	case t.kind == wordToken && strings.EqualFold(t.text, "open"):
		p.at++
		said = true
		r.Sittings = []Sitting{{0, DayMinutes}}
	}
	if t := p.here(); t.kind == commentToken {
		if strings.TrimSpace(t.text) == "" {
			return r, t.fail("the comment is empty")
		}
		p.at++
		r.Comment = strings.TrimSpace(t.text)
		if !said {
			r.Kind = Said
			if adds {
				return r, t.fail("a rule after a comma adds opening; put a semicolon before a comment that stands alone")
			}
		}
	} else if !said {
		if !selected || t.kind != endToken && t.text != ";" && t.text != "," {
			return r, p.unexpected()
		}
		r.Sittings = []Sitting{{0, DayMinutes}} // days alone: the whole of them
	}
	if t := p.here(); t.kind != endToken && t.text != ";" && t.text != "," || t.text == "," && p.ahead(1).kind == endToken {
		return r, p.unexpected()
	}
	return r, nil
}

// unexpected says why the token here cannot be read.
func (p *parser) unexpected() *Error {
	t := p.here()
	switch {
	case t.kind == endToken && p.at == 0:
		return t.fail("nothing is said; write days and times, such as Mo-Fr 09:00-17:00, or 24/7")
	case t.kind == endToken:
		return t.fail("the rule breaks off here; days and times are wanted")
	case t.kind == elseToken:
		return t.fail("a fallback (||) is not supported; use a semicolon, or put what it says into a comment")
	case t.kind == wordToken && unsupported[strings.ToLower(t.text)] != "":
		return t.fail("%s", unsupported[strings.ToLower(t.text)])
	case t.text == "+":
		return t.fail("an open end (+) is not supported; give a closing time")
	case t.text == "[":
		return t.fail("the n-th weekday of a month is not supported; give dates")
	case t.text == "/":
		return t.fail("a repeat (/) is not supported; list the times")
	case t.text == "(":
		return t.fail("times reckoned from the sun or another event are not supported; give a time")
	case t.text == ";":
		return t.fail("there is nothing before this semicolon; take it out or write a rule")
	case t.kind == timeToken:
		return t.fail("a time is not expected here; put a semicolon or a comma before another rule")
	case t.kind == numberToken && t.year() != 0:
		return t.fail("a year stands before a month: 2026 Dec 24")
	case t.kind == numberToken:
		return t.fail("%q is no time; write hours and minutes, as in 09:00", t.text)
	case t.kind == wordToken && len(t.text) > 2 && indexFold(dayNames, t.text[:2]) >= 0 && t.day() < 0:
		return t.fail("%q is not a weekday here; write %s", t.text, dayNames[indexFold(dayNames, t.text[:2])])
	}
	return t.fail("%q is not expected here", t.text)
}

func (p *parser) selectors(r *Rule) (err *Error) {
	if t := p.here(); t.month() != 0 || t.year() != 0 {
		if r.Dates, err = p.dates(); err != nil {
			return err
		}
		p.take(":")
	}
	if t := p.here(); t.day() >= 0 || t.holiday() {
		if err = p.days(r); err != nil {
			return err
		}
		p.take(":")
	}
	return nil
}

func (p *parser) days(r *Rule) *Error {
	for {
		switch t := p.here(); {
		case t.holiday():
			p.at++
			r.Holidays = true
			if n := p.here(); n.text == "-" || n.text == "+" {
				return n.fail("days counted from a public holiday are not supported; give dates")
			}
		case t.day() >= 0:
			p.at++
			first, last := t.day(), t.day()
			if p.take("-") {
				if last = p.here().day(); last < 0 {
					return p.here().fail("a weekday is wanted after the hyphen: %s-Fr", dayNames[first])
				}
				p.at++
			}
			for d := first; ; d = (d + 1) % 7 {
				r.Days |= 1 << d
				if d == last {
					break
				}
			}
		default:
			return p.unexpected()
		}
		if t := p.here(); t.text == "[" {
			return p.unexpected()
		}
		if !p.take(",") {
			break
		}
	}
	if r.Days == allDays { // every day, and so every public holiday too
		r.Days, r.Holidays = 0, false
	}
	return nil
}

func (p *parser) sittings() ([]Sitting, *Error) {
	var out []Sitting
	for {
		start := p.here()
		s, err := p.sitting()
		if err != nil {
			return nil, err
		}
		for _, o := range out {
			if s.Start < o.End && o.Start < s.End {
				p.warnings = append(p.warnings, Error{start.column, fmt.Sprintf("%s overlaps %s; they are joined", s, o)})
			}
		}
		out = append(out, s)
		if t := p.here(); t.text != "," || t.kind != markToken || p.ahead(1).kind != timeToken {
			return join(out), nil
		}
		p.at++
	}
}

func (p *parser) sitting() (s Sitting, err *Error) {
	start := p.here()
	if s.Start, err = p.clock(DayMinutes - 1); err != nil {
		return s, err
	}
	if !p.take("-") {
		if p.here().text == "+" {
			return s, p.unexpected()
		}
		return s, p.here().fail("a closing time is wanted: %s-17:00", start.text)
	}
	end := p.here()
	if end.kind != timeToken {
		if end.kind == wordToken || end.kind == numberToken || end.text == "(" {
			return s, p.unexpected()
		}
		return s, end.fail("a closing time is wanted after the hyphen")
	}
	if s.End, err = p.clock(2 * DayMinutes); err != nil {
		return s, err
	}
	switch {
	case s.End == s.Start:
		return s, end.fail("the sitting ends when it starts; write 00:00-24:00 for the whole day")
	case s.End < s.Start:
		s.End += DayMinutes
	}
	if t := p.here(); t.text == "+" || t.text == "/" {
		return s, p.unexpected()
	}
	return s, nil
}

func (p *parser) clock(most int) (int, *Error) {
	t := p.here()
	h, m, _ := strings.Cut(t.text, ":")
	hour, _ := strconv.Atoi(h)
	minute, _ := strconv.Atoi(m)
	at := hour*60 + minute
	switch {
	case minute > 59:
		return 0, t.fail("%s is no time: an hour has minutes 00 to 59", t.text)
	case at > most && most < DayMinutes:
		return 0, t.fail("a sitting starts before 24:00; put %s on the next day", t.text)
	case at > most:
		return 0, t.fail("a sitting ends by 48:00 at the latest, not at %s", t.text)
	}
	p.at++
	return at, nil
}
