package verification

import (
	"fmt"
	"math"
	"time"
	"uvent/core/fact/prose"

	"uvent/core/rule/rulebook"
)

// Past counts our own tries by a method on a directory that have ended.
type Past struct {
	Won  int `json:"won"`
	Lost int `json:"lost"`
}

// priorTries is how many tries of one's own what a rulebook says beforehand is worth.
const priorTries = 4

// unknownChance is thought of a method of which the rulebook says nothing.
const unknownChance = 0.8

// Chance is how likely one more try is to come to something: the mean of a Beta
// distribution that begins at the rulebook's word, as if it stood for four tries, and
// learns from those that were made.
func Chance(m rulebook.Method, p Past) float64 {
	said := m.Chance
	if said == 0 {
		said = unknownChance
	}
	return (priorTries*said + float64(p.Won)) / (priorTries + float64(p.Won+p.Lost))
}

// momentDays is what a try takes that comes at once: about half an hour, in days.
const momentDays = 0.02

// reckon says how long a way is likely to take.
func (w *Way) reckon(book rulebook.Rulebook, m rulebook.Method, now time.Time, p Past) {
	w.Chance = Chance(m, p)
	try, takes := momentDays, "A try takes minutes"
	if !m.AtOnce() {
		window := book.Calendar.Place().Window(m.Window, now)
		from := float64(window.Earliest.Number()+window.Latest.Number()) / 2
		try = max(momentDays, from-float64(now.Unix())/86400+0.5)
		takes = fmt.Sprintf("A try takes about %s", days(try))
	}
	w.Days = try / w.Chance
	past := "none made yet"
	if n := p.Won + p.Lost; n > 0 {
		past = fmt.Sprintf("%d of %d of ours worked", p.Won, n)
	}
	w.Why = fmt.Sprintf("%s, and works %s (%s): about %s in all.", takes, prose.Times(w.Chance), past, days(w.Days))
}

func days(n float64) string {
	switch {
	case n < 0.5:
		return "an hour"
	case n < 1.5:
		return "a day"
	}
	return fmt.Sprintf("%.0f days", math.Round(n))
}

// Ended reports whether an attempt has come to an end of its own, and whether it worked.
// One that was replaced says nothing.
func (a Attempt) Ended() (ended, won bool) {
	switch a.State {
	case AttemptAccepted:
		return true, true
	case AttemptRefused, AttemptUsedUp, AttemptLapsed:
		return true, false
	}
	return false, false
}
