package files_test

import (
	"time"

	"bytes"
	"strings"
	"testing"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/demo/paint"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/e2e/rig"
)

func TestPapersAreReadAndKept(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, at := r.Who.Actor(), r.Add(t, rig.Shop("Minnow Bay"))
	here := ledger.Scope{Location: &at.Location}
	bill := paint.Letter("Sound County Electric", "Utility bill", "Spokeshave Cycle Works LLC", "18 Tern Street")
	p, err := r.Desk.Files.AddPaper(ctx, who, here, "bill.pdf", bill)
	if err != nil || p.Kind != "utility_bill" || !strings.Contains(p.Words, "18 Tern Street") || p.Pages != 1 {
		t.Fatalf("%+v, %v", p, err)
	}
	_, err = r.Desk.Files.AddPaper(ctx, who, ledger.OfClient(p.ClientID), "licence.pdf", paint.Letter("General contractor licence", "No. 7"))
	rig.Must(t, err)
	list, err := r.Desk.Files.Papers(ctx, here)
	if err != nil || len(list) != 2 || list[1].LocationID != nil || list[1].Kind != "licence" {
		t.Errorf("%+v, %v", list, err)
	}
	p, err = r.Desk.Files.SavePaper(ctx, who, p.ID, files.PaperFacts{Kind: "phone_bill", Issued: "2026-10-31", Until: ""})
	if err != nil || p.Kind != "phone_bill" || p.Issued != "2026-10-31" {
		t.Errorf("%+v, %v", p, err)
	}
	_, err = r.Desk.Files.SavePaper(ctx, who, p.ID, files.PaperFacts{Kind: "novel", Until: "never"})
	rig.Refused(t, err, problem.Invalid, "kind")
	rig.Refused(t, err, problem.Invalid, "until")
	if _, data, err := r.Desk.Files.PaperFile(ctx, p.ID); err != nil || !bytes.Equal(data, bill) {
		t.Errorf("its file is another, %v", err)
	}
	rig.Must(t, r.Desk.Files.RemovePaper(ctx, who, p.ID, false))
	if list, _ = r.Desk.Files.Papers(ctx, here); len(list) != 1 {
		t.Errorf("taken out, there are %d", len(list))
	}
	_, err = r.Desk.Files.SavePaper(ctx, who, p.ID, files.PaperFacts{Kind: "other"})
	rig.Refused(t, err, problem.NotFound, "no such paper")
	rig.Must(t, r.Desk.Files.RemovePaper(ctx, who, p.ID, true))
	if list, _ = r.Desk.Files.Papers(ctx, here); len(list) != 2 {
		t.Errorf("brought back, there are %d", len(list))
	}
	_, err = r.Desk.Files.AddPaper(ctx, who, here, "x.pdf", []byte("%PDF-"))
	rig.Refused(t, err, problem.Invalid, "damaged")
	_, err = r.Desk.Files.Papers(ctx, ledger.Scope{})
	rig.Refused(t, err, problem.Invalid, "Say whose it is")
	_, _, err = r.Desk.Files.PaperFile(ctx, uuid.New())
	rig.Refused(t, err, problem.NotFound, "no such paper")
}

// What a paper says otherwise is put into the record, or another paper is sent.
func TestMendingByAPaper(t *testing.T) {
	r, ctx := rig.Start(t, "waywren"), t.Context()
	who := r.Who.Actor()
	rec := rig.Shop("Minnow Bay")
	rec.LegalName = "Tern Wheelwrights LLC" // the paper bears it, and not what the public knows
	here := rig.On(r.Add(t, rec), "waywren")
	r.Held(t, here)
	p, err := r.Desk.Files.AddPaper(
		ctx,
		who,
		ledger.Scope{Location: &here.Location},
		"bill.pdf",
		paint.Letter("Sound County Electric", "Utility bill, October 2026", rec.LegalName, "18 Tern Street, Suite B"),
	)
	rig.Must(t, err)
	_, err = r.Desk.Listings.AskCode(ctx, who, here, "papers")
	rig.Refused(t, err, problem.Conflict, "It names Suite B, and the record names no unit.")
	v, err := r.Desk.Boards.Listing(ctx, here)
	rig.Must(t, err)
	if len(v.Papers) != 1 || v.Papers[0].ID != p.ID || len(v.Papers[0].Findings) != 4 {
		t.Errorf("%+v", v.Papers)
	}
	_, err = r.Desk.Records.Mend(ctx, who, here.Location, p.ID, "name")
	rig.Refused(t, err, problem.Conflict, "nothing in this paper")
	_, err = r.Desk.Records.Mend(ctx, who, here.Location, here.Location, "unit")
	rig.Refused(t, err, problem.NotFound, "no such paper")
	mended, err := r.Desk.Records.Mend(ctx, who, here.Location, p.ID, "unit")
	if rig.Must(t, err); mended.Record.Address.Unit != "Suite B" || mended.Version != 2 {
		t.Fatalf("%+v", mended.Record.Address)
	}
	// The directory still has the address without the suite, and refuses for that.
	s := r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, who, here, "papers"))
	if s.Verification != verification.InReview {
		t.Fatalf("%+v", s)
	}
	r.Move(t, 8*24*time.Hour)
	if s = r.State(t, here); s.Trouble != "The paper shows another suite." {
		t.Errorf("%+v", s)
	}
	// The record's address is sent, looked at there, and then the paper agrees.
	s = r.Answered(t, here)(r.Desk.Listings.Send(ctx, who, here, nil))
	if s.Change == nil {
		t.Fatalf("%+v", s)
	}
	r.Move(t, 8*24*time.Hour)
	r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, who, here, "papers"))
	r.Move(t, 8*24*time.Hour)
	if s = r.State(t, here); s.VerifiedAt == nil {
		t.Errorf("%+v", s)
	}
}
