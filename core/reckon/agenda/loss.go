package agenda

import (
	"time"
	"uvent/core/fact/prose"

	"uvent/core/fact/calendar"
	"uvent/core/listing/verification"
)

// in says how far off a moment is: "in 12 minutes", "today at 17:00", "on Fri 27 Nov".
func in(t, now time.Time, zone *time.Location) string {
	switch left := t.Sub(now); {
	case left < time.Hour:
		return "in " + prose.Count(max(1, int(left.Minutes())), "minute")
	case left < 20*time.Hour:
		return verification.When(t, now, zone) + " at " + verification.Clock(t, zone)
	}
	return "on " + verification.Day(calendar.DateOf(t.In(zone)))
}

// loss is the weight lost a day, raised steeply where a code is about to stop working: by
// what is left of its time, in steps, so that it holds for a while.
func loss(l Listing, t Task, now time.Time) float64 {
	w := float64(l.Book.Weight)
	if t.Until != nil && t.Group == Mine {
		left, _ := left(*t.Until, now)
		w *= 1 + 9/max(left.Hours()/24, 0.1)
	}
	return w
}

// left is the time to a moment in whole days, and in whole hours on the last two, what has
// begun counted as whole; and the length of the step.
func left(t, now time.Time) (left, step time.Duration) {
	step = 24 * time.Hour
	if t.Sub(now) <= 2*step {
		step = time.Hour
	}
	return (t.Sub(now) + step - 1) / step * step, step
}

// changes is when a window opens or ends, or a code has a step less.
func changes(l Listing, t Task, now time.Time) (out *time.Time) {
	soonest := func(at time.Time) {
		if at.After(now) && (out == nil || at.Before(*out)) {
			out = &at
		}
	}
	if t.Window != nil {
		place := l.Book.Calendar.Place()
		soonest(place.StartOf(*t.Window))
		soonest(place.EndOf(*t.Window))
	}
	if t.Until != nil && t.Group == Mine {
		left, step := left(*t.Until, now)
		soonest(t.Until.Add(step - left))
	}
	return out
}
