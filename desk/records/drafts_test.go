package records_test

import (
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/calendar"
	"uvent/core/record/record"
	"uvent/desk/clockwork"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/e2e/rig"
)

func TestDraftsAreKeptForEachPerson(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, at := r.Who.Actor(), r.Add(t, rig.Shop("Minnow Bay"))
	about := "location " + at.Location.String()
	if body, err := r.Desk.Records.Draft(ctx, who, about); err != nil || body != "" {
		t.Errorf("%s, %v", body, err)
	}
	for _, body := range []string{`{"record": 1}`, `{"record": 2}`} {
		rig.Must(t, r.Desk.Records.SaveDraft(ctx, who, about, body))
	}
	if body, err := r.Desk.Records.Draft(ctx, who, about); err != nil || body != `{"record": 2}` {
		t.Errorf("%s, %v", body, err)
	}
	other, err := r.Desk.People.AddPerson(ctx, people.Person{Name: "Tobias Finch", Email: "tobias@halyardstreet.example", Zone: "America/New_York"}, rig.Password)
	rig.Must(t, err)
	if body, _ := r.Desk.Records.Draft(ctx, other.Actor(), about); body != "" {
		t.Errorf("somebody else sees %s", body)
	}
	rig.Must(t, r.Desk.Records.DropDraft(ctx, who, about))
	if body, _ := r.Desk.Records.Draft(ctx, who, about); body != "" {
		t.Errorf("it is still there: %s", body)
	}
	rig.Refused(t, r.Desk.Records.SaveDraft(ctx, who, "anything", "{}"), problem.NotFound, "nothing of this kind")
	rig.Refused(t, r.Desk.Records.SaveDraft(ctx, who, about, strings.Repeat("x", 1<<20+1)), problem.Invalid, "too large")
}

func TestPresence(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who, at := r.Who.Actor(), r.Add(t, rig.Shop("Minnow Bay"))
	first, second := uuid.New(), uuid.New()
	if others, err := r.Desk.Records.See(ctx, who, at.Location, first, false); err != nil || others != nil {
		t.Errorf("%+v, %v", others, err)
	}
	others, err := r.Desk.Records.See(ctx, who, at.Location, second, true)
	if err != nil || len(others) != 1 || others[0].WindowID != first || others[0].Editing || others[0].Name != r.Who.Name {
		t.Errorf("%+v, %v", others, err)
	}
	if others, err = r.Desk.Records.See(ctx, who, at.Location, first, false); err != nil || len(others) != 1 || !others[0].Editing {
		t.Errorf("%+v, %v", others, err)
	}
	rig.Must(t, r.Desk.Records.Leave(ctx, at.Location, second))
	if others, err = r.Desk.Records.See(ctx, who, at.Location, first, false); err != nil || others != nil {
		t.Errorf("%+v, %v", others, err)
	}
	_, err = r.Store.Pool.Exec(ctx, "update presence set seen_at = now() - interval '1 minute'")
	rig.Must(t, err)
	if others, err = r.Desk.Records.See(ctx, who, at.Location, second, false); err != nil || others != nil {
		t.Errorf("a window that was closed by force is still there: %+v, %v", others, err)
	}
	// Of windows that were closed by force nothing is left after a day.
	_, err = r.Store.Pool.Exec(ctx, "update presence set seen_at = now() - interval '2 days'")
	rig.Must(t, err)
	_, err = r.Desk.Records.See(ctx, who, at.Location, uuid.New(), false)
	rig.Must(t, err)
	var left int
	if rig.Must(t, r.Store.Pool.QueryRow(ctx, "select count(*) from presence").Scan(&left)); left != 1 {
		t.Errorf("%d windows are remembered", left)
	}
	_, err = r.Desk.Records.See(ctx, who, uuid.New(), first, false)
	rig.Refused(t, err, problem.NotFound, "no such location")
}

