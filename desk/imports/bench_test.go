package imports_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"uvent/desk/imports"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
	"uvent/store/storetest"
)

// BenchmarkImport brings 5,000 and 50,000 locations in, from the file to the last commit, and in turn copies the same
// rows bare: the ratio is what reading, checking, holding against each other and the log of events cost. What one cell
// costs that is edited is told besides. The 50,000 take minutes; -short leaves them out.
func BenchmarkImport(b *testing.B) {
	for _, rows := range []int{5_000, 50_000} {
		b.Run(fmt.Sprint(rows), func(b *testing.B) {
			if rows > 5_000 && testing.Short() {
				b.Skip("takes minutes")
			}
			r, ctx := rig.Start(b), b.Context()
			file := rig.ManyRows(rows)
			var reading, edited, bringing, bare time.Duration
			for b.Loop() {
				emptied(b, r)
				began := time.Now()
				in, err := r.Desk.Imports.Start(ctx, r.Who, nil, "many.csv", file)
				rig.Must(b, err)
				r.ImportIs(b, in.ID, imports.Ready)
				reading += time.Since(began)

				began = time.Now()
				_, err = r.Desk.Imports.Edit(ctx, r.Who.Actor(), in.ID, imports.Edit{Kind: imports.EditCell, Lines: []int{7}, Key: "name", To: "Another"})
				rig.Must(b, err)
				r.ImportIs(b, in.ID, imports.Ready)
				edited += time.Since(began)

				began = time.Now()
				_, err = r.Desk.Imports.BringIn(ctx, r.Who.Actor(), in.ID)
				rig.Must(b, err)
				r.ImportIs(b, in.ID, imports.In)
				bringing += time.Since(began)

				list, err := r.Desk.Records.Locations(ctx, ledger.Scope{})
				rig.Must(b, err)
				if len(list) != rows {
					b.Fatalf("%d locations came in", len(list))
				}
				emptied(b, r)
				began = time.Now()
				_, err = r.Store.Pool.CopyFrom(
					ctx,
					pgx.Identifier{"location"},
					[]string{"id", "client_id", "label", "store_code", "record"},
					pgx.CopyFromSlice(len(list), func(i int) ([]any, error) {
						l := list[i]
						return []any{l.ID, l.ClientID, l.Label, l.StoreCode, l.Record}, nil
					}),
				)
				rig.Must(b, err)
				bare += time.Since(began)
			}
			n := float64(rows * b.N)
			b.ReportMetric(n/(reading+bringing).Seconds(), "rows/s")
			b.ReportMetric(n/bare.Seconds(), "bare_rows/s")
			b.ReportMetric((reading+bringing).Seconds()/bare.Seconds(), "times_bare")
			b.ReportMetric(reading.Seconds()/float64(b.N), "s_reading")
			b.ReportMetric(edited.Seconds()/float64(b.N), "s_one_cell")
			b.ReportMetric(bringing.Seconds()/float64(b.N), "s_bringing")
		})
	}
}

func emptied(b *testing.B, r *rig.Rig) {
	b.Helper()
	_, err := storetest.Owner(b, r.Store).Exec(
		b.Context(),
		"alter table event disable trigger event_is_final; truncate event, location, import, task_stale cascade; alter table event enable trigger event_is_final",
	)
	rig.Must(b, err)
}
