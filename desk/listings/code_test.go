package listings_test

import (
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/problem"
	"uvent/e2e/rig"
)

// texted is a held listing with a code that was sent by text, and that code.
func texted(t *testing.T, r *rig.Rig, town, phone string) (at ledger.Place, attempt, code string) {
	t.Helper()
	rec := rig.Shop(town)
	rec.Phones[0].E164 = phone
	at = r.Add(t, rec)
	r.Held(t, at)
	s := r.Answered(t, at)(r.Desk.Listings.AskCode(t.Context(), r.Who.Actor(), at, rulebook.Text))
	code, err := r.World.Code(t.Context(), phone)
	rig.Must(t, err)
	return at, s.Attempt().ID, code
}

// other is a code of as many digits that is not the right one.
func other(code string) string { return fmt.Sprintf("%06d", (atoi(code)+1)%1_000_000) }

func atoi(s string) (n int) {
	for _, c := range s {
		n = n*10 + int(c-'0')
	}
	return n
}

func TestAWrongCodeIsToldAndUsesATry(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at, attempt, code := texted(t, r, "Minnow Bay", "+13605550142")
	who := r.Who.Actor()
	for i, want := range []string{"This is not the code that was sent. 2 tries are left.", "This is not the code that was sent. One try is left."} {
		s := r.Answered(t, at)(r.Desk.Listings.EnterCode(ctx, who, at, attempt, other(code)))
		if s.Trouble != want || s.Attempt().TriesLeft != 2-i || s.Verification != verification.CodeAtHand {
			t.Fatalf("try %d: %q, %d left, %s", i+1, s.Trouble, s.Attempt().TriesLeft, s.Verification)
		}
	}
	s := r.Answered(t, at)(r.Desk.Listings.EnterCode(ctx, who, at, attempt, other(code)))
	if s.Trouble != "This is not the code that was sent. No tries are left; ask for another code." || s.Verification != verification.Refused {
		t.Fatalf("used up: %q, %s", s.Trouble, s.Verification)
	}
	_, err := r.Desk.Listings.EnterCode(ctx, who, at, attempt, code)
	rig.Refused(t, err, problem.Conflict, "No tries are left for this code.")
}

func TestACodeThatCannotBeOneIsNotSent(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at, attempt, _ := texted(t, r, "Minnow Bay", "+13605550142")
	for entered, says := range map[string]string{"12345": "has 6 digits; this has 5", "1234567": "this has 7", "12345x": "something besides digits", "": "this has 0"} {
		_, err := r.Desk.Listings.EnterCode(ctx, r.Who.Actor(), at, attempt, entered)
		rig.Refused(t, err, problem.Invalid, says)
	}
	if s := r.State(t, at); s.Attempt().TriesLeft != 3 {
		t.Errorf("a typing mistake used a try: %d left", s.Attempt().TriesLeft)
	}
	_, err := r.Desk.Listings.EnterCode(ctx, r.Who.Actor(), at, uuid.NewString(), "123456")
	rig.Refused(t, err, problem.NotFound, "no such attempt")
}

func TestALateCode(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at, attempt, code := texted(t, r, "Minnow Bay", "+13605550142")
	r.Move(t, 31*time.Minute)
	_, err := r.Desk.Listings.EnterCode(ctx, r.Who.Actor(), at, attempt, code)
	rig.Refused(t, err, problem.Conflict, "This code stopped working on Tue 24 Nov. Ask for another.")
	if s := r.State(t, at); s.Verification != verification.Lapsed {
		t.Errorf("it lapsed by the clock: %s", s.Verification)
	}
}

func TestACodeOfAnotherListing(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at, attempt, _ := texted(t, r, "Minnow Bay", "+13605550142")
	_, _, theirs := texted(t, r, "Port Sable", "+13605550121")
	s := r.Answered(t, at)(r.Desk.Listings.EnterCode(ctx, r.Who.Actor(), at, attempt, theirs))
	if s.Trouble != "This code was sent for another listing. 2 tries are left." {
		t.Errorf("it says %q", s.Trouble)
	}
}

func TestAReplacedCode(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at, first, code := texted(t, r, "Minnow Bay", "+13605550142")
	_, err := r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Text)
	rig.Refused(t, err, problem.Conflict, "Asked already; again from")
	r.Move(t, 11*time.Minute)
	// What lives is ended only by whoever has seen that it would be.
	for _, instead := range []string{"", "another"} {
		_, err = r.Desk.Listings.AskInsisting(ctx, r.Who.Actor(), at, rulebook.Text, listings.Insisting{Instead: instead})
		rig.Refused(t, err, problem.Conflict, "another text message would end it. Say that it may, or leave it as it is.")
	}
	s := r.Answered(t, at)(r.Desk.Listings.AskInsisting(ctx, r.Who.Actor(), at, rulebook.Text, listings.Insisting{Instead: first}))
	_, err = r.Desk.Listings.EnterCode(ctx, r.Who.Actor(), at, first, code)
	rig.Refused(t, err, problem.Conflict, "This is not the code that is waited for. Another was asked for later (text message, today); only that one works.")
	newer, err := r.World.Code(ctx, "+13605550142")
	rig.Must(t, err)
	if s = r.Answered(t, at)(r.Desk.Listings.EnterCode(ctx, r.Who.Actor(), at, s.Attempt().ID, newer)); s.VerifiedAt == nil {
		t.Errorf("the newer one does not work: %+v", s)
	}
	_, err = r.Desk.Listings.EnterCode(ctx, r.Who.Actor(), at, s.Attempt().ID, newer)
	rig.Refused(t, err, problem.Conflict, "verified already")
	_, err = r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Email)
	rig.Refused(t, err, problem.Conflict, "verified already")
}

