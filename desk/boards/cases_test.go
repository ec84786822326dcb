package boards_test

import (
	"fmt"
	"reflect"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/calendar"
	"uvent/core/listing/cases"
	"uvent/core/listing/verification"
	"uvent/demo/paint"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/letters"
	"uvent/desk/problem"
	"uvent/e2e/rig"
	"uvent/reach"
	"uvent/store/storetest"
)

// shown makes a listing on Fernlook public.
func shown(t *testing.T, r *rig.Rig, here ledger.Place, phone string) verification.State {
	t.Helper()
	who := r.Who.Actor()
	r.Held(t, here)
	s := r.Answered(t, here)(r.Desk.Listings.AskCode(t.Context(), who, here, "text"))
	var code string
	var err error
	r.Eventually(t, func() bool { code, err = r.World.Code(t.Context(), phone); return err == nil })
	s = r.Answered(t, here)(r.Desk.Listings.EnterCode(t.Context(), who, here, s.Attempt().ID, code))
	if s.VerifiedAt == nil {
		t.Fatalf("%+v", s)
	}
	r.Move(t, 15*24*time.Hour)
	if s = r.State(t, here); s.Visibility != verification.Public {
		t.Fatalf("it ends %s: %s", s.Visibility, s.Trouble)
	}
	return s
}

// A listing is suspended by its directory. The letter opens the case, names the cause, and
// an appeal with a good paper wins it.
func TestACaseThatIsWon(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, rec := r.Who.Actor(), rig.Shop("Minnow Bay")
	rec.Hours = "24/7"
	here := r.Add(t, rec)
	s := shown(t, r, here, rec.MainPhone())
	_, err := r.Desk.Listings.Appeal(ctx, who, here, "Please.", nil)
	rig.Refused(t, err, problem.Conflict, "not suspended, as far as is known")

	rig.Must(t, r.World.Suspend(ctx, s.Ref, "round_the_clock", false, r.Desk.Now().Add(3*time.Hour)))
	r.Move(t, 4*time.Hour)
	r.Eventually(t, func() bool { return r.State(t, here).Visibility == verification.Suspended })
	v, err := r.Desk.Boards.Case(ctx, here, "1")
	rig.Must(t, err)
	if v.Case.By != "Fernlook" || !strings.Contains(v.Case.Notice, "The hours could not be confirmed.") || v.Case.Cause != "round_the_clock" {
		t.Errorf("%+v", v.Case)
	}
	if len(v.Causes) == 0 || v.Causes[0].Cause != "round_the_clock" || !v.Causes[0].Pointed || v.Causes[0].Share < 0.5 {
		t.Errorf("suspected: %+v", v.Causes)
	}
	list, err := r.Desk.Boards.Cases(ctx, ledger.Scope{})
	if err != nil || len(list) != 1 || list[0].Next == nil || !list[0].Case.Open() {
		t.Errorf("%+v, %v", list, err)
	}
	if today, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{})); err != nil || len(today) != 1 || today[0].Task.Act != "argue" {
		t.Errorf("today: %+v, %v", today, err)
	}

	for _, c := range []struct {
		text   string
		papers []uuid.UUID
		says   string
	}{{" ", nil, "text: say why"}, {strings.Repeat("Please. ", 400), nil, "are more than the 1500 that it takes"}, {"Please.", []uuid.UUID{uuid.New()}, "papers: one of the papers is not there"}} {
		_, err = r.Desk.Listings.Appeal(ctx, who, here, c.text, c.papers)
		rig.Refused(t, err, problem.Invalid, c.says)
	}
	scope := ledger.Scope{Location: &here.Location}
	bill, err := r.Desk.Files.AddPaper(
		ctx,
		who,
		scope,
		"bill.pdf",
		paint.Letter("Sound County Electric", "Utility bill, November 2026", rec.Name, rec.Address.Street),
	)
	rig.Must(t, err)
	v, err = r.Desk.Boards.Case(ctx, here, "1")
	rig.Must(t, err)
	// One that agrees with the record and bears on another cause is not proposed.
	_, err = r.Desk.Files.AddPaper(ctx, who, scope, "registration.pdf", paint.Letter("Certificate of registration", rec.Name, rec.Address.Street))
	rig.Must(t, err)
	v, err = r.Desk.Boards.Case(ctx, here, "1")
	rig.Must(t, err)
	for _, p := range v.Papers {
		if p.Proposed != (p.Kind == "utility_bill") || p.Proposed != (p.Adds > 0) {
			t.Errorf("%s is proposed: %v, and adds %g", p.Kind, p.Proposed, p.Adds)
		}
	}
	if len(v.Papers) != 2 || strings.Contains(v.Draft, "registration") || !strings.Contains(v.Draft, "the utility bill, which shows") {
		t.Errorf("the draft says %q", v.Draft)
	}
	s = r.Answered(t, here)(r.Desk.Listings.Appeal(ctx, who, here, v.Draft, []uuid.UUID{bill.ID}))
	if c := s.OpenCase(verification.CaseSuspended); c == nil || c.Waiting() == nil || c.Waiting().Papers != "utility bill" || c.Waiting().AskedBy != r.Who.Name {
		t.Fatalf("%+v", s.Cases)
	}
	_, err = r.Desk.Listings.Appeal(ctx, who, here, "Once more.", nil)
	rig.Refused(t, err, problem.Conflict, "wait for their answer")
	r.Move(t, 21*24*time.Hour)
	r.Eventually(t, func() bool { s = r.State(t, here); return s.Visibility == verification.Public })
	if s.Visibility != verification.Public || s.Cases[0].Outcome != verification.Won || !s.Cases[0].Appeals[0].Granted {
		t.Errorf("it ends %s: %+v", s.Visibility, s.Cases)
	}
}

