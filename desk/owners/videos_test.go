package owners_test

import (
	"strings"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/rule/film"
	"uvent/core/rule/rulebook"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/owners"
	"uvent/desk/problem"
	"uvent/e2e/rig"
)

// A video is filmed after a list, checked, and sent; one that is too long or shows too
// little is not, and when it is all the same it is refused, and another can be sent.
func TestAVideoIsSent(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	var here ledger.Place
	for _, town := range []string{"Minnow Bay", "Quillcote", "Fennick", "Three Herons", "Saltgrass"} { // it is not offered to each
		here = ownedShop(t, r, "fernlook", rig.Shop(town))
		if _, err := r.Desk.Listings.AskCode(ctx, who, here, rulebook.Video); err != nil && strings.Contains(err.Error(), "no video yet") {
			break
		}
	}
	v, err := r.Desk.Boards.Listing(ctx, here)
	rig.Must(t, err)
	if v.Filming == nil || len(v.Filming.Shots) != 5 || v.Filming.Video != nil {
		t.Fatalf("%+v", v.Filming)
	}
	everything := film.Seen{At: map[string]int{"street": 3, "sign": 15, "inside": 40}, Private: true}
	_, err = r.Desk.Files.AddVideo(ctx, who, here.Location, "x.mp4", []byte("no film"), everything)
	rig.Refused(t, err, problem.Invalid, "Videos are MP4 or WebM.")
	_, err = r.Desk.Files.AddVideo(ctx, who, here.Location, "x.mp4", rig.Take(t, 20), everything)
	rig.Refused(t, err, problem.Invalid, "lies outside the video")
	_, err = r.Desk.Files.AddVideo(ctx, who, here.Location, "long.mp4", rig.Take(t, 130), everything)
	rig.Must(t, err)
	_, err = r.Desk.Listings.AskCode(ctx, who, here, rulebook.Video)
	rig.Refused(t, err, problem.Conflict, "The video takes 2 minutes 10 seconds; up to 2 minutes is looked at.")
	if s := r.Answered(
		t,
		here,
	)(
		r.Desk.Listings.AskInsisting(ctx, who, here, rulebook.Video, listings.Insisting{Despite: true}),
	); s.Verification != verification.InReview {
		t.Fatalf("%+v", s)
	}
	r.Move(t, 9*24*time.Hour)
	if s := r.State(t, here); s.Trouble != "The video takes 130 seconds; we look at 120." {
		t.Errorf("%+v", s)
	}
	// The owner films it again, by a private page.
	made, err := r.Desk.Owners.MakeLink(ctx, r.Who, here, owners.LinkFor{Task: verification.FilmIt})
	rig.Must(t, err)
	secret := secretOf(made.Address)
	if p, err := thing(r, secret); err != nil || len(p.Shots) != 5 || p.Words.Title != "Film the place in one take" {
		t.Errorf("%+v, %v", p, err)
	}
	rig.Must(t, r.Desk.Owners.OwnerVideo(ctx, through(secret, made), "take.mp4", rig.Take(t, 60), everything))
	if s := r.Answered(t, here)(r.Desk.Listings.AskCode(ctx, who, here, rulebook.Video)); s.Verification != verification.InReview {
		t.Fatalf("%+v", s)
	}
	r.Move(t, 9*24*time.Hour)
	if s := r.State(t, here); s.VerifiedAt == nil {
		t.Errorf("%+v", s)
	}
}
