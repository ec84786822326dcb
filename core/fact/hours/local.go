package hours

import (
	"math"
	"slices"
	"sync/atomic"
	"time"

	"uvent/core/fact/calendar"
)

// Local is a schedule at a place: with a time zone and public holidays, so that
// it can be asked about instants. It is safe for concurrent use.
//
// A sitting runs from the first instant at which a local clock shows its start,
// or a later time, to the first at which it shows its end. So a sitting that
// starts in the hour that is skipped in spring starts when the clocks change,
// and one that ends in the hour that comes twice in autumn ends the first time.
type Local struct {
	schedule Schedule
	zone     *time.Location
	holidays calendar.Holidays
	// flips are the minutes of the usual week, from Monday 00:00, at which the
	// place opens or closes; nil when not every week is the same.
	flips     []int64
	openFirst bool // open at the start of the week
	stretch   atomic.Pointer[zoneStretch]
}

// zoneStretch is a time between two changes of a zone's offset, in Unix seconds.
type zoneStretch struct{ from, to, offset int64 }

// settle is how long after a change of offset a sitting may still be under way
// that started before it: two days and an hour.
const settle = 49 * 3600

// In puts a schedule in its place.
func (s Schedule) In(zone *time.Location, holidays calendar.Holidays) *Local {
	l := &Local{schedule: s, zone: zone, holidays: holidays}
	if s.weekly() {
		l.flips, l.openFirst = s.Week().flips()
	}
	return l
}

// flips lists the minutes of the week at which the state changes.
func (w Week) flips() (at []int64, openFirst bool) {
	var week []Sitting
	for day, sittings := range w {
		for _, s := range sittings {
			s.Start, s.End = s.Start+day*DayMinutes, s.End+day*DayMinutes
			if s.End > WeekMinutes { // runs on into the week's start
				week = append(week, Sitting{0, s.End - WeekMinutes})
				s.End = WeekMinutes
			}
			week = append(week, s)
		}
	}
	week = join(week)
	at = []int64{}
	for _, s := range week {
		at = append(at, int64(s.Start), int64(s.End))
	}
	if n := len(at); n > 0 && at[0] == 0 {
		openFirst, at = true, at[1:]
	}
	if n := len(at); n > 0 && at[n-1] == WeekMinutes {
		at = at[:n-1]
		if !openFirst {
			at = append([]int64{0}, at...)
			openFirst = true // closes as the week begins
		}
	} else if openFirst {
		at = append(at, 0)
		slices.Sort(at)
		openFirst = false // opens as the week begins
	}
	return at, openFirst
}

// Minutes is how long the place is open in a usual week, in minutes.
func (w Week) Minutes() int {
	flips, open := w.flips()
	total, from := 0, 0
	for _, f := range flips {
		if open {
			total += int(f) - from
		}
		open, from = !open, int(f)
	}
	if open {
		total += WeekMinutes - from
	}
	return total
}

// stretchAt is the stretch of constant offset around an instant.
func (l *Local) stretchAt(unix int64) *zoneStretch {
	if z := l.stretch.Load(); z != nil && z.from <= unix && unix < z.to {
		return z
	}
	t := time.Unix(unix, 0).In(l.zone)
	z := &zoneStretch{from: math.MinInt64, to: math.MaxInt64}
	_, offset := t.Zone()
	z.offset = int64(offset)
	from, to := t.ZoneBounds()
	if !from.IsZero() {
		z.from = from.Unix()
	}
	if !to.IsZero() {
		z.to = to.Unix()
	}
	l.stretch.Store(z)
	return z
}

func (z *zoneStretch) settled(unix int64) bool {
	return z.from == math.MinInt64 || unix-z.from >= settle
}

const weekSeconds = WeekMinutes * 60

// mondayShift makes the week of Unix time, whose day 0 was a Thursday, start on Monday.
const mondayShift = 3 * 86400

// weekly finds an instant in the usual week: how many flips lie at or before it
// and the local second of the week.
func (l *Local) weekly(unix int64, z *zoneStretch) (passed int, second int64) {
	second = (unix + z.offset + mondayShift) % weekSeconds
	if second < 0 {
		second += weekSeconds
	}
	minute := second / 60
	for passed < len(l.flips) && l.flips[passed] <= minute {
		passed++
	}
	return passed, second
}

