package e2e

import (
	"net/http"
	"testing"
	"time"

	"github.com/emersion/go-ical"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/records"
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

// What an owner has is asked for in one letter, from the row that is about all of it, but for what is left out of it.
func TestOneLetterFromToday(t *testing.T) {
	s := open(t, "fernlook", "waywren", "skerry")
	r, ctx := s.rig, t.Context()
	c, err := r.Desk.Records.AddClient(ctx, r.Who.Actor(), records.ClientFacts{Name: "Spokeshave", OwnerName: "Dov Marsh", OwnerEmail: "dov@spokeshave.example"})
	rig.Must(t, err)
	for _, town := range []string{"Minnow Bay", "Fennick", "Saltgrass"} {
		rec := rig.Shop(town)
		rec.Address.Locality = town
		l, err := r.Desk.Records.AddLocation(ctx, r.Who.Actor(), c.ID, rec)
		rig.Must(t, err)
		at := ledger.Place{Location: l.ID, Directory: "fernlook"}
		r.Held(t, at)
		r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Postcard))
	}
	r.Move(t, 12*24*time.Hour)
	s.do(
		s.Open(s.at("/today?group=owner")),
		s.See("Ask Dov Marsh about 3 postcards: one letter"),
		s.Press("Ask Dov Marsh about 3 postcards: one letter"),
		s.See("Ask about 3: one letter"),
		s.See("Postcard for Fennick on Fernlook"),
	)
	s.do(s.Key("j"), s.Key(" "), s.See("Ask about 2: one letter"), s.See("1 row chosen: 2 matters"), s.Key(" "), s.See("1 row chosen: 3 matters"), s.Key(" "))
	s.do(s.Key("a"), s.See("2 things asked for; each owner gets one letter."))
	r.Eventually(t, func() bool {
		mails, err := r.World.Arrivals(ctx, "dov@spokeshave.example")
		return err == nil && len(mails) == 1
	})
	s.do(s.See("Dov Marsh was asked about 2 places"))
}
