package records_test

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"uvent/core/record/sheet"
	"uvent/desk/ledger"
	"uvent/desk/problem"
	"uvent/desk/records"
	"uvent/e2e/rig"
	"uvent/store/storetest"
)

const header = "Client,Location,Name,Street,Town,State,Zip,Country,Phone,Category,Hours\n"

const three = header +
	"Nettlewick Yarns,Old Wharf,Nettlewick Yarns,9 Old Wharf,Port Sable,WA,98991,US,(360) 555-0109,Yarn shop,Tu-Sa 10:00-17:30\n" +
	"Nettlewick Yarns,Fennick,Nettlewick Yarns,118 Fennick Road,Fennick,BC,V0O 1F2,CA,(250) 555-0117,Yarn shop,Tu-Sa 10:00-17:30; PH off\n" +
	"Saltgrass Laundry,Saltgrass,Saltgrass Laundry,3 Causeway,Saltgrass,BC,V0O 1G4,CA,(250) 555-0190,Laundromat,24/7\n"

func start(t *testing.T, r *rig.Rig, client *uuid.UUID, file string) records.Import {
	t.Helper()
	in, err := r.Desk.Records.StartImport(t.Context(), r.Who, client, "locations.csv", []byte(file))
	rig.Must(t, err)
	return in
}

func TestTheSameFileTwiceChangesNothing(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	in := start(t, r, nil, three)
	if p := in.Plan; p.New != 3 || p.Bad != 0 || len(p.Clients) != 2 {
		t.Fatalf("the plan is %+v", p)
	}
	if list, err := r.Desk.Records.Locations(ctx, ledger.Scope{}); err != nil || len(list) != 0 {
		t.Fatalf("looking brought %d in, %v", len(list), err)
	}
	done, err := r.Desk.Records.ApplyImport(ctx, r.Who.Actor(), in.ID)
	if err != nil || !done.Applied || done.Plan.New != 3 {
		t.Fatalf("%+v, %v", done, err)
	}
	again, err := r.Desk.Records.ApplyImport(ctx, r.Who.Actor(), in.ID)
	if list, _ := r.Desk.Records.Locations(ctx, ledger.Scope{}); err != nil || len(list) != 3 || again.Plan.New != 3 {
		t.Fatalf("pressed twice: %d locations, %+v, %v", len(list), again.Plan, err)
	}
	_, err = r.Desk.Records.MatchColumns(ctx, in.ID, in.Columns)
	rig.Refused(t, err, problem.Conflict, "in already")
	if p := start(t, r, nil, three).Plan; p.New != 0 || p.Changed != 0 || p.Unchanged != 3 {
		t.Errorf("the same file: %+v", p)
	}
	changed := start(t, r, nil, strings.Replace(three, "24/7", "Mo-Su 06:00-23:00", 1))
	if p := changed.Plan; p.Changed != 1 || p.Unchanged != 2 {
		t.Errorf("one cell changed: %+v", p)
	}
	_, err = r.Desk.Records.ApplyImport(ctx, r.Who.Actor(), changed.ID)
	rig.Must(t, err)

	var out bytes.Buffer
	rig.Must(t, r.Desk.Records.Export(ctx, ledger.Scope{}, &out))
	if p := start(t, r, nil, out.String()).Plan; p.New != 0 || p.Changed != 0 || p.Unchanged != 3 {
		t.Errorf("what was taken out comes back as %+v", p)
	}
}

func TestGoodRowsComeInAndBadOnesComeBack(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	file := three +
		"Nettlewick Yarns,Minnow Bay,Nettlewick Yarns,1 Tern Street,Minnow Bay,WA,98990,US,(360) 555-01,Yarn shop,Mo 9-5\n" +
		",Nowhere,Nobody,1 Road,Minnow Bay,WA,98990,US,,,\n" +
		"Saltgrass Laundry,Saltgrass,Saltgrass Laundry,4 Causeway,Saltgrass,BC,V0O 1G4,CA,,Laundromat,\n"
	in := start(t, r, nil, file)
	if p := in.Plan; p.New != 4 || p.Bad != 2 || p.Partly != 1 {
		t.Fatalf("the plan is %+v", p)
	}
	want := []sheet.Problem{
		{Line: 5, Column: "Phone", Reason: "too few digits"},
		{Line: 6, Column: "client", Reason: "names no client"},
		{Line: 7, Column: "label", Reason: "another location of this client already"},
	}
	for i, w := range want {
		if i >= len(in.Plan.Problems) || in.Plan.Problems[i].Line != w.Line || in.Plan.Problems[i].Column != w.Column ||
			!strings.Contains(in.Plan.Problems[i].Reason, w.Reason) {
			t.Fatalf("problem %d: %+v, want %+v", i, in.Plan.Problems, w)
		}
	}
	_, err := r.Desk.Records.ApplyImport(ctx, r.Who.Actor(), in.ID)
	rig.Must(t, err)
	if list, _ := r.Desk.Records.Locations(ctx, ledger.Scope{}); len(list) != 4 {
		t.Fatalf("%d came in", len(list))
	}
	var bad bytes.Buffer
	rig.Must(t, r.Desk.Records.BadRows(ctx, in.ID, &bad))
	mended := strings.NewReplacer(
		"(360) 555-01,",
		"(360) 555-0101,",
		",Nowhere,",
		"Nettlewick Yarns,Nowhere,",
		"Laundry,Saltgrass,Saltgrass Laundry,4",
		"Laundry,Annex,Saltgrass Laundry,4",
	).Replace(bad.String())
	next := start(t, r, nil, mended)
	if p := next.Plan; p.New != 2 || p.Changed != 1 || p.Bad != 0 || len(p.Problems) != 0 {
		t.Errorf("mended: %+v\n%s", p, mended)
	}
}

