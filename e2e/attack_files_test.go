//go:build proofs

package e2e

import (
	"archive/zip"
	"bytes"
	"compress/gzip"
	"compress/zlib"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/gif"
	"io"
	"os"
	"strings"
	"testing"

	"uvent/core/fact/photo"
	"uvent/core/record/record"
	"uvent/core/record/sheet"
	"uvent/demo/paint"
	"uvent/e2e/rig"
)

// hostile is a file that was made to break whatever reads it.
type hostile struct {
	name string
	data []byte
}

// hostileFiles are files of each format in each kind of disrepair, and some that were made with care.
func hostileFiles(t *testing.T) (out []hostile) {
	for name, data := range soundFiles(t) {
		half, flipped, huge := len(data)/2, bytes.Clone(data), bytes.Clone(data)
		for i := 7; i < len(flipped); i += 97 {
			flipped[i] ^= 0x55
		}
		for i := 8; i+4 <= min(len(huge), 200); i += 4 { // lengths, where they stand near the beginning
			binary.BigEndian.PutUint32(huge[i:], 0xfffffff0)
		}
		ext := name[strings.LastIndexByte(name, '.'):]
		for what, bad := range map[string][]byte{
			"cut to its head": data[:min(16, len(data))], "cut in half": data[:half], "cut at its end": data[:len(data)-1], "flipped": flipped, "with huge lengths": huge,
			"twice over": append(bytes.Clone(data), data...), "with a tail": append(bytes.Clone(data), make([]byte, 1<<20)...), "behind noise": append(bytes.Repeat([]byte{0xa7}, 600), data...),
			"with a hole": append(append(bytes.Clone(data[:half]), make([]byte, 4096)...), data[half:]...), "backwards": backwards(data), "in gzip": gzipped(data),
		} {
			out = append(out, hostile{name[:len(name)-len(ext)] + " " + what + ext, bad})
		}
	}
	return append(out, madeFiles()...)
}

// soundFiles are files that are taken, one of each format.
func soundFiles(t *testing.T) map[string][]byte {
	img := image.NewNRGBA(image.Rect(0, 0, 800, 600))
	out := map[string][]byte{
		"letter.pdf": paint.Letter("Sound County Electric", "Spokeshave Cycle Works LLC"), "places.csv": []byte("client,label,name\nA,B,C\n"),
		"area.geojson": []byte(`{"type":"FeatureCollection","features":[]}`), "map.osm": []byte(`<osm version="0.6"><node id="1" lat="48" lon="-122"/></osm>`),
		"book.yaml": []byte("id: x\nname: X\n"), "page.html": []byte("<h1>X</h1>"),
		"movie.mp4": rig.Take(t, 60),
	}
	for _, f := range []photo.Format{photo.JPEG, photo.PNG} {
		data, err := photo.Encode(img, f)
		rig.Must(t, err)
		out["front."+string(f)] = data
	}
	for _, file := range []string{"../core/fact/extract/testdata/reach.osm.pbf", "../core/fact/photo/testdata/phone.heic"} {
		data, err := os.ReadFile(file)
		rig.Must(t, err)
		out["sound"+file[strings.LastIndexByte(file, '.'):]] = data
	}
	var b bytes.Buffer
	rig.Must(t, gif.Encode(&b, img, nil))
	out["front.gif"] = bytes.Clone(b.Bytes())
	b.Reset()
	rig.Must(t, sheet.WriteXLSX(&b, []sheet.Line{{Client: "A", Record: record.Record{Label: "B", Name: "C"}}}))
	out["places.xlsx"] = b.Bytes()
	return out
}

