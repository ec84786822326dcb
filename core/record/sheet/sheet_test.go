package sheet

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"iter"
	"reflect"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	"uvent/core/record/table"
)

const three = `Business,Store Code,Name,Address,City,State,Zip,Country,Phone,Hours
Spokeshave,S1,Spokeshave Cycle Works,18 Tern Street,Minnow Bay,WA,98990,US,(360) 555-0142,Tu-Fr 09:00-18:00
Spokeshave,S2,Spokeshave Cycle Works,"4 ""Old"" Wharf",Quillcote,WA,98991,US,360-555-0143,
Spokeshave,S3,Spokeshave Cycle Works,"7 Hill Road
upper floor",Larkspur Falls,WA,98992,US,,24/7
`

func mustRead(t *testing.T, data string) table.Table {
	t.Helper()
	s, err := table.Read([]byte(data), table.Options{Known: Known})
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func TestMatchColumns(t *testing.T) {
	got := Match(
		table.Table{
			Named: true,
			Header: []string{
				"Business",
				"Store Code",
				"ADDRESS",
				"City",
				"State/Province",
				"ZIP code",
				"Tel",
				"Phone 2",
				"Mailing city",
				"Lat",
				"Colour",
				"Telephone",
				"Shop name",
			},
		},
	)
	want := []string{
		"client",
		"store_code",
		"street",
		"locality",
		"region",
		"postal_code",
		"phone",
		"phone_2",
		"mailing_locality",
		"latitude",
		"",
		"phone_3",
		"name",
	}
	if !reflect.DeepEqual(got, want) {
		t.Errorf("got %v, want %v", got, want)
	}
	header := []string{"a", "b"}
	for _, bad := range [][]string{{"name"}, {"name", "name"}, {"name", "colour"}} {
		if CheckColumns(header, bad) == nil {
			t.Errorf("%v passes", bad)
		}
	}
	if err := CheckColumns(header, []string{"name", ""}); err != nil {
		t.Error(err)
	}
	for _, f := range Fields {
		if m := Match(table.Table{Named: true, Header: []string{f.Key, f.Title}}); m[0] != f.Key {
			t.Errorf("our own column %s is matched with %q", f.Key, m[0])
		}
	}
}

func TestEachBadCellIsNamed(t *testing.T) {
	s := mustRead(t, `name,street,town,region,country,phone,phone can,hours,lat,lng,kind,category
Good,1 A St,Quillcote,WA,US,360 555 0101,voice,24/7,48.1,-122.5,premises,Bakery
Bad phone,1 A St,Quillcote,WA,US,12,,,,,,
Bad hours,1 A St,Quillcote,WA,US,,,ring the bell,,,,
Bad pin,1 A St,Quillcote,WA,US,,,,north,,,
,1 A St,Quillcote,WA,US,,,,,,,
Bad kind,1 A St,Quillcote,WA,US,,,,,,castle,
Bad abilities,1 A St,Quillcote,WA,US,360 555 0101,fax,,,,,
Two faults,,Quillcote,WA,US,,,,99,0,,Ghosts
Too many,1 A St,Quillcote,WA,US,,,,,,,,x
`)
	reader := NewReader(s.Header, Match(s))
	var got []string
	for _, row := range s.Rows {
		for _, p := range reader.Apply(row, record.Record{}).Problems {
			got = append(got, fmt.Sprintf("%d %s", p.Line, p.Column))
		}
	}
	want := []string{"3 phone", "4 hours", "5 lat", "6 name", "7 kind", "8 phone can", "9 street", "9 lat", "9 lng", "9 category", "10 "}
	if !reflect.DeepEqual(got, want) {
		t.Errorf("got %q, want %q", got, want)
	}
}

func full() record.Record {
	r, problems := record.Normal(record.Record{
		Label:       "=Old Wharf",
		StoreCode:   "-7",
		Name:        "'@Nettlewick, \"Yarns\"",
		LegalName:   "Nettlewick Yarns LLC",
		FormerNames: []string{"Wool & Co", "+Wool"},
		Kind:        record.Both,
		Address:     address.Address{Street: "18 Tern Street", Unit: "Suite B", Locality: "Port Sable", Region: "WA", PostalCode: "98990", Country: "US"},
		Mailing: record.Mailing{
			Contact: "Dov Marsh",
			Address: address.Address{Street: "2 Back Lane", Locality: "Quillcote", Region: "WA", PostalCode: "98991", Country: "US"},
		},
		Pin:        &record.Pin{Latitude: 48.123456, Longitude: -122.5},
		Phones:     []record.Phone{{E164: "+13605550142", Voice: true}, {E164: "+13605550143", Text: true}, {E164: "+13605550144"}},
		Email:      "shop@nettlewick.example",
		Website:    "https://nettlewick.example/?a=1,2",
		Category:   "yarn_shop",
		Hours:      `Tu-Fr 09:00-12:00,13:00-18:00; Sa "by appointment"`,
		Zone:       "America/Los_Angeles",
		State:      record.State{Kind: record.ClosedForATime, Until: "2027-01-31"},
		Opened:     "1987-05",
		Directions: "Past the ferry,\nthen left.",
		Parking:    "=Behind",
		Others:     []string{"knitting_classes", "craft_shop"},
		Attributes: map[string]bool{"classes": true, "delivery": false},
		Words: record.Words{
			Tagline:      "Wool, and patience",
			Short:        "Yarn.",
			Medium:       "Yarn and\n\nneedles.",
			Long:         "-",
			Story:        "It began with a sheep.",
			Keywords:     []string{"alpaca", "sock yarn"},
			Specialities: []string{"Local fleece"},
		},
	})
	if problems != nil {
		panic(fmt.Sprint(problems))
	}
	return r
}

func TestWrittenReadsBackUnchanged(t *testing.T) {
	small, problems := record.Normal(
		record.Record{Name: "Small", Kind: record.GoesToCustomers, Address: address.Address{Street: "1 A", Locality: "B", Region: "WA", Country: "US"}},
	)
	if problems != nil {
		t.Fatal(problems)
	}
	lines := []Line{{"Nettlewick Yarns", full()}, {"=cmd()", small}}
	var b bytes.Buffer
	if err := Write(&b, lines); err != nil {
		t.Fatal(err)
	}
	s := mustRead(t, b.String())
	reader := NewReader(s.Header, Match(s))
	for i, row := range s.Rows {
		for _, cell := range row.Cells {
			if cell != "" && strings.ContainsRune("=@", rune(cell[0])) {
				t.Errorf("a spreadsheet would take %q for a formula", cell)
			}
		}
		a := reader.Apply(row, record.Record{})
		got, problems := a.Record, a.Problems
		if problems != nil || !reflect.DeepEqual(got, lines[i].Record) {
			t.Errorf("row %d reads back as %+v (%v), want %+v", i, got, problems, lines[i].Record)
		}
		if client := reader.Cell(row, ClientField); client != lines[i].Client {
			t.Errorf("the client reads back as %q", client)
		}
		if again := reader.Apply(row, got); again.Problems != nil || !reflect.DeepEqual(again.Record, got) {
			t.Errorf("laid over itself the row gives %+v", again)
		}
	}
}

func TestAnEmptyCellLeavesTheFact(t *testing.T) {
	s := mustRead(t, "store code,phone,email\n-7,,new@nettlewick.example\n")
	got := NewReader(s.Header, Match(s)).Apply(s.Rows[0], full())
	want := full()
	want.Email = "new@nettlewick.example"
	if got.Problems != nil || !reflect.DeepEqual(got.Record, want) {
		t.Errorf("got %+v", got)
	}
}

func TestBadRowsComeBackToBeMended(t *testing.T) {
	s := mustRead(t, "name;street;town;country;region\nGood;1 A;B;US;WA\n;\"1; A\";B;US;WA\n")
	reader := NewReader(s.Header, Match(s))
	rest := func(yield func([]string, string) bool) {
		for _, row := range s.Rows {
			if a := reader.Apply(row, record.Record{}); a.Waits() && !yield(row.Cells, a.Problems[0].Reason) {
				return
			}
		}
	}
	var b bytes.Buffer
	write := func(header []string, rows iter.Seq2[[]string, string]) {
		b.Reset()
		out := csv.NewWriter(&b)
		out.Comma = ';'
		for cells := range Rest(header, rows) {
			if err := out.Write(cells); err != nil {
				t.Fatal(err)
			}
		}
		out.Flush()
	}
	write(s.Header, rest)
	bad := mustRead(t, b.String())
	if len(bad.Rows) != 1 || bad.Rows[0].Cells[1] != "1; A" || !strings.Contains(bad.Rows[0].Cells[5], "trading name") {
		t.Fatalf("%+v", bad)
	}
	mended := mustRead(t, strings.Replace(b.String(), "\n;", "\nMended;", 1))
	if a := NewReader(mended.Header, Match(mended)).Apply(mended.Rows[0], record.Record{}); a.Problems != nil || a.Record.Name != "Mended" {
		t.Errorf("mended, it reads as %+v", a)
	}
	write(bad.Header, func(yield func([]string, string) bool) { yield(bad.Rows[0].Cells, "still") })
	if strings.Count(b.String(), "what to mend") != 1 || !strings.HasSuffix(b.String(), ";still\n") {
		t.Errorf("the column is written twice: %s", b.String())
	}
}

func FuzzRead(f *testing.F) {
	f.Add([]byte(three))
	f.Add([]byte("\ufeffname;street\n\"a\nb\";c\n"))
	f.Add([]byte("name\tstreet\n'=x\t+1\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		s, err := table.Read(data, table.Options{Known: Known})
		if err != nil {
			return
		}
		reader := NewReader(s.Header, Match(s))
		for _, row := range s.Rows {
			a := reader.Apply(row, record.Record{})
			if a.Waits() {
				continue
			}
			r := a.Record
			var b bytes.Buffer
			if err := Write(&b, []Line{{"x", r}}); err != nil {
				t.Fatal(err)
			}
			back, err := table.Read(b.Bytes(), table.Options{Known: Known})
			if err != nil {
				t.Fatalf("%q: %v", b.String(), err)
			}
			again := NewReader(back.Header, Match(back)).Apply(back.Rows[0], record.Record{})
			if again.Problems != nil || !reflect.DeepEqual(again.Record, r) {
				t.Fatalf("%+v comes back as %+v", r, again)
			}
		}
	})
}