// A case's page shows a year later what it showed on its day, whatever has become of the record, the papers and the rulebook,
// and what was learnt.
func TestACaseAYearLater(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, rec := r.Who.Actor(), rig.Shop("Minnow Bay")
	rec.Hours = "24/7"
	here := r.Add(t, rec)
	s := shown(t, r, here, rec.MainPhone())
	rig.Must(t, r.World.Suspend(ctx, s.Ref, "round_the_clock", false, r.Desk.Now().Add(3*time.Hour)))
	r.Move(t, 4*time.Hour)
	r.Eventually(t, func() bool { return r.State(t, here).Visibility == verification.Suspended })
	view := func() boards.CaseView {
		t.Helper()
		v, err := r.Desk.Boards.Case(ctx, here, "1")
		rig.Must(t, err)
		return v
	}
	opened := view()
	bill, err := r.Desk.Files.AddPaper(
		ctx,
		who,
		ledger.Scope{Location: &here.Location},
		"bill.pdf",
		paint.Letter("Sound County Electric", "Utility bill, November 2026", rec.Name, rec.Address.Street),
	)
	rig.Must(t, err)
	l, err := r.Desk.Ledger.Location(ctx, here.Location)
	rig.Must(t, err)
	mended := l.Record
	mended.Hours = "Mo-Fr 09:00-18:00"
	l, err = r.Desk.Records.SaveLocation(ctx, who, here.Location, l.Version, mended)
	rig.Must(t, err)
	if v := view(); v.Causes[0].Today != cases.Gone || v.Causes[0].Says != opened.Causes[0].Says || v.Causes[0].Share != opened.Causes[0].Share ||
		len(v.Since) != 1 {
		t.Errorf("once it is mended: %+v, %+v", v.Causes[0], v.Since)
	}
	r.Answered(t, here)(r.Desk.Listings.Appeal(ctx, who, here, view().Draft, []uuid.UUID{bill.ID}))
	r.Move(t, 21*24*time.Hour)
	r.Eventually(t, func() bool { return r.State(t, here).Visibility == verification.Public })
	over := view()
	if len(over.Causes) != len(opened.Causes) || len(over.Learnt) != 2 || !strings.Contains(over.Learnt[0], "The appeal with the utility bill was granted") ||
		!strings.Contains(over.Learnt[1], "1 of ours like it were granted, 0 refused") {
		t.Errorf("once it is over: %q, %+v", over.Learnt, over.Causes)
	}
	for _, step := range over.Steps {
		if step.State != cases.Done && step.Act != cases.BySend {
			t.Errorf("%s is %s: %s", step.Title, step.State, step.Says)
		}
	}
	// A year goes by: the shop is renamed, open at other hours, and its bill is thrown away.
	r.Move(t, 300*24*time.Hour)
	mended.Name, mended.Hours = "Best Cheap Spokeshave", "24/7"
	_, err = r.Desk.Records.SaveLocation(ctx, who, here.Location, l.Version, mended)
	rig.Must(t, err)
	rig.Must(t, r.Desk.Files.RemovePaper(ctx, who, bill.ID, false))
	later := view()
	if !reflect.DeepEqual(later.Steps, over.Steps) || !reflect.DeepEqual(later.Since, over.Since) || !reflect.DeepEqual(later.Learnt, over.Learnt) ||
		!reflect.DeepEqual(later.Case.Appeals, over.Case.Appeals) || len(later.Causes) != len(over.Causes) {
		t.Errorf("a year later %+v\nand then %+v", later.Steps, over.Steps)
	}
	for i, k := range later.Causes {
		then := opened.Causes[i]
		if k.Says != then.Says || k.Share != then.Share || k.Title != then.Title || !reflect.DeepEqual(k.Evidence, then.Evidence) {
			t.Errorf("a year later %+v, and then %+v", k, then)
		}
	}
}

