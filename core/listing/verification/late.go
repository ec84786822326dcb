package verification

import (
	"fmt"
	"time"

	"uvent/core/fact/calendar"
)

// stragglerDays are how many days after the last on which it was due a letter is still looked out for.
const stragglerDays = 21

// Late is what became of the code of an attempt that has ended, in sentences, while it may still come or once it has: nobody
// is to try it, and nobody to think that it is the other one. Empty where nothing is to be said of it.
func (s *State) Late(a Attempt, now time.Time, zone *time.Location) string {
	if a.Window == nil || a.Digits == 0 || a.UnderWay() {
		return ""
	}
	why := s.void(a, zone)
	what := fmt.Sprintf("The %s asked for on %s", nouns[a.Method], Day(calendar.DateIn(a.AskedAt, zone)))
	switch {
	case why == "":
		return ""
	case a.ArrivedAt != nil && a.EndedAt != nil && !a.ArrivedAt.Before(*a.EndedAt):
		return fmt.Sprintf("%s came on %s. %s It can be thrown away.", what, Day(calendar.DateIn(*a.ArrivedAt, zone)), why)
	case a.ArrivedAt != nil, calendar.DateIn(now, zone).Number() > a.Window.Latest.Number()+stragglerDays:
		return ""
	}
	return fmt.Sprintf("%s may still come. %s", what, why)
}

// void says why the code of an attempt is of no use any more; empty for one that never was sent, or did its work.
func (s *State) void(a Attempt, zone *time.Location) string {
	switch a.State {
	case AttemptReplaced:
		for _, o := range s.Attempts {
			if a.EndedAt != nil && o.AskedAt.Equal(*a.EndedAt) && o.ID != a.ID {
				other := "the " + nouns[o.Method]
				if o.Method == a.Method {
					other = "another " + nouns[o.Method]
				}
				return fmt.Sprintf("Its code is void since %s, when %s was asked for.", Day(calendar.DateIn(o.AskedAt, zone)), other)
			}
		}
	case AttemptNeedless:
		if s.VerifiedAt != nil {
			return fmt.Sprintf("Its code is not needed: the listing was verified on %s.", Day(calendar.DateIn(*s.VerifiedAt, zone)))
		}
	case AttemptLapsed:
		return fmt.Sprintf("Its code stopped working on %s.", Day(calendar.DateIn(a.Expires, zone)))
	case AttemptUsedUp:
		return "No tries are left for its code."
	}
	return ""
}

// Mistaken is which other code was perhaps typed where one was refused: that of another attempt with as many digits, which
// somebody may have in hand. Empty where there is none.
func (s *State) Mistaken(a Attempt, now time.Time, zone *time.Location) string {
	for i := len(s.Attempts) - 1; i >= 0; i-- {
		o := s.Attempts[i]
		switch {
		case o.ID == a.ID || o.Digits != a.Digits || o.Digits == 0:
		case o.Live():
			return fmt.Sprintf("Or is it the code of the %s asked for on %s? That is still to be typed.", nouns[o.Method], Day(calendar.DateIn(o.AskedAt, zone)))
		default:
			if late := s.Late(o, now, zone); late != "" {
				return "Perhaps it is another one’s. " + late
			}
		}
	}
	return ""
}
