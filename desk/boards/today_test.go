package boards_test

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"uvent/core/reckon/agenda"
	"uvent/core/rule/rulebook"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
)

// What is kept of tasks is what the listings ask for: after every verb, every edit and every
// stretch of time, on this server and on another.
func TestTodayIsWhatTheListingsAskFor(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "murmurhall", "skerry"), t.Context()
	two := r.Second(t)
	who := r.Who.Actor()
	same := func(when string) {
		t.Helper()
		cells, err := r.Desk.Boards.Cells(ctx, ledger.Scope{})
		rig.Must(t, err)
		var want, got []string
		fresh := map[string]int{} // listings of a location of which nothing is known
		count := map[agenda.Group]int{}
		says := func(c boards.Cell) string {
			return fmt.Sprint(c.Location.Label, " ", c.Directory, " ", c.Task.Group, " ", c.Task.Act, " ", c.Task.Says, " ", c.Task.Loss)
		}
		for _, c := range cells {
			if c.Task != nil && c.Task.Act == agenda.Search && c.State.SearchedAt == nil {
				fresh[c.Location.Label]++
			} else if c.Task != nil {
				want = append(want, says(c))
				count[c.Task.Group]++
			}
		}
		today, err := two.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{})
		rig.Must(t, err)
		for _, c := range today.Rows {
			switch {
			case c.Task.Act == agenda.Begin || c.Task.Act == agenda.Search && c.State.SearchedAt == nil:
				n := fresh[c.Location.Label]
				if (n > 1) != (c.Task.Act == agenda.Begin) || n > 1 && c.Task.Title != fmt.Sprintf("Begin %d listings of %s", n, c.Location.Label) {
					t.Errorf("%s: %d fresh listings are %q", when, n, c.Task.Title)
				}
				delete(fresh, c.Location.Label)
				count[agenda.Mine]++
			default:
				got = append(got, says(c))
			}
		}
		slices.Sort(want)
		slices.Sort(got)
		if !slices.Equal(got, want) || len(fresh) != 0 {
			t.Errorf("%s: Today is\n%q\nand the listings ask for\n%q\nnot begun: %v", when, got, want, fresh)
		}
		for group, n := range today.Counts {
			if count[group] != n {
				t.Errorf("%s: %d tasks are %s, counted are %d", when, count[group], group, n)
			}
		}
	}
	at := r.Add(t, rig.Shop("Minnow Bay"))
	r.Add(t, rig.Shop("Cinder Point"))
	same("nothing begun")
	r.Held(t, at)
	same("held")
	r.Answered(t, at)(r.Desk.Listings.AskCode(ctx, who, at, rulebook.Postcard))
	same("asked for")
	for day := range 9 {
		r.Move(t, 5*24*time.Hour)
		same(fmt.Sprint("days later: ", 5*(day+1)))
	}
	l, err := r.Desk.Ledger.Location(ctx, at.Location)
	rig.Must(t, err)
	rec := l.Record
	rec.Label = "The Bay"
	_, err = r.Desk.Records.SaveLocation(ctx, who, l.ID, l.Version, rec)
	rig.Must(t, err)
	same("another label")
	rec.Address.Country, rec.Address.Region, rec.Zone = "FR", "", "Europe/Paris"
	_, err = r.Desk.Records.SaveLocation(ctx, who, l.ID, l.Version+1, rec)
	rig.Must(t, err)
	same("abroad, where none may be listed")
}

// Pages of many tasks hold each once, in order, and nothing that is put off.
func TestPagesOfToday(t *testing.T) {
	r, ctx := rig.Start(t, "fernlook", "murmurhall"), t.Context()
	r.BringIn(t, rig.ManyRows(130))
	first, err := r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{})
	rig.Must(t, err)
	rig.Must(t, r.Desk.Matters.PutOff(ctx, r.Who.Actor(), first.Rows[0].Place, agenda.Begin, r.Desk.Now().Add(time.Hour), "The shop is being painted."))
	seen := map[ledger.Place]bool{}
	last := ""
	for past := 0; past < 130; past += boards.MostToday {
		page, err := r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{Group: agenda.Mine, Past: past})
		rig.Must(t, err)
		if page.Counts[agenda.Mine] != 129 {
			t.Fatalf("%v in all", page.Counts)
		}
		for _, c := range page.Rows {
			if seen[c.Place] || c.Place == first.Rows[0].Place || c.Task.Title < last {
				t.Errorf("%s after %s, seen: %v", c.Task.Title, last, seen[c.Place])
			}
			seen[c.Place], last = true, c.Task.Title
		}
	}
	if len(seen) != 129 {
		t.Errorf("%d tasks on all pages", len(seen))
	}
	r.Move(t, 2*time.Hour)
	if again, err := r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{}); err != nil || again.Counts[agenda.Mine] != 130 {
		t.Errorf("when the time has passed: %v, %v", again.Counts, err)
	}
	if one, err := r.Desk.Boards.Today(ctx, ledger.OfClient(first.Rows[0].Client.ID), boards.TodayPage{}); err != nil || one.Counts[agenda.Mine] != 50 {
		t.Errorf("of a client: %v, %v", one.Counts, err)
	}
}
