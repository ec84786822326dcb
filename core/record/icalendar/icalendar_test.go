package icalendar

import (
	"bytes"
	"errors"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-ical"

	"uvent/core/record/record"
)

var now = time.Date(2026, time.November, 24, 17, 12, 0, 0, time.UTC)

func TestSpecialDatesComeBack(t *testing.T) {
	r := record.Record{
		Name:  "Nettlewick, Yarns",
		Label: "Old Wharf",
		Hours: "Tu-Sa 10:00-17:30; 2026 Nov 26 off; 2026 Dec 24-2027 Jan 02 10:00-12:00,13:00-15:00; 2027 Jan 09 20:00-02:00",
	}
	data, err := Write(r, now)
	if err != nil {
		t.Fatal(err)
	}
	plain := r
	plain.Hours = "Tu-Sa 10:00-17:30"
	back, err := Read(data, plain)
	again, _ := Write(back, now)
	if err != nil || !bytes.Equal(data, again) || !strings.Contains(back.Hours, "2027 Jan 09 20:00-02:00") || !strings.Contains(back.Hours, "2026 Nov 26 off") {
		t.Errorf("it comes back as %s, %v", back.Hours, err)
	}
	c, err := ical.NewDecoder(bytes.NewReader(data)).Decode() // a reader that did not write it
	if err != nil || len(c.Events()) != 3 {
		t.Fatalf("another reader finds %v\n%s", err, data)
	}
	first := c.Events()[0]
	start, err := first.DateTimeStart(time.UTC)
	summary, _ := first.Props.Text(ical.PropSummary)
	if err != nil || start.Format(time.DateOnly) != "2026-11-26" || summary != "Nettlewick, Yarns, Old Wharf: closed" {
		t.Errorf("another reader finds %v, %q, %v", start, summary, err)
	}
}

func TestDaysOfOthers(t *testing.T) {
	calendar := func(lines ...string) []byte {
		return []byte(
			strings.Join(
				append(append([]string{"BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:x", "BEGIN:VEVENT", "UID:1"}, lines...), "END:VEVENT", "END:VCALENDAR", ""),
				"\r\n",
			),
		)
	}
	r := record.Record{Hours: "Mo-Fr 09:00-17:00"}
	got, err := Read(calendar("SUMMARY:Shop closed", "DTSTART;VALUE=DATE:20261224", "DTEND;VALUE=DATE:20261227"), r)
	if err != nil || got.Hours != "Mo-Fr 09:00-17:00; 2026 Dec 24-26 off" {
		t.Errorf("%s, %v", got.Hours, err)
	}
	if _, err := Read(calendar("SUMMARY:Stocktaking", "DTSTART;VALUE=DATE:20261224"), r); !errors.Is(err, ErrNoDates) {
		t.Errorf("%v", err)
	}
	for _, bad := range []string{"", "BEGIN:VCALENDAR", "{}"} {
		if got, err := Read([]byte(bad), r); err == nil || got.Hours != r.Hours {
			t.Errorf("%q reads as %s", bad, got.Hours)
		}
	}
}
