package ledger_test

import (
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"uvent/desk/clockwork"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
	"uvent/store/storetest"
)

// Whatever is done to listings, in whatever order, and whatever becomes of the rulebooks meanwhile:
// what is kept is what all that happened leads to. A state that somebody has changed is found and
// mended, and events of before versions were kept are replayed under one that is assumed.
func TestReplay(t *testing.T) {
	directories := []string{"fernlook", "murmurhall", "waywren", "sound-chamber"}
	r, ctx := rig.Start(t, directories...), t.Context()
	who, l := r.Who.Actor(), r.Desk.Listings
	var places []ledger.Place
	for _, town := range []string{"Minnow Bay", "Fennick"} {
		at := r.Add(t, rig.Workshop(town))
		for _, d := range directories {
			places = append(places, rig.On(at, d))
		}
	}
	give := func(at ledger.Place) { // where it asks for no proof, and so shows after a while
		t.Helper()
		rig.Must(t, l.Found(ctx, who, at, "nothing", "", ""))
		rig.Must(t, l.Give(ctx, who, at, "/x", ""))
	}
	give(places[3])
	draw := rand.New(rand.NewPCG(5, 5))
	for step := range 90 {
		at := places[draw.IntN(len(places))]
		// Most of it cannot be done as things stand, which is one of the things that happen.
		switch draw.IntN(10) {
		case 0, 1:
			l.Search(ctx, who, at)
		case 2, 3:
			l.Create(ctx, who, at, "")
		case 4:
			l.AskCode(ctx, who, at, "text")
		case 5:
			r.Desk.Sightings.Look(ctx, who, at)
		case 6:
			l.Found(ctx, who, at, "nothing", "", "")
		case 7:
			l.Answered(ctx, who, at, "verified", "/x", "")
		case 8:
			l.Withdraw(ctx, who, at, "Not yet.", nil)
		case 9:
			l.Give(ctx, who, at, "/x", "")
		}
		switch {
		case step == 60: // from here on what is given shows later
			book, err := r.Desk.Shelf.Book("sound-chamber")
			rig.Must(t, err)
			text := strings.Replace(book.Source, "publishing: {window: {min: 0, max: 0, unit: days}", "publishing: {window: {min: 5, max: 9, unit: days}", 1)
			if text == book.Source {
				t.Fatal("the rulebook is what it was")
			}
			_, err = r.Desk.SaveRulebook(ctx, r.Who, "sound-chamber", text)
			rig.Must(t, err)
		case step%15 == 14:
			r.Move(t, time.Duration(draw.IntN(200))*time.Hour)
		}
	}
	give(rig.On(r.Add(t, rig.Workshop("Quillcote")), "sound-chamber")) // under the new one
	whole := func() ledger.Replayed {
		t.Helper()
		done, err := r.Desk.Ledger.Replay(ctx, false)
		rig.Must(t, err)
		return done
	}
	if done := whole(); len(done.Differ) > 0 || done.Events < 30 || done.Listings < 4 || done.Assumed != 0 {
		t.Fatalf("%+v", done)
	}

	owner := storetest.Owner(t, r.Store)
	alter := func(sql string) {
		t.Helper()
		_, err := owner.Exec(ctx, sql)
		rig.Must(t, err)
	}
	alter(
		"update listing set state = state || '{\"trouble\": \"None of ours.\"}' where (location_id, directory_id) = (select location_id, directory_id from listing order by 1, 2 limit 1)",
	)
	if done := whole(); len(done.Differ) != 1 || !strings.Contains(done.Differ[0].Kept, "None of ours.") ||
		strings.Contains(done.Differ[0].Replayed, "None of ours.") {
		t.Errorf("%+v", done.Differ)
	}
	if done, err := r.Desk.Ledger.Replay(ctx, true); err != nil || len(done.Differ) != 1 {
		t.Errorf("%+v, %v", done, err)
	}
	if done := whole(); len(done.Differ) > 0 {
		t.Errorf("after mending: %+v", done.Differ)
	}

	alter(
		"alter table event disable trigger event_is_final; update event set book = null where directory_id = 'waywren'; alter table event enable trigger event_is_final",
	)
	if _, err := r.Desk.Ledger.Replay(ctx, false); err == nil || !strings.Contains(err.Error(), "whose text is not kept") {
		t.Errorf("without a version: %v", err)
	}
	_, err := clockwork.New(clockwork.Parts{Store: r.Store, Reach: r.Reach, Clock: r.Clock, Books: r.Desk.Shelf.Books(), Log: r.Quiet})
	rig.Must(t, err)
	if done := whole(); done.Assumed == 0 || len(done.Differ) > 0 {
		t.Errorf("under the version that is assumed: %+v", done)
	}
}