// madeFiles are small files that stand for much, or hold what they should not.
func madeFiles() []hostile {
	deep := strings.Repeat("<a>", 100_000)
	return []hostile{
		{
			"pages of pages.pdf",
			[]byte(
				"%PDF-1.4\n1 0 obj\n<< /Type /Catalog /Pages 2 0 R >>\nendobj\n2 0 obj\n<< /Type /Pages /Kids [2 0 R 2 0 R] /Count 2 >>\nendobj\ntrailer << /Root 1 0 R >>\n%%EOF\n",
			),
		},
		{"inflating.pdf", inflatingPDF(1000, 2)},
		{"inflating once.pdf", inflatingPDF(5000, 1)},
		{
			"million pages.pdf",
			[]byte(
				"%PDF-1.4\n1 0 obj\n<< /Type /Catalog /Pages 2 0 R >>\nendobj\n2 0 obj\n<< /Type /Pages /Kids [] /Count 1000000 >>\nendobj\ntrailer << /Root 1 0 R >>\n%%EOF\n",
			),
		},
		{"deep.pdf", []byte("%PDF-1.4\n1 0 obj\n" + strings.Repeat("[", 100_000) + "\nendobj\n")},
		{"script.pdf", []byte("%PDF-1.4\n1 0 obj\n<< /Type /Catalog /OpenAction << /S /JavaScript /JS (app.alert(1)) >> >>\nendobj\n")},
		{"huge.png", claimed(60_000, 60_000)},
		{"wide.png", claimed(1<<30, 1)},
		{"nothing.png", claimed(0, 0)},
		{"frames.gif", frames(20_000)},
		{"huge.gif", []byte("GIF89a\xff\xff\xff\xff\x80\x00\x00\x00\x00\x00\xff\xff\xff,\x00\x00\x00\x00\xff\xff\xff\xff\x00\x08")},
		{
			"huge.webp",
			[]byte("RIFF\xff\xff\xff\x7fWEBPVP8L\xff\xff\xff\x7f\x2f\xff\xff\xff\xff"),
		},
		{"huge.tiff", []byte("II*\x00\x08\x00\x00\x00\xff\xff" + strings.Repeat("\x00\x01\x04\x00\xff\xff\xff\xff\x08\x00\x00\x00", 50))},
		{"huge.heic", []byte("\x00\x00\x00\x18ftypheic\x00\x00\x00\x00heicmif1" + strings.Repeat("\xff\xff\xff\xffmeta", 50))},
		{"huge.avif", []byte("\x00\x00\x00\x18ftypavif\x00\x00\x00\x00avifmif1" + strings.Repeat("\x00\x00\x00\x01mdat\xff\xff\xff\xff\xff\xff\xff\xff", 50))},
		{"boxes in boxes.mp4", []byte("\x00\x00\x00\x18ftypmp42\x00\x00\x00\x00mp42isom" + strings.Repeat("\x00\x00\x00\x00moov", 5000))},
		{"scripted.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>`)},
		{"entities.svg", []byte(laughs("svg"))},
		{
			"entities.osm",
			[]byte(laughs("osm")),
		},
		{"deep.osm", []byte("<osm>" + deep)},
		{"outward.osm", []byte(`<!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/passwd">]><osm>&a;</osm>`)},
		{"huge.pbf", []byte("\x7f\xff\xff\xff\x0a\x09OSMHeader\x18\xff\xff\xff\xff\x0f")},
		{"inflating.pbf", blob()},
		{"inflating.xlsx", packed("xl/worksheets/sheet1.xml", 3000)},
		{"strings.xlsx", packed("xl/sharedStrings.xml", 3000)},
		{"many.xlsx", parts(60_000)},
		{"outward.xlsx", named("../../../etc/cron.d/x")},
		{"entities.xlsx", one("xl/workbook.xml", laughs("workbook"))},
		{"deep.xlsx", one("xl/workbook.xml", deep)},
		{"quotes.csv", []byte(strings.Repeat(`"`, 1<<20))},
		{"one line.csv", bytes.Repeat([]byte("x"), 8<<20)},
		{"columns.csv", bytes.Repeat([]byte(","), 1<<20)},
		{
			"rows.csv",
			bytes.Repeat([]byte("a\n"), 2<<20),
		},
		{"formulas.csv", []byte("client,label,name\n=cmd|' /C calc'!A0,@SUM(1),+1\n")},
		{"nul.csv", []byte("client,label\na\x00b,c\n")},
		{"utf16.csv", []byte("\xff\xfec\x00l\x00\x00\xd8\x00\xd8")},
		{"deep.geojson", []byte(strings.Repeat(`{"type":"FeatureCollection","features":[`, 50_000))},
		{"points.geojson", []byte(`{"type":"Polygon","coordinates":[[` + strings.Repeat("[0,0],", 200_000) + `[0,0]]]}`)},
		{
			"nothing.pdf",
			nil,
		},
		{"a\u202efdp.exe", []byte("MZ")},
		{"..\\..\\x.pdf", []byte("%PDF-1.4")},
		{strings.Repeat("long", 500) + ".jpg", []byte("\xff\xd8\xff\xe0")},
	}
}

func backwards(data []byte) []byte {
	out := make([]byte, len(data))
	for i, b := range data {
		out[len(data)-1-i] = b
	}
	return out
}

func gzipped(data []byte) []byte {
	var b bytes.Buffer
	w := gzip.NewWriter(&b)
	_, _ = w.Write(data)
	_ = w.Close()
	return b.Bytes()
}

// inflatingPDF has a page whose text comes to so many times 230 kB, deflated so many times.
func inflatingPDF(times, deflated int) []byte {
	var b bytes.Buffer
	var to io.WriteCloser = zlib.NewWriter(&b)
	all := []io.Closer{to}
	for range deflated - 1 {
		to = zlib.NewWriter(to)
		all = append([]io.Closer{to}, all...)
	}
	text := []byte(strings.Repeat("BT /F 12 Tf (x) Tj ET\n", 10_000))
	for range times {
		_, _ = to.Write(text)
	}
	for _, c := range all {
		_ = c.Close()
	}
	return fmt.Appendf(nil, "%%PDF-1.4\n1 0 obj\n<< /Type /Catalog /Pages 2 0 R >>\nendobj\n2 0 obj\n<< /Type /Pages /Kids [3 0 R] /Count 1 >>\nendobj\n"+
		"3 0 obj\n<< /Type /Page /Parent 2 0 R /MediaBox [0 0 600 800] /Contents 4 0 R >>\nendobj\n"+
		"4 0 obj\n<< /Length %d /Filter [%s] >>\nstream\n%s\nendstream\nendobj\ntrailer << /Root 1 0 R >>\n%%%%EOF\n", b.Len(), strings.Repeat("/FlateDecode ", deflated), b.Bytes())
}

// claimed is a PNG of a few kilobytes that says that it has so many pixels.
func claimed(width, height uint32) []byte {
	head := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32([]byte("IHDR"), width), height)
	head = append(head, 8, 6, 0, 0, 0)
	out := binary.BigEndian.AppendUint32([]byte("\x89PNG\r\n\x1a\n"), 13)
	return append(binary.BigEndian.AppendUint32(append(out, head...), crc32.ChecksumIEEE(head)), make([]byte, 3000)...)
}

