package clockwork_test

import (
	"crypto/ed25519"
	"strings"
	"sync"
	"testing"

	"uvent/desk/clockwork"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
	"uvent/sealing"
)

// A log that was written anew, chain and all, by somebody who owns the database agrees no longer with the head that went out.
func TestHeadsOfTheLog(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	r.Held(t, r.Add(t, rig.Shop("Minnow Bay")))
	var mu sync.Mutex
	var file strings.Builder
	lines := func() string { mu.Lock(); defer mu.Unlock(); return file.String() }
	r.WithHeads(t, clockwork.Heads{Letter: "vault@agency.example", Append: func(line string) error {
		mu.Lock()
		defer mu.Unlock()
		file.WriteString(line + "\n")
		return nil
	}})
	r.Eventually(t, func() bool { return lines() != "" })
	r.Eventually(t, func() bool {
		list, err := r.World.Arrivals(ctx, "vault@agency.example")
		return err == nil && len(list) == 1 && strings.Contains(list[0].Body, strings.TrimSpace(lines()))
	})
	public := r.Key.Signer(clockwork.ForHeads).Public().(ed25519.PublicKey)
	check := func(text string, want int, says string) {
		t.Helper()
		agree, faults, err := r.Desk.Ledger.VerifyHeads(ctx, text, public)
		if rig.Must(t, err); agree != want || !strings.Contains(strings.Join(faults, "; "), says) || says == "" && len(faults) > 0 {
			t.Errorf("%d agree, %q", agree, faults)
		}
	}
	check(lines(), 1, "")
	check("{}\n"+lines(), 1, "line 1: it is no head of a log")
	check(strings.Replace(lines(), `"position":`, `"position":1`, 1), 0, "was changed since it was signed")
	other, _, err := r.Desk.Ledger.Head(ctx, sealing.New().Signer(clockwork.ForHeads), rig.Begins)
	rig.Must(t, err)
	check(other, 0, "signed by another key")
	if _, err := ledger.ReadHead(other, nil); err != nil {
		t.Errorf("a head that is another's: %v", err)
	}

	// Whoever owns the database changes an event, and seals all of them anew.
	owner, err := r.Store.Pool.Acquire(ctx)
	rig.Must(t, err)
	defer owner.Release()
	for _, does := range []string{
		"reset role", "set session_replication_role = replica", // the triggers that guard the log
		"update event set actor = 'Nobody' where id = (select min(id) from event)", "truncate event_seal restart identity",
		"reset session_replication_role",
	} {
		_, err := owner.Exec(ctx, does)
		rig.Must(t, err)
	}
	r.Eventually(t, func() bool { // another may be at sealing, and begins anew after that
		rig.Must(t, r.Desk.Ledger.Seal(ctx))
		events, faults, err := r.Desk.Ledger.VerifyLog(ctx)
		if err != nil || len(faults) > 0 {
			t.Fatalf("%d events, %v, %v: the chain itself has to look whole", events, faults, err)
		}
		return events > 0
	})
	check(lines(), 0, "some were changed")
}
