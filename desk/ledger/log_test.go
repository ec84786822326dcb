package ledger_test

import (
	"time"

	"fmt"
	"strings"
	"testing"

	"uvent/desk/boards"
	"uvent/e2e/rig"
	"uvent/store/storetest"
)

// The log is what was done, and a change of it is found, whoever makes it.
func TestTheLog(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	here := r.Add(t, rig.Shop("Minnow Bay"))
	// What broke off, or a server that crashed, leaves a gap in a sequence, and none in the chain.
	_, err := storetest.Owner(t, r.Store).Exec(ctx, "select setval(pg_get_serial_sequence('event_seal', 'position'), 500)")
	rig.Must(t, err)
	r.Held(t, here)
	sealed := func() int {
		n, faults, err := r.Desk.Ledger.VerifyLog(ctx)
		if err != nil || len(faults) > 0 {
			t.Fatalf("%v, %v", faults, err)
		}
		return n
	}
	var all int
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from event").Scan(&all))
	r.Eventually(t, func() bool { return sealed() == all })

	lines, err := r.Desk.Boards.Log(ctx, boards.LogFilter{})
	if err != nil || len(lines) != all || !lines[0].Sealed || lines[0].Says != "The listing was created." || lines[0].Label != "Minnow Bay" ||
		lines[0].Directory != "Fernlook" {
		t.Errorf("%+v, %v", lines[0], err)
	}
	by, kind := "roake", "search_asked"
	if lines, err = r.Desk.Boards.Log(ctx, boards.LogFilter{Actor: &by, Kind: &kind}); err != nil || len(lines) != 1 || lines[0].Actor != "Ines Roake" {
		t.Errorf("%+v, %v", lines, err)
	}
	text, now := "minnow", r.Desk.Now()
	soon := now.Add(time.Hour)
	for _, c := range []struct {
		f    boards.LogFilter
		want bool
	}{{boards.LogFilter{Text: &text, From: new(now.Add(-time.Hour)), To: &soon}, true}, {boards.LogFilter{Text: new("nowhere else")}, false}, {boards.LogFilter{From: &soon}, false}} {
		if some, err := r.Desk.Boards.Log(ctx, c.f); err != nil || len(some) > 0 != c.want {
			t.Errorf("%+v gives %d, %v", c.f, len(some), err)
		}
	}
	if lines, err = r.Desk.Boards.Log(ctx, boards.LogFilter{Before: &lines[0].ID, Most: 1}); err != nil || len(lines) != 1 ||
		strings.Contains(lines[0].Says, "Searched") {
		t.Errorf("%+v, %v", lines, err)
	}

	owner := storetest.Owner(t, r.Store)
	for _, c := range []struct{ does, says string }{
		{"update event set actor = 'Nobody' where id = 3", "event 3: it, or its seal, was changed"},
		{"update event_seal set hash = '\\x00' where event_id = 4", "event 4: it, or its seal, was changed"},
		{"delete from event where id = 2", "event 2: it is gone"},
		{"delete from event_seal where event_id in (2, 3)", "are gone"},
	} {
		tx, err := owner.Begin(ctx)
		rig.Must(t, err)
		for _, sql := range []string{"set constraints all deferred", "alter table event disable trigger event_is_final", "alter table event_seal disable trigger event_seal_is_final", c.does} {
			_, err = tx.Exec(ctx, sql)
			rig.Must(t, err)
		}
		rig.Must(t, tx.Commit(ctx))
		_, faults, err := r.Desk.Ledger.VerifyLog(ctx)
		rig.Must(t, err)
		found := ""
		for _, f := range faults {
			found += fmt.Sprint("event ", f.Event) + ": " + f.Says + "\n"
		}
		if !strings.Contains(found, c.says) {
			t.Errorf("after %s it says:\n%s", c.does, found)
		}
	}
}
