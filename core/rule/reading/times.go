package reading

import (
	"slices"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/fact/hours/said"
)

// times are the hours that an item says: as a schedule, or, where they cannot be read, as they are written.
func (p page) times(i *item) (hours.Schedule, string) {
	var week hours.Week
	var more []hours.Rule
	var dated []hours.Special
	specs := append(i.items("openingHoursSpecification"), i.items("specialOpeningHoursSpecification")...)
	for n, spec := range specs {
		s, ok := readSpecification(spec)
		if !ok {
			continue
		}
		special := n >= len(i.items("openingHoursSpecification"))
		switch {
		case s.from != nil && (special || len(s.days) == 0 || s.through.Number()-s.from.Number() < 7):
			dated = withSitting(dated, s)
		case s.from != nil: // a season
			more = append(more, s.season())
		default:
			for _, d := range s.days {
				week[d] = append(week[d], s.sittings...)
			}
			if s.holidays {
				more = append(more, hours.Rule{Holidays: true, Kind: s.kind(), Sittings: s.sittings})
			}
		}
	}
	schedule := hours.Schedule{}.WithWeek(week)
	schedule.Rules = append(schedule.Rules, more...)
	if texts := i.texts("openingHours"); len(schedule.Rules) == 0 && texts != nil {
		read, ok := p.readHours(strings.Join(texts, "\n"))
		if !ok {
			return hours.Schedule{}, oneLine(strings.Join(texts, "; "))
		}
		schedule = read
	}
	for _, d := range dated {
		schedule = schedule.WithSpecial(d)
	}
	return schedule, ""
}

// specification is https://schema.org/OpeningHoursSpecification as others write it.
type specification struct {
	days          []int // from Monday, 0 to 6
	holidays      bool
	from, through *calendar.Date
	sittings      []hours.Sitting // none: closed
}

func (s specification) kind() hours.Kind {
	if len(s.sittings) == 0 {
		return hours.Closed
	}
	return hours.Open
}

func (s specification) season() hours.Rule {
	month := func(d calendar.Date) hours.MonthDay { return hours.MonthDay{Year: d.Year, Month: d.Month, Day: d.Day} }
	r := hours.Rule{Dates: []hours.DateSpan{{From: month(*s.from), To: month(*s.through)}}, Kind: s.kind(), Sittings: s.sittings}
	for _, d := range s.days {
		r.Days |= 1 << d
	}
	return r
}

func withSitting(list []hours.Special, s specification) []hours.Special {
	for i := range list {
		if list[i].From == *s.from && list[i].To == *s.through {
			list[i].Sittings = append(list[i].Sittings, s.sittings...)
			return list
		}
	}
	return append(list, hours.Special{From: *s.from, To: *s.through, Sittings: s.sittings})
}

func readSpecification(i *item) (s specification, ok bool) {
	for _, d := range i.texts("dayOfWeek") {
		for _, name := range parted([]string{strings.ReplaceAll(d, " ", ",")}) {
			day := weekday(short(name))
			s.holidays = s.holidays || strings.EqualFold(short(name), "PublicHolidays")
			if day >= 0 && !slices.Contains(s.days, day) {
				s.days = append(s.days, day)
			}
		}
	}
	s.from, s.through = readDate(i.text("validFrom")), readDate(i.text("validThrough"))
	switch {
	case s.from == nil:
		s.through = nil // without its beginning an end says nothing
	case s.through == nil:
		s.through = s.from
	}
	if s.through != nil && s.through.Before(*s.from) || s.from == nil && len(s.days) == 0 && !s.holidays {
		return s, false
	}
	opens, errOpens := clock(i.text("opens"))
	closes, errCloses := clock(i.text("closes"))
	switch {
	case i.text("opens") == "" && i.text("closes") == "" || errOpens == nil && errCloses == nil && opens == closes:
		return s, true // closed
	case errOpens != nil || errCloses != nil:
		return s, false
	}
	sitting := hours.Sitting{Start: opens, End: closes}
	if closes == hours.DayMinutes-1 {
		sitting.End = hours.DayMinutes
	}
	if sitting.End <= sitting.Start {
		sitting.End += hours.DayMinutes
	}
	s.sittings = []hours.Sitting{sitting}
	return s, true
}

