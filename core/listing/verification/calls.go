package verification

import (
	"slices"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/record/record"
)

// Call times are offered for some days, each on a half hour with ten minutes of opening
// left, and not before somebody could have read the page.
const (
	callDays    = 5
	callMinutes = 10
	callNotice  = 20 * time.Minute
	bookNotice  = 20 * time.Hour   // before a call that we choose the time of
	betweenCall = 30 * time.Minute // so that one person can take them
)

// CallTimes are when an owner can choose to be called: while the shop is open.
func CallTimes(r record.Record, now time.Time) (out []time.Time) {
	zone, known := r.Location()
	s, _, err := hours.Parse(r.Hours)
	if !known || err != nil || r.Hours == "" {
		return nil
	}
	holidays := calendar.HolidaysOf(r.Address.Country, r.Address.Region)
	local := s.In(zone, holidays)
	at := now.Add(callNotice).In(zone)
	at = at.Truncate(30 * time.Minute).Add(30 * time.Minute)
	for ; at.Before(now.AddDate(0, 0, callDays)); at = at.Add(30 * time.Minute) {
		if h := at.Hour(); h < 7 || h >= 21 {
			continue // nobody wants to be called at night
		}
		if day := calendar.DateOf(at); holidays.On(day) && !s.Said(day, true) {
			continue // nor on a holiday of which nobody has said that the shop is open
		}
		if from, to, ok := local.Stretch(at, callMinutes); ok && !from.After(at) && to.Sub(at) >= callMinutes*time.Minute {
			out = append(out, at)
		}
	}
	return out
}

// BookTime is the first time at which an owner who is told now can be called, half an hour off all other calls; false where
// the coming days have none.
func BookTime(r record.Record, now time.Time, others []time.Time) (time.Time, bool) {
	for _, at := range CallTimes(r, now) {
		if booked(at, now, others) {
			return at, true
		}
	}
	return time.Time{}, false
}

// booked reports whether a call can be booked for a time: its owner can be told before, and it is off all other calls.
func booked(at, now time.Time, others []time.Time) bool {
	near := slices.ContainsFunc(others, func(o time.Time) bool { return at.Sub(o).Abs() < betweenCall })
	return !near && at.Sub(now) >= bookNotice
}

// CallTime reports whether a time is one of those that are offered.
func CallTime(r record.Record, at, now time.Time) bool {
	return slices.ContainsFunc(CallTimes(r, now), func(t time.Time) bool { return t.Equal(at) })
}

// RingTime is when somebody at the location is best rung: the first half hour at which it has been open for an hour already, or
// else the first at which it is open. False where the record does not say when that is.
func RingTime(r record.Record, now time.Time) (best time.Time, known bool) {
	times := CallTimes(r, now)
	if len(times) == 0 {
		return best, false
	}
	for i, at := range times {
		if i >= 2 && at.Sub(times[i-2]) == time.Hour {
			return at, true
		}
	}
	return times[0], true
}

// GoodTime is when an owner is well called, and why.
type GoodTime struct {
	At  time.Time
	Why string
}

// quiet is for how long a shop has been open before a quiet time, and for how long it still is.
const quiet = time.Hour

// GoodTimes are the times that are proposed for a call of which the owner is told before, half an hour off all other calls: the
// first that leaves a day for that, the first in the middle of the opening hours, and the first on another day. Fewer where the
// coming days have fewer.
func GoodTimes(r record.Record, now time.Time, others []time.Time) (out []GoodTime) {
	zone, known := r.Location()
	s, _, err := hours.Parse(r.Hours)
	if !known || err != nil {
		return nil
	}
	local := s.In(zone, calendar.HolidaysOf(r.Address.Country, r.Address.Region))
	add := func(why string, fits func(at time.Time) bool) {
		for _, at := range CallTimes(r, now) {
			proposed := slices.ContainsFunc(out, func(o GoodTime) bool { return o.At.Equal(at) })
			if !proposed && booked(at, now, others) && fits(at) {
				out = append(out, GoodTime{at, why})
				return
			}
		}
	}
	add("The first that leaves a day to tell them.", func(time.Time) bool { return true })
	add("An hour after they open and an hour before they close.", func(at time.Time) bool {
		before := at.Add(-quiet)
		from, to, open := local.Stretch(before, int((2 * quiet).Minutes()))
		return open && !from.After(before) && to.Sub(at) >= quiet
	})
	if len(out) > 0 {
		first := calendar.DateOf(out[0].At.In(zone))
		add("Another day, in case that one is full.", func(at time.Time) bool { return calendar.DateOf(at.In(zone)) != first })
	}
	return out
}

// Bookable reports whether an owner who is told now can be called at a time.
func Bookable(r record.Record, at, now time.Time, others []time.Time) bool {
	return booked(at, now, others) && CallTime(r, at, now)
}
