package outside

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"math"
	"slices"
	"strings"
)

// video is a film that proves where a business is.
type video struct {
	Name  string
	Data  []byte
	Shows []string // what can be seen in it, in words: street, sign, inside
}

// mostSeconds is how long a film may be.
const mostSeconds = 120

// doubts says what is wrong with a film; nothing when it proves the listing.
func (v video) doubts() string {
	seconds, known := v.seconds()
	switch {
	case !known:
		return "The file is no video that we can play."
	case seconds > mostSeconds:
		return fmt.Sprintf("The video takes %.0f seconds; we look at %d.", seconds, mostSeconds)
	}
	for _, part := range []string{"street", "sign", "inside"} {
		if !slices.ContainsFunc(v.Shows, func(s string) bool { return strings.Contains(strings.ToLower(s), part) }) {
			return "The video does not show the " + map[string]string{"street": "street", "sign": "sign",
				"inside": "inside, past a door that only staff can open"}[part] + "."
		}
	}
	return ""
}

// seconds reads how long a film is from its header: the movie header box of an MP4
// file (ISO/IEC 14496-12), or the Duration of a WebM file's Info in the usual scale
// of milliseconds (RFC 9559).
func (v video) seconds() (float64, bool) {
	if i := bytes.Index(v.Data, []byte("mvhd")); i >= 0 && len(v.Data) >= i+36 {
		at, size := i+4+12, 4
		if v.Data[i+4] == 1 {
			at, size = i+4+20, 8
		}
		scale := float64(binary.BigEndian.Uint32(v.Data[at:]))
		long := float64(binary.BigEndian.Uint32(v.Data[at+4:]))
		if size == 8 {
			long = float64(binary.BigEndian.Uint64(v.Data[at+4:]))
		}
		return long / scale, scale > 0
	}
	if i := bytes.Index(v.Data, []byte{0x44, 0x89}); i >= 0 && bytes.HasPrefix(v.Data, []byte{0x1a, 0x45, 0xdf, 0xa3}) && len(v.Data) >= i+11 {
		switch v.Data[i+2] {
		case 0x84:
			return float64(math.Float32frombits(binary.BigEndian.Uint32(v.Data[i+3:]))) / 1000, true
		case 0x88:
			return math.Float64frombits(binary.BigEndian.Uint64(v.Data[i+3:])) / 1000, true
		}
	}
	return 0, false
}