// weekday is a day of the week by its name, from Monday; -1 for none.
func weekday(name string) int {
	name = strings.ToLower(strings.TrimRight(name, "."))
	for d := range 7 {
		full := strings.ToLower(hours.WeekdayName(d))
		long := strings.ToLower(time.Weekday((d + 1) % 7).String())
		if name == long || name == full || len(name) >= 2 && len(name) <= 5 && strings.HasPrefix(long, name) {
			return d
		}
	}
	return -1
}

// clock is a time of day in minutes, as standards and people write it.
func clock(text string) (int, error) {
	text = strings.ToUpper(strings.Join(strings.Fields(strings.ReplaceAll(text, ".", "")), ""))
	if i := strings.IndexAny(text, "+Z"); i > 0 { // an offset says nothing of a local time
		text = text[:i]
	}
	text = strings.TrimPrefix(text, "T")
	if strings.HasPrefix(text, "24:00") {
		return hours.DayMinutes, nil
	}
	var t time.Time
	var err error
	for _, layout := range []string{"15:04", "15:04:05", "3:04PM", "3PM", "15", "1504", "15:04:05-07:00"} {
		if t, err = time.Parse(layout, text); err == nil {
			break
		}
	}
	return t.Hour()*60 + t.Minute(), err
}

// readDate is a date, with a time of day or without; nil for none.
func readDate(text string) *calendar.Date {
	if len(text) < 10 {
		return nil
	}
	d, err := calendar.ParseDate(text[:10])
	if err != nil {
		return nil
	}
	return &d
}

// readHours reads hours in words.
func (p page) readHours(text string) (hours.Schedule, bool) {
	text = strings.TrimSpace(text)
	if s, _, err := hours.Parse(strings.ReplaceAll(text, "\n", "; ")); err == nil {
		return s, len(s.Rules) > 0
	}
	if r := said.Read(text, said.In{Country: p.in.Country}); r.Read && onlyBeside(r) {
		return r.Schedule, true
	}
	return hours.Schedule{}, false
}

// onlyBeside reports whether what could not be read takes nothing from what could.
func onlyBeside(r said.Reading) bool {
	return !slices.ContainsFunc(r.Left, func(l said.Left) bool { return !l.Besides })
}

// mostDates is how many lines of special dates are read.
const mostDates = 100

// dates reads lines that say what holds on dates of their own, such as "Thu 26 Nov closed" or "Christmas Day 10–14". A
// date without a year is the next such, or one that is less than a month past.
func (p page) dates(lines []string) (out []hours.Special) {
	for _, line := range lines[:min(len(lines), mostDates)] {
		r := said.Read(p.dated(line), said.In{Country: p.in.Country})
		if !r.Read || !onlyBeside(r) {
			continue
		}
		for _, rule := range r.Schedule.Rules {
			for _, span := range rule.Dates {
				from, to := span.From, span.To
				if from.Day == 0 || to.Day == 0 || rule.Kind == hours.Said {
					continue
				}
				if from.Year == 0 {
					from.Year = p.year(from)
					to.Year = from.Year
					if to.Month < from.Month {
						to.Year++
					}
				}
				out = append(out, hours.Special{
					From: calendar.Date{Year: from.Year, Month: from.Month, Day: from.Day}, To: calendar.Date{Year: to.Year, Month: to.Month, Day: to.Day},
					Sittings: rule.Sittings,
				})
			}
		}
	}
	return out
}

// past is how many days ago a date without a year may be.
const past = 30

func (p page) year(d hours.MonthDay) int {
	first := p.in.Today.Add(-past)
	if (calendar.Date{Year: first.Year, Month: d.Month, Day: d.Day}).Before(first) {
		return first.Year + 1
	}
	return first.Year
}

// dated is a line with the date of a holiday that it names put in its place; where it says the date too, the
// name is left out.
func (p page) dated(line string) string {
	for year := p.in.Today.Year; year <= p.in.Today.Year+1; year++ {
		for _, h := range calendar.HolidaysOf(p.in.Country, p.in.Region).In(year) {
			i := strings.Index(strings.ToLower(line), strings.ToLower(h.Name))
			if i < 0 || h.Date.Before(p.in.Today.Add(-past)) {
				continue
			}
			rest := line[:i] + " " + line[i+len(h.Name):]
			if r := said.Read(
				rest,
				said.In{Country: p.in.Country},
			); r.Read &&
				slices.ContainsFunc(r.Schedule.Rules, func(o hours.Rule) bool { return len(o.Dates) > 0 }) {
				return rest
			}
			return line[:i] + h.Date.String() + " " + line[i+len(h.Name):]
		}
	}
	return line
}
