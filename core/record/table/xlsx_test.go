package table

import (
	"archive/zip"
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/xuri/excelize/v2"
)

// sheetOf writes a spreadsheet by hand, sheet by sheet.
func sheetOf(t *testing.T, fill func(f *excelize.File)) []byte {
	t.Helper()
	f := excelize.NewFile()
	defer f.Close()
	fill(f)
	var b bytes.Buffer
	if err := f.Write(&b); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

func set(t *testing.T, f *excelize.File, sheet, cell string, value any, format string) {
	t.Helper()
	if err := f.SetCellValue(sheet, cell, value); err != nil {
		t.Fatal(err)
	}
	if format == "" {
		return
	}
	style, err := f.NewStyle(&excelize.Style{CustomNumFmt: &format})
	if err == nil {
		err = f.SetCellStyle(sheet, cell, cell, style)
	}
	if err != nil {
		t.Fatal(err)
	}
}

// What a cell shows is read as what it holds: numbers in full, dates and times whatever their form.
func TestCellsOfASpreadsheet(t *testing.T) {
	data := sheetOf(t, func(f *excelize.File) {
		if _, err := f.NewSheet("Stores"); err != nil {
			t.Fatal(err)
		}
		if _, err := f.NewSheet("Hidden"); err != nil {
			t.Fatal(err)
		}
		if err := f.SetSheetVisible("Hidden", false); err != nil {
			t.Fatal(err)
		}
		set(t, f, "Sheet1", "A1", "Notes for the team", "")
		for i, h := range []string{"Name", "Phone", "Opened", "Opens", "Code", "Lat"} {
			cell, _ := excelize.CoordinatesToCellName(i+1, 3)
			set(t, f, "Stores", cell, h, "")
			set(t, f, "Hidden", cell, h, "")
		}
		set(t, f, "Stores", "A1", "Stores as of May", "")
		set(t, f, "Stores", "A4", "Shop", "")
		set(t, f, "Stores", "B4", 13605550142.0, "0.00E+00")
		set(t, f, "Stores", "C4", time.Date(1987, 5, 2, 0, 0, 0, 0, time.UTC), "m/d/yy")
		set(t, f, "Stores", "D4", 9.5/24, "h:mm AM/PM")
		set(t, f, "Stores", "E4", "0012", "")
		set(t, f, "Stores", "F4", 48.6125, "")
		set(t, f, "Stores", "A5", "Another", "")
		set(t, f, "Stores", "B5", "1.360555E+10", "")
	})
	known := func(s string) bool { return strings.Contains("name phone opened opens code lat", strings.ToLower(s)) }
	tab, err := Read(data, Options{Known: known})
	if err != nil || tab.Encoding != XLSX || tab.Sheet != "Stores" || len(tab.Rows) != 2 || tab.Rows[0].Line != 4 || len(tab.Skipped) != 1 {
		t.Fatalf("%+v, %v", tab, err)
	}
	if got := strings.Join(tab.Rows[0].Cells, "|"); got != "Shop|13605550142|1987-05-02|09:30|0012|48.6125" {
		t.Errorf("%s", got)
	}
	if got := tab.Rows[1].Cells[1]; got != "1.360555E+10" {
		t.Errorf("a text that was rounded is read as %s", got)
	}
}

// What is written comes back, and nothing of it is a formula.
func TestASpreadsheetComesBack(t *testing.T) {
	rows := [][]string{{"name", "says"}, {"=1+1", "'quoted"}, {"+360", "line\nbreak"}, {"", "Möwe"}}
	var b bytes.Buffer
	err := WriteXLSX(&b, "Locations", func(yield func([]string) bool) {
		for _, r := range rows {
			if !yield(r) {
				return
			}
		}
	})
	if err != nil {
		t.Fatal(err)
	}
	tab, err := Read(b.Bytes(), Options{})
	if err != nil || len(tab.Rows) != 3 {
		t.Fatalf("%+v, %v", tab, err)
	}
	for i, r := range tab.Rows {
		if strings.Join(r.Cells, "|") != strings.Join(rows[i+1], "|") {
			t.Errorf("%q, want %q", r.Cells, rows[i+1])
		}
	}
	z, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range z.File {
		r, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		var text bytes.Buffer
		if _, err := text.ReadFrom(r); err != nil {
			t.Fatal(err)
		}
		if strings.Contains(text.String(), "<f>") {
			t.Errorf("%s holds a formula", f.Name)
		}
	}
}

func TestAHeaderUnderATitle(t *testing.T) {
	known := func(s string) bool { return strings.Contains("name|street|town", strings.ToLower(s)) }
	for _, c := range []struct {
		file    string
		header  string
		rows    int
		skipped int
		named   bool
	}{
		{"Our shops;;\nas of May;;\nName;Street;Town\nA;1 B;C\nTotal: 1;;\n", "Name|Street|Town", 1, 2 + 1, true},
		{"A;1 Tern Street 98990;C\nB;2 Tern Street 98990;C\n", "Column 1|Column 2|Column 3", 2, 0, false},
		{"Wie;Wo\nA;B\n", "Wie|Wo", 1, 0, true},
		{"Name;Street;;;\rA;1 B;;;\r", "Name|Street", 1, 0, true},
	} {
		tab, err := Read([]byte(c.file), Options{Known: known})
		if err != nil || strings.Join(tab.Header, "|") != c.header || len(tab.Rows) != c.rows || len(tab.Skipped) != c.skipped || tab.Named != c.named {
			t.Errorf("%q: %+v, %v", c.file, tab, err)
		}
	}
}

func TestReadableAndTold(t *testing.T) {
	latin := []byte("name,town\nCaf\xe9,B\n")
	if got := Readable(latin); got[0] != Windows1252 || len(got) < 2 {
		t.Errorf("%v", got)
	}
	if tab, err := Read(latin, Options{Encoding: UTF8}); err != nil || tab.Rows[0].Cells[0] != "Caf\ufffd" {
		t.Errorf("%+v, %v", tab, err)
	}
	if _, err := Read(latin, Options{Encoding: "EBCDIC"}); err == nil {
		t.Error("an encoding that is none is taken")
	}
	if got := Readable([]byte("PK\x03\x04")); len(got) != 1 || got[0] != XLSX {
		t.Errorf("%v", got)
	}
}

func FuzzTable(f *testing.F) {
	f.Add([]byte(three))
	f.Add([]byte("\ufeffname;street\n\"a\nb\";c\n"))
	f.Add([]byte("\xff\xfea\x00,\x00b\x00\n\x00"))
	f.Fuzz(func(t *testing.T, data []byte) {
		tab, err := Read(data, Options{Known: func(s string) bool { return s == "name" }})
		if err == nil && (len(tab.Rows) == 0 || len(tab.Header) == 0) {
			t.Errorf("%q is read as %+v", data, tab)
		}
	})
}
