package hours

import (
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"uvent/core/fact/calendar"
)

// Specification is one sitting as schema.org writes it
// (https://schema.org/OpeningHoursSpecification): for a weekday, or for dates.
// A sitting past midnight closes earlier than it opens; equal times on dates
// are a day that is closed; 23:59 closes the day.
type Specification struct {
	Day     string         `json:"dayOfWeek,omitempty"` // https://schema.org/Monday
	From    *calendar.Date `json:"validFrom,omitempty"`
	Through *calendar.Date `json:"validThrough,omitempty"`
	Opens   string         `json:"opens"`
	Closes  string         `json:"closes"`
}

// Specifications are a list of them as others write it: one alone may stand without a
// list, and one may name several weekdays.
type Specifications []Specification

// UnmarshalJSON reads one or a list.
func (l *Specifications) UnmarshalJSON(data []byte) error {
	var many []json.RawMessage
	if json.Unmarshal(data, &many) != nil {
		many = []json.RawMessage{data}
	}
	*l = nil
	for _, one := range many {
		var named struct {
			Days json.RawMessage `json:"dayOfWeek"`
		}
		if err := json.Unmarshal(one, &named); err != nil {
			return err
		}
		var days []string
		if json.Unmarshal(named.Days, &days) != nil {
			var spec Specification
			if err := json.Unmarshal(one, &spec); err != nil {
				return err
			}
			*l = append(*l, spec)
			continue
		}
		var rest struct {
			Specification
			Day []string `json:"dayOfWeek"` // hides the one that holds a single day
		}
		if err := json.Unmarshal(one, &rest); err != nil {
			return err
		}
		for _, d := range days {
			rest.Specification.Day = d
			*l = append(*l, rest.Specification)
		}
	}
	return nil
}

// Specifications writes the usual week and the special dates. lost says what
// cannot be carried so, in words: seasons, public holidays, comments, and a
// sitting of a whole day or longer than one.
func (s Schedule) Specifications() (week, dates []Specification, lost []string) {
	for day, sittings := range s.Week() {
		for _, sit := range sittings {
			spec := specification(sit, &lost)
			spec.Day = "https://schema.org/" + time.Weekday((day+1)%7).String()
			week = append(week, spec)
		}
	}
	for _, sp := range s.Specials() {
		sittings := sp.Sittings
		if len(sittings) == 0 {
			dates = append(dates, Specification{From: &sp.From, Through: &sp.To, Opens: "00:00", Closes: "00:00"})
		}
		for _, sit := range sittings {
			spec := specification(sit, &lost)
			spec.From, spec.Through = &sp.From, &sp.To
			dates = append(dates, spec)
		}
	}
	for _, r := range s.Rules {
		switch {
		case r.Holidays:
			lost = append(lost, "what holds on public holidays")
		case len(r.Dates) > 0 && !r.special():
			lost = append(lost, "hours of a season, or of a date of every year")
		}
		if r.Comment != "" {
			lost = append(lost, fmt.Sprintf("the comment “%s”", r.Comment))
		}
	}
	return week, dates, lost
}

func specification(s Sitting, lost *[]string) Specification {
	if s.End-s.Start >= DayMinutes && (s.Start != 0 || s.End != DayMinutes) {
		*lost = append(*lost, fmt.Sprintf("that the sitting from %s runs on for a day or more", clockText(s.Start)))
	}
	spec := Specification{Opens: clockText(s.Start), Closes: clockText(s.End)}
	if s.End == DayMinutes {
		spec.Closes = "23:59"
	}
	return spec
}

func clockText(minute int) string {
	return fmt.Sprintf("%02d:%02d", minute/60%24, minute%60)
}

// FromSpecifications reads what Specifications wrote, or others did. One that
// cannot be read is left out.
func FromSpecifications(list []Specification) Schedule {
	var week Week
	var special []Special
	for _, spec := range list {
		s, ok := spec.sitting()
		if !ok {
			continue
		}
		if spec.From != nil {
			through := spec.From
			if spec.Through != nil {
				through = spec.Through
			}
			var sittings []Sitting
			if s.Start != s.End {
				sittings = []Sitting{s}
			}
			if n := len(special); n > 0 && special[n-1].From == *spec.From && special[n-1].To == *through {
				special[n-1].Sittings = append(special[n-1].Sittings, sittings...)
				continue
			}
			special = append(special, Special{From: *spec.From, To: *through, Sittings: sittings})
			continue
		}
		for i := range week {
			if strings.HasSuffix(spec.Day, time.Weekday((i+1)%7).String()) && s.Start != s.End {
				week[i] = append(week[i], s)
			}
		}
	}
	out := Schedule{}.WithWeek(week)
	for _, sp := range special {
		out = out.WithSpecial(sp)
	}
	return out
}

func (spec Specification) sitting() (Sitting, bool) {
	opens, errOpens := parseClock(spec.Opens)
	closes, errCloses := parseClock(spec.Closes)
	if errOpens != nil || errCloses != nil {
		return Sitting{}, false
	}
	s := Sitting{opens, closes}
	if strings.HasPrefix(spec.Closes, "23:59") {
		s.End = DayMinutes
	}
	if s.End < s.Start {
		s.End += DayMinutes
	}
	return s, true
}

// parseClock reads a time with or without seconds.
func parseClock(text string) (minute int, err error) {
	t, err := time.Parse("15:04", text)
	if err != nil {
		t, err = time.Parse("15:04:05", text)
	}
	return t.Hour()*60 + t.Minute(), err
}
