package boards_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/core/listing/verification"
	"uvent/core/reckon/agenda"
	"uvent/core/rule/rulebook"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
)

// Today over 5,000 locations that were begun on all of 15 directories: its first page when
// nothing has changed, after one listing has, and after a day in which windows opened and
// ended; and the reckoning of all of it, which is done once.
func BenchmarkToday(b *testing.B) {
	r, ctx := rig.Start(b, everyDirectory...), b.Context()
	r.BringIn(b, rig.ManyRows(5000))
	begun(b, r)
	today := func() boards.Today {
		t, err := r.Desk.Boards.Today(ctx, ledger.Scope{}, boards.TodayPage{})
		rig.Must(b, err)
		return t
	}
	first := today()
	all := 0
	for _, n := range first.Counts {
		all += n
	}
	if all < 10*5000 || len(first.Rows) < 2*boards.MostToday {
		b.Fatalf("%v, of which %d are shown", first.Counts, len(first.Rows))
	}
	run := func(name string, first func()) {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				b.StopTimer()
				first()
				b.StartTimer()
				today()
			}
			b.ReportMetric(float64(all), "tasks")
		})
	}
	run("nothing changed", func() {})
	for name, f := range map[string]boards.FoldFilter{"rows": {Group: agenda.Mine}, "rows with a word in them": {Group: agenda.Mine, Search: "shop 0481"}} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				_, err := r.Desk.Boards.Folds(ctx, f, nil)
				rig.Must(b, err)
			}
		})
	}
	run("one listing changed", func() {
		_, err := r.Store.Pool.Exec(ctx, "update listing set state = state where ctid = (select ctid from listing limit 1)")
		rig.Must(b, err)
	})
	run("a day later", func() { r.Move(b, 24*time.Hour) })
	run("reckoning all", func() {
		_, err := r.Store.Pool.Exec(ctx, "update location_fit set gain = gain")
		rig.Must(b, err)
	})
}

// begun writes a listing for each location on each directory, at the stages of the way to
// public in turn.
func begun(b *testing.B, r *rig.Rig) {
	b.Helper()
	ctx, now := b.Context(), r.Desk.Now()
	ev := func(kind verification.Kind, days int) verification.Event {
		data, err := json.Marshal(
			map[string]any{
				"attempt": "a",
				"method":  rulebook.Postcard,
				"to":      "18 Tern Street",
				"ref":     "f1",
				"terms":   verification.Terms{Digits: 6, Tries: 3, Expires: now.AddDate(0, 0, 30-days)},
			},
		)
		rig.Must(b, err)
		what, err := verification.Read(kind, data)
		rig.Must(b, err)
		return verification.Event{At: now.AddDate(0, 0, -days), What: what}
	}
	stages := func(days int) [][]verification.Event {
		held := []verification.Event{ev("search_asked", days), ev("searched", days), ev("claim_asked", days), ev("claim_granted", days)}
		sent := append(held[:4:4], ev("code_asked", days), ev("code_sent", days))
		return [][]verification.Event{held[:2], held, sent, append(sent[:6:6], ev("code_arrived", 0)), append(sent[:6:6], ev("code_accepted", 1))}
	}
	locations, err := r.Desk.Records.Locations(ctx, ledger.Scope{})
	rig.Must(b, err)
	books := r.Desk.Shelf.Books()
	n := 0
	_, err = r.Store.Pool.CopyFrom(
		ctx,
		pgx.Identifier{"listing"},
		[]string{"location_id", "directory_id", "control", "verification", "visibility", "state"},
		pgx.CopyFromSlice(len(locations)*len(books), func(i int) ([]any, error) {
			book, location := books[i%len(books)], locations[i/len(books)]
			of := stages(i % 29)
			n++
			st := verification.Derive(book, of[n%len(of)])
			return []any{location.ID, book.ID, string(st.Control), string(st.Verification), string(st.Visibility), st}, nil
		}),
	)
	rig.Must(b, err)
}
