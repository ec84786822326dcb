package cases

import (
	"fmt"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// Chase is what to write to a directory that is late: with publishing, with a review, or
// with the answer of its people. It is empty where nothing is late. page is the address at
// which the listing should show.
func Chase(r record.Record, b *rulebook.Rulebook, s verification.State, page string, now time.Time) string {
	place := b.Calendar.Place()
	late := func(w *calendar.Window) bool { return w != nil && place.State(*w, now) == calendar.Late }
	day := func(t time.Time) string { return verification.Day(calendar.DateOf(t.In(place.Zone))) }
	about := fmt.Sprintf("%s, %s", r.Name, r.Address.Line())
	a := s.Attempt()
	switch {
	case s.Visibility == verification.Publishing && late(s.PublicBy):
		return fmt.Sprintf(
			"Our listing of %s was verified on %s. It should have been public by %s, and is not: %s\nPlease look into it, and tell us if anything is missing.",
			about,
			day(s.PublicBy.From),
			verification.Day(s.PublicBy.Latest),
			page,
		)
	case a != nil && a.State == verification.AttemptReview && late(a.Window):
		return fmt.Sprintf(
			"We asked on %s for our listing of %s to be verified (%s). Your answer was due by %s.\nPlease tell us how it stands, and whether anything is missing.",
			day(a.AskedAt),
			about,
			verification.Title(a.Method),
			verification.Day(a.Window.Latest),
		)
	case late(s.AnswerBy) && s.GivenAt != nil:
		return fmt.Sprintf(
			"We wrote to you on %s about %s. Your answer was due by %s.\nPlease tell us whether it has been taken in.",
			day(*s.GivenAt),
			about,
			verification.Day(s.AnswerBy.Latest),
		)
	case s.Change != nil && late(&s.Change.Window):
		return fmt.Sprintf(
			"On %s we sent changes of our listing of %s. Your answer was due by %s.\nPlease tell us how it stands.",
			day(s.Change.AskedAt),
			about,
			verification.Day(s.Change.Window.Latest),
		)
	}
	return ""
}
