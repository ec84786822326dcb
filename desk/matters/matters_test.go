package matters_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/core/rule/rulebook"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/listings"
	"uvent/desk/owners"
	"uvent/desk/people"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
)

// today is what is to be done or waited for, by what it is called.
func today(t *testing.T, r *rig.Rig) map[string]boards.Cell {
	t.Helper()
	rows, err := rig.Tasks(r.Desk.Boards.Today(t.Context(), ledger.Scope{}, boards.TodayPage{}))
	rig.Must(t, err)
	out := map[string]boards.Cell{}
	for _, c := range rows {
		out[c.Task.Title] = c
	}
	return out
}

// A matter is kept while it lasts, with what people said of it and whom it is with, and afterwards.
func TestAMatterIsKept(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	hob, err := r.Desk.People.AddPerson(ctx, people.Person{Name: "Hob Wren", Email: "hob@agency.example", Zone: "UTC", Role: people.Helper}, rig.Password)
	rig.Must(t, err)
	l, err := r.Desk.Ledger.Location(ctx, at.Location)
	rig.Must(t, err)
	other := r.Add(t, rig.Shop("Fennick"))
	elsewhere, err := r.Desk.Ledger.Location(ctx, other.Location)
	rig.Must(t, err)
	lim, err := r.Desk.People.AddPerson(
		ctx, people.Person{Name: "Lim", Email: "lim@agency.example", Zone: "UTC", Role: people.Helper, Clients: []uuid.UUID{elsewhere.ClientID}}, rig.Password,
	)
	rig.Must(t, err)
	search := today(t, r)["Look for Minnow Bay on Fernlook"].Matter
	if search == nil || search.Notes != 0 || search.With != nil || search.OpenedAt.IsZero() {
		t.Fatalf("%+v", search)
	}
	one := []uuid.UUID{search.ID}
	rig.Must(t, r.Desk.Matters.Note(ctx, who, one, " Rang the shop, they look tonight. "))
	rig.Must(t, r.Desk.Matters.Hand(ctx, who, one, &hob.ID))
	rig.Refused(t, r.Desk.Matters.Note(ctx, who, one, " "), problem.Invalid, "says: say it")
	rig.Refused(t, r.Desk.Matters.Note(ctx, who, nil, "x"), problem.Invalid, "matters: choose 1 to 500")
	rig.Refused(t, r.Desk.Matters.Note(ctx, who, []uuid.UUID{search.ID, uuid.New()}, "Half."), problem.NotFound, "no such matter")
	rig.Refused(t, r.Desk.Matters.Hand(ctx, who, one, &lim.ID), problem.Invalid, "Lim does not work for the client")
	rig.Refused(t, r.Desk.Matters.Decide(ctx, who, one, "No."), problem.Conflict, "ends when it is so")
	rig.Refused(t, r.Desk.Matters.Reopen(ctx, who, search.ID), problem.Conflict, "Nothing was decided")
	m := today(t, r)["Look for Minnow Bay on Fernlook"].Matter
	if m.ID != search.ID || m.Notes != 1 || m.Last != "Rang the shop, they look tonight." || m.WithName != "Hob Wren" {
		t.Errorf("%+v", m)
	}
	mine, err := r.Desk.Boards.Folds(ctx, boards.FoldFilter{Group: agenda.Mine, With: &hob.ID}, nil)
	if rig.Must(t, err); len(mine.Rows) != 1 || mine.Rows[0].First.Location.Label != l.Label || mine.Rows[0].Count != 1 {
		t.Errorf("with Hob: %+v", mine.Rows)
	}

	// It is done, and ends by that; the next is another.
	r.Answered(t, at)(r.Desk.Listings.Search(ctx, who, at))
	next := today(t, r)["Claim or create Minnow Bay on Fernlook"].Matter
	if next == nil || next.ID == search.ID || next.Notes != 0 || next.With != nil {
		t.Fatalf("%+v", next)
	}
	list, err := r.Desk.Matters.Of(ctx, at)
	if rig.Must(
		t,
		err,
	); len(list) != 2 || list[1].EndedAt == nil || list[1].EndedBy != "" || len(list[1].Notes) != 1 || list[1].Notes[0].Person != r.Who.Name ||
		list[0].EndedAt != nil {
		t.Errorf("%+v", list)
	}
	rig.Refused(t, r.Desk.Matters.Note(ctx, who, one, "Late."), problem.Conflict, "has ended meanwhile")
}