// One that is final is argued once, and then ends.
func TestACaseThatCannotBeWon(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, rec := r.Who.Actor(), rig.Shop("Minnow Bay")
	here := r.Add(t, rec)
	s := shown(t, r, here, rec.MainPhone())
	rig.Must(t, r.World.Suspend(ctx, s.Ref, "unsaid", true, time.Time{}))
	r.Eventually(t, func() bool { return r.State(t, here).Visibility == verification.Suspended })
	if c := r.State(t, here).Cases[0]; c.Cause != "" {
		t.Errorf("a cause is named that nothing shows: %+v", c)
	}
	if s = r.Answered(t, here)(r.Desk.Listings.Appeal(ctx, who, here, "Please look again.", nil)); s.Trouble != "" {
		t.Fatal(s.Trouble)
	}
	r.Move(t, 24*24*time.Hour) // ten business days, over the holidays
	r.Eventually(t, func() bool { s = r.State(t, here); return s.Cases[0].Waiting() == nil })
	// Two are heard there, but this one is final.
	if c := s.Cases[0]; len(c.Appeals) != 1 || c.Appeals[0].Granted || !strings.Contains(c.Appeals[0].Says, "final") || c.Open() {
		t.Fatalf("%+v", c)
	}
	if s.Cases[0].Outcome != verification.LostIt || s.Visibility != verification.Suspended {
		t.Errorf("%+v", s)
	}
	_, err := r.Desk.Listings.Appeal(ctx, who, here, "Once more.", nil)
	rig.Refused(t, err, problem.Conflict, "not suspended, as far as is known")
	// It is asked what becomes of it, until somebody decides that; and again once the decision is taken back.
	stays := func() []boards.Cell {
		t.Helper()
		today, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{}))
		rig.Must(t, err)
		return today
	}
	today := stays()
	if len(today) != 1 || today[0].Task.Title != "Minnow Bay stays suspended on Fernlook" {
		t.Fatalf("today: %+v", today)
	}
	lost := today[0].Matter.ID
	rig.Must(t, r.Desk.Matters.Decide(ctx, who, []uuid.UUID{lost}, "A new listing after the move."))
	if today := stays(); len(today) != 0 {
		t.Errorf("decided: %+v", today)
	}
	rig.Must(t, r.Desk.Matters.Reopen(ctx, who, lost))
	if today := stays(); len(today) != 1 || today[0].Matter.ID == lost {
		t.Errorf("taken back: %+v", today)
	}
	rig.Must(t, r.Desk.Listings.SuspendedThere(ctx, who, here, "They say that it is about the sign."))
	rig.Must(t, r.Desk.Listings.DropCase(ctx, who, here, "2", "The shop closes."))
	if c := r.State(t, here).Cases[1]; c.Outcome != verification.GivenUp || c.Says != "The shop closes." || c.By != r.Who.Name {
		t.Errorf("%+v", c)
	}
	rig.Refused(t, r.Desk.Listings.DropCase(ctx, who, here, "2", ""), problem.NotFound, "no such open case")
}

// What was refused is not said again: a second appeal says what is new.
func TestASecondAppealSaysWhatIsNew(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, rec := r.Who.Actor(), rig.Shop("Minnow Bay")
	here := r.Add(t, rec)
	s := shown(t, r, here, rec.MainPhone())
	rig.Must(t, r.World.Suspend(ctx, s.Ref, "unsaid", false, time.Time{}))
	r.Eventually(t, func() bool { return r.State(t, here).Visibility == verification.Suspended })
	r.Answered(t, here)(r.Desk.Listings.Appeal(ctx, who, here, "Please look again.", nil))
	r.Move(t, 24*24*time.Hour)
	r.Eventually(t, func() bool { s = r.State(t, here); return s.Cases[0].Waiting() == nil })
	if !s.Cases[0].Open() {
		t.Fatalf("%+v", s.Cases[0])
	}
	_, err := r.Desk.Listings.Appeal(ctx, who, here, " Please look again. ", nil)
	rig.Refused(t, err, problem.Invalid, "say what is new since")
	v, err := r.Desk.Boards.Case(ctx, here, "1")
	if rig.Must(t, err); v.Fresh {
		t.Error("it is told that something is new, and nothing is")
	}
	bill, err := r.Desk.Files.AddPaper(
		ctx,
		who,
		ledger.Scope{Location: &here.Location},
		"bill.pdf",
		paint.Letter("Sound County Electric", "Utility bill, November 2026", rec.Name, rec.Address.Street),
	)
	rig.Must(t, err)
	if v, err = r.Desk.Boards.Case(ctx, here, "1"); err != nil || !v.Fresh {
		t.Errorf("a paper is new, %v", err)
	}
	if s = r.Answered(t, here)(r.Desk.Listings.Appeal(ctx, who, here, "Please look again.", []uuid.UUID{bill.ID})); len(s.Cases[0].Appeals) != 2 {
		t.Errorf("%+v", s.Cases[0])
	}
}

