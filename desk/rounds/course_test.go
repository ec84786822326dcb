package rounds_test

import (
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/listing/course"
	"uvent/core/listing/verification"
	"uvent/core/record/record"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/problem"
	"uvent/desk/rounds"
	"uvent/e2e/rig"
)

// shows makes a listing public.
func shows(t *testing.T, r *rig.Rig, at ledger.Place) {
	t.Helper()
	r.Held(t, at)
	rec, err := r.Desk.Ledger.Location(t.Context(), at.Location)
	rig.Must(t, err)
	r.Answered(t, at)(r.Desk.Listings.AskCode(t.Context(), r.Who.Actor(), at, "text"))
	var code string
	r.Eventually(t, func() bool {
		code, err = r.World.Code(t.Context(), rec.Record.MainPhone())
		return err == nil
	})
	st := r.State(t, at)
	r.Answered(t, at)(r.Desk.Listings.EnterCode(t.Context(), r.Who.Actor(), at, st.Attempt().ID, code))
	r.Move(t, 7*24*time.Hour)
	r.Eventually(t, func() bool { return r.State(t, at).Visibility == verification.Public })
}

// A closing for a time is laid out, takes effect on its day on all directories, shows to the
// public, and ends on its day; a closing that cannot be taken back is left to a person.
func TestACourseOverDirectories(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "murmurhall"), t.Context()
	who := r.Who.Actor()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	there := ledger.Place{Location: at.Location, Directory: "murmurhall"}
	shows(t, r, at)
	shows(t, r, there)
	r.Eventually(t, func() bool { return r.State(t, at).Change == nil })
	today := calendar.DateOf(r.Desk.Now().In(rig.Pacific))
	from, until := today.Add(4), today.Add(9)
	closing := rounds.Turn{State: record.State{Kind: record.ClosedForATime, Until: until.String()}, On: &from}

	steps, err := r.Desk.Rounds.LayOut(ctx, []uuid.UUID{at.Location}, closing)
	if err != nil || len(steps) != 2 || steps[0].Act != course.Mark || steps[0].On != from || steps[0].Now || steps[0].Directory != "fernlook" {
		t.Fatalf("%+v, %v", steps, err)
	}
	started, err := r.Desk.Rounds.SetCourse(ctx, who, []uuid.UUID{at.Location}, closing)
	if err != nil || started.Planned != 2 || started.Changed != 0 || started.Round != nil {
		t.Fatalf("%+v, %v", started, err)
	}
	marked := func() [2]record.StateKind {
		return [2]record.StateKind{r.State(t, at).Marked, r.State(t, there).Marked}
	}
	r.Move(t, 3*24*time.Hour)
	if m := marked(); m != [2]record.StateKind{} {
		t.Errorf("before its day: %v", m)
	}
	r.Move(t, 2*24*time.Hour)
	r.Eventually(t, func() bool { return marked() == [2]record.StateKind{record.ClosedForATime, record.ClosedForATime} })
	if page := seenPage(t, r, at); !strings.Contains(page, "Closed for a time") {
		t.Errorf("the page says\n%s", page)
	}
	r.Move(t, 6*24*time.Hour)
	r.Eventually(t, func() bool { return marked() == [2]record.StateKind{} })
	if l, err := r.Desk.Ledger.Location(ctx, at.Location); err != nil || l.Record.State.Kind != record.Open {
		t.Errorf("it is %+v, %v", l.Record.State, err)
	}

	// A fact that is changed is a task until the directories have it.
	l, err := r.Desk.Ledger.Location(ctx, at.Location)
	rig.Must(t, err)
	rec := l.Record
	rec.Website = "https://spokeshave.example/bay"
	_, err = r.Desk.Records.SaveLocation(ctx, who, l.ID, l.Version, rec)
	rig.Must(t, err)
	list, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{}))
	if err != nil || len(list) != 1 || list[0].Task.Title != "2 listings of Minnow Bay have not been given what the record says" {
		t.Fatalf("today: %+v, %v", list, err)
	}
	rig.Refused(t, r.Desk.Matters.PutOff(ctx, who, list[0].Place, list[0].Task.Act, r.Desk.Now(), "x"), problem.Invalid, "until")
	round, err := r.Desk.Rounds.StartRound(ctx, who, rounds.ToSend, []rounds.RoundItem{{Place: at}, {Place: there}})
	rig.Must(t, err)
	if count, _ := finished(t, r, round); count["done"] != 2 {
		t.Errorf("sent: %v", count)
	}
	r.Move(t, 8*24*time.Hour)
	if list, err = rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{})); err != nil || len(list) != 0 {
		t.Errorf("sent, and today has %+v, %v", list, err)
	}

	// For good: Fernlook is told at once; Murmurhall waits for a person.
	started, err = r.Desk.Rounds.SetCourse(ctx, who, []uuid.UUID{at.Location}, rounds.Turn{State: record.State{Kind: record.ClosedForGood}})
	rig.Must(t, err)
	r.Eventually(t, func() bool { return marked() == [2]record.StateKind{record.ClosedForGood, ""} })
	list, err = rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{}))
	if err != nil || len(list) != 1 || list[0].Task.Act != "follow" || list[0].Directory != "murmurhall" {
		t.Errorf("today: %+v, %v", list, err)
	}
	undone, err := r.Desk.Rounds.Unset(ctx, who, started.Batch)
	if err != nil || undone.Restored != 1 {
		t.Errorf("taken back: %+v, %v", undone, err)
	}
	r.Eventually(t, func() bool { return marked() == [2]record.StateKind{} })
	_, err = r.Desk.Rounds.Unset(ctx, who, uuid.New())
	rig.Refused(t, err, problem.NotFound, "no such change")
	_, err = r.Desk.Rounds.SetCourse(ctx, who, []uuid.UUID{at.Location}, rounds.Turn{State: record.State{Kind: record.ClosedForATime, Until: "2020-01-01"}})
	rig.Refused(t, err, problem.Invalid, "until: it ends before it begins")
	_, err = r.Desk.Rounds.SetCourse(ctx, who, []uuid.UUID{at.Location}, rounds.Turn{State: record.State{Kind: record.Open}})
	rig.Refused(t, err, problem.Conflict, "It is so already.")
	_, err = r.Desk.Rounds.SetCourse(ctx, who, nil, closing)
	rig.Refused(t, err, problem.Invalid, "Choose at least one location")
}

