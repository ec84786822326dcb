package records_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/google/uuid"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

func on(t *testing.T, from, to string) records.Span {
	t.Helper()
	a, err := calendar.ParseDate(from)
	rig.Must(t, err)
	b, err := calendar.ParseDate(to)
	rig.Must(t, err)
	return records.Span{From: a, To: b}
}

func TestSpecialDatesOverManyLocations(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	one := r.Add(t, rig.Shop("Minnow Bay"))
	off := rig.Shop("Quillcote")
	off.Hours = "Mo-Fr 09:00-17:00; PH off; 2026 Dec 28-30 off"
	two := r.Add(t, off)
	canadian := rig.Shop("Fennick")
	canadian.Address.Country, canadian.Address.Region, canadian.Phones = "CA", "BC", nil
	three := r.Add(t, canadian)
	silent := rig.Shop("Port Sable")
	silent.Hours = ""
	four := r.Add(t, silent)

	list, err := r.Desk.Boards.SpecialDates(ctx, ledger.Scope{})
	rig.Must(t, err)
	named := map[string]boards.SpecialDate{}
	for _, d := range list {
		named[strings.TrimSpace(d.From.String()+" "+strings.Join(d.Names, ", "))] = d
	}
	thanksgiving := named["2026-11-26 Thanksgiving Day"]
	if len(thanksgiving.Places) != 2 || thanksgiving.Places[0].Decided || !thanksgiving.Places[1].Decided || len(thanksgiving.Places[1].Sittings) != 0 {
		t.Fatalf("Thanksgiving: %+v", thanksgiving)
	}
	if xmas := named["2026-12-25 Christmas Day"]; len(xmas.Places) != 3 {
		t.Errorf("Christmas is everywhere: %+v", xmas)
	}
	if february := named["2027-02-15 Family Day, Presidents' Day"]; len(february.Places) != 3 {
		t.Errorf("one date, two holidays: %+v", february)
	}
	if span := named["2026-12-28"]; len(span.Places) != 1 || span.To.String() != "2026-12-30" {
		t.Errorf("a span of one location: %+v", span)
	}

	change, saved, err := r.Desk.Records.DecideDates(ctx, who, records.DateDecision{Locations: []uuid.UUID{one.Location, two.Location, three.Location},
		Dates: []records.Span{on(t, "2026-11-27", "2026-11-27"), on(t, "2026-12-24", "2026-12-26")}, Sittings: []hours.Sitting{{Start: 600, End: 960}}})
	if err != nil || saved != 3 {
		t.Fatalf("saved %d, %v", saved, err)
	}
	l, err := r.Desk.Ledger.Location(ctx, two.Location)
	if rig.Must(t, err); l.Record.Hours != "Mo-Fr 09:00-17:00; PH off; 2026 Nov 27 10:00-16:00; 2026 Dec 24-26 10:00-16:00; 2026 Dec 28-30 off" {
		t.Errorf("it says %s", l.Record.Hours)
	}
	_, saved, err = r.Desk.Records.DecideDates(
		ctx,
		who,
		records.DateDecision{Locations: []uuid.UUID{one.Location}, Dates: []records.Span{on(t, "2026-11-26", "2026-11-26")}, Usual: true},
	)
	l, _ = r.Desk.Ledger.Location(ctx, one.Location)
	if err != nil || saved != 1 || !strings.Contains(l.Record.Hours, "2026 Nov 26 09:00-12:00,13:00-18:00") {
		t.Errorf("usual by name: %s, %v", l.Record.Hours, err)
	}
	undone, err := r.Desk.Records.UndoChange(ctx, who, change)
	if err != nil || undone.Restored != 2 || len(undone.Left) != 1 || undone.Left[0] != "Minnow Bay" {
		t.Fatalf("undone: %+v, %v", undone, err)
	}
	if l, _ = r.Desk.Ledger.Location(ctx, two.Location); l.Record.Hours != off.Hours {
		t.Errorf("undone it says %s", l.Record.Hours)
	}

	_, _, err = r.Desk.Records.DecideDates(
		ctx,
		who,
		records.DateDecision{Locations: []uuid.UUID{one.Location, four.Location}, Dates: []records.Span{on(t, "2026-12-25", "2026-12-25")}},
	)
	rig.Refused(t, err, problem.Conflict, "Port Sable says nothing of its hours yet")
	if l, _ = r.Desk.Ledger.Location(ctx, one.Location); strings.Contains(l.Record.Hours, "Dec 25") {
		t.Error("half of it was done")
	}
	for _, bad := range []records.DateDecision{{}, {Locations: []uuid.UUID{one.Location}}, {Locations: []uuid.UUID{one.Location}, Dates: []records.Span{{}}},
		{Locations: []uuid.UUID{one.Location}, Dates: []records.Span{on(t, "2026-12-25", "2026-12-24")}},
		{Locations: []uuid.UUID{one.Location}, Dates: []records.Span{on(t, "2026-12-25", "2026-12-25")}, Sittings: []hours.Sitting{{Start: 900, End: 600}}}} {
		if _, _, err := r.Desk.Records.DecideDates(ctx, who, bad); err == nil {
			t.Errorf("decided %+v", bad)
		}
	}
	_, _, err = r.Desk.Records.DecideDates(
		ctx,
		who,
		records.DateDecision{Locations: []uuid.UUID{uuid.New()}, Dates: []records.Span{on(t, "2026-12-25", "2026-12-25")}},
	)
	rig.Refused(t, err, problem.NotFound, "not there")
	_, err = r.Desk.Records.UndoChange(ctx, who, uuid.New())
	rig.Refused(t, err, problem.NotFound, "no such change")
}

// BenchmarkDecideDates decides twelve months of holidays at 200 locations at
// once, and undoes it.
func BenchmarkDecideDates(b *testing.B) {
	r, ctx := rig.Start(b), b.Context()
	var file strings.Builder
	file.WriteString("Client,Location,Name,Street,Town,State,Zip,Country,Phone,Category,Hours\n")
	for i := range 200 {
		fmt.Fprintf(&file, "Client,Shop %d,Spokeshave Cycle Works,%d Tern Street,Minnow Bay,WA,98990,US,,Bicycle repair,Tu-Sa 09:00-18:00\n", i, i+1)
	}
	r.BringIn(b, []byte(file.String()))
	dates, err := r.Desk.Boards.SpecialDates(ctx, ledger.Scope{})
	rig.Must(b, err)
	var q records.DateDecision
	for _, d := range dates {
		q.Dates = append(q.Dates, d.Span)
	}
	for _, p := range dates[0].Places {
		q.Locations = append(q.Locations, p.Location)
	}
	for b.Loop() {
		change, saved, err := r.Desk.Records.DecideDates(ctx, r.Who.Actor(), q)
		rig.Must(b, err)
		undone, err := r.Desk.Records.UndoChange(ctx, r.Who.Actor(), change)
		rig.Must(b, err)
		if saved != 200 || undone.Restored != 200 {
			b.Fatalf("%d saved, %d restored", saved, undone.Restored)
		}
	}
}
