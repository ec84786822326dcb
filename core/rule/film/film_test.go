package film

import (
	"encoding/binary"
	"math"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

func pack(kind string, parts ...[]byte) []byte {
	var body []byte
	for _, p := range parts {
		body = append(body, p...)
	}
	return append(append(binary.BigEndian.AppendUint32(nil, uint32(8+len(body))), kind...), body...)
}

func words(n ...uint32) (out []byte) {
	for _, v := range n {
		out = binary.BigEndian.AppendUint32(out, v)
	}
	return out
}

// mp4 is a film of so many seconds, put together of some stretches.
func mp4(seconds uint32, stretches int, kind string) []byte {
	list := words(0, uint32(1+stretches), 500, 0xffffffff, 0x10000) // a delay first
	for range stretches {
		list = append(list, words(600, 1200, 0x10000)...)
	}
	return append(pack("ftyp", []byte("isomisom\x00\x00\x00\x00")), pack("moov",
		pack("mvhd", words(0, 0, 0, 600, seconds*600), make([]byte, 80)),
		pack("trak", pack("edts", pack("elst", list)), pack("mdia", pack("hdlr", words(0, 0), []byte(kind), make([]byte, 12)))))...)
}

func part(id uint32, body []byte) []byte {
	var out []byte
	for shift := 24; shift >= 0; shift -= 8 {
		if b := byte(id >> shift); len(out) > 0 || b != 0 {
			out = append(out, b)
		}
	}
	return append(append(out, 0x08, 0, 0, 0, byte(len(body))), body...)
}

func webm(milliseconds float64) []byte {
	long := binary.BigEndian.AppendUint64(nil, math.Float64bits(milliseconds))
	return append(part(idEBML, nil), part(idSegment, part(idInfo, append(part(idScale, []byte{0x0f, 0x42, 0x40}), part(idDuration, long)...)))...)
}

func TestRead(t *testing.T) {
	long := mp4(90, 1, "vide")
	for _, c := range []struct {
		name    string
		data    []byte
		seconds float64
		takes   int
		says    string
	}{
		{"an MP4", long, 90, 1, ""}, {"an MP4 of three stretches", mp4(30, 3, "vide"), 30, 3, ""}, {"sound", mp4(30, 1, "soun"), 0, 0, "only sound"},
		{"an MP4 cut short", long[:60], 0, 0, "damaged or cut short"}, {"a WebM", webm(61_500), 61.5, 1, ""}, {"two WebMs in one file", append(webm(1000), webm(2000)...), 3, 2, ""},
		{"a WebM of no length", part(idEBML, nil), 0, 0, "damaged"}, {"a photo", []byte("\xff\xd8\xff\xe0 and so on, much longer"), 0, 0, "Videos are MP4 or WebM."}, {"nothing", nil, 0, 0, "no video"},
		{"too much", make([]byte, MostBytes+1), 0, 0, "up to 40 MB"},
	} {
		f, err := Read(c.data)
		if (err == nil) != (c.says == "") || err != nil && !strings.Contains(err.Error(), c.says) || math.Abs(f.Seconds-c.seconds) > 1e-9 || f.Takes != c.takes {
			t.Errorf("%s: %+v, %v", c.name, f, err)
		}
	}
}

// Whatever comes in, it is a film of some length or a refusal.
func FuzzRead(f *testing.F) {
	f.Add(mp4(90, 2, "vide"))
	f.Add(webm(61_500))
	f.Add(mp4(3, 1, "soun")[:70])
	f.Fuzz(func(t *testing.T, data []byte) {
		film, err := Read(data)
		if err == nil && (film.Takes < 1 || film.Seconds < 0 || math.IsNaN(film.Seconds)) {
			t.Errorf("%+v", film)
		}
	})
}

func TestDoubts(t *testing.T) {
	rule := rulebook.Film{MostSeconds: 120, Shows: []string{"street", "sign", "inside"}}
	good := Shown{Format: MP4, Seconds: 80, Takes: 1, Seen: Seen{At: map[string]int{"street": 2, "sign": 20, "inside": 55}, Private: true}}
	if d := good.Doubts(rule); d != nil {
		t.Errorf("%q", d)
	}
	for says, spoil := range map[string]func(*Shown){
		"takes 2 minutes 30 seconds; up to 2 minutes is looked at": func(s *Shown) { s.Seconds = 150 },
		"not one take":                               func(s *Shown) { s.Takes = 2 },
		"not said where it shows the sign":           func(s *Shown) { s.Seen.At = map[string]int{"street": 2, "inside": 55} },
		"ends before second 90":                      func(s *Shown) { s.Seen.At = map[string]int{"street": 2, "sign": 20, "inside": 90} },
		"Nobody has said that nothing private is in": func(s *Shown) { s.Seen.Private = false },
	} {
		bad := good
		spoil(&bad)
		if d := bad.Doubts(rule); len(d) != 1 || !strings.Contains(d[0], says) {
			t.Errorf("%q, want %q", d, says)
		}
	}
}

func TestShots(t *testing.T) {
	rule := rulebook.Film{MostSeconds: 120, Shows: []string{"street", "sign", "inside"}}
	r := record.Record{Name: "Mossback", Kind: record.GoesToCustomers, Category: "chimney_sweep", Address: address.Address{Street: "4 Alder Way"}}
	say := func() string {
		var out strings.Builder
		for _, s := range Shots(r, rule) {
			out.WriteString(s.Title + ". " + s.How + "\n")
		}
		return out.String()
	}
	if s := say(); !strings.Contains(s, "van") || !strings.Contains(s, "ladders, brushes") || !strings.Contains(s, "Up to 2 minutes, without a pause") {
		t.Errorf("a business that goes to its customers films\n%s", s)
	}
	r.Kind, r.Category = record.Premises, "bicycle_repair"
	if s := say(); !strings.Contains(s, "the number of 4 Alder Way") || !strings.Contains(s, "the stand, wheels and tools") {
		t.Errorf("a workshop films\n%s", s)
	}
	rule.Shows = []string{"sign"}
	if n := len(Shots(r, rule)); n != 3 {
		t.Errorf("%d shots for a directory that wants the sign", n)
	}
}