// Where a directory takes another house for another location, the listing says that the location has moved, is left, and another
// is made; each of it can be taken back until then.
func TestAMoveThatWantsAnotherListing(t *testing.T) {
	r, ctx := rig.Start(t, "candourbox"), t.Context()
	who := r.Who.Actor()
	first := r.Add(t, rig.Shop("Minnow Bay"))
	at := ledger.Place{Location: first.Location, Directory: "candourbox"}
	shows(t, r, at)
	before := r.State(t, at)
	to := address.Address{Street: "2 Anvil Lane", Locality: "Minnow Bay", Region: "WA", PostalCode: "98990", Country: "US"}
	moving := rounds.Turn{State: record.State{Kind: record.Open}, Address: &to}
	steps, err := r.Desk.Rounds.LayOut(ctx, []uuid.UUID{at.Location}, moving)
	if err != nil || len(steps) != 2 || steps[0].Act != course.Hide || steps[1].Act != course.Leave || steps[1].After == "" {
		t.Fatalf("%+v, %v", steps, err)
	}
	rig.Refused(t, r.Desk.Listings.LeaveThere(ctx, who, at), problem.Conflict, "takes the location for the same one")
	started, err := r.Desk.Rounds.SetCourse(ctx, who, []uuid.UUID{at.Location}, moving)
	if err != nil || started.Round == nil {
		t.Fatalf("%+v, %v", started, err)
	}
	r.Eventually(t, func() bool { return r.State(t, at).Marked == record.Moved })
	if page := seenPage(t, r, at); strings.Contains(page, "2 Anvil Lane") {
		t.Errorf("the page of the old place says\n%s", page)
	}
	list, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{}))
	if err != nil || len(list) != 1 || list[0].Task.Title != "Minnow Bay wants another listing on Candourbox" {
		t.Fatalf("today: %+v, %v", list, err)
	}
	_, err = r.Desk.Listings.Send(ctx, who, at, nil)
	rig.Refused(t, err, problem.Conflict, "For Candourbox the location is another now")

	// Taken back, and done again.
	_, err = r.Desk.Rounds.Unset(ctx, who, started.Batch)
	rig.Must(t, err)
	r.Eventually(t, func() bool { return r.State(t, at).Marked == "" })
	_, err = r.Desk.Rounds.SetCourse(ctx, who, []uuid.UUID{at.Location}, moving)
	rig.Must(t, err)
	r.Eventually(t, func() bool { return r.State(t, at).Marked == record.Moved })
	rig.Must(t, r.Desk.Listings.LeaveThere(ctx, who, at))
	rig.Refused(t, r.Desk.Listings.TakeUpLeft(ctx, who, at, "none"), problem.Conflict, "No such listing was left")
	rig.Must(t, r.Desk.Listings.TakeUpLeft(ctx, who, at, before.Ref))
	if s := r.State(t, at); s.Ref != before.Ref || s.Control != verification.Held || s.VerifiedAt == nil || s.Left != nil {
		t.Errorf("taken up again: %+v", s)
	}
	rig.Must(t, r.Desk.Listings.LeaveThere(ctx, who, at))

	// The search does not find the one that was left for ours, and another is made beside it.
	r.Answered(t, at)(r.Desk.Listings.Search(ctx, who, at))
	if s := r.State(t, at); len(s.Candidates) != 0 || s.SearchedAt == nil {
		t.Errorf("found: %+v", s.Candidates)
	}
	r.Answered(t, at)(r.Desk.Listings.Create(ctx, who, at, ""))
	s := r.State(t, at)
	if s.Control != verification.Held || s.Ref == before.Ref || s.Stands.Street != "2 Anvil Lane" || len(s.Seconds()) != 0 {
		t.Errorf("made: %+v", s)
	}
	rig.Refused(t, r.Desk.Listings.TakeUpLeft(ctx, who, at, before.Ref), problem.Conflict, "There is another listing")
	if v, err := r.Desk.Boards.Listing(ctx, at); err != nil || len(v.Left) != 1 || v.Left[0].PageURL == "" {
		t.Errorf("its page shows %+v, %v", v.Left, err)
	}
	if out, err := r.Desk.Ledger.Replay(ctx, false); err != nil || len(out.Differ) != 0 {
		t.Errorf("replayed: %+v, %v", out, err)
	}
}

