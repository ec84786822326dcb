package table

import (
	"bytes"
	"encoding/binary"
	"encoding/csv"
	"reflect"
	"strings"
	"testing"
	"unicode/utf16"

	"golang.org/x/text/encoding/charmap"
)

const three = `Business,Store Code,Name,Address,City,State,Zip,Country,Phone,Hours
Spokeshave,S1,Spokeshave Cycle Works,18 Tern Street,Minnow Bay,WA,98990,US,(360) 555-0142,Tu-Fr 09:00-18:00
Spokeshave,S2,Spokeshave Cycle Works,"4 ""Old"" Wharf",Quillcote,WA,98991,US,360-555-0143,
Spokeshave,S3,Spokeshave Cycle Works,"7 Hill Road
upper floor",Larkspur Falls,WA,98992,US,,24/7
`

// theirs is a file as a client sends it.
const theirs = "Shop;Code;Town\nCafé Möwe;'0012;Minnow Bay\nBrindle;7;Wexcombe\nShop;Code;Town\n;;\nRookery;8;Quillcote\nFalk;9;Wiekhafen\nTotal;4;\n"

func must(t *testing.T, data string) Table {
	t.Helper()
	s, err := Read([]byte(data), Options{})
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func TestReadEveryDialect(t *testing.T) {
	want := must(t, three)
	if len(want.Rows) != 3 || want.Rows[2].Line != 4 || want.Rows[1].Cells[3] != `4 "Old" Wharf` {
		t.Fatalf("%+v", want)
	}
	records, err := csv.NewReader(strings.NewReader(three)).ReadAll()
	if err != nil {
		t.Fatal(err)
	}
	for _, delimiter := range []rune{',', ';', '\t', '|'} {
		for _, mark := range []string{"", "\ufeff"} {
			for _, crlf := range []bool{false, true} {
				var b bytes.Buffer
				b.WriteString(mark)
				w := csv.NewWriter(&b)
				w.Comma, w.UseCRLF = delimiter, crlf
				if err := w.WriteAll(records); err != nil {
					t.Fatal(err)
				}
				got := must(t, b.String())
				if got.Delimiter != delimiter || !reflect.DeepEqual(got.Header, want.Header) || !reflect.DeepEqual(got.Rows, want.Rows) {
					t.Errorf("%q, mark %v, CRLF %v: %+v", delimiter, mark != "", crlf, got)
				}
			}
		}
	}
}

func TestRefused(t *testing.T) {
	for _, c := range []struct {
		name, data, says string
		line             int
	}{
		{"empty", "", "empty", 0}, {"blank", "\n\n  \n", "empty", 0}, {"header alone", "name,street\n", "no rows", 0},
		{"zero byte", "name\na\x00b\n", "zero byte", 2},
		{"a spreadsheet", "PK\x03\x04....", "cannot be read as one", 0}, {"open quote", "name,street\nx,\"18 Tern\n", "not closed", 2},
		{"too many rows", "a\n" + strings.Repeat("x\n", MostRows+1), "split it", MostRows + 2},
	} {
		_, err := Read([]byte(c.data), Options{})
		bad, ok := err.(*Error)
		if !ok || !strings.Contains(bad.Message, c.says) || c.line > 0 && bad.Line < c.line {
			t.Errorf("%s: %v, want %q at line %d", c.name, err, c.says, c.line)
		}
	}
}

func in16(text string, order binary.ByteOrder, mark bool) []byte {
	var b bytes.Buffer
	units := utf16.Encode([]rune(text))
	if mark {
		units = append([]uint16{0xfeff}, units...)
	}
	for _, u := range units {
		binary.Write(&b, order, u)
	}
	return b.Bytes()
}

// However a spreadsheet writes it, it is the same table.
func TestEachEncodingIsTheSameTable(t *testing.T) {
	text := theirs
	latin, err := charmap.Windows1252.NewEncoder().String(text)
	if err != nil {
		t.Fatal(err)
	}
	for as, data := range map[Encoding][]byte{UTF8: []byte("\ufeff" + text), Windows1252: []byte(latin), UTF16LE: in16(text, binary.LittleEndian, true), UTF16BE: in16(text, binary.BigEndian, true)} {
		s, err := Read(data, Options{})
		if err != nil || s.Encoding != as || s.Delimiter != ';' || len(s.Rows) != 4 || s.Rows[0].Cells[0] != "Café Möwe" {
			t.Errorf("%s: %+v, %v", as, s, err)
		}
	}
	for _, order := range []binary.ByteOrder{binary.LittleEndian, binary.BigEndian} {
		if s, err := Read(in16(text, order, false), Options{}); err != nil || len(s.Rows) != 4 {
			t.Errorf("without a mark: %+v, %v", s, err)
		}
	}
	if s, err := Read([]byte("name,street\nx,4 \"Old\" Wharf\n"), Options{}); err != nil || s.Rows[0].Cells[1] != `4 "Old" Wharf` {
		t.Errorf("a quote inside a cell: %+v, %v", s, err)
	}
}
