package records_test

import (
	"testing"

	"github.com/google/uuid"

	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

// What was added by mistake is deleted, as long as nothing was begun with it; the log keeps it.
func TestWhatIsDeleted(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	begun, idle := r.Add(t, rig.Shop("Minnow Bay")), r.Add(t, rig.Shop("Cinder Point"))
	r.Held(t, begun)
	_, err := r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{})
	rig.Must(t, err)
	l, err := r.Desk.Ledger.Location(ctx, idle.Location)
	rig.Must(t, err)
	rig.Refused(t, r.Desk.Records.RemoveClient(ctx, who, l.ClientID), problem.Conflict, "has locations")
	_, err = r.Desk.Records.RemoveLocation(ctx, who, begun.Location)
	rig.Refused(t, err, problem.Conflict, "begun for Minnow Bay")
	rec, err := r.Desk.Records.RemoveLocation(ctx, who, idle.Location)
	if err != nil || rec.Label != "Cinder Point" {
		t.Fatalf("%+v, %v", rec, err)
	}
	_, err = r.Desk.Records.RemoveLocation(ctx, who, idle.Location)
	rig.Refused(t, err, problem.NotFound, "no such location")
	if list, err := r.Desk.Records.Locations(ctx, ledger.Scope{}); err != nil || len(list) != 1 {
		t.Errorf("%d are left, %v", len(list), err)
	}
	if page, err := r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{}); err != nil || len(page.Rows) != 1 {
		t.Errorf("%+v, %v", page, err)
	}
	// Added again, and taken away with its client.
	again, err := r.Desk.Records.AddLocation(ctx, who, l.ClientID, rec)
	rig.Must(t, err)
	_, err = r.Desk.Records.RemoveLocation(ctx, who, again.ID)
	rig.Must(t, err)
	rig.Must(t, r.Desk.Records.RemoveClient(ctx, who, l.ClientID))
	rig.Refused(t, r.Desk.Records.RemoveClient(ctx, who, l.ClientID), problem.NotFound, "no such client")
	rig.Refused(t, r.Desk.Records.RemoveClient(ctx, who, uuid.New()), problem.NotFound, "no such client")
	var removed int
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from event where kind in ('location_removed', 'client_removed')").Scan(&removed))
	if removed != 3 {
		t.Errorf("the log tells of %d", removed)
	}
	_, err = r.Desk.Records.AddClient(ctx, who, records.ClientFacts{Name: "Client of Cinder Point"})
	rig.Must(t, err)
}
