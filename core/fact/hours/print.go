package hours

import (
	"fmt"
	"strings"
)

// String prints the schedule as opening_hours text in one normal form: reading
// it again gives the same schedule.
func (s Schedule) String() string {
	var b strings.Builder
	for i, r := range s.Rules {
		switch {
		case r.Adds:
			b.WriteString(", ")
		case i > 0:
			b.WriteString("; ")
		}
		b.WriteString(r.String())
	}
	return b.String()
}

func (r Rule) String() string {
	var parts []string
	always := r.Kind == Open && len(r.Sittings) == 1 && r.Sittings[0] == Sitting{0, DayMinutes}
	if len(r.Dates) > 0 {
		spans := make([]string, len(r.Dates))
		for i, d := range r.Dates {
			spans[i] = d.String()
		}
		parts = append(parts, strings.Join(spans, ","))
	}
	switch {
	case !r.everyDay():
		parts = append(parts, daysText(r.Days, r.Holidays, dayNames, "-"))
	case len(r.Dates) == 0 && always && !r.Adds:
		parts = append(parts, "24/7")
	case r.Adds && len(r.Dates) == 0, r.Kind == Open && len(r.Dates) == 0:
		parts = append(parts, "Mo-Su")
	}
	switch {
	case r.Kind == Closed:
		parts = append(parts, "off")
	case r.Kind == Open && parts[0] != "24/7":
		parts = append(parts, SittingsText(r.Sittings))
	}
	if r.Comment != "" {
		parts = append(parts, `"`+r.Comment+`"`)
	}
	return strings.Join(parts, " ")
}

// SittingsText prints the sittings of one day as opening_hours does: 09:00-12:00,13:00-18:00.
func SittingsText(sittings []Sitting) string {
	times := make([]string, len(sittings))
	for i, s := range sittings {
		times[i] = s.String()
	}
	return strings.Join(times, ",")
}

// String prints a sitting as opening_hours does: 22:00-02:00, or 10:00-36:00
// where the end would read as the same day's.
func (s Sitting) String() string {
	end := s.End
	if end > DayMinutes && end-DayMinutes < s.Start {
		end -= DayMinutes
	}
	return fmt.Sprintf("%02d:%02d-%02d:%02d", s.Start/60, s.Start%60, end/60, end%60)
}

func (s DateSpan) String() string {
	from := s.From.String()
	switch {
	case s.From == s.To:
		return from
	case s.From.Year == s.To.Year && s.From.Month == s.To.Month:
		return fmt.Sprintf("%s-%02d", from, s.To.Day)
	case s.From.Year == s.To.Year:
		return from + "-" + MonthDay{Month: s.To.Month, Day: s.To.Day}.String()
	}
	return from + "-" + s.To.String()
}

func (m MonthDay) String() string {
	out := monthNames[m.Month-1]
	if m.Year != 0 {
		out = fmt.Sprintf("%d %s", m.Year, out)
	}
	if m.Day != 0 {
		out += fmt.Sprintf(" %02d", m.Day)
	}
	return out
}

// daysText lists weekdays Monday first, three or more in a row as a range,
// also around the week's end, and public holidays last.
func daysText(days DaySet, holidays bool, names []string, to string) string {
	var parts []string
	if days == allDays {
		return names[0] + to + names[6]
	}
	for d := range names {
		if !days.Has(d) || days.Has((d+6)%7) {
			continue // not in the set, or inside a run that starts earlier
		}
		n := 1
		for days.Has((d + n) % 7) {
			n++
		}
		if n > 2 {
			parts = append(parts, names[d]+to+names[(d+n-1)%7])
			continue
		}
		for i := range n {
			parts = append(parts, names[(d+i)%7])
		}
	}
	if holidays {
		parts = append(parts, "PH")
	}
	return strings.Join(parts, ",")
}
