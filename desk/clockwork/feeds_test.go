package clockwork_test

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-ical"
	"github.com/google/uuid"

	"uvent/core/reckon/agenda"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/e2e/rig"
)

// A feed tells the deadlines of its scope, with the same UIDs every time, and nothing once
// it has ended.
func TestFeeds(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	r.Desk.People.ServeAt("https://uvent.example")
	here, other := r.Add(t, rig.Shop("Minnow Bay")), r.Add(t, rig.Shop("Fennick"))
	for _, at := range []ledger.Place{here, other} {
		r.Held(t, at)
		r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, "text"))
	}
	read := func(address string) (uids []string, text string) {
		b, err := r.Desk.ReadFeed(ctx, strings.TrimPrefix(address, "https://uvent.example/api/calendar/"))
		rig.Must(t, err)
		c, err := ical.NewDecoder(bytes.NewReader(b)).Decode() // a reader that did not write it
		rig.Must(t, err)
		for _, e := range c.Events() {
			uid, err := e.Props.Text(ical.PropUID)
			rig.Must(t, err)
			uids = append(uids, uid)
			if _, err := e.DateTimeStart(time.UTC); err != nil || len(e.Children) != 1 || e.Children[0].Name != ical.CompAlarm {
				t.Errorf("%s has no alarm or no start: %v", uid, err)
			}
		}
		return uids, string(b)
	}
	f, one, err := r.Desk.MakeFeed(ctx, r.Who, nil, &here.Location)
	rig.Must(t, err)
	_, all, err := r.Desk.MakeFeed(ctx, r.Who, nil, nil)
	rig.Must(t, err)
	first, text := read(one)
	if len(first) < 2 || !strings.Contains(text, "Enter the code for Minnow Bay on Fernlook") || strings.Contains(text, "Fennick") {
		t.Errorf("%v\n%s", first, text)
	}
	r.Move(t, time.Minute)
	if again, _ := read(one); strings.Join(again, " ") != strings.Join(first, " ") {
		t.Errorf("read again: %v, before: %v", again, first)
	}
	if _, text = read(all); !strings.Contains(text, "Fennick on Fernlook") {
		t.Errorf("of all:\n%s", text)
	}
	l, err := r.Desk.Ledger.Location(ctx, here.Location)
	rig.Must(t, err)
	some, err := r.Desk.People.AddPerson(
		ctx,
		people.Person{Name: "Lim", Email: "lim@agency.example", Zone: "America/Los_Angeles", Role: people.Helper, Clients: []uuid.UUID{l.ClientID}},
		rig.Password,
	)
	rig.Must(t, err)
	_, _, err = r.Desk.MakeFeed(ctx, some, nil, &other.Location)
	rig.Refused(t, err, problem.NotFound, "not yours")
	_, theirs, err := r.Desk.MakeFeed(ctx, some, nil, nil)
	rig.Must(t, err)
	if _, text = read(theirs); !strings.Contains(text, "Minnow Bay on Fernlook") || strings.Contains(text, "Fennick") {
		t.Errorf("of whoever works for one client:\n%s", text)
	}
	rig.Must(t, r.Desk.EndFeed(ctx, r.Who, f.ID))
	_, err = r.Desk.ReadFeed(ctx, strings.TrimPrefix(one, "https://uvent.example/api/calendar/"))
	rig.Refused(t, err, problem.NotFound, "or it has ended")
}