// Many are put off together, come back together, and are dealt with together or not at all.
func TestManyAtOnce(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	who := r.Who.Actor()
	for _, town := range []string{"Minnow Bay", "Fennick", "Quillcote"} {
		r.Add(t, rig.Shop(town))
	}
	var ids []uuid.UUID
	for _, c := range today(t, r) {
		ids = append(ids, c.Matter.ID)
	}
	rig.Refused(t, r.Desk.Matters.PutOffAll(ctx, who, ids, r.Desk.Now(), ""), problem.Invalid, "until: name a moment to come")
	rig.Must(t, r.Desk.Matters.PutOffAll(ctx, who, ids, r.Desk.Now().Add(48*time.Hour), ""))
	if left := today(t, r); len(left) != 0 {
		t.Errorf("put off: %+v", left)
	}
	rig.Must(t, r.Desk.Matters.TakeUpAll(ctx, who, ids))
	if left := today(t, r); len(left) != 3 {
		t.Errorf("taken up: %+v", left)
	}
	rig.Refused(t, r.Desk.Matters.Note(ctx, who, append(ids[:2:2], uuid.New()), "Half."), problem.NotFound, "no such matter")
	for title, c := range today(t, r) {
		if c.Matter.Notes != 0 {
			t.Errorf("%s has half of what was refused", title)
		}
	}
	// They are one thing to do.
	folds, err := r.Desk.Boards.Folds(ctx, boards.FoldFilter{Group: agenda.Mine}, nil)
	if rig.Must(
		t,
		err,
	); len(folds.Rows) != 1 || folds.Rows[0].Title != "Look for 3 places: one round" || folds.Rows[0].Clients != 3 ||
		folds.Rows[0].Minutes <= 0 {
		t.Fatalf("%+v", folds.Rows)
	}
	cells, err := r.Desk.Boards.Folded(ctx, boards.FoldFilter{Group: agenda.Mine, Search: "QUILL"}, folds.Rows[0].ID, 0)
	if rig.Must(t, err); len(cells) != 1 || cells[0].Location.Label != "Quillcote" {
		t.Errorf("%+v", cells)
	}
}

// Rows come in pages, each past the last of the one before: all of them, each once.
func TestRowsComeInPages(t *testing.T) {
	r, ctx := rig.Start(t, "sound-chamber"), t.Context()
	who := r.Who.Actor()
	const all = 130
	in := r.BringIn(t, rig.ManyRows(all))
	if in.Counts.In != all {
		t.Fatalf("%+v", in.Counts)
	}
	places, err := r.Desk.Boards.Cells(ctx, ledger.Scope{})
	rig.Must(t, err)
	for i, c := range places {
		rig.Must(t, r.Desk.Listings.Found(ctx, who, c.Place, listings.OursThere, fmt.Sprintf("/sound-chamber/place/%d", i), ""))
		rig.Must(t, r.Desk.Listings.SuspendedThere(ctx, who, c.Place, "It does not follow our rules."))
	}
	seen := map[string]bool{}
	var past *boards.FoldKey
	for pages := 1; ; pages++ {
		page, err := r.Desk.Boards.Folds(ctx, boards.FoldFilter{Group: agenda.Mine}, past)
		rig.Must(t, err)
		for _, row := range page.Rows {
			if seen[row.ID] {
				t.Errorf("%s comes twice", row.Title)
			}
			seen[row.ID] = true
		}
		if past = page.Next; past == nil {
			if len(seen) != all || pages != 3 {
				t.Errorf("%d rows on %d pages", len(seen), pages)
			}
			return
		}
	}
}

// An owner who is asked and does not answer is theirs to move while the page works, and ours to ring after that.
func TestAnOwnerWhoDoesNotAnswer(t *testing.T) {
	r, ctx := rig.Start(t, "waywren"), t.Context()
	c, err := r.Desk.Records.AddClient(ctx, r.Who.Actor(), records.ClientFacts{Name: "Spokeshave", OwnerName: "Dov Marsh", OwnerEmail: "dov@spokeshave.example"})
	rig.Must(t, err)
	l, err := r.Desk.Records.AddLocation(ctx, r.Who.Actor(), c.ID, rig.Shop("Minnow Bay"))
	rig.Must(t, err)
	at := ledger.Place{Location: l.ID, Directory: "waywren"}
	r.Held(t, at)
	made, err := r.Desk.Owners.MakeLink(ctx, r.Who, at, owners.LinkFor{Task: verification.SendPaper, Mail: true})
	rig.Must(t, err)
	asked := today(t, r)["Dov Marsh was asked for a paper for Minnow Bay on Waywren"]
	if asked.Task == nil || asked.Task.Group != agenda.Owner || !strings.Contains(asked.Task.Says, "has not opened the page") {
		t.Fatalf("%+v", today(t, r))
	}
	_, err = r.Desk.Owners.OwnerPage(ctx, made.Address[strings.LastIndex(made.Address, "/")+1:], "")
	rig.Must(t, err)
	asked = today(t, r)["Dov Marsh was asked for a paper for Minnow Bay on Waywren"]
	if asked.Task == nil || !strings.Contains(asked.Task.Says, "the page was opened, and nothing came yet") {
		t.Errorf("%+v", asked.Task)
	}
	r.Move(t, made.Expires.Sub(r.Desk.Now())+time.Hour)
	silent := today(t, r)["Dov Marsh has not answered about Minnow Bay on Waywren"]
	if silent.Task == nil || silent.Task.Group != agenda.Mine || !strings.Contains(silent.Task.Says, "Ring (360) 555-0142, best") {
		t.Fatalf("%+v", today(t, r))
	}
	rig.Must(t, r.Desk.Matters.Decide(ctx, r.Who.Actor(), []uuid.UUID{silent.Matter.ID}, "Rang; he has no paper. By post then."))
	if left := today(t, r)["Verify Minnow Bay on Waywren"]; left.Task == nil || left.Task.Act != agenda.Verify {
		t.Errorf("%+v", today(t, r))
	}
	// A way that is chosen at last asks for nothing of the page any more.
	r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, r.Who.Actor(), at, rulebook.Postcard))
	if left := today(t, r); left["Minnow Bay on Waywren"].Task == nil || len(left) != 1 {
		t.Errorf("%+v", left)
	}
}
