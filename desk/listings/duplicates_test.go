package listings_test

import (
	"strings"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/desk/problem"
	"uvent/e2e/rig"
	"uvent/outside/visit"
)

// An old listing that is found beside ours is reported, waited for, and gone; one that is
// held by somebody else stays, and the reason is told.
func TestDuplicates(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	rec := rig.Shop("Minnow Bay")
	at := r.Add(t, rec)
	old, err := r.World.Place(
		ctx,
		"fernlook",
		"",
		visit.Facts{"name": "Spokeshave Cycles", "street": "18 Tern St", "locality": "Minnow Bay", "phone": rec.MainPhone()},
	)
	rig.Must(t, err)
	elses, err := r.World.Place(
		ctx,
		"fernlook",
		"maps@northlightmedia.example",
		visit.Facts{"name": "Spokeshave Cycle Works", "street": "18 Tern Street", "locality": "Minnow Bay", "phone": rec.MainPhone()},
	)
	rig.Must(t, err)
	_, err = r.Desk.Listings.ReportDuplicate(ctx, who, at, old)
	rig.Refused(t, err, problem.Conflict, "Claim or create the listing first.")
	r.Answered(t, at)(r.Desk.Listings.Search(ctx, who, at))
	s := r.Answered(t, at)(r.Desk.Listings.Create(ctx, who, at, ""))
	if len(s.Seconds()) != 2 {
		t.Fatalf("%+v", s.Candidates)
	}
	_, err = r.Desk.Listings.ReportDuplicate(ctx, who, at, "nothing")
	rig.Refused(t, err, problem.Conflict, "did not find that listing")
	for _, ref := range []string{old, elses} {
		if s = r.Answered(t, at)(r.Desk.Listings.ReportDuplicate(ctx, who, at, ref)); s.Report(ref) == nil || s.Report(ref).Step != verification.Reported {
			t.Fatalf("%+v", s.Duplicates)
		}
	}
	_, err = r.Desk.Listings.ReportDuplicate(ctx, who, at, old)
	rig.Refused(t, err, problem.Conflict, "has been reported already")
	r.Move(t, 12*24*time.Hour)
	s = r.State(t, at)
	if s.Report(old).Step != verification.Merged || s.Report(elses).Step != verification.Stays ||
		!strings.Contains(s.Report(elses).Says, "Another account holds it") ||
		len(s.Seconds()) != 1 {
		t.Errorf("%+v", s.Duplicates)
	}
	// Once ours is public, a second that nobody has looked at is a task.
	s.Visibility, s.Duplicates, s.VerifiedAt = verification.Public, nil, s.HeldSince
	book, err := r.Desk.Shelf.Book("fernlook")
	rig.Must(t, err)
	if task, ok := agenda.For(agenda.Listing{Label: "Minnow Bay", Record: &rec, Book: &book, State: s}, r.Desk.Now()); !ok ||
		task.Title != "Minnow Bay on Fernlook has a second listing" {
		t.Errorf("%+v", task)
	}
}
