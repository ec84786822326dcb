package e2e

import (
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"

	"uvent/e2e/rig"
)

func TestSpecialDatesAreDecidedForManyAtOnce(t *testing.T) {
	s := open(t)
	one := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.rig.Add(t, rig.Shop("Quillcote"))
	hours := func() string {
		t.Helper()
		l, err := s.rig.Desk.Ledger.Location(t.Context(), one.Location)
		s.do(err)
		return l.Record.Hours
	}
	s.do(s.Open(s.at("/today")), s.See("Today"), s.Key("6"), s.See("Thu 26 Nov Thanksgiving Day"), s.See("2 of 2"))
	s.do(
		s.Press("Thu 26 Nov Thanksgiving Day"), s.See("2 undecided: the usual hours show"), s.See("None of these places has a public page yet"),
		s.Press("Closed", "All 2"), s.See("1 date decided in 2 records."), s.See("closed ×2"),
	)
	if got := hours(); !strings.HasSuffix(got, "; 2026 Nov 26 off") {
		t.Errorf("it says %s", got)
	}
	s.do(s.Press("Undo"), s.See("The records are as they were before."), s.NotSee("closed ×2"))
	if got := hours(); strings.Contains(got, "2026") {
		t.Errorf("undone it says %s", got)
	}
	s.do(
		s.Press("Fri 27 Nov Native American Heritage Day"),
		s.See("2 undecided: the usual hours show"),
		s.Press("Other hours", "All 2"),
		s.Until(`document.activeElement.placeholder === "10-16, 18-20"`),
		s.Key("10-16"+kb.Enter),
		s.See("10–16 ×2"),
	)
	s.do(
		s.Until(`([...document.querySelectorAll("button")].find(b => b.innerText.startsWith("Twelve")).click(), true)`),
		s.Until(`document.querySelectorAll("table.matrix tbody").length > 8`),
		s.Until(`(document.querySelector('[aria-label="Choose every undecided date"]').click(), true)`),
		s.Until(`document.body.innerText.includes("Usual hours on")`),
	)
	s.do(
		s.Until(`([...document.querySelectorAll("button")].find(b => b.innerText.startsWith("Usual hours on")).click(), true)`),
		s.See("Every public holiday of the next twelve months is decided."),
	)
	if got := hours(); !strings.Contains(got, "2026 Nov 26 09:00-12:00,13:00-18:00") || !strings.Contains(got, "2026 Nov 27 10:00-16:00") {
		t.Errorf("it says %s", got)
	}
}

func TestSpecialDatesOfOneRecord(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	s.do(s.Open(s.at("/record/l/"+at.Location.String()+"#hours")), s.See("nothing said: would show as 9–12, 13–18"))
	s.do(s.Press("Closed", "Thanksgiving Day"), s.Until(`document.querySelector("#hours-text").value.endsWith("; 2026 Nov 26 off")`))
	s.do(s.Press("Add dates"), s.Type("From", "12242026"), s.Type("To", "01022027"), s.Type("Hours", "10-16"), s.Press("Add"))
	s.do(s.See("Thu 24 Dec – Sat 2 Jan 2027"), s.Until(`document.querySelector("#hours-text").value.endsWith("2026 Dec 24-2027 Jan 02 10:00-16:00")`))
	s.do(s.Press("Take out", "Thanksgiving Day"), s.Until(`!document.querySelector("#hours-text").value.includes("Nov 26")`))
	s.do(s.Press("Save record"), s.See("The record is saved."))
	l, err := s.rig.Desk.Ledger.Location(t.Context(), at.Location)
	if s.do(err); !strings.HasSuffix(l.Record.Hours, "2026 Dec 24-2027 Jan 02 10:00-16:00") {
		t.Errorf("saved as %s", l.Record.Hours)
	}
}
