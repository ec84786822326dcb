package icalendar

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-ical"

	"uvent/core/fact/calendar"
)

func TestDeadlines(t *testing.T) {
	now := time.Date(2026, 11, 24, 17, 12, 0, 0, time.UTC)
	stops := now.Add(30 * time.Hour)
	list := []Deadline{
		{
			UID:     "until-1@uvent.example",
			Title:   "Enter the code; for Minnow Bay, on Fernlook",
			Says:    "Line one\nline two: “über”",
			At:      &stops,
			Address: "https://uvent.example/verification/l/x/fernlook",
		},
		{UID: "by-2@uvent.example", Title: "Fernlook answers", On: calendar.Date{Year: 2026, Month: 12, Day: 31}},
	}
	text := WriteDeadlines("Uvent, for Ines Roake", list, now)
	c, err := ical.NewDecoder(bytes.NewReader(text)).Decode() // a reader that did not write it
	if err != nil || len(c.Events()) != 2 {
		t.Fatalf("%v\n%s", err, text)
	}
	moment, day := c.Events()[0], c.Events()[1]
	if at, err := moment.DateTimeStart(time.UTC); err != nil || !at.Equal(stops) {
		t.Errorf("a moment reads %v, %v", at, err)
	}
	if from, err := day.DateTimeStart(time.UTC); err != nil || calendar.DateOf(from) != list[1].On {
		t.Errorf("a day reads %v, %v", from, err)
	}
	if to, err := day.DateTimeEnd(time.UTC); err != nil || calendar.DateOf(to) != (calendar.Date{Year: 2027, Month: 1, Day: 1}) {
		t.Errorf("a day ends %v, %v", to, err)
	}
	for i, trigger := range []string{"-PT2H", "-PT15H"} {
		e := c.Events()[i]
		uid, _ := e.Props.Text(ical.PropUID)
		title, _ := e.Props.Text(ical.PropSummary)
		says, _ := e.Props.Text(ical.PropDescription)
		if uid != list[i].UID || title != list[i].Title || says != list[i].Says {
			t.Errorf("event %d reads %q, %q, %q", i, uid, title, says)
		}
		if len(e.Children) != 1 || e.Children[0].Name != ical.CompAlarm || e.Children[0].Props.Get(ical.PropTrigger).Value != trigger {
			t.Errorf("event %d: %+v", i, e.Children)
		}
	}
	// RFC 5545, section 3.1: no line is longer than 75 octets, and each ends with CRLF.
	for _, line := range strings.Split(strings.TrimSuffix(string(text), "\r\n"), "\r\n") {
		if len(line) > 75 || strings.Contains(line, "\n") {
			t.Errorf("a line of %d octets: %q", len(line), line)
		}
	}
	if again := WriteDeadlines("Uvent, for Ines Roake", list, now.Add(time.Hour)); strings.Count(string(again), "UID:") != 2 ||
		!strings.Contains(string(again), "UID:until-1@uvent.example") {
		t.Errorf("written again:\n%s", again)
	}
	if empty := WriteDeadlines("Uvent", nil, now); !strings.Contains(string(empty), "END:VCALENDAR") {
		t.Errorf("of nothing:\n%s", empty)
	}
}
