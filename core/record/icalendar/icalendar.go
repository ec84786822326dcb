// Package icalendar writes a record's special dates as iCalendar (RFC 5545), a
// day or a span of days an event, and reads them back.
package icalendar

import (
	"bytes"
	"cmp"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/record/record"
)

// crlf ends each line, as RFC 5545, section 3.1, has it on every system.
const crlf = ics.WithNewLineWindows

// property carries the hours in OpenStreetMap's words, for reading back.
const property = ics.ComponentProperty("X-OPENING-HOURS")

// Write writes the special dates of a record; now is when it is written.
// Everything else of the record has no place there.
func Write(r record.Record, now time.Time) ([]byte, error) {
	schedule := hours.Schedule{}
	if r.Hours != "" {
		var err error
		if schedule, _, err = hours.Parse(r.Hours); err != nil {
			return nil, fmt.Errorf("hours: %w", err)
		}
	}
	c := ics.NewCalendarFor("Uvent")
	c.SetMethod(ics.MethodPublish)
	place := cmp.Or(r.Label, r.Address.Locality)
	c.SetName(r.Name + ", " + place + ": special dates")
	for _, sp := range schedule.Specials() {
		e := c.AddEvent(fmt.Sprintf("%s-%s-%s@uvent.example", sp.From, sp.To, strings.ReplaceAll(strings.ToLower(place), " ", "-")))
		e.SetDtStampTime(now.UTC())
		e.SetAllDayStartAt(sp.From.In(time.UTC))
		e.SetAllDayEndAt(sp.To.Add(1).In(time.UTC)) // RFC 5545, section 3.6.1: not included
		e.SetSummary(r.Name + ", " + place + ": " + hours.SittingsWords(sp.Sittings))
		e.SetProperty(property, hours.Schedule{}.WithSpecial(sp).String())
	}
	return []byte(c.Serialize(crlf)), nil
}

// ErrNoDates means that a calendar holds no day that could be read.
var ErrNoDates = errors.New("the calendar holds no whole days with hours, or closed in their title")

// Read lays the special dates of a calendar over a record's hours: those that
// Write wrote, and whole days whose title says closed.
func Read(data []byte, over record.Record) (record.Record, error) {
	c, err := ics.ParseCalendar(bytes.NewReader(data))
	if err != nil {
		return over, fmt.Errorf("the document cannot be read as iCalendar: %w", err)
	}
	schedule, _, err := hours.Parse(over.Hours)
	if over.Hours != "" && err != nil {
		return over, fmt.Errorf("hours: %w", err)
	}
	found := false
	for _, e := range c.Events() {
		for _, sp := range specials(e) {
			found = true
			if !slices.ContainsFunc(schedule.Specials(), func(have hours.Special) bool { return reflect.DeepEqual(have, sp) }) {
				schedule = schedule.WithSpecial(sp)
			}
		}
	}
	if !found {
		return over, ErrNoDates
	}
	over.Hours = schedule.String()
	return over, nil
}

func specials(e *ics.VEvent) []hours.Special {
	if p := e.GetProperty(property); p != nil {
		s, _, err := hours.Parse(strings.ReplaceAll(p.Value, `\`, ""))
		if err == nil {
			return s.Specials()
		}
	}
	summary := e.GetProperty(ics.ComponentPropertySummary)
	if summary == nil || !strings.Contains(strings.ToLower(summary.Value), "closed") {
		return nil
	}
	from, err := e.GetAllDayStartAt()
	if err != nil {
		return nil
	}
	sp := hours.Special{From: calendar.DateOf(from), To: calendar.DateOf(from)}
	if to, err := e.GetAllDayEndAt(); err == nil && to.After(from) {
		sp.To = calendar.DateOf(to).Add(-1)
	}
	return []hours.Special{sp}
}