func TestMergeAndPlan(t *testing.T) {
	r := rig.Start(t)
	ctx, who := t.Context(), r.Who.Actor()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	l, err := r.Desk.Ledger.Location(ctx, at.Location)
	rig.Must(t, err)
	base := l.Record
	mine, theirs, planned := base, base, base
	mine.Email, theirs.Email, theirs.Website = "mine@spokeshave.example", "theirs@spokeshave.example", "https://theirs.example"
	planned.Email, planned.Parking = "planned@spokeshave.example", "Behind the new shop."

	_, err = r.Desk.Records.PlanChange(ctx, who, at.Location, calendar.Date{Year: 2026, Month: 11, Day: 24}, base, planned)
	rig.Refused(t, err, problem.Invalid, "from tomorrow on")
	_, err = r.Desk.Records.PlanChange(ctx, who, at.Location, calendar.Date{Year: 2026, Month: 12, Day: 1}, base, base)
	rig.Refused(t, err, problem.Invalid, "Nothing is changed")
	id, err := r.Desk.Records.PlanChange(ctx, who, at.Location, calendar.Date{Year: 2026, Month: 12, Day: 1}, base, planned)
	rig.Must(t, err)
	other, err := r.Desk.Records.PlanChange(ctx, who, at.Location, calendar.Date{Year: 2026, Month: 12, Day: 2}, base, planned)
	rig.Must(t, err)
	rig.Must(t, r.Desk.Records.DropPlan(ctx, who, at.Location, other))
	rig.Refused(t, r.Desk.Records.DropPlan(ctx, who, at.Location, other), problem.NotFound, "not to come any more")

	l, err = r.Desk.Records.SaveLocation(ctx, people.Actor{Name: "Tobias Finch"}, at.Location, l.Version, theirs)
	rig.Must(t, err)
	m, err := r.Desk.Records.Merge(ctx, at.Location, base, mine)
	if err != nil || m.By != "Tobias Finch" || m.Location.Version != l.Version || m.Record.Website != theirs.Website || m.Record.Email != mine.Email ||
		len(m.Conflicts) != 1 || m.Conflicts[0] != (record.Conflict{Path: "email", Title: "Email", Mine: mine.Email, Theirs: theirs.Email}) {
		t.Errorf("%+v, %v", m, err)
	}

	plans, err := r.Desk.Records.Plans(ctx, at.Location)
	if err != nil || len(plans) != 1 || plans[0].ID != id || plans[0].Done || len(plans[0].Changes) != 2 || plans[0].On.String() != "2026-12-01" {
		t.Errorf("%+v, %v", plans, err)
	}
	midnight := time.Date(2026, 12, 1, 8, 0, 0, 0, time.UTC) // in Minnow Bay
	before := midnight.Add(-time.Minute)
	rig.Must(t, r.Desk.MoveClock(ctx, clockwork.Move{To: &before}))
	if l, _ = r.Desk.Ledger.Location(ctx, at.Location); l.Record.Parking != "" {
		t.Error("it took effect before its date")
	}
	rig.Must(t, r.Desk.MoveClock(ctx, clockwork.Move{To: &midnight}))
	l, err = r.Desk.Ledger.Location(ctx, at.Location)
	if err != nil || l.Record.Parking != planned.Parking || l.Record.Email != theirs.Email {
		t.Errorf("%+v, %v", l.Record, err)
	}
	if plans, err = r.Desk.Records.Plans(ctx, at.Location); err != nil || len(plans) != 1 || !plans[0].Done || strings.Join(plans[0].Kept, ", ") != "Email" {
		t.Errorf("%+v, %v", plans, err)
	}
	history, err := r.Desk.Records.RecordHistory(ctx, at.Location)
	if err != nil || history[0].Actor != r.Who.Name+", planned" || len(history[0].Changes) != 1 {
		t.Errorf("%+v, %v", history, err)
	}
}

// A change that cannot be kept when its date comes leaves the record as it is, and
// says so; so does one whose server was stopped meanwhile, once another runs.
func TestAPlanThatCannotBeKept(t *testing.T) {
	r := rig.Start(t)
	ctx, who := t.Context(), r.Who.Actor()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	l, err := r.Desk.Ledger.Location(ctx, at.Location)
	rig.Must(t, err)
	renamed := l.Record
	renamed.Label, renamed.Parking = "Quillcote", "Behind."
	_, err = r.Desk.Records.PlanChange(ctx, who, at.Location, calendar.Date{Year: 2026, Month: 12, Day: 1}, l.Record, renamed)
	rig.Must(t, err)
	_, err = r.Desk.Records.AddLocation(ctx, who, l.ClientID, rig.Shop("Quillcote")) // takes the label
	rig.Must(t, err)
	to := time.Date(2026, 12, 1, 8, 0, 0, 0, time.UTC)
	rig.Must(t, r.Desk.MoveClock(ctx, clockwork.Move{To: &to}))
	now, err := r.Desk.Ledger.Location(ctx, at.Location)
	if err != nil || now.Record.Label != "Minnow Bay" || now.Record.Parking != "" {
		t.Errorf("half of it was done: %+v, %v", now.Record, err)
	}
	plans, err := r.Desk.Records.Plans(ctx, at.Location)
	if err != nil || len(plans) != 1 || strings.Join(plans[0].Kept, ", ") != "Label, Parking" {
		t.Errorf("%+v, %v", plans, err)
	}
	_, err = r.Desk.Records.Plans(ctx, uuid.New())
	rig.Refused(t, err, problem.NotFound, "no such location")
	_, err = r.Desk.Records.PlanChange(ctx, who, uuid.New(), calendar.Date{Year: 2026, Month: 12, Day: 9}, l.Record, renamed)
	rig.Refused(t, err, problem.NotFound, "no such location")
	bad := renamed
	bad.Website = "x"
	_, err = r.Desk.Records.PlanChange(ctx, who, at.Location, calendar.Date{Year: 2026, Month: 12, Day: 9}, l.Record, bad)
	rig.Refused(t, err, problem.Invalid, "website")
}
