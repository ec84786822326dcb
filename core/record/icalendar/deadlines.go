package icalendar

import (
	"time"

	ics "github.com/arran4/golang-ical"

	"uvent/core/fact/calendar"
)

// Deadline is a day, or a moment, on which something is due.
type Deadline struct {
	UID     string // the same every time
	Title   string
	Says    string
	At      *time.Time    // a moment; nil: the whole day
	On      calendar.Date // the day, where it is no moment
	Address string        // where it is done
}

// beforeMoment and beforeDay are how long before a deadline a calendar speaks up: a moment's two hours
// before, a day's at nine in the morning of the day before.
const (
	beforeMoment = "-PT2H"
	beforeDay    = "-PT15H"
)

// WriteDeadlines writes deadlines as events with an alarm each (RFC 5545); now is when
// they are written.
func WriteDeadlines(name string, list []Deadline, now time.Time) []byte {
	c := ics.NewCalendarFor("Uvent")
	c.SetMethod(ics.MethodPublish)
	c.SetName(name)
	c.SetRefreshInterval("PT1H")
	for _, d := range list {
		e := c.AddEvent(d.UID)
		e.SetDtStampTime(now.UTC())
		before := beforeDay
		if d.At != nil {
			before = beforeMoment
			e.SetStartAt(d.At.UTC())
			e.SetEndAt(d.At.UTC())
		} else {
			e.SetAllDayStartAt(d.On.In(time.UTC))
			e.SetAllDayEndAt(d.On.Add(1).In(time.UTC))
		}
		e.SetSummary(d.Title)
		e.SetDescription(d.Says)
		e.SetURL(d.Address)
		e.SetProperty(ics.ComponentPropertyTransp, "TRANSPARENT")
		a := e.AddAlarm()
		a.SetAction(ics.ActionDisplay)
		a.SetTrigger(before)
		a.SetProperty(ics.ComponentPropertyDescription, d.Title)
	}
	return []byte(c.Serialize(crlf))
}