// frames is a GIF of so many pictures of a thousand by a thousand.
func frames(n int) []byte {
	out := []byte("GIF89a\xe8\x03\xe8\x03\x80\x00\x00\x00\x00\x00\xff\xff\xff")
	return append(append(out, bytes.Repeat([]byte(",\x00\x00\x00\x00\xe8\x03\xe8\x03\x00\x02\x02D\x01\x00"), n)...), ';')
}

// laughs are entities of entities.
func laughs(root string) string {
	out := "<?xml version=\"1.0\"?><!DOCTYPE x [<!ENTITY a0 \"ha\">"
	for i := 1; i < 30; i++ {
		out += fmt.Sprintf("<!ENTITY a%d \"%s\">", i, strings.Repeat(fmt.Sprintf("&a%d;", i-1), 10))
	}
	return out + "]><" + root + ">&a29;</" + root + ">"
}

// packed is a spreadsheet of which one part comes to so many times 100 kB.
func packed(name string, times int) []byte {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	w, _ := z.Create(name)
	chunk := []byte(strings.Repeat("<si><t>x</t></si><row><c><v>1</v></c></row>", 2500))
	for range times {
		_, _ = w.Write(chunk)
	}
	_ = z.Close()
	return b.Bytes()
}

func parts(n int) []byte {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for i := range n {
		_, _ = z.Create(fmt.Sprintf("xl/worksheets/sheet%d.xml", i))
	}
	_ = z.Close()
	return b.Bytes()
}

func named(name string) []byte { return one(name, "x") }

func one(name, text string) []byte {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	w, _ := z.Create(name)
	_, _ = io.WriteString(w, text)
	_ = z.Close()
	return b.Bytes()
}

// blob is a part of an OpenStreetMap extract that inflates to a gigabyte.
func blob() []byte {
	var z bytes.Buffer
	w := zlib.NewWriter(&z)
	zeros := make([]byte, 1<<20)
	for range 1000 {
		_, _ = w.Write(zeros)
	}
	_ = w.Close()
	body := append([]byte{0x10, 0x80, 0x80, 0x80, 0xf4, 0x03, 0x1a}, binary.AppendUvarint(nil, uint64(z.Len()))...)
	body = append(body, z.Bytes()...)
	head := append([]byte("\x0a\x09OSMHeader\x18"), binary.AppendUvarint(nil, uint64(len(body)))...)
	return append(append(binary.BigEndian.AppendUint32(nil, uint32(len(head))), head...), body...)
}