// The same code sent twice at once is one entry: it uses one try, and both who
// sent it get its answer.
func TestACodeSentTwiceAtOnce(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at, attempt, code := texted(t, r, "Minnow Bay", "+13605550142")
	rig.Must(t, r.World.Misbehave(ctx, slow))
	twice := func(code string) (calls [2]uuid.UUID, errs [2]error) {
		var both sync.WaitGroup
		for i := range 2 {
			both.Go(func() { calls[i], errs[i] = r.Desk.Listings.EnterCode(ctx, r.Who.Actor(), at, attempt, code) })
		}
		both.Wait()
		return calls, errs
	}
	calls, errs := twice(other(code))
	if errs[0] != nil || errs[1] != nil || calls[0] != calls[1] {
		t.Fatalf("the wrong code twice: %v, %v", calls, errs)
	}
	// Another code meanwhile waits for the answer.
	_, err := r.Desk.Listings.EnterCode(ctx, r.Who.Actor(), at, attempt, code)
	rig.Refused(t, err, problem.Conflict, "Another code is with Fernlook")
	if s := r.Answered(t, at)(calls[0], nil); s.Attempt().TriesLeft != 2 {
		t.Errorf("%d tries are left", s.Attempt().TriesLeft)
	}
	calls, errs = twice(code)
	if errs[0] != nil || errs[1] != nil || calls[0] != calls[1] {
		t.Fatalf("the right code twice: %v, %v", calls, errs)
	}
	if s := r.Answered(t, at)(calls[1], nil); s.VerifiedAt == nil {
		t.Errorf("not verified: %+v", s)
	}
}

// An email that comes back is told, and another way is chosen.
func TestAnEmailThatComesBack(t *testing.T) {
	r, ctx := rig.Start(t, "guildbench", "candourbox"), t.Context()
	who := r.Who.Actor()
	rec := rig.Shop("Minnow Bay")
	rig.Must(t, r.World.Nowhere(ctx, "Shop@spokeshave.example"))
	here := rig.On(r.Add(t, rec), "candourbox")
	r.Held(t, here)
	s := r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, who, here, "email"))
	if !s.Attempt().Live() {
		t.Fatalf("%+v", s)
	}
	r.Move(t, 10*time.Minute)
	if s = r.State(t, here); s.Attempt().State != verification.AttemptRefused || !strings.Contains(s.Trouble, "The email came back") {
		t.Fatalf("%+v", s)
	}
	v, err := r.Desk.Boards.Listing(ctx, here)
	rig.Must(t, err)
	if v.Task == nil || !strings.Contains(v.Task.Says, "came back") {
		t.Errorf("%+v", v.Task)
	}
	said := ""
	for _, e := range v.History {
		said += e.Tell(*v.Book) + "\n"
	}
	if !strings.Contains(said, "Offered then: email, text message.") {
		t.Errorf("the history does not say what was offered:\n%s", said)
	}
	s = r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, who, here, "text"))
	code, err := r.World.Code(ctx, rec.MainPhone())
	rig.Must(t, err)
	if s = r.Answered(t, here)(r.Desk.Listings.EnterCode(ctx, who, here, s.Attempt().ID, code)); s.VerifiedAt == nil {
		t.Errorf("%+v", s)
	}
}

// A call that nobody picked up, and a text to a phone that takes none, run out, and another
// is asked for.
func TestACallThatNobodyTook(t *testing.T) {
	r, ctx := rig.Start(t, "candourbox", "hithermap"), t.Context()
	who := r.Who.Actor()
	rec := rig.Shop("Minnow Bay")
	for directory, method := range map[string]rulebook.MethodName{"hithermap": rulebook.Call, "candourbox": rulebook.Text} {
		rig.Must(t, r.World.Phone(ctx, rec.MainPhone(), true, "Mo 03:00-03:05", "America/Los_Angeles"))
		rec.Label = "Minnow Bay, " + directory
		here := rig.On(r.Add(t, rec), directory)
		r.Held(t, here)
		r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, who, here, method))
		if _, err := r.World.Code(ctx, rec.MainPhone()); err == nil {
			t.Fatalf("%s: a code came all the same", directory)
		}
		r.Move(t, 45*time.Minute)
		v, err := r.Desk.Boards.Listing(ctx, here)
		rig.Must(t, err)
		if v.State.Verification != verification.Lapsed || v.Task.Act != "ask_again" {
			t.Errorf("%s: %s, %+v", directory, v.State.Verification, v.Task)
		}
		rig.Must(t, r.World.Phone(ctx, rec.MainPhone(), false, "", "America/Los_Angeles"))
		s := r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, who, here, method))
		code, err := r.World.Code(ctx, rec.MainPhone())
		rig.Must(t, err)
		if s = r.Answered(t, here)(r.Desk.Listings.EnterCode(ctx, who, here, s.Attempt().ID, code)); s.VerifiedAt == nil {
			t.Errorf("%s: %+v", directory, s)
		}
		r.Move(t, time.Hour)
		rec.Phones[0].E164 = "+13605550143" // the next has no code lying about
	}
}