// A digest is sent once a day to each who wants one, by two servers too, and only where
// something has changed.
func TestDigests(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	here := r.Add(t, rig.Shop("Minnow Bay"))
	// Another server on the same database, at work all the while.
	r.Second(t)

	bad, at := int32(1440), int32(7*60+30)
	rig.Refused(t, r.Desk.People.SetDigest(ctx, r.Who, &bad), problem.Invalid, "minute: ")
	rig.Must(t, r.Desk.People.SetDigest(ctx, r.Who, &at))
	letters := func() (out []reachArrival) {
		list, err := r.World.Arrivals(ctx, r.Who.Email)
		rig.Must(t, err)
		for _, a := range list {
			if strings.HasPrefix(a.Title, "Today in Uvent") {
				out = append(out, reachArrival{a.At, a.Body})
			}
		}
		return out
	}
	days := func(n int) {
		for range n {
			r.Move(t, 24*time.Hour)
		}
	}
	r.Eventually(t, func() bool { return len(letters()) == 1 }) // today's hour is past already
	if l := letters()[0]; !strings.Contains(l.body, "3 things only you can move") ||
		!strings.Contains(l.body, "Decide Thanksgiving Day, Thu 26 Nov for 1 location.") ||
		!strings.Contains(l.body, "Look for Minnow Bay on Fernlook") {
		t.Errorf("%+v", l)
	}
	days(3) // nothing has changed
	if n := len(letters()); n != 1 {
		t.Errorf("%d letters without news", n)
	}
	r.Held(t, here)
	days(1)
	r.Eventually(t, func() bool { return len(letters()) == 2 })
	if l := letters()[0]; l.at.In(rig.Pacific).Hour() != 7 || l.at.In(rig.Pacific).Minute() < 30 {
		t.Errorf("it came at %s", l.at.In(rig.Pacific))
	}
	rig.Must(t, r.Desk.People.SetDigest(ctx, r.Who, nil))
	r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), here, "text"))
	days(2)
	if n := len(letters()); n != 2 {
		t.Errorf("%d letters to somebody who wants none", n)
	}
}

type reachArrival struct {
	at   time.Time
	body string
}

// A task that is put off comes back at its time, or when it is taken up; another task of
// the same listing shows at once.
func TestPuttingOff(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, here := r.Who.Actor(), r.Add(t, rig.Shop("Minnow Bay"))
	today := func() int {
		list, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{}))
		rig.Must(t, err)
		return len(list)
	}
	soon := r.Desk.Now().Add(48 * time.Hour)
	rig.Refused(t, r.Desk.Matters.PutOff(ctx, who, here, agenda.Search, r.Desk.Now(), ""), problem.Invalid, "until: name a moment to come")
	rig.Refused(t, r.Desk.Matters.PutOff(ctx, who, here, agenda.Verify, soon, "x"), problem.Conflict, "no such task any more")
	rig.Must(t, r.Desk.Matters.PutOff(ctx, who, here, agenda.Search, soon, "The owner is away."))
	if n := today(); n != 0 {
		t.Errorf("put off, and %d show", n)
	}
	if list, err := r.Desk.Boards.Snoozed(ctx, ledger.Scope{}); err != nil || len(list) != 1 || list[0].Reason != "The owner is away." ||
		list[0].By != r.Who.Name {
		t.Errorf("%+v, %v", list, err)
	}
	rig.Must(t, r.Desk.Matters.TakeUp(ctx, who, here))
	if n := today(); n != 1 {
		t.Errorf("taken up, and %d show", n)
	}
	rig.Refused(t, r.Desk.Matters.TakeUp(ctx, who, here), problem.NotFound, "not put off")
	rig.Must(t, r.Desk.Matters.PutOff(ctx, who, here, agenda.Search, soon, "Later."))
	r.Held(t, here)
	if n := today(); n != 1 {
		t.Errorf("another task, and %d show", n)
	}
	rig.Must(t, r.Desk.Matters.PutOff(ctx, who, here, agenda.Verify, soon, "Later."))
	r.Move(t, 49*time.Hour)
	if n := today(); n != 1 {
		t.Errorf("after its time %d show", n)
	}
	done, err := r.Desk.Boards.Done(ctx, r.Who, ledger.Scope{})
	if err != nil || len(done) != 0 {
		t.Errorf("done two days later: %+v, %v", done, err)
	}
}
