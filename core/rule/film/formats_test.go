package film

import (
	"encoding/binary"
	"strings"
	"testing"

	"uvent/core/rule/rulebook"
)

// movie is an MP4 whose parts are given, behind the header that all have.
func movie(parts ...[]byte) []byte {
	return append(pack("ftyp", []byte("isomisom\x00\x00\x00\x00")), pack("moov", parts...)...)
}

// Headers with 64-bit times and sizes, a box to the end of the file, and boxes that break off.
func TestBoxesOfEachKind(t *testing.T) {
	track := pack("trak", pack("mdia", pack("hdlr", words(0, 0), []byte("vide"), make([]byte, 12))))
	long := pack("mvhd", []byte{1, 0, 0, 0}, make([]byte, 16), words(600, 0, 600*45), make([]byte, 80))
	short := pack("mvhd", words(0, 0, 0, 600, 600*45))
	wide := append(append(words(1), "free"...), binary.BigEndian.AppendUint64(nil, 16)...)
	toEnd := append(append(words(0), "moov"...), append(short[:len(short):len(short)], track...)...)
	edits := func(version byte, list []byte) []byte {
		return pack("trak", pack("edts", pack("elst", []byte{version, 0, 0, 0}, list)), pack("mdia", pack("hdlr", words(0, 0), []byte("vide"))))
	}
	for _, c := range []struct {
		name  string
		data  []byte
		takes int // 0: it is damaged
	}{
		{"times of 32 bits", movie(short, track), 1},
		{"times of 64 bits", movie(long, track), 1},
		{"a box of a 64-bit size", movie(wide, short, track), 1},
		{"a box to the end", append(pack("ftyp", []byte("isomisom\x00\x00\x00\x00")), toEnd...), 1},
		{"edits of 64 bits, with a delay", movie(short, edits(1, words(3, 0, 5, 0xffffffff, 0xffffffff, 1, 0, 5, 0, 9, 1, 0, 5, 0, 20, 1))), 2},
		{"an edit list that holds nothing", movie(short, edits(0, nil)), 1},
		{"a header of the movie that breaks off", movie(pack("mvhd", words(0, 0, 0, 600)), track), 0},
		{"a header of 64 bits that breaks off", movie(pack("mvhd", []byte{1, 0, 0, 0}, make([]byte, 16), words(600, 0)), track), 0},
		{"a clock that stands still", movie(pack("mvhd", words(0, 0, 0, 0, 600*45)), track), 0},
		{"a box that is smaller than its head", movie(short, track, append(words(7), "free"...)), 0},
		{"a box of 64 bits without its size", movie(short, track, append(words(1), "free"...)), 0},
		{"seven bytes more", movie(short, track, make([]byte, 7)), 0},
		{"a track that breaks off", movie(short, pack("trak", []byte{0, 0, 0})), 0},
	} {
		f, err := Read(c.data)
		if (err == nil) != (c.takes > 0) || err == nil && (f.Takes != c.takes || f.Seconds != 45) {
			t.Errorf("%s: %+v, %v", c.name, f, err)
		}
	}
	for _, head := range [][]byte{[]byte("\x00\x00\x00\x0cftypisom"), {0x1a, 0x45, 0xdf, 0xa3}} {
		if _, err := Read(head); err == nil || !strings.Contains(err.Error(), "no video") {
			t.Errorf("%q is read: %v", head, err)
		}
	}
}

// Chapters that are put in an order of their own are takes; those in the film's order are not.
func TestChaptersPutTogether(t *testing.T) {
	atoms := func(n int) (out []byte) {
		for range n {
			out = append(out, part(idAtom, []byte{0})...)
		}
		return out
	}
	film := func(edition uint32, ordered byte, n int) []byte {
		body := part(edition, append(part(idOrdered, []byte{ordered}), atoms(n)...))
		info := part(idInfo, part(idDuration, []byte{0x45, 0x7a, 0, 0})) // 4000 milliseconds, in 32 bits
		return append(part(idEBML, nil), part(idSegment, append(info, part(idChapters, body)...))...)
	}
	for _, c := range []struct {
		data  []byte
		takes int
	}{
		{film(idEdition, 1, 3), 3}, {film(idEdition, 1, 1), 1}, {film(idEdition, 1, 0), 1}, {film(idEdition, 0, 3), 1}, {film(0x45ba, 1, 3), 1},
	} {
		if f, err := Read(c.data); err != nil || f.Takes != c.takes || f.Seconds != 4 {
			t.Errorf("%+v, %v; want %d takes", f, err, c.takes)
		}
	}
	if f, err := Read(append(part(idEBML, nil), part(idSegment, part(idInfo, part(idDuration, make([]byte, 8))))...)); err == nil {
		t.Errorf("a film that lasts no time is read: %+v", f)
	}
}

// What just keeps within the rule is not minded.
func TestNoDoubtAtTheLimit(t *testing.T) {
	rule := rulebook.Film{MostSeconds: 60, Shows: []string{"sign"}}
	shown := Shown{Format: MP4, Seconds: 60, Takes: 1, Seen: Seen{At: map[string]int{"sign": 60}, Private: true}}
	if d := shown.Doubts(rule); d != nil || !shown.There() || (Shown{}).There() {
		t.Errorf("%q", d)
	}
	if shown.Seconds = 3600; len(shown.Doubts(rulebook.Film{})) != 0 {
		t.Error("where no length is asked, a long one is minded")
	}
	if d := shown.Doubts(rule); len(d) != 1 || !strings.HasPrefix(d[0], "The video takes 60 minutes; up to 1 minute is looked at.") {
		t.Errorf("%q", d)
	}
	if got := long(61); got != "1 minute 1 second" {
		t.Errorf("%q", got)
	}
}