// Open reports whether the place is open at an instant.
func (l *Local) Open(t time.Time) bool {
	unix := t.Unix()
	if z := l.stretchAt(unix); l.flips != nil && z.settled(unix) {
		passed, _ := l.weekly(unix, z)
		return l.openFirst != (passed%2 == 1)
	}
	today := calendar.DateOf(t.In(l.zone))
	for back := 0; back <= 2; back++ {
		d := today.Add(-back)
		for _, s := range l.schedule.On(d, l.holidays) {
			if back*DayMinutes > s.End+120 {
				continue // over long ago, whatever the clocks did
			}
			if !t.Before(d.At(s.Start, l.zone)) && t.Before(d.At(s.End, l.zone)) {
				return true
			}
		}
	}
	return false
}

// Next is the first instant after t at which the place opens or closes; false
// when it never does.
func (l *Local) Next(t time.Time) (time.Time, bool) {
	unix := t.Unix()
	if l.flips != nil {
		if len(l.flips) == 0 {
			return time.Time{}, false
		}
		if z := l.stretchAt(unix); z.settled(unix) {
			passed, second := l.weekly(unix, z)
			wait := weekSeconds - second
			if passed < len(l.flips) {
				wait = l.flips[passed]*60 - second
			} else {
				wait += l.flips[0] * 60
			}
			if unix+wait < z.to {
				return time.Unix(unix+wait, 0).In(l.zone), true
			}
		}
	}
	open, last := l.Open(t), l.horizon(calendar.DateOf(t.In(l.zone)))
	for from, to := range l.stretches(t, last) {
		switch {
		case open && !t.Before(from) && t.Before(to):
			return to, to.Before(last.In(l.zone))
		case !open && t.Before(from):
			return from, true
		}
	}
	return time.Time{}, false
}

// Stretch is the next stretch of opening at or after t of at least the given
// minutes, cut to what is left of it when t lies inside; false when there is none.
func (l *Local) Stretch(t time.Time, minutes int) (from, to time.Time, found bool) {
	for from, to := range l.stretches(t, l.horizon(calendar.DateOf(t.In(l.zone)))) {
		if from.Before(t) {
			from = t
		}
		if to.Sub(from) >= time.Duration(minutes)*time.Minute {
			return from, to, true
		}
	}
	return time.Time{}, time.Time{}, false
}

// OpenMinutes is how long the place is open between two instants, in minutes
// that really pass.
func (l *Local) OpenMinutes(from, to time.Time) int {
	var total time.Duration
	for a, b := range l.stretches(from, calendar.DateOf(to.In(l.zone)).Add(1)) {
		if !a.Before(to) {
			break
		}
		if a.Before(from) {
			a = from
		}
		if b.After(to) {
			b = to
		}
		total += b.Sub(a)
	}
	return int(total / time.Minute)
}

// stretches yields the stretches of opening that end after t, in order, from
// sittings that start by the last date; those that touch are joined.
func (l *Local) stretches(t time.Time, last calendar.Date) func(yield func(from, to time.Time) bool) {
	return func(yield func(from, to time.Time) bool) {
		var from, to time.Time // the stretch being built
		for d := calendar.DateOf(t.In(l.zone)).Add(-3); !last.Before(d); d = d.Add(1) {
			for _, s := range l.schedule.On(d, l.holidays) {
				a, b := d.At(s.Start, l.zone), d.At(s.End, l.zone)
				if !a.Before(b) {
					continue // it lay within the skipped hour
				}
				if !to.IsZero() && !a.After(to) {
					if b.After(to) {
						to = b
					}
					continue
				}
				if to.After(t) && !yield(from, to) {
					return
				}
				from, to = a, b
			}
		}
		if to.After(t) {
			yield(from, to)
		}
	}
}

// horizon is the last date that can differ from those a week before it.
func (l *Local) horizon(today calendar.Date) calendar.Date {
	last := today.Add(16)
	for _, r := range l.schedule.Rules {
		if r.Holidays && last.Before(today.Add(400)) {
			last = today.Add(400)
		}
		for _, s := range r.Dates {
			end := today.Add(8*366 + 16) // 29 February can be eight years away
			if s.To.Year != 0 {
				end = calendar.Date{Year: s.To.Year, Month: s.To.Month, Day: 28}.Add(20)
			}
			if last.Before(end) {
				last = end
			}
		}
	}
	return last
}
