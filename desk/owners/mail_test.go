package owners_test

import (
	"strings"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/demo/paint"
	"uvent/desk/owners"
	"uvent/e2e/rig"
)

// An answer by mail counts: a code in it is offered for entering and kept in no log, what is said is told, and a paper is read; a
// letter of somebody who was asked for nothing is of no listing.
func TestAnAnswerByMail(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "waywren"), t.Context()
	at := ownedShop(t, r, "fernlook", rig.Shop("Minnow Bay"))
	s := r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Postcard))
	_, err := r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.TypeCode, Mail: true})
	rig.Must(t, err)
	mails := mailsTo(t, r, "dov@spokeshave.example", 1)
	if len(mails) != 1 || !strings.Contains(mails[0].Body, "You may also answer this letter, with the code or the paper in it.") {
		t.Fatalf("%+v", mails)
	}
	r.Writes(t, rig.Written{
		From: "Dov Marsh <DOV@spokeshave.example>",
		Text: "Nothing has come yet.\n\nOn Tue, 24 Nov 2026 at 09:12, Ines Roake wrote:\n> The code has 6 digits, such as 111111.",
	})
	r.Eventually(t, func() bool { return r.State(t, at).FromOwner != nil })
	if f := r.State(t, at).FromOwner; f.Says != "Nothing has come yet." {
		t.Errorf("%+v", f)
	}
	rig.Must(t, r.Desk.Listings.SeeFromOwner(ctx, r.Who.Actor(), at))
	r.Move(t, 17*24*time.Hour)
	code, err := r.World.Code(ctx, "18 Tern Street")
	rig.Must(t, err)
	r.Writes(t, rig.Written{From: "dov@spokeshave.example", Text: "It came, " + code[:3] + " " + code[3:] + ". Call me at (360) 555-0142."})
	r.Eventually(t, func() bool { return r.State(t, at).FromOwner != nil })
	st := r.State(t, at)
	text, told, err := r.Desk.Owners.Written(ctx, st)
	if err != nil || told != code || !strings.HasPrefix(text, "It came, ") || st.FromOwner.Says != "It came, ••••••. Call me at (360) 555-0142." {
		t.Errorf("%q, %q, %v: %+v", text, told, err, st.FromOwner)
	}
	var kept int
	rig.Must(
		t,
		r.Store.Pool.QueryRow(
			ctx,
			"select count(*) from event where data::text like '%' || $1 || '%' or data::text like '%' || $2 || '%'",
			code,
			code[:3]+" "+code[3:],
		).Scan(
			&kept,
		),
	)
	if kept != 0 {
		t.Error("the log tells the code")
	}
	if s = r.Answered(t, at)(r.Desk.Listings.EnterCode(ctx, r.Who.Actor(), at, s.Attempt().ID, told)); s.VerifiedAt == nil {
		t.Errorf("%+v", s)
	}

	at.Directory = "waywren"
	r.Held(t, at)
	made, err := r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.SendPaper, Mail: true})
	rig.Must(t, err)
	r.Eventually(t, func() bool { return mailsTo(t, r, "dov@spokeshave.example", 1)[0].Title == "Send one paper" })
	before := len(mailsTo(t, r, "dov@spokeshave.example", 0))
	letter := func(street string) []byte {
		return paint.Letter("Sound County Electric", "Utility bill, November 2026", "Spokeshave Cycle Works", street)
	}
	r.Writes(t, rig.Written{From: "dov@spokeshave.example", Text: "Here.", Name: "bill.pdf", File: letter("18 Tern Street, Suite B")})
	r.Eventually(t, func() bool { f := r.State(t, at).FromOwner; return f != nil && len(f.Doubts) == 1 })
	again := mailsTo(t, r, "dov@spokeshave.example", before+1)
	if len(again) != before+1 || !strings.Contains(again[0].Body, "we have read what you sent, and Waywren would refuse it. It names Suite B") {
		t.Errorf("%d letters: %s", len(again), again[0].Body)
	}
	r.Writes(t, rig.Written{From: "dov@spokeshave.example", Text: "", Name: "bill.pdf", File: letter("18 Tern Street")})
	r.Eventually(t, func() bool { f := r.State(t, at).FromOwner; return f != nil && len(f.Doubts) == 0 })
	p, err := r.Desk.Owners.OwnerPage(ctx, secretOf(made.Address), "")
	rig.Must(t, err)
	for _, one := range p.Things {
		if one.ID == made.ID && one.State != owners.LinkDone {
			t.Errorf("%+v", one)
		}
	}
	sent(t, r, "The owner has sent the utility bill by mail for Minnow Bay on Waywren", "Nothing that we can read speaks against it.")

	rig.Must(t, r.Desk.Listings.SeeFromOwner(ctx, r.Who.Actor(), at))
	r.Writes(t, rig.Written{From: "dov@spokeshave.example", Text: "I am away until Monday.", Auto: true})
	r.Writes(t, rig.Written{From: "somebody@else.example", Text: "482913", Name: "bill.pdf", File: letter("18 Tern Street")})
	r.Eventually(t, func() bool {
		var kept int
		err := r.Store.Pool.QueryRow(ctx, "select count(*) from notice where sender = 'somebody@else.example' and location_id is null").Scan(&kept)
		return err == nil && kept == 1
	})
	if f := r.State(t, at).FromOwner; f != nil {
		t.Errorf("what a program wrote is taken for the owner's word: %+v", f)
	}
}
