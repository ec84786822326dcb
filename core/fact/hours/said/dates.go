package said

import (
	"time"

	"uvent/core/fact/hours"
)

// dates reads a date, a month, or a range of either: 24 Dec, December 24-26, Jun-Aug, 24.12.
func (r *reader) dates() (out hours.DateSpan, ok bool) {
	start := r.at
	r.gloss()
	from, ok := r.date()
	if !ok {
		r.at = start
		return out, false
	}
	out = hours.DateSpan{From: from, To: from}
	back := r.at
	if a := r.here(); a.shape == mark && a.text == "-" || a.kind == to {
		r.at++
		r.fillers()
		r.gloss()
		if to, ok := r.date(); ok {
			if from.Day == 0 && to.Day != 0 || from.Day != 0 && to.Day == 0 {
				r.at = start
				return out, false
			}
			out.To = to
			switch {
			case from.Year == 0 && to.Year != 0:
				out.From.Year = to.Year
				if to.Month < from.Month {
					out.From.Year--
				}
			case from.Year != 0 && to.Year == 0:
				out.To.Year = from.Year
				if to.Month < from.Month {
					out.To.Year++
				}
			}
			return out, true
		}
		// December 24-26
		if n := r.here(); n.shape == number && from.Day > 0 && n.hour > from.Day && n.hour <= 31 && !r.timeFollows(1) {
			r.at++
			out.To.Day = n.hour
			r.year(&out.To)
			out.From.Year = out.To.Year
			return out, true
		}
		r.at = back
	}
	return out, true
}

// gloss passes over a weekday that stands before a day and its month: Thu 26 Nov. It only says which day that is.
func (r *reader) gloss() {
	back := r.at
	if _, ok := r.day(0); ok {
		a, b := r.here(), r.ahead(1)
		if a.dated || a.shape == number && b.kind == month || a.kind == month && b.shape == number && !r.timeFollows(2) {
			return
		}
	}
	r.at = back
}

// timeFollows reports whether the number there is an hour: something that only hours have follows.
func (r *reader) timeFollows(n int) bool {
	a := r.ahead(n)
	return a.kind == am || a.kind == pm || a.kind == hourMark
}

// date reads one date, or a month.
func (r *reader) date() (d hours.MonthDay, ok bool) {
	a := r.here()
	switch {
	case a.dated:
		r.at++
		if a.loose {
			if r.dayEnd {
				a.date.Month, a.date.Day = time.Month(a.date.Day), int(a.date.Month)
			}
			if !r.country && int(a.date.Month) != a.date.Day {
				r.choose("“%s” read as %s", a.text+"/…", a.date)
			}
		}
		return a.date, true
	case a.kind == month:
		r.at++
		d.Month = a.month
		if n := r.here(); n.shape == number && n.hour >= 1 && n.hour <= 31 && len(n.text) <= 2 && !r.timeFollows(1) {
			r.at++
			d.Day = n.hour
			r.ordinal()
			r.year(&d)
		}
		return d, true
	case a.shape == number && a.hour >= 1 && a.hour <= 31 && len(a.text) <= 2:
		back := r.at
		r.at++
		r.ordinal()
		last := 0
		if b := r.here(); b.shape == mark && b.text == "-" && r.ahead(1).shape == number { // 24-26 Dec is read by its end
			last = r.ahead(1).hour
		}
		for r.here().kind == filler { // 24 de diciembre
			r.at++
		}
		if m := r.here(); m.kind == month && last == 0 {
			r.at++
			for r.here().kind == filler && r.ahead(1).shape == number && len(r.ahead(1).text) == 4 {
				r.at++
			}
			d = hours.MonthDay{Month: m.month, Day: a.hour}
			r.year(&d)
			return d, true
		}
		// 24-26 Dec: the first of the two takes the other's month.
		if last > a.hour && last <= 31 && r.ahead(2).kind == month {
			d = hours.MonthDay{Month: r.ahead(2).month, Day: a.hour}
			return d, true
		}
		r.at = back
	}
	return d, false
}

// ordinal passes over what makes a number a day: 24th, 1er.
func (r *reader) ordinal() {
	switch a := r.here(); a.text {
	case "th", "st", "nd", "rd", "er":
		if a.glued {
			r.at++
		}
	}
}

// year reads a year behind a date.
func (r *reader) year(d *hours.MonthDay) {
	n := 0
	if a := r.here(); a.shape == mark && a.text == "," {
		n = 1
	}
	if a := r.ahead(n); a.shape == number && len(a.text) == 4 && a.hour >= 2000 && a.hour < 2100 {
		r.at += n + 1
		d.Year = a.hour
	}
}
