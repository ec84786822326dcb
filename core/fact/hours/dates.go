package hours

import (
	"strconv"
	"strings"
	"time"
)

func (p *parser) dates() (out []DateSpan, err *Error) {
	var span DateSpan
	for {
		if span, err = p.dateSpan(span.From); err != nil {
			return nil, err
		}
		out = append(out, span)
		if t := p.here(); t.kind != markToken || t.text != "," {
			return out, nil
		}
		if n := p.ahead(1); n.day() >= 0 || n.holiday() {
			return nil, n.fail("dates and weekdays cannot stand in one list; write two rules with a semicolon")
		}
		p.at++
	}
}

// dateSpan reads one date or range. A list may leave out the month after the
// first: Dec 24,26.
func (p *parser) dateSpan(previous MonthDay) (s DateSpan, err *Error) {
	start := p.here()
	if start.kind == numberToken && start.year() == 0 && previous.Day != 0 {
		s.From = MonthDay{Year: previous.Year, Month: previous.Month}
		if s.From.Day, err = p.dayOf(s.From); err != nil {
			return s, err
		}
	} else if s.From, err = p.monthDay(0); err != nil {
		return s, err
	}
	s.To = s.From
	if !p.take("-") {
		return s, nil
	}
	if t := p.here(); t.kind == numberToken && t.year() == 0 && s.From.Day != 0 {
		if s.To.Day, err = p.dayOf(s.From); err != nil {
			return s, err
		}
		if s.To.Day < s.From.Day {
			return s, t.fail("day %d comes before day %d of the same month; name the month: Dec 24-Jan 02", s.To.Day, s.From.Day)
		}
		return s, nil
	}
	end := p.here()
	if s.To, err = p.monthDay(s.From.Year); err != nil {
		return s, err
	}
	if (s.From.Day == 0) != (s.To.Day == 0) {
		return s, end.fail("a range runs from a day to a day or from a month to a month")
	}
	if s.From.Year == 0 {
		if s.To.Year != 0 {
			return s, start.fail("the range ends in a year but starts in none; write the year before both")
		}
		return s, nil
	}
	if s.To.number() < s.From.number() {
		if end.year() != 0 {
			return s, end.fail("the range ends before it starts")
		}
		s.To.Year++ // 2026 Dec 24-Jan 02 ends in 2027
		if err := s.To.check(end); err != nil {
			return s, err
		}
	}
	return s, nil
}

// monthDay reads [year] month [day]; year is taken when none is written.
func (p *parser) monthDay(year int) (m MonthDay, err *Error) {
	m.Year = year
	if y := p.here().year(); y != 0 {
		t := p.here()
		if y < 1900 || y > 2999 {
			return m, t.fail("the year %d is out of range; 1900 to 2999 are read", y)
		}
		p.at++
		m.Year = y
		if n := p.here(); n.month() == 0 {
			return m, n.fail("a month is wanted after the year: %d Dec 24", y)
		}
	}
	if m.Month = p.here().month(); m.Month == 0 {
		if p.here().kind == wordToken && unsupported[strings.ToLower(p.here().text)] != "" {
			return m, p.unexpected()
		}
		return m, p.here().fail("a month is wanted here: Jan, Feb, … Dec")
	}
	p.at++
	if t := p.here(); t.kind == numberToken && t.year() == 0 {
		m.Day, err = p.dayOf(m)
	}
	return m, err
}

func (p *parser) dayOf(m MonthDay) (int, *Error) {
	t := p.here()
	m.Day, _ = strconv.Atoi(t.text)
	if len(t.text) > 2 || m.Day == 0 {
		return 0, t.fail("%q is no day of a month", t.text)
	}
	p.at++
	return m.Day, m.check(t)
}

// number orders days of dated years.
func (m MonthDay) number() int { return m.Year*512 + monthDay{m.Month, m.Day}.number() }

func (m MonthDay) check(t token) *Error {
	year := m.Year
	if year == 0 {
		year = 2024 // a leap year: 29 February is a day of some years
	}
	if last := time.Date(year, m.Month+1, 0, 0, 0, 0, 0, time.UTC).Day(); m.Day > last {
		return t.fail("%s has %d days, so there is no day %d", m.Month, last, m.Day)
	}
	return nil
}
