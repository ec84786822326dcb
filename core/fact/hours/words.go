package hours

import (
	"fmt"
	"slices"
	"strings"

	"uvent/core/fact/calendar"
)

var wordDays = []string{"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"}

// Words writes the schedule for people: "Tue–Fri 9–12, 13–18; Sat 9–16".
func (s Schedule) Words() string {
	// Where no time says that hours are counted by twenty-four, a zero before them does.
	plain := slices.ContainsFunc(s.Rules, func(r Rule) bool {
		return slices.ContainsFunc(r.Sittings, func(o Sitting) bool {
			return o.Start >= 13*60 || o.End >= 13*60 && o.End <= DayMinutes || o.End >= DayMinutes+13*60
		})
	})
	parts := make([]string, len(s.Rules))
	for i, r := range s.Rules {
		parts[i] = r.words(plain)
	}
	return strings.Join(parts, "; ")
}

func (r Rule) words(plain bool) string {
	var parts []string
	for _, d := range r.Dates {
		parts = append(parts, d.words())
	}
	head := strings.Join(parts, ", ")
	if !r.everyDay() {
		head += " " + strings.NewReplacer(",", ", ", "PH", "public holidays").Replace(daysText(r.Days, r.Holidays, wordDays, "–"))
	}
	always := len(r.Sittings) == 1 && r.Sittings[0] == Sitting{0, DayMinutes}
	switch {
	case r.Kind == Closed:
		head += " closed"
	case r.Kind == Open && always && strings.TrimSpace(head) == "":
		head = "round the clock"
	case r.Kind == Open && always:
		head += " all day"
	case r.Kind == Open:
		if strings.TrimSpace(head) == "" {
			head = "every day"
		}
		times := make([]string, len(r.Sittings))
		for i, s := range r.Sittings {
			times[i] = s.words(plain)
		}
		head += " " + strings.Join(times, ", ")
	}
	if r.Comment != "" {
		head += " " + r.Comment
	}
	return strings.TrimSpace(head)
}

// words writes dates for people: "Thu 26 Nov 2026", "24–26 Dec 2026", "24 Dec", "Jul–Aug".
func (s DateSpan) words() string {
	day := func(m MonthDay) string {
		out := monthNames[m.Month-1]
		if m.Day != 0 {
			out = fmt.Sprintf("%d %s", m.Day, out)
		}
		if m.Year != 0 {
			out += fmt.Sprintf(" %d", m.Year)
		}
		return out
	}
	from, to := s.From, s.To
	switch {
	case from == to && from.Year != 0 && from.Day != 0:
		return calendar.Date{Year: from.Year, Month: from.Month, Day: from.Day}.Words(calendar.Date{})
	case from == to:
		return day(from)
	case from.Year == to.Year && from.Month == to.Month:
		return fmt.Sprintf("%d–%s", from.Day, day(to))
	case from.Year == to.Year:
		from.Year = 0
	}
	return day(from) + "–" + day(to)
}

// WeekdayName is a day's short name, counted from Monday, 0 to 6.
func WeekdayName(day int) string { return wordDays[day] }

// Words writes special dates for people: "Thu 26 Nov closed", "Thu 24 Dec–Sat 26 Dec 10–14".
func (s Special) Words(today calendar.Date) string {
	out := s.From.Words(today)
	if s.To != s.From {
		out += "–" + s.To.Words(today)
	}
	out += " " + SittingsWords(s.Sittings)
	if s.Comment != "" {
		out += ", " + s.Comment
	}
	return out
}

// SittingsWords writes a day's sittings for people: "9–12, 13–18", or "closed".
func SittingsWords(sittings []Sitting) string {
	if len(sittings) == 0 {
		return "closed"
	}
	times := make([]string, len(sittings))
	for i, s := range sittings {
		times[i] = s.Words()
	}
	return strings.Join(times, ", ")
}

// Words writes a sitting for people: "9–12:30".
func (s Sitting) Words() string { return clockWords(s.Start) + "–" + clockWords(s.End) }

// words writes it so that nobody takes five in the morning for the afternoon: with a zero in the
// early morning, and where it ends after midnight and could end after noon.
func (s Sitting) words(plain bool) string {
	zero := s.Start < 5*60 || !plain && s.Start < 7*60 || s.End > DayMinutes && s.Start < 13*60
	clock := func(minute int) string {
		text := clockWords(minute)
		if zero && (len(text) == 1 || text[1] == ':') {
			return "0" + text
		}
		return text
	}
	return clock(s.Start) + "–" + clock(s.End)
}

func clockWords(minute int) string {
	if minute > DayMinutes {
		minute -= DayMinutes
	}
	if minute%60 == 0 {
		return fmt.Sprint(minute / 60)
	}
	return fmt.Sprintf("%d:%02d", minute/60, minute%60)
}
