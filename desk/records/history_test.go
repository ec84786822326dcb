package records_test

import (
	"testing"

	"uvent/desk/problem"
	"uvent/e2e/rig"
)

func TestWhatWasSavedAndTakenBack(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	save := func(email, hours string) {
		t.Helper()
		l, err := r.Desk.Ledger.Location(ctx, at.Location)
		rig.Must(t, err)
		rec := l.Record
		rec.Email, rec.Hours = email, hours
		_, err = r.Desk.Records.SaveLocation(ctx, r.Who.Actor(), at.Location, l.Version, rec)
		rig.Must(t, err)
	}
	shop := rig.Shop("Minnow Bay")
	save("first@spokeshave.example", shop.Hours)
	save("first@spokeshave.example", "24/7")
	save("first@spokeshave.example", "24/7") // nothing new
	list, err := r.Desk.Records.RecordHistory(ctx, at.Location)
	if err != nil || len(list) != 3 || !list[2].Added || list[1].Changes[0].Title != "Email" || list[0].Changes[0].After != "24/7" ||
		list[0].Actor != "Ines Roake" {
		t.Fatalf("%+v, %v", list, err)
	}
	// An earlier change is taken back under a later one of another fact.
	l, err := r.Desk.Records.TakeBack(ctx, r.Who.Actor(), at.Location, list[1].ID)
	if err != nil || l.Record.Email != shop.Email || l.Record.Hours != "24/7" {
		t.Fatalf("%+v, %v", l.Record, err)
	}
	save("second@spokeshave.example", "24/7")
	_, err = r.Desk.Records.TakeBack(ctx, r.Who.Actor(), at.Location, list[1].ID)
	rig.Refused(t, err, problem.Conflict, "Changed again since: email.")
	_, err = r.Desk.Records.TakeBack(ctx, r.Who.Actor(), at.Location, list[2].ID)
	rig.Refused(t, err, problem.Conflict, "nothing before it")
	_, err = r.Desk.Records.TakeBack(ctx, r.Who.Actor(), r.Add(t, rig.Shop("Quillcote")).Location, list[1].ID)
	rig.Refused(t, err, problem.NotFound, "not saved then")
}
