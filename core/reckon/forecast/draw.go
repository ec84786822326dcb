package forecast

import (
	"math/rand/v2"
	"time"

	"uvent/core/fact/calendar"
)

// world is one drawing of chance. Days are counted from today.
type world struct {
	*rand.Rand
	now    time.Time
	today  int // as calendar.Date.Number
	plans  map[*Step]*plan
	shared map[string]int // what has been drawn in this run, by key: the day on which it is done
}

// plan keeps what has been reckoned of a step's calendar, by day from today.
type plan struct {
	windows  map[int]span
	business map[int]int // the next business day
	begun    *span
}

// span is a window in days from today.
type span struct{ earliest, latest int }

func (w *world) plan(s *Step) *plan {
	p := w.plans[s]
	if p == nil {
		p = &plan{windows: map[int]span{}, business: map[int]int{}}
		w.plans[s] = p
	}
	return p
}

func (w *world) date(day int) calendar.Date { return calendar.DateNumber(w.today + day) }

// way draws the day on which a listing is public, and which of its steps, needs first,
// took longest.
func (w *world) way(l *Listing) (day, longest int) {
	most := -1
	for i := range l.Needs {
		if done := w.step(&l.Needs[i], 0); done > most {
			most, longest = done, i
		}
	}
	day = max(0, most)
	for i := range l.Steps {
		done := w.step(&l.Steps[i], day)
		if took := done - day; took > most {
			most, longest = took, len(l.Needs)+i
		}
		if day = done; day >= mostDays {
			break
		}
	}
	return day, longest
}

// step draws the day on which a wait is over that begins on a day.
func (w *world) step(s *Step, from int) int {
	if s.Shared != "" {
		if day, drawn := w.shared[s.Shared]; drawn {
			return max(from, day)
		}
	}
	day := from
	if s.Maybe == 0 || w.Float64() < s.Maybe {
		day = w.wait(s, from)
	}
	if s.Shared != "" {
		w.shared[s.Shared] = day
	}
	return day
}

// wait draws until a try comes to something.
func (w *world) wait(s *Step, from int) int {
	if s.Rule.Unit == "" && s.Chance == 0 {
		return from
	}
	day := from
	for try := range mostTries {
		win, chance := w.window(s, day), s.Chance
		earliest := win.earliest
		if try == 0 && !s.Began.IsZero() {
			win = w.begun(s)
			// It has not come so far: the days that are left are the later ones, and
			// it is the likelier that it is lost.
			left := max(0, min(1, float64(win.latest-max(0, win.earliest)+1)/float64(win.latest-win.earliest+1)))
			if chance > 0 && s.Silent {
				chance = chance * left / (chance*left + 1 - chance)
			}
			if win.latest < 0 && !s.Silent {
				return w.IntN(5) + 1 // late, and any day now
			}
			earliest = max(0, win.earliest)
		}
		won := s.Chance == 0 || w.Float64() < chance
		var drawn int
		if n := win.latest - earliest; n > 0 {
			drawn = w.business(s, earliest+w.IntN(n+1), win.latest)
		} else {
			drawn = max(earliest, win.latest)
		}
		if won {
			return max(day, drawn)
		}
		if day = max(day, drawn); s.Silent {
			day = max(0, win.latest+1)
		}
		if day >= mostDays {
			break
		}
	}
	return day
}

// business moves a day on to the next business day, as long as the window lasts.
func (w *world) business(s *Step, day, latest int) int {
	p := w.plan(s)
	d, known := p.business[day]
	if !known {
		d = s.Place.Holidays.AddBusiness(w.date(day), 0).Number() - w.today
		p.business[day] = d
	}
	return min(d, latest)
}

// begun is the window of a wait that is under way.
func (w *world) begun(s *Step) span {
	p := w.plan(s)
	if p.begun == nil {
		win := s.Place.Window(s.Rule, s.Began)
		p.begun = &span{win.Earliest.Number() - w.today, win.Latest.Number() - w.today}
	}
	return *p.begun
}

// window is the wait's window when it begins on a day: now where that is today, or else
// at its noon.
func (w *world) window(s *Step, day int) span {
	if s.Rule.Unit == "" {
		return span{day, day}
	}
	p := w.plan(s)
	if have, ok := p.windows[day]; ok {
		return have
	}
	from := w.now
	if day > 0 {
		from = w.date(day).At(12*60, s.Place.Zone)
	}
	win := s.Place.Window(s.Rule, from)
	out := span{win.Earliest.Number() - w.today, win.Latest.Number() - w.today}
	p.windows[day] = out
	return out
}