// What the directory does not write about is seen: the page is gone, and it tells why when
// it is asked.
func TestASuspensionThatIsSeen(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, rec := r.Who.Actor(), rig.Shop("Minnow Bay")
	here := r.Add(t, rec)
	shown(t, r, here, rec.MainPhone())
	_, err := storetest.Owner(t, r.Store).Exec(
		ctx,
		`update outside.listing set suspended = '{"cause": "unsaid", "says": "It does not follow our guidelines.", "at": "2026-12-01T00:00:00Z"}'`,
	)
	rig.Must(t, err)
	rig.Must(t, r.Desk.Sightings.Look(ctx, who, here))
	s := r.State(t, here)
	if c := s.OpenCase(verification.CaseSuspended); c == nil || c.Notice != "It does not follow our guidelines." || c.By != r.Who.Name ||
		s.Visibility != verification.Suspended {
		t.Errorf("%+v", s.Cases)
	}
	rig.Must(t, r.Desk.Sightings.Look(ctx, who, here))
	if s = r.State(t, here); len(s.Cases) != 1 || s.Visibility != verification.Suspended {
		t.Errorf("looked at twice: %+v", s.Cases)
	}
}

// A letter that names no listing of ours waits until somebody says what it is about.
func TestLettersThatNameNoListing(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, rec := r.Who.Actor(), rig.Shop("Minnow Bay")
	here := r.Add(t, rec)
	shown(t, r, here, rec.MainPhone())
	write := func(id, from string) {
		rig.Must(
			t,
			r.Reach.Send(
				ctx,
				reach.Mail{ID: id, From: from, As: "Fernlook", To: rig.Account, Subject: "Ihre Einträge é", Body: "A listing of yours is suspended.\nLook into it."},
			),
		)
	}
	write("one", "notices@fernlook.example")
	write("two", "notices@fernlook.example")
	write("three", "news@elsewhere.example")
	var loose []letters.Notice
	r.Eventually(t, func() bool {
		var err error
		loose, err = r.Desk.Letters.LooseNotices(ctx)
		return err == nil && len(loose) == 2
	})
	if n := loose[0]; n.Subject != "Ihre Einträge é" || !strings.HasPrefix(n.Body, "A listing of yours") {
		t.Errorf("%+v", n)
	}
	other := r.Add(t, rig.Shop("Fennick"))
	rig.Refused(t, r.Desk.Listings.AssignNotice(ctx, who, loose[0].ID, other.Location), problem.Conflict, "is not held by us")
	rig.Must(t, r.Desk.Listings.AssignNotice(ctx, who, loose[0].ID, here.Location))
	if c := r.State(t, here).OpenCase(verification.CaseSuspended); c == nil || c.By != r.Who.Name ||
		!strings.HasPrefix(c.Notice, "A listing of yours is suspended.") {
		t.Errorf("%+v", r.State(t, here).Cases)
	}
	rig.Refused(t, r.Desk.Listings.AssignNotice(ctx, who, loose[0].ID, here.Location), problem.Conflict, "known already")
	rig.Refused(t, r.Desk.Listings.AssignNotice(ctx, who, "none", here.Location), problem.NotFound, "no such letter")
	rig.Must(t, r.Desk.Letters.PutNoticeAside(ctx, loose[1].ID, true))
	if loose, _ = r.Desk.Letters.LooseNotices(ctx); len(loose) != 0 {
		t.Errorf("left: %+v", loose)
	}
}

