package said

import (
	"fmt"
	"slices"
	"strings"

	"uvent/core/fact/hours"
)

// settle reads the spans of one day.
func (a *assembly) settle(spans []span, t target) (out []hours.Sitting) {
	previous := 0
	for i, s := range spans {
		text := strings.TrimSpace(string(a.runes[s.at:s.end]))
		if s.open {
			a.leave(s.at, s.end, "no closing time is said")
			continue
		}
		got := s.settle(around{previous, i+1 < len(spans), a.by24, a.by12})
		if !got.sure {
			a.unsure = true
		}
		if !got.sure || got.choice {
			a.choose("“%s” read as %s", text, clockText(got.Sitting))
		}
		previous = got.End
		out = append(out, got.Sitting)
	}
	for i := range out {
		for _, o := range out[:i] {
			if out[i].Start < o.End && o.Start < out[i].End {
				a.unsure = true
				a.choose("%s and %s lie over each other", clockText(o), clockText(out[i]))
			}
		}
	}
	return out
}

// clockText is a sitting as a person reads it without doubt: 9:00–17:00.
func clockText(s hours.Sitting) string {
	end := s.End
	if end > 24*60 {
		end -= 24 * 60
	}
	return fmt.Sprintf("%d:%02d–%d:%02d", s.Start/60, s.Start%60, end/60, end%60)
}

// finish makes the schedule of the clauses.
func (a *assembly) finish(list []element) Reading {
	for _, t := range a.waiting {
		if t.days != 0 || t.holidays || t.dates != nil {
			from, to := 0, len(a.runes)
			for _, e := range list {
				if e.what == whose && e.days() == t.days {
					from, to = e.from, e.to
				}
			}
			a.leave(min(from, to), to, "no times are said of it")
		}
	}
	a.nobody()
	mentioned := hours.DaySet(0)
	for _, c := range a.clauses {
		if len(c.dates) == 0 {
			mentioned |= c.days
		}
	}
	var week hours.Week
	var off, said hours.DaySet
	var more []hours.Rule
	seen := hours.DaySet(0)
	for _, c := range a.clauses {
		if c.others {
			c.days |= everyDay &^ mentioned
		}
		sittings := a.sittings(c)
		if c.value == whenOpen && sittings == nil {
			continue
		}
		if c.holidays || c.dates != nil {
			more = append(more, a.rules(c, sittings)...)
		}
		if c.dates != nil {
			continue
		}
		for d := range week {
			if !c.days.Has(d) {
				continue
			}
			bit := hours.DaySet(1) << d
			off, said = off&^bit, said&^bit
			switch c.value {
			case shut:
				week[d], off = nil, off|bit
			case asked:
				week[d], said = nil, said|bit
			default:
				week[d] = a.besides(week[d], sittings, seen.Has(d))
			}
			seen |= bit
		}
	}
	return a.reading(week, off, said, more)
}

// nobody says whose what was said without days is.
func (a *assembly) nobody() {
	var open, closed hours.DaySet
	for _, c := range a.clauses {
		if c.dates != nil || c.all {
			continue
		}
		if c.value == shut {
			closed |= c.days
		} else {
			open |= c.days
		}
		if c.others {
			open |= everyDay
		}
	}
	for i := range a.clauses {
		c := &a.clauses[i]
		if !c.all {
			continue
		}
		switch {
		case open == 0 && closed != 0: // 8-6, closed Sundays
			c.days = everyDay &^ closed
		case open == 0:
			c.days = everyDay
			if c.value == whenOpen {
				a.unsure = true
				a.choose(noDays)
			}
		case c.value == whenOpen:
			c.days = workdays &^ (open | closed)
			a.unsure = true
			a.choose("no days are said of %s: read as %s", clockTexts(c.spans, a), dayWords(c.days))
		default:
			c.days = everyDay &^ (open | closed)
			a.unsure = true
			a.choose("the days that are not named read so too")
		}
		open |= c.days
	}
}

func clockTexts(spans []span, a *assembly) string {
	return "“" + strings.TrimSpace(string(a.runes[spans[0].at:spans[len(spans)-1].end])) + "”"
}

func (a *assembly) sittings(c clause) []hours.Sitting {
	switch c.value {
	case all:
		return []hours.Sitting{{Start: 0, End: hours.DayMinutes}}
	case whenOpen:
		return a.settle(c.spans, c.target)
	}
	return nil
}

// besides adds sittings to a day: what lies over what was said before takes its place.
func (a *assembly) besides(have, more []hours.Sitting, seen bool) []hours.Sitting {
	if !seen {
		return more
	}
	for _, m := range more {
		for _, h := range have {
			if m.Start < h.End && h.Start < m.End {
				return more
			}
		}
	}
	return slices.Concat(have, more)
}

// rules are those of public holidays and dates.
func (a *assembly) rules(c clause, sittings []hours.Sitting) (out []hours.Rule) {
	r := hours.Rule{Dates: c.dates, Sittings: sortSittings(sittings)}
	switch c.value {
	case shut:
		r.Kind = hours.Closed
	case asked:
		r.Kind, r.Comment = hours.Said, byAppointment
	}
	if c.dates != nil {
		r.Days, r.Holidays = c.days, c.holidays
		return append(out, r)
	}
	r.Holidays = true
	return append(out, r)
}

const byAppointment = "by appointment"

func sortSittings(s []hours.Sitting) []hours.Sitting {
	slices.SortFunc(s, func(a, b hours.Sitting) int { return a.Start - b.Start })
	return s
}

// reading puts the week and what is beside it into one schedule.
func (a *assembly) reading(week hours.Week, off, said hours.DaySet, more []hours.Rule) Reading {
	out := Reading{Readings: a.choices, Left: a.left}
	s := hours.Schedule{}.WithWeek(week)
	if off == everyDay {
		s.Rules = append(s.Rules, hours.Rule{Kind: hours.Closed})
	} else if off != 0 {
		s.Rules = append(s.Rules, hours.Rule{Days: off, Kind: hours.Closed})
	}
	if said == everyDay {
		s.Rules = append(s.Rules, hours.Rule{Kind: hours.Said, Comment: byAppointment})
	} else if said != 0 {
		s.Rules = append(s.Rules, hours.Rule{Days: said, Kind: hours.Said, Comment: byAppointment})
	}
	s.Rules = append(s.Rules, more...)
	if len(s.Rules) == 0 {
		return out
	}
	// As it prints, so it is read again.
	again, _, err := hours.Parse(s.String())
	if err != nil {
		out.Left = append(out.Left, Left{From: 0, To: len(a.runes), Text: string(a.runes), Says: "it cannot be said as opening_hours"})
		return out
	}
	out.Schedule, out.Read = again, true
	out.Sure = !a.unsure && len(a.left) == 0
	return out
}
