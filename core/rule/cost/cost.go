// Package cost reckons what it costs that a page shows something else than a record says: how many people a week are misled,
// and on which days they stand at a locked door. All numbers come from one table with its reasons.
package cost

import (
	"cmp"
	_ "embed"
	"fmt"
	"math"
	"strings"

	"github.com/goccy/go-yaml"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
)

//go:embed shares.yaml
var text []byte

// Share is what part of the people who act on a listing a fact misleads, 0 to 1, with why.
type Share struct {
	Fact            string  `yaml:"fact"` // its key; one that ends in a point stands for all that begin so, an empty one for all others
	Premises        float64 `yaml:"premises"`
	GoesToCustomers float64 `yaml:"goes_to_customers"`
	Both            float64 `yaml:"both"`
	Missing         float64 `yaml:"missing"` // of that, how much where it is missing; 0: as the table says for all
	Why             string  `yaml:"why"`
}

// table is what is reckoned from.
var table = func() (out struct {
	People  float64 `yaml:"people"`
	Missing float64 `yaml:"missing"`
	Shares  []Share `yaml:"shares"`
}) {
	if err := yaml.UnmarshalWithOptions(text, &out, yaml.Strict()); err != nil {
		panic(err) // it ships with this code
	}
	return out
}()

// Of finds the share of a fact.
func Of(fact string) Share {
	var all Share
	for _, s := range table.Shares {
		switch {
		case s.Fact == fact && fact != "":
			return s
		case strings.HasSuffix(s.Fact, ".") && strings.HasPrefix(fact, s.Fact):
			return s
		case s.Fact == "":
			all = s
		}
	}
	return all
}

// For is the share at a location of some kind.
func (s Share) For(kind record.Kind) float64 {
	switch kind {
	case record.GoesToCustomers:
		return s.GoesToCustomers
	case record.Both:
		return s.Both
	}
	return s.Premises
}

// Acting is how many people a week act on a listing, about, where no results tell: by its directory's weight.
func Acting(weight int) float64 { return table.People * float64(weight) }

// Cost is what a difference costs.
type Cost struct {
	People float64 // a week who are misled, about
	Once   float64 // who are, on dates of the next twelve months, together
	Dates  []Date  // on which, in order
	From   string  // what it is reckoned from, in words
}

// Date is one on which people are misled.
type Date struct {
	calendar.Date
	People float64
}

// OfLine reckons the cost of a line about a record, of whose listing so many people act a week. What does not differ costs
// nothing, nor does what differs on dates that the directory cannot take cost less for that.
func OfLine(l compare.Line, r record.Record, acting float64) Cost {
	share := Of(l.Fact)
	part := share.For(r.Kind)
	c := Cost{}
	for _, d := range l.Days {
		people := acting / 7 * part
		c.Once += people
		c.Dates = append(c.Dates, Date{d.Date, people})
	}
	switch {
	case l.Fact == "special_dates" || !l.Mark.Differs():
	case l.Mark == compare.Missing:
		c.People = acting * part * cmp.Or(share.Missing, table.Missing) * l.Wrong
	case l.Fact == "hours" && l.OpenWhileShut+l.ShutWhileOpen > 0:
		c.People = acting * part * hoursWrong(l.OpenWhileShut+l.ShutWhileOpen, r)
	default:
		c.People = acting * part * l.Wrong
	}
	if c.People > 0 || c.Once > 0 {
		c.From = fmt.Sprintf("%.0f people act on it a week; %s", acting, strings.ToLower(share.Why[:1])+share.Why[1:])
	}
	return c
}

// hoursWrong is the part of the people who come by the hours that meets what is wrong of them: so many minutes of those in
// which the place is open.
func hoursWrong(minutes int, r record.Record) float64 {
	schedule, _, err := hours.Parse(r.Hours)
	open := schedule.Week().Minutes()
	if err != nil || open == 0 {
		return 1
	}
	return min(1, float64(minutes)/float64(open))
}

// Order is by what differences stand: the people whom each misleads a week, those on a date spread over the weeks until it
// comes, since sooner is dearer.
func (c Cost) Order(today calendar.Date) float64 {
	sum := c.People
	for _, d := range c.Dates {
		sum += d.People / max(1, float64(d.Number()-today.Number())/7)
	}
	return sum
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