// A move sends the new address to each directory in its own order; what is to be sent can be
// seen beforehand, with what it may set off, and sent for many in a round.
func TestMovingToAnotherAddress(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "lanefolk"), t.Context()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	shows(t, r, at)
	to := address.Address{Street: "2 Anvil Lane", Locality: "Minnow Bay", Region: "WA", PostalCode: "98990", Country: "US"}
	moving := rounds.Turn{State: record.State{Kind: record.Open}, Address: &to}
	steps, err := r.Desk.Rounds.LayOut(ctx, []uuid.UUID{at.Location}, moving)
	if err != nil || len(steps) != 1 || steps[0].Act != course.Send || !steps[0].Verifies || !strings.Contains(steps[0].Says, "address") {
		t.Fatalf("%+v, %v", steps, err)
	}
	started, err := r.Desk.Rounds.SetCourse(ctx, r.Who.Actor(), []uuid.UUID{at.Location}, moving)
	if err != nil || started.Round == nil || started.Changed != 1 {
		t.Fatalf("%+v, %v", started, err)
	}
	count, _ := finished(t, r, *started.Round)
	if st := r.State(t, at); count["done"] != 1 || st.VerifiedAt != nil || st.Visibility != verification.Hidden {
		t.Errorf("%v, %+v", count, st)
	}
	if steps, err = r.Desk.Rounds.Course(ctx, ledger.Scope{}); err != nil || len(steps) != 0 {
		t.Errorf("still to do: %+v, %v", steps, err)
	}
	l, err := r.Desk.Ledger.Location(ctx, at.Location)
	rig.Must(t, err)
	rec := l.Record
	sharer := rig.Shop("Fennick")
	sharer.Phones[0].E164 = "+13605550177"
	r.Add(t, sharer)
	rec.Phones[0].E164, rec.Website = "+13605550177", "https://spokeshave.example/bay"
	_, err = r.Desk.Records.SaveLocation(ctx, r.Who.Actor(), l.ID, l.Version, rec)
	rig.Must(t, err)
	list, err := r.Desk.Boards.ProposeRound(ctx, ledger.Scope{}, rounds.ToSend)
	if err != nil || len(list) != 1 || list[0].Why != "" || !strings.Contains(list[0].Says, "phone, website") ||
		!strings.Contains(list[0].Says, "of 100 a review follows: ") {
		t.Fatalf("%+v, %v", list, err)
	}
	id, err := r.Desk.Rounds.StartRound(ctx, r.Who.Actor(), rounds.ToSend, []rounds.RoundItem{{Place: at}})
	rig.Must(t, err)
	if count, round := finished(t, r, id); count["done"] != 1 || round.Lines[0].Says != "They look at it first." {
		t.Errorf("%v, %+v", count, round.Lines)
	}
	rec.Phones[0].E164 = "+13605550178"
	_, err = r.Desk.Records.SaveLocation(ctx, r.Who.Actor(), l.ID, l.Version+1, rec)
	rig.Must(t, err)
	if list, err = r.Desk.Boards.ProposeRound(ctx, ledger.Scope{}, rounds.ToSend); err != nil || len(list) != 1 ||
		list[0].Why != "Once what they look at is settled." {
		t.Errorf("while they look: %+v, %v", list, err)
	}
}

