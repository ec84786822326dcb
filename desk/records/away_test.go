package records_test

import (
	"maps"
	"strings"
	"testing"
	"time"

	"uvent/core/record/record"
	"uvent/desk/boards"
	"uvent/desk/clockwork"
	"uvent/desk/imports"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

// counted is all that is counted of locations, by what counts it.
func counted(t *testing.T, r *rig.Rig) map[string]int {
	t.Helper()
	ctx, all := t.Context(), ledger.Scope{}
	locations, err := r.Desk.Records.Locations(ctx, all)
	rig.Must(t, err)
	today, err := r.Desk.Boards.Today(ctx, all, boards.TodayPage{})
	rig.Must(t, err)
	cover, err := r.Desk.Boards.Coverage(ctx, all, boards.ByPlace, 0, 0)
	rig.Must(t, err)
	directories, err := r.Desk.Boards.DirectoryCounts(ctx, all)
	rig.Must(t, err)
	held := 0
	for _, d := range directories {
		held += d.Held
	}
	return map[string]int{
		"locations": len(locations), "tasks": len(today.Rows), "covered": cover.Locations, "wanted": cover.Wanted, "to verify": cover.ToVerify,
		"held": held,
	}
}

// What is put away is in no count and no list, is found again, and comes back as it was.
func TestWhatIsPutAway(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	r.Add(t, rig.Shop("Minnow Bay"))
	alone := counted(t, r)
	goes := r.Add(t, rig.Shop("Cinder Point"))
	r.Held(t, goes)
	with := counted(t, r)
	for what, n := range with {
		if n <= alone[what] {
			t.Errorf("%s does not count it: %d", what, n)
		}
	}
	leaves, err := r.Desk.Records.Leaves(ctx, ledger.Scope{Location: &goes.Location})
	if err != nil || !leaves.Begun || len(leaves.Held) != 1 || leaves.Held[0] != (records.Count{Directory: "fernlook", Count: 1}) || leaves.EraseDays != 0 {
		t.Errorf("%+v, %v", leaves, err)
	}
	l, err := r.Desk.Records.PutAway(ctx, who, goes.Location)
	rig.Must(t, err)
	if without := counted(t, r); !maps.Equal(without, alone) {
		t.Errorf("what is put away counts: %v, not %v", without, alone)
	}
	_, err = r.Desk.Listings.AskCode(ctx, who, goes, "email")
	rig.Refused(t, err, problem.Conflict, "put away")
	_, err = r.Desk.Records.PutAway(ctx, who, goes.Location)
	rig.Refused(t, err, problem.Conflict, "put away already")
	again := string(
		rig.ManyRows(0),
	) + "Client of Cinder Point,Cinder Point,Spokeshave Cycle Works,18 Tern Street,Cinder Point,WA,98990,US,(360) 555-0142,Bicycle repair,\n"
	in, err := r.Desk.Imports.Start(ctx, r.Who, nil, "again.csv", []byte(again))
	rig.Must(t, err)
	rows, _, err := r.Desk.Imports.Rows(ctx, in.ID, imports.RowPage{})
	if err != nil || len(rows) != 1 || rows[0].Ours == nil || !strings.Contains(strings.Join(rows[0].Reasons, " "), "Cinder Point is put away") {
		t.Errorf("a file that names it: %+v, %v", rows, err)
	}
	gone, more, err := r.Desk.Records.Away(ctx, ledger.Scope{}, "cinder", nil)
	if err != nil || more || len(gone) != 1 || gone[0].Label != "Cinder Point" || gone[0].EraseAt != nil {
		t.Errorf("%+v, %v", gone, err)
	}
	if gone, _, err = r.Desk.Records.Away(ctx, ledger.Scope{}, "", &gone[0]); err != nil || len(gone) != 0 {
		t.Errorf("behind the last: %+v, %v", gone, err)
	}
	_, err = r.Desk.Records.BringBack(ctx, who, l.ID)
	rig.Must(t, err)
	_, err = r.Desk.Records.BringBack(ctx, who, l.ID)
	rig.Refused(t, err, problem.Conflict, "not put away")
	if back := counted(t, r); !maps.Equal(back, with) {
		t.Errorf("%v has come back as %v", with, back)
	}
	_, err = r.Desk.Records.PutClientAway(ctx, who, l.ClientID)
	rig.Must(t, err)
	_, err = r.Desk.Records.BringBack(ctx, who, l.ID)
	rig.Must(t, err)
	_, err = r.Desk.Records.BringClientBack(ctx, who, l.ClientID)
	rig.Refused(t, err, problem.Conflict, "not put away")

	// A client with a location that is there is there itself.
	_, err = r.Desk.Records.PutClientAway(ctx, who, l.ClientID)
	rig.Must(t, err)
	_, err = r.Desk.Records.AddLocation(ctx, who, l.ClientID, rig.Shop("Old Wharf"))
	rig.Must(t, err)
	if c, err := r.Desk.Ledger.Client(ctx, l.ClientID); err != nil || c.PutAwayAt != nil {
		t.Errorf("%+v, %v", c, err)
	}
}

// A client that left takes its papers and its people's data along, after a while; the log keeps one line and a digest.
func TestWhatAClientLeavesIsErased(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	shop := rig.Shop("Minnow Bay")
	shop.Team = []record.Member{{Name: "Perpetua Hale"}}
	at := r.Add(t, shop)
	l, err := r.Desk.Ledger.Location(ctx, at.Location)
	rig.Must(t, err)
	_, err = r.Desk.People.AddPerson(
		ctx,
		people.Person{Email: "dov@spokeshave.example", Name: "Dov Marsh", Zone: "America/Los_Angeles", Role: people.OfClient, Client: &l.ClientID},
		rig.Password,
	)
	rig.Must(t, err)
	paper, err := r.Desk.Files.AddPaper(ctx, who, ledger.Scope{Location: &at.Location}, "bill.png", rig.Boxes(t, 300, 200, 1))
	rig.Must(t, err)
	_, err = r.Desk.Records.PutClientAway(ctx, who, l.ClientID)
	rig.Must(t, err)
	read := func() (names, papers, lines int) {
		t.Helper()
		rig.Must(t, r.Store.Pool.QueryRow(ctx, `select
			(select count(*) from person where email like '%spokeshave%' or name = 'Dov Marsh') + (select count(*) from client where owner_name <> '')
				+ (select count(*) from location where record::text like '%Dov Marsh%' or record::text like '%Perpetua%'),
			(select count(*) from file where owner_id = $1), (select count(*) from event where kind = 'client_erased' and data::text like '%"sha256": "%')`,
			paper.ID).Scan(&names, &papers, &lines))
		return names, papers, lines
	}
	to := r.Desk.Now().Add(records.EraseAfter - time.Hour)
	rig.Must(t, r.Desk.MoveClock(ctx, clockwork.Move{To: &to}))
	if names, papers, lines := read(); names != 3 || papers == 0 || lines != 0 {
		t.Fatalf("before its time: %d names, %d files, %d lines", names, papers, lines)
	}
	r.Move(t, 2*time.Hour)
	if names, papers, lines := read(); names != 0 || papers != 0 || lines != 1 {
		t.Errorf("after its time: %d names, %d files, %d lines", names, papers, lines)
	}
	gone, _, err := r.Desk.Records.Away(ctx, ledger.OfClient(l.ClientID), "", nil)
	if err != nil || len(gone) != 1 || gone[0].ErasedAt == nil || gone[0].EraseAt != nil {
		t.Errorf("%+v, %v", gone, err)
	}
	c, err := r.Desk.Records.BringClientBack(ctx, who, l.ClientID)
	if err != nil || c.PutAwayAt != nil {
		t.Errorf("%+v, %v", c, err)
	}
}
