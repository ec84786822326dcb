package hours

import (
	"slices"

	"uvent/core/fact/calendar"
)

// WrongDates are the dates, of so many days from one on, on which a schedule that is shown has
// other hours than hold; what it has wrong about the usual week is not counted again, and a night that is
// shown wrong is counted on the date on which it begins. holidays are those of the place.
func WrongDates(shown, truth Schedule, from calendar.Date, days int, holidays calendar.Holidays) (out []calendar.Date) {
	a, b := unrolled{shown, shown.Week().unrolled(), holidays}, unrolled{truth, truth.Week().unrolled(), holidays}
	unusual := make([]bool, days)
	shown.unusual(unusual, from, holidays)
	truth.unusual(unusual, from, holidays)
	for n, is := range unusual {
		if !is {
			continue
		}
		d, night := from.Add(n), 0
		if before := d.Add(-1); len(out) > 0 && out[len(out)-1] == before {
			night = max(carries(a.On(before, holidays)), carries(b.On(before, holidays)))
		}
		x, asIs := a.on(d, night)
		y, asUsual := b.on(d, night)
		if !slices.Equal(x, y) && !(asIs && asUsual) {
			out = append(out, d)
		}
	}
	return out
}

// after is what of a day's sittings lies after a minute of it.
func after(sittings []Sitting, minute int) (out []Sitting) {
	for _, s := range sittings {
		if s.End > minute {
			out = append(out, Sitting{max(s.Start, minute), s.End})
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
	week     Week // from midnight to midnight
	holidays calendar.Holidays
}

// on is what is open on a date after a minute of it, and whether that is as in the usual week.
func (u unrolled) on(d calendar.Date, minute int) (open []Sitting, usual bool) {
	for _, s := range u.On(d.Add(-1), u.holidays) {
		if s.End > DayMinutes {
			open = append(open, Sitting{0, s.End - DayMinutes})
		}
	}
	for _, s := range u.On(d, u.holidays) {
		open = append(open, Sitting{s.Start, min(s.End, DayMinutes)})
	}
	open = after(join(open), minute)
	return open, slices.Equal(open, after(u.week[dayIndex(d.Weekday())], minute))
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
