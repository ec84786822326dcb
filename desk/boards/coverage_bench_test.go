package boards_test

import (
	"testing"
	"time"

	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
)

var everyDirectory = []string{
	"fernlook",
	"fernlook-facts",
	"waywren",
	"skerry",
	"hithermap",
	"murmurhall",
	"lanefolk",
	"guildbench",
	"candourbox",
	"brasswire",
	"plotline",
	"roadwhistle",
	"sound-chamber",
	"old-wharf-merchants",
	"spanner-register",
}

// The first page of the coverage of 5,000 locations on 15 directories, beside the bare
// SQL that reads the same rows, in turn; and the reckoning of all fits, as after a
// rulebook was changed.
func BenchmarkCoverage(b *testing.B) {
	r, ctx := rig.Start(b, everyDirectory...), b.Context()
	r.BringIn(b, rig.ManyRows(5000))
	first := func() {
		c, err := r.Desk.Boards.Coverage(ctx, ledger.Scope{}, boards.ByPlace, 0, 100)
		rig.Must(b, err)
		if c.Locations != 5000 || len(c.Rows) != 100 {
			b.Fatalf("%d locations, %d rows", c.Locations, len(c.Rows))
		}
	}
	b.Run("reckoning all", func(b *testing.B) {
		for b.Loop() {
			_, err := r.Store.Pool.Exec(ctx, "truncate location_fit")
			rig.Must(b, err)
			first()
		}
	})
	first()
	b.Run("first page", func(b *testing.B) {
		var whole, bare time.Duration
		for b.Loop() {
			began := time.Now()
			first()
			whole += time.Since(began)
			began = time.Now()
			rows, err := r.Store.Pool.Query(ctx, `select l.id, l.label, c.name, f.cells, f.next, s.directory_id, s.control, s.verification, s.visibility
				from (select l.* from location l join client c on c.id = l.client_id order by lower(c.name), c.id, lower(l.label), l.id limit 100) l
				join client c on c.id = l.client_id join location_fit f on f.location_id = l.id left join listing s on s.location_id = l.id`)
			rig.Must(b, err)
			for rows.Next() {
				_, err := rows.Values()
				rig.Must(b, err)
			}
			rig.Must(b, rows.Err())
			bare += time.Since(began)
		}
		b.ReportMetric(float64(whole.Milliseconds())/float64(b.N), "ms/page")
		b.ReportMetric(whole.Seconds()/bare.Seconds(), "times_bare")
	})
}
