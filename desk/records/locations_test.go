package records_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/google/uuid"

	"uvent/core/record/record"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

func TestARecordIsSavedByVersion(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	l, err := r.Desk.Ledger.Location(ctx, at.Location)
	rig.Must(t, err)
	mine, theirs := l.Record, l.Record
	mine.Email, theirs.Email = "mine@spokeshave.example", "theirs@spokeshave.example"
	saved, err := r.Desk.Records.SaveLocation(ctx, who, at.Location, l.Version, mine)
	if err != nil || saved.Version != l.Version+1 || saved.Record.Email != mine.Email {
		t.Fatalf("%+v, %v", saved, err)
	}
	_, err = r.Desk.Records.SaveLocation(ctx, who, at.Location, l.Version, theirs)
	rig.Refused(t, err, problem.Conflict, "Somebody saved this")
	if now, _ := r.Desk.Ledger.Location(ctx, at.Location); now.Record.Email != mine.Email {
		t.Errorf("the older one went over it: %s", now.Record.Email)
	}
	bad := saved.Record
	bad.Hours, bad.Phones = "Mo 9-5", []record.Phone{{E164: "12"}}
	_, err = r.Desk.Records.SaveLocation(ctx, who, at.Location, saved.Version, bad)
	rig.Refused(t, err, problem.Invalid, "hours: column 4")
	rig.Refused(t, err, problem.Invalid, "phones.0.e164")

	var before, after string
	var data []byte
	rig.Must(t, r.Store.Pool.QueryRow(ctx, "select data from event where kind = 'record_saved' and location_id = $1", at.Location).Scan(&data))
	var change struct{ Before, After record.Record }
	rig.Must(t, json.Unmarshal(data, &change))
	if before, after = change.Before.Email, change.After.Email; before != "shop@spokeshave.example" || after != mine.Email {
		t.Errorf("the log says %q became %q", before, after)
	}
}

func TestWhatMustDiffer(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	c, err := r.Desk.Records.AddClient(ctx, who, records.ClientFacts{Name: "Spokeshave Cycle Works", OwnerEmail: "dov@spokeshave.example"})
	rig.Must(t, err)
	_, err = r.Desk.Records.AddClient(ctx, who, records.ClientFacts{Name: "SPOKESHAVE cycle works"})
	rig.Refused(t, err, problem.Invalid, "name: another client has this name")
	_, err = r.Desk.Records.AddClient(ctx, who, records.ClientFacts{Name: " ", OwnerEmail: "dov"})
	rig.Refused(t, err, problem.Invalid, "owner_email")
	_, err = r.Desk.Records.AddClient(ctx, who, records.ClientFacts{Name: strings.Repeat("x", 301)})
	rig.Refused(t, err, problem.Invalid, "longer than is kept")

	first := rig.Shop("Minnow Bay")
	first.StoreCode = "SCW-03"
	_, err = r.Desk.Records.AddLocation(ctx, who, c.ID, first)
	rig.Must(t, err)
	_, err = r.Desk.Records.AddLocation(ctx, who, c.ID, first)
	rig.Refused(t, err, problem.Invalid, "label: another location of this client is called that")
	second := first
	second.Label = "Quillcote"
	_, err = r.Desk.Records.AddLocation(ctx, who, c.ID, second)
	rig.Refused(t, err, problem.Invalid, "store_code")
	_, err = r.Desk.Records.AddLocation(ctx, who, uuid.New(), second)
	rig.Refused(t, err, problem.NotFound, "no such client")

	saved, _, err := r.Desk.Records.SaveClient(ctx, who, c.ID, c.Version, records.ClientFacts{Name: "Spokeshave"})
	if err != nil || saved.Name != "Spokeshave" {
		t.Fatalf("%+v, %v", saved, err)
	}
	_, _, err = r.Desk.Records.SaveClient(ctx, who, c.ID, c.Version, records.ClientFacts{Name: "Another"})
	rig.Refused(t, err, problem.Conflict, "Somebody saved this")
	_, _, err = r.Desk.Records.SaveClient(ctx, who, uuid.New(), 1, records.ClientFacts{Name: "Another"})
	rig.Refused(t, err, problem.NotFound, "no such client")
}

func TestTodayOfAScope(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	one, two := r.Add(t, rig.Shop("Minnow Bay")), r.Add(t, rig.Shop("Quillcote"))
	all, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{}))
	rig.Must(t, err)
	if len(all) != 2 {
		t.Fatalf("%d tasks for two locations that were never searched", len(all))
	}
	here, err := rig.Tasks(r.Desk.Boards.Today(ctx, ledger.Scope{Location: &two.Location}, boards.TodayPage{}))
	if err != nil || len(here) != 1 || here[0].Location.ID != two.Location {
		t.Errorf("%+v, %v", here, err)
	}
	l, err := r.Desk.Ledger.Location(ctx, one.Location)
	rig.Must(t, err)
	cells, err := r.Desk.Boards.Cells(ctx, ledger.OfClient(l.ClientID))
	if err != nil || len(cells) != 1 || cells[0].Place != one {
		t.Errorf("%+v, %v", cells, err)
	}
}
