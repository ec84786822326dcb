package e2e

import (
	"bytes"
	"encoding/binary"
	"encoding/csv"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"unicode/utf16"

	"github.com/chromedp/chromedp/kb"
	"golang.org/x/text/encoding/charmap"

	"uvent/core/record/bring"
	"uvent/core/record/table"
	"uvent/desk/imports"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
)

// partners is a file as a client sends it: three countries, 41 rows that are businesses, and what else such files hold.
func partners(t *testing.T) string {
	t.Helper()
	text, err := os.ReadFile("testdata/partners.csv")
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

// written is a file in each of the encodings that spreadsheets write.
func written(t *testing.T, text string) map[table.Encoding][]byte {
	t.Helper()
	latin, err := charmap.Windows1252.NewEncoder().String(text)
	if err != nil {
		t.Fatal(err)
	}
	wide := []byte{0xff, 0xfe}
	for _, unit := range utf16.Encode([]rune(text)) {
		wide = binary.LittleEndian.AppendUint16(wide, unit)
	}
	in := csv.NewReader(strings.NewReader(text))
	in.Comma, in.FieldsPerRecord = ';', -1
	rows, err := in.ReadAll()
	if err != nil {
		t.Fatal(err)
	}
	var sheet bytes.Buffer
	err = table.WriteXLSX(&sheet, "Stores", func(yield func([]string) bool) {
		for _, r := range rows {
			if !yield(r) {
				return
			}
		}
	})
	if err != nil {
		t.Fatal(err)
	}
	return map[table.Encoding][]byte{table.UTF8: []byte("\ufeff" + text), table.UTF16LE: wide, table.Windows1252: []byte(latin), table.XLSX: sheet.Bytes()}
}

// However it is written, nine of ten rows need nothing.
func TestMostRowsOfAClientsFileNeedNothing(t *testing.T) {
	r := rig.Start(t)
	for as, data := range written(t, partners(t)) {
		in, err := r.Desk.Imports.Start(t.Context(), r.Who, nil, "partners", data)
		rig.Must(t, err)
		fmt.Printf("a client's file in %s: %d of %d rows need nothing, %d are a guess, %d come in without a cell, %d wait\n",
			as, in.Counts.Fine, in.Counts.Rows, in.Counts.Guessed, in.Counts.Without, in.Counts.By[bring.Waits])
		if in.Encoding != as || in.Counts.Rows != 40 || 10*in.Counts.Fine < 9*in.Counts.Rows || len(in.Skipped) != 3 {
			t.Errorf("%s: %+v", as, in)
		}
	}
}

// A client's file comes in whole without leaving the screen: guesses taken, cells mended, a name typed, all by key
// where one would; it is taken back, and brought in again.
func TestAClientsFileComesInWhole(t *testing.T) {
	s := open(t)
	file := filepath.Join(t.TempDir(), "partners FINAL (2).csv")
	s.do(os.WriteFile(file, written(t, partners(t))[table.Windows1252], 0o600))
	s.do(s.Open(s.at("/record/import")), s.See("Choose a file"), s.Upload("file", file))
	s.do(
		s.See("Bringing in “partners FINAL (2).csv”"),
		s.See("43 rows: 39 come in, 1 waits, 3 are no business. Nothing is in yet."),
		s.See("Read as windows-1252, semicolons"),
		s.See("1 cell says “Coffee”"),
		s.See("12 cells say “USA” United States"),
	)
	// The guess, by its key; then the cells that could not be read.
	s.do(s.Leave(), s.Key("t"), s.NotSee("1 cell says “Coffee”"))
	s.do(s.Press("Mend", "1.360555E+10"), s.Type("Phone of 1 cell", "360 555 0150"), s.Key(kb.Enter), s.NotSee("1 cell says “1.360555E+10”"))
	s.do(s.Press("Come in without a cell 1"), s.See("Tallow Candle Co"), s.Press("Opening hours: left out, the file says ring the bell"))
	s.do(s.Type("Opening hours of line 29", "Mon-Fri 10-4"), s.Key(kb.Enter), s.See("There is no such row."))
	// Undone, and done again.
	s.do(s.Press("Undo"), s.See("Tallow Candle Co"), s.See("left out"))
	s.do(s.Press("Opening hours: left out, the file says ring the bell"), s.Type("Opening hours of line 29", "Mon-Fri 10-4"), s.Key(kb.Enter))
	s.do(
		s.See("There is no such row."),
		s.Press("Waits 1"),
		s.See("Fischerstieg 4"),
		s.Press("Name: left out"),
		s.Type("Name of line 44", "Fischbude Nord"),
		s.Key(kb.Enter),
	)
	s.do(s.See("40 come in, 3 are no business."), s.Press("All 40"))
	// The tab closes, and nothing is lost.
	here := now[string](s, `location.href`)
	s.do(s.Open("about:blank"), s.Open(here), s.See("40 come in, 3 are no business."))
	s.do(s.Leave(), s.Key("s"), s.See("“partners FINAL (2).csv” is in"), s.See("43 rows: 40 are in, 3 are no business."))
	list, err := s.rig.Desk.Records.Locations(t.Context(), ledger.Scope{})
	if s.do(err); len(list) != 40 {
		t.Fatalf("%d are in", len(list))
	}
	for _, l := range list {
		if l.Record.Name == "Tallow Candle Co" && l.Record.Hours != "Mo-Fr 10:00-16:00" ||
			l.Record.Name == "Rookery Tyres" && l.Record.MainPhone() != "+13605550150" {
			t.Errorf("%+v", l.Record)
		}
	}
	s.do(s.Press("Take back"), s.See("40 come in"), s.See("Nothing is in yet."))
	if list, err := s.rig.Desk.Records.Locations(t.Context(), ledger.Scope{}); err != nil || len(list) != 0 {
		t.Errorf("%d are left, %v", len(list), err)
	}
	s.do(s.Press("Bring in 40"), s.See("is in"), s.Press("See the locations"), s.See("40 locations"))
}

// A row that may be ours is decided by key, with what we have beside it.
func TestARowThatMayBeOurs(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	file := "Business;Code;Name;Street;Town;State;Zip;Country;Phone;Hours\n" +
		"Client of Minnow Bay;B-7;Spokeshave Cycles;18 Tern St;Minnow Bay;WA;98990;USA;360.555.0142;Tue-Sat 10-18\n" +
		"Client of Minnow Bay;B-8;Spokeshave Cycles;18 Tern St;Minnow Bay;WA;98990;USA;360.555.0142;Tue-Sat 10-18\n"
	in, err := s.rig.Desk.Imports.Start(t.Context(), s.rig.Who, nil, "shops.csv", []byte(file))
	s.do(err, s.Open(s.at("/record/import/"+in.ID.String())), s.See("1 is for you to decide"), s.See("Probably"), s.See("The same ="))
	s.do(s.Leave(), s.Key("j"), s.Key("+"), s.See("Bring in 2"), s.See("Kept."), s.Key("u"), s.See("1 is for you to decide"), s.See("Probably line 2 again"))
	s.do(s.Leave(), s.Key("j"), s.Key("-"), s.See("1 is left out"))
	s.do(s.Press("Bring in 1"), s.See("shops.csv” is in"), s.See("1 of them changed ours."))
	l, err := s.rig.Desk.Ledger.Location(t.Context(), at.Location)
	if s.do(err); l.Record.StoreCode != "B-7" || l.Record.Hours != "Tu-Sa 10:00-18:00" {
		t.Errorf("%+v", l.Record)
	}
	if got, err := s.rig.Desk.Imports.Import(t.Context(), in.ID); err != nil || got.State != imports.In || got.Counts.In != 1 {
		t.Errorf("%+v, %v", got, err)
	}
}
