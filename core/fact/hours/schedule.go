// Package hours holds opening hours: it reads and prints OpenStreetMap's
// opening_hours text (https://wiki.openstreetmap.org/wiki/Key:opening_hours),
// tells when a place is open, right across daylight-saving changes, and what
// two schedules differ by.
//
// A schedule is a list of rules. Of the rules that match a date, the last one
// decides the whole date, unless it was joined with a comma, which adds to what
// stood before. A sitting that runs past midnight belongs to the date it
// starts on.
package hours

import (
	"slices"
	"time"

	"uvent/core/fact/calendar"
)

// Minutes in a day and in a week.
const (
	DayMinutes  = 24 * 60
	WeekMinutes = 7 * DayMinutes
)

// Sitting is one unbroken stretch of opening, in minutes since local midnight
// of the date it starts on. 0 <= Start < 1440 and Start < End <= 2880.
type Sitting struct {
	Start int `json:"start"`
	End   int `json:"end"`
}

// Kind says what a rule does with the dates it matches.
type Kind uint8

const (
	Open   Kind = iota // open in the rule's sittings
	Closed             // "off" or "closed"
	Said               // a comment alone, such as "by appointment": not open as a matter of course
)

// Rule is one part of a schedule.
type Rule struct {
	Dates    []DateSpan // the dates it is for; none means every date
	Days     DaySet     // the weekdays it is for; with Holidays unset, none means every day
	Holidays bool       // PH: public holidays too, or alone when Days is empty
	Kind     Kind
	Sittings []Sitting // for Open: sorted, neither touching nor overlapping
	Comment  string
	Adds     bool // joined with a comma: adds to the date instead of deciding it
}

// Schedule is what an opening_hours text says. The zero value says nothing
// and is never open.
type Schedule struct {
	Rules []Rule
}

// Week is the usual week, Monday first: what holds when no date, season or
// public holiday says otherwise.
type Week [7][]Sitting

// DaySet is a set of weekdays; bit 0 is Monday.
type DaySet uint8

const allDays DaySet = 1<<7 - 1

// dayIndex counts from Monday, as ISO 8601 does.
func dayIndex(w time.Weekday) int { return (int(w) + 6) % 7 }

// Has reports whether the set holds a day counted from Monday, 0 to 6.
func (s DaySet) Has(day int) bool { return s>>day&1 == 1 }

// DateSpan is a stretch of the year, both ends included.
type DateSpan struct {
	From, To MonthDay
}

// MonthDay is a day or a month of one year or of every year.
type MonthDay struct {
	Year  int // 0 for every year
	Month time.Month
	Day   int // 0 for the whole month
}

func (s DateSpan) has(d calendar.Date) bool {
	from := monthDay{s.From.Month, max(s.From.Day, 1)}
	to := monthDay{s.To.Month, s.To.Day}
	if to.day == 0 {
		to.day = 31
	}
	at := monthDay{d.Month, d.Day}
	if s.From.Year != 0 {
		return !at.in(d.Year).Before(from.in(s.From.Year)) && !to.in(s.To.Year).Before(at.in(d.Year))
	}
	if to.number() < from.number() {
		return from.number() <= at.number() || at.number() <= to.number()
	}
	return from.number() <= at.number() && at.number() <= to.number()
}

type monthDay struct {
	month time.Month
	day   int
}

func (m monthDay) number() int { return int(m.month)*32 + m.day }
func (m monthDay) in(year int) calendar.Date {
	return calendar.Date{Year: year, Month: m.month, Day: m.day}
}

func (r Rule) everyDay() bool { return r.Days == 0 && !r.Holidays }

func (r Rule) has(d calendar.Date, holiday bool) bool {
	if len(r.Dates) > 0 && !slices.ContainsFunc(r.Dates, func(s DateSpan) bool { return s.has(d) }) {
		return false
	}
	return r.everyDay() || r.Days.Has(dayIndex(d.Weekday())) || r.Holidays && holiday
}

