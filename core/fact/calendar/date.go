// Package calendar counts days: dates without a time, public holidays by
// country and region, and windows such as "6 to 12 business days".
package calendar

import (
	"fmt"
	"time"
)

// Date is a day in the Gregorian calendar, with no time and no zone.
type Date struct {
	Year  int
	Month time.Month
	Day   int
}

// DateOf is the date on which t falls in its own zone.
func DateOf(t time.Time) Date {
	y, m, d := t.Date()
	return Date{y, m, d}
}

// ParseDate reads a date written as RFC 3339's full-date, 2026-11-24.
func ParseDate(s string) (Date, error) {
	t, err := time.Parse(time.DateOnly, s)
	if err != nil {
		return Date{}, fmt.Errorf("%q is not a date; write it as 2026-11-24", s)
	}
	return DateOf(t), nil
}

// String writes the date as RFC 3339's full-date.
func (d Date) String() string { return fmt.Sprintf("%04d-%02d-%02d", d.Year, d.Month, d.Day) }

// Words writes the date for people, with its year where that is not today's: "Thu 26 Nov".
func (d Date) Words(today Date) string {
	if d.Year != today.Year {
		return d.In(time.UTC).Format("Mon 2 Jan 2006")
	}
	return d.In(time.UTC).Format("Mon 2 Jan")
}

// MarshalText writes the date as String does.
func (d Date) MarshalText() ([]byte, error) { return []byte(d.String()), nil }

// UnmarshalText reads what MarshalText wrote.
func (d *Date) UnmarshalText(b []byte) (err error) {
	*d, err = ParseDate(string(b))
	return err
}

// Number counts days since 1 January 1970, which is day 0.
func (d Date) Number() int {
	return int(time.Date(d.Year, d.Month, d.Day, 0, 0, 0, 0, time.UTC).Unix() / 86400)
}

// DateNumber is the date whose Number is n.
func DateNumber(n int) Date { return DateOf(time.Unix(int64(n)*86400, 0).UTC()) }

// Add is the date n days later, or earlier when n is negative.
func (d Date) Add(n int) Date {
	return DateOf(time.Date(d.Year, d.Month, d.Day+n, 0, 0, 0, 0, time.UTC))
}

// Weekday is the day of the week.
func (d Date) Weekday() time.Weekday {
	return time.Date(d.Year, d.Month, d.Day, 0, 0, 0, 0, time.UTC).Weekday()
}

// Before reports whether d is an earlier day than e.
func (d Date) Before(e Date) bool { return d.Compare(e) < 0 }

// Compare is negative when d is earlier than e, zero when they are the same day.
func (d Date) Compare(e Date) int {
	if d.Year != e.Year {
		return d.Year - e.Year
	}
	if d.Month != e.Month {
		return int(d.Month - e.Month)
	}
	return d.Day - e.Day
}

// In is the first instant of the date in a zone. That is midnight, or the
// moment the clocks went forward where midnight was skipped.
func (d Date) In(zone *time.Location) time.Time { return d.At(0, zone) }

// At is the first instant at which a clock in the zone shows the given minute
// of this date, or a later one. A time skipped when clocks go forward becomes
// the moment of the change; a time that comes twice when they go back is the
// first of the two, as in RFC 5545, section 3.3.5. The minute may pass 1440,
// which runs on into the following dates.
func (d Date) At(minute int, zone *time.Location) time.Time {
	wall := time.Date(d.Year, d.Month, d.Day, 0, minute, 0, 0, time.UTC).Unix()
	probe := time.Unix(wall, 0).In(zone)
	// The offset is one of those in force within a day of the probe, so the
	// earliest instant that reads the wall time lies in one of these stretches.
	for t := probe.Add(-24 * time.Hour); ; {
		_, offset := t.Zone()
		_, end := t.ZoneBounds()
		at := time.Unix(wall-int64(offset), 0).In(zone)
		if at.Before(t) {
			return t // skipped: the stretch begins after this wall time
		}
		if end.IsZero() || at.Before(end) {
			return at
		}
		t = end.In(zone)
	}
}

// DateIn is the date of an instant in a zone.
func DateIn(t time.Time, zone *time.Location) Date { return DateOf(t.In(zone)) }
