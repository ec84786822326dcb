package hours

import "slices"

// Ability is what opening hours a form can express.
type Ability struct {
	SittingsPerDay int  // at least 1
	PastMidnight   bool // a sitting may end on the next day
}

// Reduce brings a week into what a form can express, at the least loss in minutes:
// sittings too many are joined over their smallest break, so that it is shown open
// while shut; where nothing may pass midnight, what does is given to the next day
// or, where that costs more than leaving it out, is left out.
func (w Week) Reduce(a Ability) Week {
	var out Week
	for i := range w {
		out[i] = join(slices.Clone(w[i]))
	}
	if !a.PastMidnight {
		out = w.unrolled()
	}
	for i := range out {
		// What began on the day before is what may be left out.
		carried := 0
		if !a.PastMidnight {
			carried = carries(w[(i+6)%7])
		}
		out[i] = fewer(out[i], a.SittingsPerDay, carried)
	}
	return out
}

// carries is how far into the next day a day's sittings go, in minutes; 0 for not
// at all.
func carries(day []Sitting) (minutes int) {
	for _, s := range day {
		minutes = max(minutes, s.End-DayMinutes)
	}
	return minutes
}

// fewer joins a day's sittings over their smallest breaks until there are no more
// than most. A first one that was merely carried over from the day before is left
// out instead when it is shorter than the break.
func fewer(day []Sitting, most, carried int) []Sitting {
	for len(day) > max(most, 1) {
		at := 1
		for i := range day[1:] {
			if day[i+1].Start-day[i].End < day[at].Start-day[at-1].End {
				at = i + 1
			}
		}
		if gap := day[at].Start - day[at-1].End; carried > 0 && day[0] == (Sitting{0, carried}) && carried <= gap {
			day = day[1:]
			continue
		}
		day = slices.Concat(day[:at-1], []Sitting{{day[at-1].Start, day[at].End}}, day[at+1:])
	}
	return day
}
