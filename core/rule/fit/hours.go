package fit

import (
	"fmt"

	"uvent/core/fact/hours"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
)

// HoursFit is what a directory can do with a usual week.
type HoursFit struct {
	Week hours.Week // as it would be given
	Lost hours.Difference
	Says string
}

// Same reports whether the directory takes the week as it is.
func (f HoursFit) Same() bool { return f.Lost.OpenWhileShut+f.Lost.ShutWhileOpen == 0 }

// Hours says what a directory can do with a usual week, and what it costs.
func Hours(w hours.Week, book rulebook.Rulebook) HoursFit {
	able := hours.Ability{SittingsPerDay: book.Hours.SittingsPerDay, PastMidnight: book.Hours.PastMidnight}
	f := HoursFit{Week: w.Reduce(able)}
	f.Lost = hours.Compare(f.Week, w)
	if f.Same() {
		f.Says = "Takes it as it is."
		return f
	}
	takes := fmt.Sprintf("Takes %d sittings a day", able.SittingsPerDay)
	if able.SittingsPerDay == 1 {
		takes = "Takes one sitting a day"
	}
	if !able.PastMidnight {
		takes += ", none past midnight"
	}
	f.Says = takes + ": " + compare.HoursCost(f.Lost)
	return f
}
