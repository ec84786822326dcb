package hours

import (
	"slices"

	"uvent/core/fact/calendar"
)

// Special is what holds on dates of their own, instead of the usual week:
// closed, or other hours. A sitting past midnight belongs to the date it starts on.
type Special struct {
	From     calendar.Date `json:"from"`
	To       calendar.Date `json:"to"`       // included
	Sittings []Sitting     `json:"sittings"` // none: closed
	Comment  string        `json:"comment"`
}

func (s Special) covers(d calendar.Date) bool { return !d.Before(s.From) && !s.To.Before(d) }

func dateOf(m MonthDay) calendar.Date {
	return calendar.Date{Year: m.Year, Month: m.Month, Day: m.Day}
}

func monthDayOf(d calendar.Date) MonthDay { return MonthDay{d.Year, d.Month, d.Day} }

// special reports whether the rule is for dates of one year each and decides
// them whole.
func (r Rule) special() bool {
	return len(r.Dates) > 0 && r.everyDay() && !r.Adds && r.Kind != Said &&
		!slices.ContainsFunc(r.Dates, func(s DateSpan) bool { return s.From.Year == 0 || s.From.Day == 0 })
}

// Specials lists the special dates that the schedule names with their year, by
// date. Seasons and dates of every year are part of the usual hours.
func (s Schedule) Specials() []Special {
	var out []Special
	for _, r := range s.Rules {
		if !r.special() {
			continue
		}
		for _, span := range r.Dates {
			out = append(out, Special{dateOf(span.From), dateOf(span.To), r.Sittings, r.Comment})
		}
	}
	slices.SortStableFunc(out, func(a, b Special) int { return a.From.Compare(b.From) })
	return out
}

// WithSpecial is the schedule with special dates laid over it: what was said of
// those dates by name before is taken out, the rest of a longer span is kept.
func (s Schedule) WithSpecial(sp Special) Schedule {
	out := s.WithoutSpecial(sp.From, sp.To)
	r := Rule{Dates: []DateSpan{{monthDayOf(sp.From), monthDayOf(sp.To)}}, Sittings: join(slices.Clone(sp.Sittings)), Comment: sp.Comment}
	if len(r.Sittings) == 0 {
		r.Kind, r.Sittings = Closed, nil
	}
	out.Rules = append(out.Rules, r)
	return out.inOrder()
}

// WithoutSpecial is the schedule with what it says by name of a span of dates
// taken out, so that the usual hours hold there.
func (s Schedule) WithoutSpecial(from, to calendar.Date) Schedule {
	var out Schedule
	for _, r := range s.Rules {
		if !r.special() {
			out.Rules = append(out.Rules, r)
			continue
		}
		var left []DateSpan
		for _, span := range r.Dates {
			a, b := dateOf(span.From), dateOf(span.To)
			if b.Before(from) || to.Before(a) {
				left = append(left, span)
				continue
			}
			if a.Before(from) {
				left = append(left, DateSpan{span.From, monthDayOf(from.Add(-1))})
			}
			if to.Before(b) {
				left = append(left, DateSpan{monthDayOf(to.Add(1)), span.To})
			}
		}
		if r.Dates = left; len(left) > 0 {
			out.Rules = append(out.Rules, r)
		}
	}
	return out
}

// inOrder puts special dates last, in the order of their first date, so that
// they decide over the usual hours. A rule that adds stays behind its own.
func (s Schedule) inOrder() Schedule {
	var usual, special []Rule
	for i := 0; i < len(s.Rules); {
		n := i + 1
		for n < len(s.Rules) && s.Rules[n].Adds {
			n++
		}
		if n == i+1 && s.Rules[i].special() {
			special = append(special, s.Rules[i])
		} else {
			usual = append(usual, s.Rules[i:n]...)
		}
		i = n
	}
	slices.SortStableFunc(special, func(a, b Rule) int { return dateOf(a.Dates[0].From).Compare(dateOf(b.Dates[0].From)) })
	return Schedule{Rules: append(usual, special...)}
}

// Said reports whether the schedule says something of a date besides the usual
// week: by name, by season, or, on a public holiday, by PH.
func (s Schedule) Said(d calendar.Date, holiday bool) bool {
	return slices.ContainsFunc(s.Rules, func(r Rule) bool {
		switch {
		case len(r.Dates) > 0:
			return r.special() && r.has(d, holiday)
		case r.Holidays:
			return holiday
		}
		return false
	})
}

// Holiday is a public holiday as it stands in a schedule.
type Holiday struct {
	calendar.Holiday
	Decided  bool      // the schedule says something of it
	Sittings []Sitting // in which the place is, or would be shown as, open
}

// Holidays lists the public holidays from a date on, for a year, and what the
// schedule makes of each.
func (s Schedule) Holidays(from calendar.Date, holidays calendar.Holidays) []Holiday {
	until := calendar.Date{Year: from.Year + 1, Month: from.Month, Day: from.Day}
	var out []Holiday
	for year := from.Year; year <= until.Year; year++ {
		for _, h := range holidays.In(year) {
			if h.Date.Before(from) || !h.Date.Before(until) {
				continue
			}
			out = append(out, Holiday{h, s.Said(h.Date, true), s.on(h.Date, true)})
		}
	}
	return out
}
