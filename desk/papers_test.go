package desk_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/google/uuid"

	"uvent/demo/paint"
	"uvent/desk"
	"uvent/e2e/rig"
)

func TestPapersAreReadAndKept(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, at := r.Who.Actor(), r.Add(t, rig.Shop("Minnow Bay"))
	here := desk.Scope{Location: &at.Location}
	bill := paint.Letter("Sound County Electric", "Utility bill", "Spokeshave Cycle Works LLC", "18 Tern Street")
	p, err := r.Desk.AddPaper(ctx, who, here, "bill.pdf", bill)
	if err != nil || p.Kind != "utility_bill" || !strings.Contains(p.Words, "18 Tern Street") || p.Pages != 1 {
		t.Fatalf("%+v, %v", p, err)
	}
	_, err = r.Desk.AddPaper(ctx, who, desk.Scope{Client: &p.ClientID}, "licence.pdf", paint.Letter("General contractor licence", "No. 7"))
	rig.Must(t, err)
	list, err := r.Desk.Papers(ctx, here)
	if err != nil || len(list) != 2 || list[1].LocationID != nil || list[1].Kind != "licence" {
		t.Errorf("%+v, %v", list, err)
	}
	p, err = r.Desk.SavePaper(ctx, who, p.ID, desk.PaperFacts{Kind: "phone_bill", Issued: "2026-10-31", Until: ""})
	if err != nil || p.Kind != "phone_bill" || p.Issued != "2026-10-31" {
		t.Errorf("%+v, %v", p, err)
	}
	_, err = r.Desk.SavePaper(ctx, who, p.ID, desk.PaperFacts{Kind: "novel", Until: "never"})
	refused(t, err, desk.Invalid, "kind")
	refused(t, err, desk.Invalid, "until")
	if _, data, err := r.Desk.PaperFile(ctx, p.ID); err != nil || !bytes.Equal(data, bill) {
		t.Errorf("its file is another, %v", err)
	}
	rig.Must(t, r.Desk.RemovePaper(ctx, who, p.ID, false))
	if list, _ = r.Desk.Papers(ctx, here); len(list) != 1 {
		t.Errorf("taken out, there are %d", len(list))
	}
	_, err = r.Desk.SavePaper(ctx, who, p.ID, desk.PaperFacts{Kind: "other"})
	refused(t, err, desk.NotFound, "no such paper")
	rig.Must(t, r.Desk.RemovePaper(ctx, who, p.ID, true))
	if list, _ = r.Desk.Papers(ctx, here); len(list) != 2 {
		t.Errorf("brought back, there are %d", len(list))
	}
	_, err = r.Desk.AddPaper(ctx, who, here, "x.pdf", []byte("%PDF-"))
	refused(t, err, desk.Invalid, "damaged")
	_, err = r.Desk.Papers(ctx, desk.Scope{})
	refused(t, err, desk.Invalid, "Say whose it is")
	_, _, err = r.Desk.PaperFile(ctx, uuid.New())
	refused(t, err, desk.NotFound, "no such paper")
}
