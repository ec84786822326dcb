package hours

import (
	"slices"

	"uvent/core/fact/calendar"
)

// WrongDates are the dates, of so many days from one on, on which a schedule that is shown has
// other hours than hold; what it has wrong about the usual week is not counted again. holidays are
// those of the place.
func WrongDates(shown, truth Schedule, from calendar.Date, days int, holidays calendar.Holidays) (out []calendar.Date) {
	a, b := unrolled{shown, shown.Week(), holidays}, unrolled{truth, truth.Week(), holidays}
	unusual := make([]bool, days)
	shown.unusual(unusual, from, holidays)
	truth.unusual(unusual, from, holidays)
	for n, is := range unusual {
		if !is {
			continue
		}
		x, asIs := a.on(from.Add(n))
		y, asUsual := b.on(from.Add(n))
		if !slices.Equal(x, y) && !(asIs && asUsual) {
			out = append(out, from.Add(n))
		}
	}
	return out
}

// unusual marks the days from a date on that the schedule may say something of besides the usual
// week, and those after them.
func (s Schedule) unusual(days []bool, from calendar.Date, holidays calendar.Holidays) {
	mark := func(d calendar.Date) {
		for n := max(0, d.Number()-from.Number()); n <= d.Number()-from.Number()+1 && n < len(days); n++ {
			days[n] = true
		}
	}
	for _, r := range s.Rules {
		switch {
		case r.special():
			for _, span := range r.Dates {
				for d, last := dateOf(span.From), dateOf(span.To); !last.Before(d); d = d.Add(1) {
					mark(d)
				}
			}
		case len(r.Dates) > 0: // a season, or every year
			for n := range days {
				days[n] = true
			}
		case r.Holidays:
			for year := from.Year; year <= from.Add(len(days)).Year; year++ {
				for _, h := range holidays.In(year) {
					mark(h.Date)
				}
			}
		}
	}
}

// unrolled gives what is open on a date from midnight to midnight.
type unrolled struct {
	Schedule
	week     Week
	holidays calendar.Holidays
}

// on also tells whether all of it is by the usual week.
func (u unrolled) on(d calendar.Date) (open []Sitting, usual bool) {
	before := d.Add(-1)
	last, day := u.On(before, u.holidays), u.On(d, u.holidays)
	for _, s := range last {
		if s.End > DayMinutes {
			open = append(open, Sitting{0, s.End - DayMinutes})
		}
	}
	for _, s := range day {
		open = append(open, Sitting{s.Start, min(s.End, DayMinutes)})
	}
	weekday := dayIndex(d.Weekday())
	return join(open), slices.Equal(day, u.week[weekday]) && carries(last) == carries(u.week[(weekday+6)%7])
}

// Reduce brings special dates into what a form can express, as a week is.
func (s Special) Reduce(a Ability) Special {
	day := join(slices.Clone(s.Sittings))
	if !a.PastMidnight {
		for i := range day {
			day[i].End = min(day[i].End, DayMinutes)
		}
	}
	s.Sittings = fewer(day, a.SittingsPerDay, 0)
	return s
}