// What is taken out of public view on purpose does not show, is no trouble, and comes back.
func TestOutOfPublicView(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, rec := r.Who.Actor(), rig.Shop("Minnow Bay")
	here := r.Add(t, rec)
	_, err := r.Desk.Listings.Withdraw(ctx, who, here, "Not ready.", nil)
	rig.Refused(t, err, problem.Conflict, "Claim or create the listing first.")
	shown(t, r, here, rec.MainPhone())
	_, err = r.Desk.Listings.Withdraw(ctx, who, here, " ", nil)
	rig.Refused(t, err, problem.Invalid, "why: say why")
	_, err = r.Desk.Listings.BringBack(ctx, who, here)
	rig.Refused(t, err, problem.Conflict, "not taken out of public view")
	if s := r.Answered(t, here)(
		r.Desk.Listings.Withdraw(ctx, who, here, "The shop is rebuilt.", nil),
	); s.Visibility != verification.Withdrawn ||
		s.Withdrawal != "The shop is rebuilt." {
		t.Fatalf("%+v", s)
	}
	r.Move(t, 20*24*time.Hour)
	rig.Must(t, r.Desk.Sightings.Look(ctx, who, here))
	if s := r.State(t, here); s.Visibility != verification.Withdrawn || len(s.Cases) != 0 || s.VerifiedAt == nil {
		t.Errorf("%+v", s)
	}
	if today, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{})); err != nil || len(today) != 0 {
		t.Errorf("today: %+v, %v", today, err)
	}
	if s := r.Answered(t, here)(r.Desk.Listings.BringBack(ctx, who, here)); s.Visibility != verification.Publishing {
		t.Errorf("%+v", s)
	}
	r.Move(t, 2*24*time.Hour)
	if s := r.State(t, here); s.Visibility != verification.Public || s.Withdrawal != "" {
		t.Errorf("%+v", s)
	}
}

// What is taken out of public view until a day, at many places at once, shows again by itself on that day; where that does not
// come about, somebody is told.
func TestOutOfPublicViewUntilADay(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "candourbox"), t.Context()
	who := r.Who.Actor()
	var places []ledger.Place
	for i, town := range []string{"Minnow Bay", "Fennick"} {
		rec := rig.Shop(town)
		rec.Phones[0].E164 = fmt.Sprintf("+1360555014%d", i)
		at := r.Add(t, rec)
		shown(t, r, at, rec.MainPhone())
		places = append(places, at)
	}
	hidden := r.Add(t, rig.Shop("Quillcote"))
	r.Held(t, hidden)
	today := calendar.DateIn(r.Desk.Now(), time.UTC)
	_, _, err := r.Desk.Listings.WithdrawMany(ctx, who, places, "The street is closed.", &today)
	rig.Refused(t, err, problem.Invalid, "back: the day on which it comes back lies before tomorrow")
	back := today.Add(20)
	asked, refused, err := r.Desk.Listings.WithdrawMany(ctx, who, append(places, hidden), "The street is closed.", &back)
	if err != nil || asked != 2 || refused[hidden] != "It does not show; there is nothing to take out of view." {
		t.Fatalf("%d, %v, %v", asked, refused, err)
	}
	for _, at := range places {
		r.Eventually(t, func() bool {
			s := r.State(t, at)
			return s.Visibility == verification.Withdrawn && s.BackOn != nil && *s.BackOn == back
		})
	}
	r.Move(t, 19*24*time.Hour)
	for _, at := range places {
		if s := r.State(t, at); s.Visibility != verification.Withdrawn {
			t.Errorf("a day before: %+v", s)
		}
	}
	r.Move(t, 4*24*time.Hour)
	for _, at := range places {
		r.Eventually(t, func() bool { return r.State(t, at).Visibility == verification.Public })
		if s := r.State(t, at); s.BackOn != nil || s.Withdrawal != "" {
			t.Errorf("%+v", s)
		}
	}
}

// A listing that is suspended as soon as it is made: the letter may come before the
// directory's answer is taken in, and finds its listing all the same.
func TestSuspendedAsItIsMade(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	suspended := 0
	for i := range 8 { // seven of ten are
		rec := rig.Shop(fmt.Sprint("Town ", i))
		rec.Name, rec.Phones[0].E164 = fmt.Sprint("Best Bicycles ", i), fmt.Sprintf("+1360555014%d", i)
		here := r.Add(t, rec)
		s := r.Held(t, here)
		told, err := r.Reach.Told(ctx, "outside:/fernlook/api", s.Ref)
		rig.Must(t, err)
		if told.Suspended == "" {
			continue
		}
		suspended++
		r.Eventually(t, func() bool { return r.State(t, here).Visibility == verification.Suspended })
		if c := r.State(t, here).Cases[0]; c.Cause != "extra_words" || c.By != "Fernlook" {
			t.Errorf("%+v", c)
		}
	}
	if loose, err := r.Desk.Letters.LooseNotices(ctx); err != nil || len(loose) > 0 || suspended == 0 {
		t.Errorf("%d are suspended, and %d letters found no listing (%v)", suspended, len(loose), err)
	}
}
