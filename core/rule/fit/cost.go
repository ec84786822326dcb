package fit

import (
	"fmt"
	"math"
	"slices"

	"uvent/core/fact/calendar"
	"uvent/core/rule/compare"
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

// How many people are misled is a rough reckoning, to tell what matters from what does not.
const (
	// A listing brings about one person in ten days for each point of its directory's weight who acts
	// on it: twenty a day where all people look.
	actAWeek = 1.4
	// Half of them come by the hours that they read; the others call first, or come when they pass.
	byHours = 0.5
	// One in ten has looked for the very kind of business, and is given another; as many do not know the name
	// again. Three in ten call, and two in ten go to its site.
	byKind = 0.1
	byName = 0.1
	byCall = 0.3
	bySite = 0.2
	byLink = 0.1 // to book, to order, to read the menu
)

// people reckons how many a week are told what is not so.
func (c composer) people() float64 {
	acting := actAWeek * float64(c.book.Weight)
	share := map[string]float64{"category": byKind, "name": byName, "phone": byCall, "website": bySite}[c.i.Key]
	if slices.Contains(Links, c.i.Key) && share == 0 {
		share = byLink
	}
	switch {
	case c.i.Mark != compare.Unequal:
		return 0
	case share > 0:
		return acting * share
	}
	cost, open := c.i.Cost, float64(c.recorded().week.Minutes())
	wrong := 0.0
	if open > 0 {
		wrong = min(1, float64(cost.OpenWhileShut+cost.ShutWhileOpen)/open)
	}
	return acting * byHours * (wrong + float64(len(cost.Days))/compare.DaysAhead)
}

// Around says a number of people a week as people do who have only reckoned it.
func Around(aWeek float64) string {
	switch {
	case aWeek >= 9.5:
		return fmt.Sprintf("about %.0f people a week", math.Round(aWeek/5)*5)
	case aWeek >= 1.5:
		return fmt.Sprintf("about %.0f people a week", aWeek)
	case aWeek >= 0.8:
		return "about one person a week"
	case aWeek*52 >= 1.5:
		return fmt.Sprintf("about %.0f people a year", aWeek*52)
	}
	return "hardly anybody"
}
