package hours_test

import (
	"fmt"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
)

// Opening hours are read, and answer for the local time of the place.
func ExampleParse() {
	s, _, err := hours.Parse("Mo-Fr 09:00-12:30,13:30-18:00; Sa 10:00-16:00; PH off")
	if err != nil {
		fmt.Println(err)
		return
	}
	zone, _ := time.LoadLocation("America/Los_Angeles")
	local := s.In(zone, calendar.Holidays{})
	lunch := time.Date(2026, 6, 3, 13, 0, 0, 0, zone) // a Wednesday
	next, _ := local.Next(lunch)
	fmt.Println(s)
	fmt.Println(local.Open(lunch), next.Format("15:04"))
	// Output:
	// Mo-Fr 09:00-12:30,13:30-18:00; Sa 10:00-16:00; PH off
	// false 13:30
}

// A form with one sitting a day shows the break as open, and says how long.
func ExampleWeek_Reduce() {
	s, _, _ := hours.Parse("Mo-Fr 09:00-12:30,13:30-18:00")
	week := s.Week()
	shown := week.Reduce(hours.Ability{SittingsPerDay: 1})
	lost := hours.Compare(shown, week)
	fmt.Println(shown[0], lost.OpenWhileShut, lost.ShutWhileOpen)
	// Output: [09:00-18:00] 300 0
}
