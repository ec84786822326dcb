package listings_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"uvent/core/listing/verification"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
	"uvent/outside/visit"
	"uvent/store/storetest"
)

// A directory is away for two days, in every way in which one can be: what it was asked arrives once when it is back, and
// meanwhile nobody is told anything that is not so.
func TestADirectoryIsAwayForTwoDays(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	var sends, creates []ledger.Place
	for i := range 8 {
		rec := rig.Shop(fmt.Sprintf("Shop %d", i))
		rec.Phones[0].E164 = fmt.Sprintf("+1360555%04d", 1000+i)
		at := r.Add(t, rec)
		if i < 4 {
			r.Answered(t, at)(r.Desk.Listings.Search(ctx, who, at))
			creates = append(creates, at)
			continue
		}
		r.Held(t, at)
		rec.Hours = "Mo-Fr 10:00-17:00"
		_, err := r.Desk.Records.SaveLocation(ctx, who, at.Location, 1, rec)
		rig.Must(t, err)
		sends = append(sends, at)
	}
	all := append(append([]ledger.Place{}, creates...), sends...)

	// Each of these for eight hours.
	away := []visit.Faults{
		{FailPercent: 100},
		{BusyPercent: 100, BusySeconds: 3600},
		{ExpiredPercent: 100},
		{PagePercent: 100},
		{GarbagePercent: 100},
		{LosePercent: 50, CutPercent: 100},
	}
	rig.Must(t, r.World.Misbehave(ctx, away[0]))
	for i := range creates {
		_, err := r.Desk.Listings.Create(ctx, who, creates[i], "")
		rig.Must(t, err)
		_, err = r.Desk.Listings.Send(ctx, who, sends[i], nil)
		rig.Must(t, err)
	}
	passes := func(by time.Duration) { // real time, as far as the database keeps it
		t.Helper()
		for _, table := range []string{
			"call set asked_at = asked_at - $1::interval where done_at is null", "door set alone_until = alone_until - $1::interval, silent_since = silent_since - $1::interval",
			"river_job set scheduled_at = scheduled_at - $1::interval where id in (select id from river_job where state in ('scheduled', 'retryable') for update skip locked)",
		} {
			_, err := r.Store.Pool.Exec(ctx, "update "+table, by)
			rig.Must(t, err)
		}
	}
	tries := func() (n int) {
		t.Helper()
		rig.Must(t, r.Store.Pool.QueryRow(ctx, "select coalesce(sum(tries), 0) from call where done_at is null").Scan(&n))
		return n
	}
	for _, how := range away {
		rig.Must(t, r.World.Misbehave(ctx, how))
		before := tries()
		for range 2 {
			passes(4 * time.Hour)
			r.Eventually(t, func() bool { passes(time.Second); return tries() > before || tries() == 0 })
			before = tries()
			for _, at := range all {
				s := r.State(t, at)
				if s.Busy == "" || s.Trouble != "" && s.Trouble != "Fernlook does not answer. Uvent keeps asking; you need do nothing." || s.SentAt != nil {
					t.Fatalf("while it answers like %+v, it is told: %+v", how, s)
				}
			}
		}
	}

	rig.Must(t, r.World.Misbehave(ctx, visit.Faults{}))
	passes(time.Hour)
	for _, at := range all {
		r.Eventually(t, func() bool { return r.State(t, at).Busy == "" })
		if s := r.State(t, at); s.Control != verification.Held || s.Trouble != "" {
			t.Errorf("it is back, and stands as %+v", s)
		}
	}
	for _, at := range sends {
		if v, err := r.Desk.Boards.Listing(ctx, at); err != nil || len(v.Changed) > 0 || r.State(t, at).SentAt == nil {
			t.Errorf("of what was sent there is left: %+v, %v", v.Changed, err)
		}
	}
	listings, _, err := r.World.Count(ctx)
	var changes, hours, told int
	rig.Must(t, storetest.Owner(t, r.Store).QueryRow(ctx, `select (select count(*) from outside.answer where asked like 'PUT %'),
		(select count(*) from outside.listing where facts->>'hours' like '%10:00-17:00%'),
		(select count(*) from event where kind = 'call_unanswered')`).Scan(&changes, &hours, &told))
	if err != nil || listings != len(all) || changes != len(sends) || hours != len(sends) || told != len(all) {
		t.Errorf("%d listings, %d changes of which %d show, and %d were told that it is away; %v", listings, changes, hours, told, err)
	}
	if n := strings.Count(fmt.Sprint(r.State(t, creates[0])), "does not answer"); n != 0 {
		t.Error("it still says that it is away")
	}
}
