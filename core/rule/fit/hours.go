package fit

import (
	"slices"
	"strings"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
)

// able is what hours a directory can show.
type able struct {
	rulebook.Hours
	dates bool // and special dates
	most  int  // of those; 0 for no limit
}

// shown is what a directory shows of a location's hours.
type shown struct {
	hours.Schedule
	lost  hours.Difference // of the usual week
	wrong []calendar.Date  // of the next twelve months, besides the usual week
}

func (a able) ability() hours.Ability {
	return hours.Ability{SittingsPerDay: a.SittingsPerDay, PastMidnight: a.PastMidnight}
}

// ahead are the dates on which other hours hold than in the usual week: by name, and, until the end
// of next year, public holidays by their rule. What is past is not among them.
func (s *Subject) ahead() []hours.Special {
	until := calendar.Date{Year: s.Today.Year + 1, Month: time.December, Day: 31}
	return s.schedule.Ahead(s.Today).HolidaysDated(s.Today, until, s.holidays).Specials()
}

// shownBy is what a directory shows of the hours, reckoned once for all that can show the same.
func (s *Subject) shownBy(book *rulebook.Rulebook) shown {
	rule, dates := book.Takes("special_dates")
	a := able{book.Hours, dates, rule.Most}
	out, known := s.reduced[a]
	if known {
		return out
	}
	if a.FreeText {
		out.Schedule = s.schedule.Ahead(s.Today)
	} else {
		out.Schedule = s.schedule.Usual()
		if week := s.week.Reduce(a.ability()); !same(week, s.week) { // 22 to 3 may have to be written as two sittings
			out.Schedule = out.WithWeek(week)
		}
		for n, d := range s.ahead() {
			if dates && (a.most == 0 || n < a.most) {
				out.Schedule = out.WithSpecial(d.Reduce(a.ability()))
			}
		}
	}
	if is := s.recorded(); is.readable { // else there is nothing beside which they are wrong
		out.lost = hours.Compare(out.Week(), is.week)
		out.wrong = hours.WrongDates(out.Schedule, is.schedule, s.Today, compare.DaysAhead, s.holidays)
	}
	s.reduced[a] = out
	return out
}

func same(a, b hours.Week) bool {
	for i := range a {
		if !slices.Equal(a[i], b[i]) {
			return false
		}
	}
	return true
}

// hours are the usual week brought into what the directory can show, with the special dates that
// it takes.
func (c composer) hours() {
	given := c.shownBy(c.book)
	if d := given.lost; d.OpenWhileShut+d.ShutWhileOpen > 0 {
		c.i.Cost.OpenWhileShut, c.i.Cost.ShutWhileOpen = d.OpenWhileShut, d.ShutWhileOpen
		for i := range d.Shown {
			for _, o := range d.Shown[i] {
				c.mislead(hours.WeekdayName(i) + " " + o.Words() + ", shut")
			}
			for _, o := range d.Hidden[i] {
				c.mislead(hours.WeekdayName(i) + " " + o.Words())
			}
		}
		if c.departs("hours", c.book) {
			c.tell("%s", compare.HoursCost(d))
		} else {
			c.tell("%s: %s", c.book.Hours.Words(), compare.HoursCost(d))
		}
	}
	if _, taken := c.book.Takes("special_dates"); !taken || len(given.Specials()) == 0 { // else they stand there
		c.dates(given)
	}
	text := given.String()
	if text == c.schedule.String() {
		text = c.Record.Hours // as the record has it
	}
	c.give(given.Words(), "hours", text)
}

// Hours says what a directory shows of the hours, special dates included; false where it takes none.
func (s *Subject) Hours(book *rulebook.Rulebook) (Item, bool) {
	if _, taken := book.Takes("hours"); !taken {
		return Item{}, false
	}
	i, _ := s.held("hours", book)
	if _, dated := book.Takes("special_dates"); dated {
		if d, _ := s.held("special_dates", book); d.Mark == compare.Unequal && i.there() {
			i.Mark, i.Lost, i.Cost, i.Says = d.Mark, append(i.Lost, d.Lost...), i.Cost.with(d.Cost), strings.TrimSpace(i.Says+" "+d.Says)
		}
	}
	return i, true
}

// dates notes on which dates the page is wrong.
func (c composer) dates(given shown) {
	if len(given.wrong) == 0 {
		return
	}
	c.i.Cost.Days = given.wrong
	for _, d := range given.wrong {
		open := hours.SittingsWords(c.recorded().schedule.On(d, c.holidays))
		c.mislead(d.Words(c.Today) + " " + open)
	}
	c.tell("%s", compare.DatesCost(given.wrong, c.Today))
}

func (c composer) specialDates() {
	given := c.shownBy(c.book)
	for _, d := range given.Specials() {
		c.v.Parts = append(c.v.Parts, d.Words(c.Today))
	}
	c.v.Text = strings.Join(c.v.Parts, "\n")
	c.dates(given)
}