func TestColumnsAreMatchedByHand(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	c, err := r.Desk.Records.AddClient(ctx, r.Who.Actor(), records.ClientFacts{Name: "Nettlewick Yarns"})
	rig.Must(t, err)
	in := start(t, r, &c.ID, "Shop;Straße;Ort;Land;Ruf\nNettlewick;9 Old Wharf;Port Sable;USA;360 555 0109\n")
	if in.Plan.Bad != 1 {
		t.Fatalf("nothing is known of these columns, and yet %+v", in.Plan)
	}
	columns := []string{"name", "street", "locality", "country", "phone"}
	in, err = r.Desk.Records.MatchColumns(ctx, in.ID, columns)
	if err != nil || in.Plan.Bad != 1 || in.Plan.Problems[0].Column != "Time zone" {
		t.Fatalf("%+v, %v", in.Plan, err)
	}
	_, err = r.Desk.Records.MatchColumns(ctx, in.ID, []string{"name", "name", "", "", ""})
	rig.Refused(t, err, problem.Invalid, "two columns are matched")
	_, err = r.Desk.Records.MatchColumns(ctx, in.ID, []string{"name"})
	rig.Refused(t, err, problem.Invalid, "columns are matched; the file has 5")
	_, err = r.Desk.Records.Import(ctx, uuid.New())
	rig.Refused(t, err, problem.NotFound, "no such import")
}

func TestAFileThatIsNoTable(t *testing.T) {
	r := rig.Start(t)
	for file, says := range map[string]string{"": "empty", "\xff\xfea\x00": "no rows", "PK\x03\x04": "spreadsheet's own format", "a,b\n": "no rows"} {
		_, err := r.Desk.Records.StartImport(t.Context(), r.Who, nil, "x.csv", []byte(file))
		rig.Refused(t, err, problem.Invalid, says)
	}
	missing := uuid.New()
	_, err := r.Desk.Records.StartImport(t.Context(), r.Who, &missing, "x.csv", []byte(three))
	rig.Refused(t, err, problem.NotFound, "no such client")
}

// manyRows is a file of n locations.
const rows = 5000

// BenchmarkImport brings 5,000 locations in, from the file to the commit, and in
// turn copies the same rows bare: the ratio is what reading, checking and the
// log of events cost.
func BenchmarkImport(b *testing.B) {
	r, ctx := rig.Start(b), b.Context()
	file := rig.ManyRows(rows)
	var whole, bare time.Duration
	for b.Loop() {
		clear5000(b, r)
		began := time.Now()
		in, err := r.Desk.Records.StartImport(ctx, r.Who, nil, "many.csv", file)
		rig.Must(b, err)
		_, err = r.Desk.Records.ApplyImport(ctx, r.Who.Actor(), in.ID)
		rig.Must(b, err)
		whole += time.Since(began)

		list, err := r.Desk.Records.Locations(ctx, ledger.Scope{})
		rig.Must(b, err)
		if len(list) != rows {
			b.Fatalf("%d locations came in", len(list))
		}
		_, err = r.Store.Pool.Exec(ctx, "delete from location")
		rig.Must(b, err)
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
	b.ReportMetric(float64(rows*b.N)/whole.Seconds(), "rows/s")
	b.ReportMetric(float64(rows*b.N)/bare.Seconds(), "bare_rows/s")
	b.ReportMetric(whole.Seconds()/bare.Seconds(), "times_bare")
}

func clear5000(b *testing.B, r *rig.Rig) {
	b.Helper()
	_, err := storetest.Owner(b, r.Store).Exec(
		b.Context(),
		"alter table event disable trigger event_is_final; truncate event, location, import cascade; alter table event enable trigger event_is_final",
	)
	rig.Must(b, err)
}
