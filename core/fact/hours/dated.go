package hours

import (
	"slices"

	"uvent/core/fact/calendar"
)

// Usual is the schedule without what it says of dates, seasons and public holidays.
func (s Schedule) Usual() Schedule {
	out := s.WithWeek(s.Week())
	out.Rules = slices.DeleteFunc(out.Rules, func(r Rule) bool { return !r.usual() })
	return out
}

// Ahead is the schedule without the special dates that are past.
func (s Schedule) Ahead(today calendar.Date) Schedule {
	for _, d := range s.Specials() {
		if d.To.Before(today) {
			s = s.WithoutSpecial(d.From, d.To)
		}
	}
	return s
}

// Recurs reports whether the schedule says something of seasons, of dates of every year or of public
// holidays.
func (s Schedule) Recurs() bool {
	return slices.ContainsFunc(s.Rules, func(r Rule) bool { return r.Holidays || len(r.Dates) > 0 && !r.special() })
}

// HolidaysDated is the schedule with what it says of public holidays said of their dates instead, by name,
// from a date to another, both included: as those need it who know no public holidays.
func (s Schedule) HolidaysDated(from, until calendar.Date, holidays calendar.Holidays) Schedule {
	if !s.usesHolidays() {
		return s
	}
	out := Schedule{Rules: slices.DeleteFunc(slices.Clone(s.Rules), func(r Rule) bool { return r.Holidays && r.Days == 0 })}
	for i := range out.Rules {
		out.Rules[i].Holidays = false
	}
	if len(out.Rules) > 0 {
		out.Rules[0].Adds = false // a rule can only add to one before it
	}
	for year := from.Year; year <= until.Year; year++ {
		for _, h := range holidays.In(year) {
			open := s.on(h.Date, true)
			if h.Date.Before(from) || until.Before(h.Date) || !s.Said(h.Date, true) || out.Said(h.Date, false) || slices.Equal(open, out.on(h.Date, false)) {
				continue
			}
			out = out.WithSpecial(Special{From: h.Date, To: h.Date, Sittings: open})
		}
	}
	return out
}
