package fit

import (
	"uvent/core/fact/calendar"
	"uvent/core/rule/compare"
	"uvent/core/rule/cost"
)

// Cost is of what a page shows wrongly.
type Cost struct {
	OpenWhileShut int             // minutes a week shown open while shut
	ShutWhileOpen int             // minutes a week shown shut while open
	Days          []calendar.Date // of the next twelve months on which it shows other hours than hold, besides
	People        float64         // a week who are told what is not so, about
}

func (c Cost) with(d Cost) Cost {
	c.OpenWhileShut += d.OpenWhileShut
	c.ShutWhileOpen += d.ShutWhileOpen
	c.Days = append(c.Days, d.Days...)
	c.People += d.People
	return c
}

// people reckons how many a week are told what is not so.
func (c composer) people() float64 {
	acting, share := cost.Acting(c.book.Weight), cost.Of(c.i.Key).For(c.Record.Kind)
	if c.i.Mark != compare.Unequal {
		return 0
	}
	wrong := 1.0
	switch c.i.Key {
	case "hours", "special_dates":
		minutes, open := c.i.Cost.OpenWhileShut+c.i.Cost.ShutWhileOpen, c.recorded().week.Minutes()
		if wrong = 0; open > 0 {
			wrong = min(1, float64(minutes)/float64(open))
		}
		wrong += float64(len(c.i.Cost.Days)) / compare.DaysAhead
	}
	return acting * share * wrong
}
