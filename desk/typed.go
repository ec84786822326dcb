package desk

import (
	"errors"
	"time"

	"uvent/core/address"
	"uvent/core/calendar"
	"uvent/core/contact"
	"uvent/core/fit"
	"uvent/core/hours"
	"uvent/core/record"
	"uvent/core/rulebook"
)

// TypedHours are hours as they are being typed or drawn, and where.
type TypedHours struct {
	Text    string            // opening_hours
	Drawn   [][]hours.Sitting // the usual week, Monday first; nil when it was typed
	Country string
	Region  string
	Zone    string // IANA; empty for the region's
}

// Hours is what hours come to.
type Hours struct {
	Text             string // in normal form; as it was typed when it cannot be read
	Words            string
	Week             hours.Week
	MinutesPerWeek   int
	Errors, Warnings []hours.Error
	Zone             string // empty when it is not known; what follows is then not told
	OpenNow          bool
	NextChange       *time.Time
	CallFrom, CallTo *time.Time // the next stretch in which a call with a code is answered
}

// callMinutes is how long a shop must be open for a call with a code.
const callMinutes = 10

// ReadHours reads hours. Of a drawn week the text keeps what it says besides:
// dates, seasons and public holidays.
func (d *Desk) ReadHours(q TypedHours) (Hours, error) {
	out := Hours{Text: q.Text}
	var schedule hours.Schedule
	if q.Text != "" {
		read, warnings, err := hours.Parse(q.Text)
		var wrong hours.Errors
		if errors.As(err, &wrong) && q.Drawn == nil {
			for _, e := range wrong {
				out.Errors = append(out.Errors, *e)
			}
			return out, nil
		}
		schedule, out.Warnings = read, warnings
	}
	if q.Drawn != nil {
		week, err := drawnWeek(q.Drawn)
		if err != nil {
			return out, err
		}
		schedule, out.Warnings = schedule.WithWeek(week), nil
	}
	out.Text, out.Words, out.Week = schedule.String(), schedule.Words(), schedule.Week()
	out.MinutesPerWeek = out.Week.Minutes()
	name := q.Zone
	if name == "" {
		name = address.Zone(q.Country, q.Region)
	}
	zone, err := time.LoadLocation(name)
	if name == "" || err != nil || out.Text == "" {
		return out, nil
	}
	now := d.Now()
	local := schedule.In(zone, calendar.HolidaysOf(q.Country, q.Region))
	out.Zone, out.OpenNow = name, local.Open(now)
	if next, ok := local.Next(now); ok {
		out.NextChange = &next
	}
	if from, to, ok := local.Stretch(now, callMinutes); ok {
		out.CallFrom, out.CallTo = &from, &to
	}
	return out, nil
}

func drawnWeek(drawn [][]hours.Sitting) (w hours.Week, err error) {
	if len(drawn) != len(w) {
		return w, &Problem{Kind: Invalid, Detail: "A week has seven days, Monday first."}
	}
	for i, day := range drawn {
		for _, s := range day {
			if s.Start < 0 || s.Start >= hours.DayMinutes || s.End <= s.Start || s.End > 2*hours.DayMinutes {
				return w, &Problem{Kind: Invalid, Detail: "A sitting starts between 0 and 1439 and ends after it, by 2880."}
			}
			w[i] = append(w[i], s)
		}
	}
	return w, nil
}

// ReadPhone reads a number as it is typed in a country.
func (d *Desk) ReadPhone(text, country string) contact.Phone { return contact.ReadPhone(text, country) }

// Fit is what a directory can do with a record.
type Fit struct {
	Book    rulebook.Rulebook
	Missing []string // what keeps it from taking the record; nothing when it takes it as it is
}

// Fits holds a record against every directory.
func (d *Desk) Fits(r record.Record) []Fit {
	out := make([]Fit, len(d.books))
	for i, b := range d.books {
		out[i] = Fit{b, fit.Missing(r, b)}
	}
	return out
}
