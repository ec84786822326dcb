// Package film reads what a video's headers say: how long it is and whether it is one
// take. Nothing is decoded.
package film

import (
	"encoding/binary"
	"fmt"
	"math"
)

// MostBytes is how large a video may be.
const MostBytes = 40 << 20

// Format is how a video is packed.
type Format string

const (
	MP4  Format = "mp4"  // ISO/IEC 14496-12
	WebM Format = "webm" // RFC 9559
)

// Film is what the headers say.
type Film struct {
	Format  Format
	Seconds float64
	Takes   int // stretches that were put together; 1 where nothing was cut
}

// Refusal is why a file is not taken, and what to do.
type Refusal string

func (r Refusal) Error() string { return string(r) }

// Read reads the headers of an MP4 or WebM file. The error is a Refusal.
func Read(data []byte) (Film, error) {
	switch {
	case len(data) > MostBytes:
		return Film{}, Refusal(fmt.Sprintf("The video has %d MB; up to %d MB are taken. Film it in a lower quality.", len(data)>>20, MostBytes>>20))
	case len(data) > 12 && string(data[4:8]) == "ftyp":
		return readMP4(data)
	case len(data) > 4 && binary.BigEndian.Uint32(data) == idEBML:
		return readWebM(data)
	}
	return Film{}, Refusal("This is no video that can be read. Videos are MP4 or WebM.")
}

const broken = Refusal("The video’s header is damaged or cut short. Send it again from where it was filmed.")

// box is a part of an MP4 file.
type box struct {
	kind string
	body []byte
}

// boxes parts data into boxes; ok is false where they do not fill it.
func boxes(data []byte) (out []box, ok bool) {
	for len(data) > 0 {
		if len(data) < 8 {
			return out, false
		}
		size, head := uint64(binary.BigEndian.Uint32(data)), uint64(8)
		switch size {
		case 0: // to the end
			size = uint64(len(data))
		case 1:
			if len(data) < 16 {
				return out, false
			}
			size, head = binary.BigEndian.Uint64(data[8:]), 16
		}
		if size < head || size > uint64(len(data)) {
			return out, false
		}
		out = append(out, box{string(data[4:8]), data[head:size]})
		data = data[size:]
	}
	return out, true
}

func find(list []box, kind string) []byte {
	for _, b := range list {
		if b.kind == kind {
			return b.body
		}
	}
	return nil
}

func readMP4(data []byte) (Film, error) {
	top, _ := boxes(data) // what comes after the movie's box may be cut short
	movie, ok := boxes(find(top, "moov"))
	if !ok || len(movie) == 0 {
		return Film{}, broken
	}
	seconds, ok := duration(find(movie, "mvhd"))
	if !ok {
		return Film{}, broken
	}
	f := Film{Format: MP4, Seconds: seconds, Takes: 1}
	pictures := false
	for _, b := range movie {
		if b.kind != "trak" {
			continue
		}
		track, ok := boxes(b.body)
		media, ok2 := boxes(find(track, "mdia"))
		if !ok || !ok2 {
			return Film{}, broken
		}
		if h := find(media, "hdlr"); len(h) < 12 || string(h[8:12]) != "vide" {
			continue
		}
		pictures = true
		edits, _ := boxes(find(track, "edts"))
		f.Takes = max(f.Takes, takes(find(edits, "elst")))
	}
	if !pictures {
		return Film{}, Refusal("The file has no pictures, only sound. Send the video.")
	}
	return f, nil
}

// duration reads a movie header box.
func duration(b []byte) (float64, bool) {
	var scale, long uint64
	switch {
	case len(b) >= 32 && b[0] == 1:
		scale, long = uint64(binary.BigEndian.Uint32(b[20:])), binary.BigEndian.Uint64(b[24:])
	case len(b) >= 20 && b[0] == 0:
		scale, long = uint64(binary.BigEndian.Uint32(b[12:])), uint64(binary.BigEndian.Uint32(b[16:]))
	}
	if scale == 0 {
		return 0, false
	}
	return float64(long) / float64(scale), true
}

// takes counts the stretches of an edit list that show something: an empty edit, which
// only delays, has the media time -1.
func takes(b []byte) (n int) {
	if len(b) < 8 {
		return 1
	}
	size, at := 12, 4
	if b[0] == 1 {
		size, at = 20, 8
	}
	for e := b[8:]; len(e) >= size; e = e[size:] {
		shown := false
		for _, c := range e[at : at*2] {
			shown = shown || c != 0xff
		}
		if shown {
			n++
		}
	}
	return max(1, n)
}

// Element ids of EBML and Matroska (RFC 8794, RFC 9559).
const (
	idEBML     = 0x1a45dfa3
	idSegment  = 0x18538067
	idInfo     = 0x1549a966
	idScale    = 0x2ad7b1
	idDuration = 0x4489
	idEdition  = 0x45b9
	idOrdered  = 0x45dd
	idChapters = 0x1043a770
	idAtom     = 0xb6
)

// element is a part of a WebM file.
type element struct {
	id   uint64
	body []byte
}

// number reads a variable-length integer; keep leaves its length marker in, as ids have.
func number(b []byte, keep bool) (n uint64, size int) {
	if len(b) == 0 || b[0] == 0 {
		return 0, 0
	}
	size = 1
	for mask := byte(0x80); b[0]&mask == 0; mask >>= 1 {
		size++
	}
	if len(b) < size {
		return 0, 0
	}
	n = uint64(b[0])
	if !keep {
		n &= 0xff >> size
	}
	for _, c := range b[1:size] {
		n = n<<8 | uint64(c)
	}
	return n, size
}

// elements parts data into elements, as far as it goes: one of unknown size, or cut
// short, runs to the end.
func elements(data []byte) (out []element) {
	for len(data) > 0 {
		id, n := number(data, true)
		if n == 0 {
			return out
		}
		size, m := number(data[n:], false)
		if m == 0 {
			return out
		}
		body := data[n+m:]
		if size < uint64(len(body)) {
			data, body = body[size:], body[:size]
		} else {
			data = nil
		}
		out = append(out, element{id, body})
	}
	return out
}

func readWebM(data []byte) (Film, error) {
	f := Film{Format: WebM}
	for _, e := range elements(data) {
		if e.id != idSegment {
			continue
		}
		f.Takes++
		scale, long := uint64(1_000_000), 0.0
		for _, part := range elements(e.body) {
			switch part.id {
			case idInfo:
				for _, i := range elements(part.body) {
					switch i.id {
					case idScale:
						scale = whole(i.body)
					case idDuration:
						long = real(i.body)
					}
				}
			case idChapters: // in an order of their own they are put together anew
				for _, edition := range elements(part.body) {
					ordered, atoms := false, 0
					for _, i := range elements(edition.body) {
						switch i.id {
						case idOrdered:
							ordered = whole(i.body) == 1
						case idAtom:
							atoms++
						}
					}
					if ordered && edition.id == idEdition {
						f.Takes += max(0, atoms-1)
					}
				}
			}
		}
		f.Seconds += long * float64(scale) / 1e9
	}
	if f.Takes == 0 || !(f.Seconds > 0) || math.IsInf(f.Seconds, 0) {
		return Film{}, broken
	}
	return f, nil
}

func whole(b []byte) (n uint64) {
	for _, c := range b[:min(8, len(b))] {
		n = n<<8 | uint64(c)
	}
	return n
}

func real(b []byte) float64 {
	switch len(b) {
	case 4:
		return float64(math.Float32frombits(binary.BigEndian.Uint32(b)))
	case 8:
		return math.Float64frombits(binary.BigEndian.Uint64(b))
	}
	return 0
}
