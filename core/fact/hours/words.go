package hours

import (
	"fmt"
	"strings"
)

var wordDays = []string{"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"}

// Words writes the schedule for people: "Tue–Fri 9–12, 13–18; Sat 9–16".
func (s Schedule) Words() string {
	parts := make([]string, len(s.Rules))
	for i, r := range s.Rules {
		parts[i] = r.words()
	}
	return strings.Join(parts, "; ")
}

func (r Rule) words() string {
	var parts []string
	for _, d := range r.Dates {
		parts = append(parts, d.String())
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
		head += " " + SittingsWords(r.Sittings)
	}
	if r.Comment != "" {
		head += " " + r.Comment
	}
	return strings.TrimSpace(head)
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

func clockWords(minute int) string {
	if minute > DayMinutes {
		minute -= DayMinutes
	}
	if minute%60 == 0 {
		return fmt.Sprint(minute / 60)
	}
	return fmt.Sprintf("%d:%02d", minute/60, minute%60)
}