// On returns the sittings that start on a date. The slice must not be changed.
func (s Schedule) On(d calendar.Date, holidays calendar.Holidays) []Sitting {
	return s.on(d, s.usesHolidays() && holidays.On(d))
}

func (s Schedule) on(d calendar.Date, holiday bool) []Sitting {
	var day []Sitting
	for _, r := range s.Rules {
		if !r.has(d, holiday) {
			continue
		}
		if r.Adds {
			day = join(append(slices.Clone(day), r.Sittings...))
		} else {
			day = r.Sittings
		}
	}
	return day
}

func (s Schedule) usesHolidays() bool {
	return slices.ContainsFunc(s.Rules, func(r Rule) bool { return r.Holidays })
}

// weekly reports whether every week is the same.
func (s Schedule) weekly() bool {
	return !slices.ContainsFunc(s.Rules, func(r Rule) bool { return r.Holidays || len(r.Dates) > 0 })
}

// Week is the schedule's usual week.
func (s Schedule) Week() Week {
	usual := Schedule{Rules: slices.DeleteFunc(slices.Clone(s.Rules), func(r Rule) bool { return !r.usual() })}
	var w Week
	monday := calendar.Date{Year: 2024, Month: time.January, Day: 1}
	for i := range w {
		w[i] = usual.on(monday.Add(i), false)
	}
	return w
}

// usual reports whether the rule says something about the usual week.
func (r Rule) usual() bool { return len(r.Dates) == 0 && (r.Days != 0 || !r.Holidays) }

// WithWeek is the schedule with another usual week; what it says about dates,
// seasons and public holidays is kept.
func (s Schedule) WithWeek(w Week) Schedule {
	var out Schedule
	for i := range w {
		sittings := join(slices.Clone(w[i]))
		if len(sittings) == 0 {
			continue
		}
		at := slices.IndexFunc(out.Rules, func(r Rule) bool { return slices.Equal(r.Sittings, sittings) })
		if at < 0 {
			out.Rules = append(out.Rules, Rule{Sittings: sittings, Comment: s.commentOn(sittings)})
			at = len(out.Rules) - 1
		}
		out.Rules[at].Days |= 1 << i
	}
	for i := range out.Rules {
		if out.Rules[i].Days == allDays {
			out.Rules[i].Days = 0
		}
	}
	for _, r := range s.Rules {
		switch {
		case !r.usual():
			out.Rules = append(out.Rules, r)
		case r.Kind == Said:
			left := r.daysSaid()
			for i := range w {
				if len(w[i]) > 0 {
					left &^= 1 << i
				}
			}
			if r.Days = left; left != 0 {
				out.Rules = append(out.Rules, r)
			}
		case r.Holidays:
			r.Days = 0
			out.Rules = append(out.Rules, r)
		}
	}
	for i := range out.Rules { // a rule can only add to one before it
		if i == 0 || out.Rules[i].Holidays && out.Rules[i].Days == 0 {
			out.Rules[i].Adds = false
		}
	}
	return out
}

// daysSaid is the set of weekdays a rule of the usual week is for.
func (r Rule) daysSaid() DaySet {
	if r.Days == 0 {
		return allDays
	}
	return r.Days
}

// commentOn finds what the usual week says about days with these sittings.
func (s Schedule) commentOn(sittings []Sitting) string {
	for _, r := range s.Rules {
		if r.usual() && slices.Equal(r.Sittings, sittings) {
			return r.Comment
		}
	}
	return ""
}

// join sorts sittings and joins those that touch or overlap.
func join(sittings []Sitting) []Sitting {
	slices.SortFunc(sittings, func(a, b Sitting) int { return a.Start - b.Start })
	out := sittings[:0]
	for _, s := range sittings {
		if n := len(out); n > 0 && s.Start <= out[n-1].End {
			out[n-1].End = max(out[n-1].End, s.End)
		} else {
			out = append(out, s)
		}
	}
	return out
}
