package listings_test

import (
	"strings"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/desk/problem"
	"uvent/e2e/rig"
)

// What has changed in the record since a directory was given it is sent: some of it is
// taken at once, some looked at first, and nothing more is sent before that is settled.
func TestSendingChanges(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	rec := rig.Shop("Minnow Bay")
	here := r.Add(t, rec)
	_, err := r.Desk.Listings.Send(ctx, who, here, nil)
	rig.Refused(t, err, problem.Conflict, "Claim or create the listing first.")
	r.Held(t, here)
	changed := func() string {
		v, err := r.Desk.Boards.Listing(ctx, here)
		rig.Must(t, err)
		out := ""
		for _, c := range v.Changed {
			out += c.Label + " (" + c.Meets + ") "
		}
		return out
	}
	if got := changed(); got != "" {
		t.Errorf("to be sent right after it was created: %s", got)
	}
	_, err = r.Desk.Listings.Send(ctx, who, here, nil)
	rig.Refused(t, err, problem.Conflict, "has been given all that the record says")
	rec.Hours, rec.Category = "Mo-Fr 10:00-17:00", "bicycle_shop"
	_, err = r.Desk.Records.SaveLocation(ctx, who, here.Location, 1, rec)
	rig.Must(t, err)
	if got := changed(); !strings.Contains(got, "Category (looked at first, ") || !strings.Contains(got, "Hours () ") {
		t.Errorf("to be sent: %s", got)
	}
	s := r.Answered(t, here)(r.Desk.Listings.Send(ctx, who, here, nil))
	if s.Change == nil || s.SentAt == nil || len(s.Change.Facts) != 1 || s.Change.Facts[0] != "Category" {
		t.Fatalf("%+v", s)
	}
	if got := changed(); got != "" {
		t.Errorf("to be sent after it was: %s", got)
	}
	rec.Phones[0].E164 = "+13605550199"
	_, err = r.Desk.Records.SaveLocation(ctx, who, here.Location, 2, rec)
	rig.Must(t, err)
	_, err = r.Desk.Listings.Send(ctx, who, here, nil)
	rig.Refused(t, err, problem.Conflict, "still looking at the last change: Category")
	r.Move(t, 12*24*time.Hour)
	if s = r.State(t, here); s.Change != nil || s.Trouble != "" {
		t.Errorf("after the review: %+v", s)
	}
	if s = r.Answered(t, here)(r.Desk.Listings.Send(ctx, who, here, nil)); s.Change == nil || s.Change.Facts[0] != "Phone" {
		t.Errorf("%+v", s)
	}
	// What would need a new verification says so, and does when it is sent.
	r.Move(t, 8*24*time.Hour)
	rec.Name = "Spokeshave Wheel Works"
	_, err = r.Desk.Records.SaveLocation(ctx, who, here.Location, 3, rec)
	rig.Must(t, err)
	if got := changed(); got != "Name (needs a new verification) " {
		t.Errorf("to be sent: %s", got)
	}
	s = r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, who, here, "text"))
	code, err := r.World.Code(ctx, "+13605550199")
	rig.Must(t, err)
	if s = r.Answered(t, here)(r.Desk.Listings.EnterCode(ctx, who, here, s.Attempt().ID, code)); s.VerifiedAt == nil {
		t.Fatalf("%+v", s)
	}
	if s = r.Answered(t, here)(r.Desk.Listings.Send(ctx, who, here, nil)); s.VerifiedAt != nil || s.Verification != verification.NotBegun {
		t.Errorf("after the name was changed: %+v", s)
	}
}
