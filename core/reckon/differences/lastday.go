package differences

import (
	"uvent/core/fact/calendar"
	"uvent/core/rule/rulebook"
)

// mostBack is how many days before a date it is tried whether a correction still shows in time.
const mostBack = 120

// LastDay is the last day on which a correction of a fact can be sent so that it surely shows before a date: counted back
// by the directory's own business days. It is false where none of the last months would do.
func LastDay(b *rulebook.Rulebook, fact string, date calendar.Date) (calendar.Date, bool) {
	zone := b.Calendar.Place().Zone
	for n := 1; n <= mostBack; n++ {
		day := date.Add(-n)
		if Mended(b, fact, day.At(noon, zone)).Latest.Before(date) {
			return day, true
		}
	}
	return calendar.Date{}, false
}

// noon is when things are sent, in minutes since midnight: after it a directory may count from the next day.
const noon = 12 * 60
