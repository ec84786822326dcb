package compare

import (
	"fmt"
	"strings"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
)

// times compares the usual week.
func times(i in) Line {
	ours, _, errOurs := hours.Parse(i.record.Hours)
	theirs, readable := i.seen.Schedule()
	l := Line{}
	if i.record.Hours != "" && errOurs == nil {
		l.Record = ours.Usual().Words()
	}
	switch {
	case i.seen.Hours == "":
		return l
	case !readable:
		l.Seen, l.Mark, l.Says = i.seen.Hours, Unequal, "What it shows cannot be read as opening hours."
		return l
	}
	l.Seen = theirs.Usual().Words()
	if l.Record == "" {
		return l
	}
	d := hours.Compare(theirs.Week(), ours.Week())
	l.OpenWhileShut, l.ShutWhileOpen = d.OpenWhileShut, d.ShutWhileOpen
	switch {
	case d.OpenWhileShut+d.ShutWhileOpen > 0:
		l.Mark, l.Says = Unequal, HoursCost(d)
		l.Wrong = min(1, float64(d.OpenWhileShut+d.ShutWhileOpen)/float64(max(1, ours.Week().Minutes())))
		able := hours.Ability{SittingsPerDay: i.book.Hours.SittingsPerDay, PastMidnight: i.book.Hours.PastMidnight}
		reduced := hours.Compare(theirs.Week(), ours.Week().Reduce(able))
		if able.SittingsPerDay > 0 && !i.book.Hours.FreeText && reduced.OpenWhileShut+reduced.ShutWhileOpen == 0 {
			l.Cannot = i.book.Name + " t" + i.book.Hours.Words()[1:] + "."
		}
	case ours.Usual().String() == theirs.Usual().String():
		l.Mark = Equal
	default:
		l.Mark = Alike
	}
	return l
}

// dates compares what holds on dates of their own, in the next twelve months.
func dates(i in) Line {
	ours, _, err := hours.Parse(i.record.Hours)
	if i.record.Hours == "" || err != nil {
		return Line{}
	}
	holidays := i.holidays
	ahead := func(s hours.Schedule) []hours.Special {
		return s.Ahead(i.today).HolidaysDated(i.today, i.today.Add(DaysAhead), holidays).Specials()
	}
	l := Line{Record: datesWords(ahead(ours), i.today)}
	theirs, readable := i.seen.Schedule()
	if !readable {
		return l // its usual hours are not known either
	}
	l.Seen = datesWords(ahead(theirs), i.today)
	for _, d := range hours.WrongDates(theirs, ours, i.today, DaysAhead, holidays) {
		shown, holds := theirs.On(d, holidays), ours.On(d, holidays)
		l.Days = append(l.Days, Day{d, hours.SittingsWords(shown), hours.SittingsWords(holds), len(shown) > 0 && opensWhileShut(shown, holds)})
	}
	switch {
	case len(l.Days) > 0:
		l.Mark, l.Says = Unequal, l.DatesCost()
		if l.Seen == "" {
			l.Seen = "as usual"
		}
		if l.Record == "" {
			l.Record = "as usual"
		}
	case l.Record == l.Seen && l.Record != "":
		l.Mark = Equal
	case l.Record != "" || l.Seen != "":
		l.Mark = Alike // what is said of them holds in the usual week too
		if l.Seen == "" {
			l.Seen = "as usual"
		}
		if l.Record == "" {
			l.Record = "as usual"
		}
	}
	return l
}

// opensWhileShut reports whether a day shows open when it is shut.
func opensWhileShut(shown, holds []hours.Sitting) bool {
	for _, s := range shown {
		covered := false
		for _, h := range holds {
			covered = covered || h.Start <= s.Start && s.End <= h.End
		}
		if !covered {
			return true
		}
	}
	return false
}

func datesWords(list []hours.Special, today calendar.Date) string {
	parts := make([]string, len(list))
	for i, d := range list {
		parts[i] = d.Words(today)
	}
	return strings.Join(parts, "; ")
}

// DatesCost says in a sentence on which dates a page shows other hours than hold; empty for none.
func (l Line) DatesCost() string {
	var list []calendar.Date
	for _, d := range l.Days {
		list = append(list, d.Date)
	}
	if list == nil {
		return ""
	}
	return DatesCost(list, list[0].Add(-1))
}

// HoursCost says in a sentence what a week that is shown wrong costs.
func HoursCost(d hours.Difference) string {
	var parts []string
	if d.OpenWhileShut > 0 {
		parts = append(parts, span(d.OpenWhileShut)+" a week shown open while shut")
	}
	if d.ShutWhileOpen > 0 {
		parts = append(parts, span(d.ShutWhileOpen)+" a week shown shut while open")
	}
	return strings.Join(parts, ", ") + "."
}

// DatesCost says in a sentence on which dates a page shows other hours than hold.
func DatesCost(dates []calendar.Date, today calendar.Date) string {
	const named = 3
	words := make([]string, 0, named+1)
	for _, d := range dates[:min(named, len(dates))] {
		words = append(words, d.Words(today))
	}
	if more := len(dates) - named; more > 0 {
		words = append(words, fmt.Sprintf("and %d more", more))
	}
	days := fmt.Sprintf("%d days", len(dates))
	if len(dates) == 1 {
		days = "1 day"
	}
	return fmt.Sprintf("Wrong on %s of the next twelve months: %s.", days, strings.Join(words, ", "))
}

func span(minutes int) string {
	h, m := minutes/60, minutes%60
	switch {
	case h == 0:
		return fmt.Sprintf("%d min", m)
	case m > 0:
		return fmt.Sprintf("%d h %d min", h, m)
	case h == 1:
		return "1 hour"
	}
	return fmt.Sprintf("%d hours", h)
}
