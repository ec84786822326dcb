package e2e

import (
	"net/http"
	"testing"
	"time"

	"github.com/emersion/go-ical"

	"uvent/core/listing/verification"
	"uvent/e2e/rig"
)

// A task is put off with a reason and taken up again; what was done stands below; a
// calendar reads the deadlines; a listing is taken out of public view and brought back.
func TestTodayOnTheScreen(t *testing.T) {
	s := open(t)
	r := s.rig
	rec := rig.Shop("Minnow Bay")
	here := r.Add(t, rec)
	r.Held(t, here)
	s.do(
		s.Open(s.at("/today")),
		s.See("Verify Minnow Bay on Fernlook"),
		s.Until(`(document.querySelector(".matters button.what").focus(), true)`),
		s.Key(" "),
		s.See("1 row chosen: 1 matter"),
		s.Key("p"),
		s.Type("Why, if it is worth a word", "The owner is away."),
		s.Press("Put off"),
	)
	s.do(
		s.NotSee("Verify Minnow Bay on Fernlook"),
		s.See("by Ines Roake: The owner is away."),
		s.Until(`(() => { const d = document.querySelector(".done-today"); if (d) d.open = true; return !!d })()`),
		s.See("Created a listing from the record."),
		s.Press("Take up"),
		s.See("Verify Minnow Bay on Fernlook"),
	)

	s.do(s.Open(s.at("/you")), s.Choose("Deadlines of", here.Location.String()), s.Press("Make an address"), s.See("it is told once"))
	r.Answered(t, here)(r.Desk.Listings.AskCode(t.Context(), r.Who.Actor(), here, "text"))
	resp, err := http.Get(now[string](s, `document.querySelector(".note .mono").innerText`))
	s.do(err)
	defer resp.Body.Close()
	c, err := ical.NewDecoder(resp.Body).Decode()
	if err != nil || resp.Header.Get("Content-Type") != "text/calendar" || len(c.Events()) == 0 {
		t.Errorf("the calendar reads %v, %v, %v", resp.Header, err, c)
	}
	s.do(s.Press("Write to me"), s.See("You are written to at 07:30, on days with news."))

	var code string
	s.do(s.eventually(func() bool { code, err = r.World.Code(t.Context(), rec.MainPhone()); return err == nil }))
	st := r.State(t, here)
	r.Answered(t, here)(r.Desk.Listings.EnterCode(t.Context(), r.Who.Actor(), here, st.Attempt().ID, code))
	s.do(
		s.Open(s.at("/verification/l/"+here.Location.String()+"/fernlook")),
		s.Press("Take it out of public view"),
		s.Type("Why", "The shop is rebuilt."),
		s.Press("Take it out"),
		s.See("Out of public view, by us."),
		s.Press("Bring it back"),
		s.See("Verified, and not public yet."),
	)
	if st = r.State(t, here); st.Visibility != verification.Publishing {
		t.Errorf("%+v", st)
	}
}

// While others change things and the list is read anew, a row is the same row: the focus stays in it,
// and a press on it is not lost.
func TestTodayKeepsItsRows(t *testing.T) {
	s := open(t)
	ctx := t.Context()
	here, there := s.rig.Add(t, rig.Shop("Minnow Bay")), s.rig.Add(t, rig.Shop("Fennick"))
	s.rig.Held(t, here)
	row := `[...document.querySelectorAll(".matters button.what")].find(b => b.closest("li").dataset.fold.startsWith("to_verify"))`
	s.do(s.Open(s.at("/today")), s.Until(`!!`+row), s.Until(`(`+row+`.focus(), `+row+`.kept = true)`))
	l, err := s.rig.Desk.Ledger.Location(ctx, there.Location)
	s.do(err)
	for _, label := range []string{"Fennick Quay", "Fennick Pier"} {
		l.Record.Label = label
		l, err = s.rig.Desk.Records.SaveLocation(ctx, s.rig.Who.Actor(), there.Location, l.Version, l.Record)
		s.do(err, s.See(label), s.Until(row+`.kept === true && document.activeElement === `+row))
	}
	// Changes come all the while, and what they lead to is shown nevertheless.
	done := make(chan error, 1)
	go func() {
		for range 20 {
			l.Record.Label += "s"
			var err error
			if l, err = s.rig.Desk.Records.SaveLocation(ctx, s.rig.Who.Actor(), there.Location, l.Version, l.Record); err != nil {
				done <- err
				return
			}
			time.Sleep(40 * time.Millisecond)
		}
		done <- nil
	}()
	s.do(
		s.See("Fennick Piersss"),
		s.Until(`(`+row+`.click(), true)`),
		s.Type("Write a note", "Rang the shop"),
		<-done,
		s.See(l.Record.Label),
	)
	s.do(s.Until(row + `.closest("li").querySelector("form input").value === "Rang the shop"`))
}