// A closing that was planned is taken back as a whole, whether it has begun or has ended.
func TestAPlannedClosingIsTakenBack(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	state := func() record.StateKind {
		l, err := r.Desk.Ledger.Location(ctx, at.Location)
		rig.Must(t, err)
		return l.Record.State.Kind
	}
	for days, want := range map[int]struct {
		during   record.StateKind
		restored int
	}{2: {record.ClosedForATime, 1}, 7: {record.Open, 0}} {
		from := calendar.DateOf(r.Desk.Now().In(rig.Pacific)).Add(1)
		started, err := r.Desk.Rounds.SetCourse(
			ctx,
			r.Who.Actor(),
			[]uuid.UUID{at.Location},
			rounds.Turn{State: record.State{Kind: record.ClosedForATime, Until: from.Add(3).String()}, On: &from},
		)
		rig.Must(t, err)
		r.Move(t, time.Duration(days)*24*time.Hour)
		r.Eventually(t, func() bool { return state() == want.during })
		undone, err := r.Desk.Rounds.Unset(ctx, r.Who.Actor(), started.Batch)
		if err != nil || undone.Restored != want.restored || len(undone.Left) != 0 || state() != record.Open {
			t.Errorf("after %d days: %+v, %v; it is %s", days, undone, err, state())
		}
		r.Move(t, 6*24*time.Hour)
		if plans, err := r.Desk.Records.Plans(ctx, at.Location); err != nil || len(plans) != 0 || state() != record.Open {
			t.Errorf("after %d days and more: %+v, %v", days, plans, err)
		}
	}
}

// What people are told by hand is written out, and noted once.
func TestTellingInWords(t *testing.T) {
	r, ctx := rig.Start(t, "brasswire"), t.Context()
	who := r.Who.Actor()
	at := ledger.Place{Location: r.Add(t, rig.Workshop("Minnow Bay")).Location, Directory: "brasswire"}
	rig.Must(t, r.Desk.Listings.Found(ctx, who, at, listings.NothingThere, "", ""))
	sheet, err := r.Desk.Listings.Worksheet(ctx, who, at)
	rig.Must(t, err)
	rig.Must(t, r.Desk.Listings.Give(ctx, who, at, "", sheet.Letter.Body))
	rig.Refused(t, r.Desk.Listings.Tell(ctx, who, at), problem.Conflict, "knows that it is open again")
	_, err = r.Desk.Rounds.SetCourse(ctx, who, []uuid.UUID{at.Location}, rounds.Turn{State: record.State{Kind: record.ClosedForGood}})
	rig.Must(t, err)
	steps, err := r.Desk.Rounds.Course(ctx, ledger.Scope{Location: &at.Location})
	if err != nil || len(steps) != 1 || steps[0].Act != course.Tell || !strings.Contains(steps[0].Words, "is closed for good from") {
		t.Fatalf("%+v, %v", steps, err)
	}
	rig.Must(t, r.Desk.Listings.Tell(ctx, who, at))
	if steps, err = r.Desk.Rounds.Course(ctx, ledger.Scope{}); err != nil || len(steps) != 0 {
		t.Errorf("told: %+v, %v", steps, err)
	}
}

// seenPage is a listing's public page.
func seenPage(t *testing.T, r *rig.Rig, at ledger.Place) string {
	t.Helper()
	v, err := r.Desk.Boards.Listing(t.Context(), at)
	rig.Must(t, err)
	resp, err := http.Get(v.PageURL)
	rig.Must(t, err)
	defer resp.Body.Close()
	page, err := io.ReadAll(resp.Body)
	rig.Must(t, err)
	return string(page)
}
