package hours

// Difference is what a schedule that is shown gets wrong about a usual week.
type Difference struct {
	OpenWhileShut int // minutes a week shown open while shut
	ShutWhileOpen int // minutes a week shown shut while open
	// Shown holds, per weekday, the stretches shown open while shut; Hidden
	// those shown shut while open. Both count from midnight of their day.
	Shown, Hidden Week
}

// Compare holds a week that is shown against the true one.
func Compare(shown, truth Week) Difference {
	shown, truth = shown.unrolled(), truth.unrolled()
	var d Difference
	for i := range truth {
		d.Shown[i] = without(shown[i], truth[i])
		d.Hidden[i] = without(truth[i], shown[i])
		d.OpenWhileShut += total(d.Shown[i])
		d.ShutWhileOpen += total(d.Hidden[i])
	}
	return d
}

// unrolled gives each weekday what is open on it from midnight to midnight, so
// that a sitting past midnight is seen on both its days.
func (w Week) unrolled() Week {
	var out Week
	for i, day := range w {
		for _, s := range day {
			out[i] = append(out[i], Sitting{s.Start, min(s.End, DayMinutes)})
			if s.End > DayMinutes {
				next := (i + 1) % 7
				out[next] = append(out[next], Sitting{0, s.End - DayMinutes})
			}
		}
	}
	for i := range out {
		out[i] = join(out[i])
	}
	return out
}

// without is what of a lies outside b; both sorted and disjoint.
func without(a, b []Sitting) []Sitting {
	var out []Sitting
	for _, s := range a {
		for _, cut := range b {
			if cut.End <= s.Start || s.End <= cut.Start {
				continue
			}
			if s.Start < cut.Start {
				out = append(out, Sitting{s.Start, cut.Start})
			}
			s.Start = cut.End
			if s.Start >= s.End {
				break
			}
		}
		if s.Start < s.End {
			out = append(out, s)
		}
	}
	return out
}

func total(sittings []Sitting) (minutes int) {
	for _, s := range sittings {
		minutes += s.End - s.Start
	}
	return minutes
}
