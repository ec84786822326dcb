// Package film judges a video by what is measured of it: how long, how large, how bright, whether anything moves in it, whether
// it was cut, whether it has sound. Measuring is done by ffprobe and ffmpeg (https://ffmpeg.org/documentation.html); here is
// what they are asked and how what they write is read.
package film

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"strings"
)

// MostBytes is how large a video may be.
const MostBytes = 40 << 20

// Format is how a video is packed.
type Format string

const (
	MP4  Format = "mp4"  // ISO/IEC 14496-12
	WebM Format = "webm" // RFC 9559
)

// Film is what is measured of a video.
type Film struct {
	Format  Format  `json:"format,omitempty"`
	Seconds float64 `json:"seconds,omitempty"`
	Width   int     `json:"width,omitempty"`  // pixels, as it is shown
	Height  int     `json:"height,omitempty"` // pixels, as it is shown
	Sound   bool    `json:"sound,omitempty"`
	Takes   int     `json:"takes,omitempty"`  // stretches that were put together; 1 where nothing was cut
	CutAt   float64 `json:"cut_at,omitempty"` // the second of the first cut
	Dark    float64 `json:"dark,omitempty"`   // the part of it that is too dark to see anything, 0 to 1
	Motion  float64 `json:"motion,omitempty"` // how much a picture differs from the one before, in 255ths of the whole range; 0: nothing moves
}

// Refusal is why a file is not taken, and what to do.
type Refusal string

func (r Refusal) Error() string { return string(r) }

// Broken is the refusal of a video of which nothing can be seen.
const Broken = Refusal("The video is damaged or cut short. Send it again from where it was filmed.")

// Sniff tells how a file is packed. The error is a Refusal.
func Sniff(data []byte) (Format, error) {
	switch {
	case len(data) > MostBytes:
		return "", Refusal(fmt.Sprintf("The video has %d MB; up to %d MB are taken. Film it in a lower quality.", len(data)>>20, MostBytes>>20))
	case len(data) > 12 && string(data[4:8]) == "ftyp":
		return MP4, nil
	case bytes.HasPrefix(data, []byte{0x1a, 0x45, 0xdf, 0xa3}):
		return WebM, nil
	}
	return "", Refusal("This is no video that can be read. Videos are MP4 or WebM.")
}

// demuxer is what ffmpeg calls the format. It is named, so that a file cannot choose one that opens others.
func (f Format) demuxer() string {
	if f == WebM {
		return "matroska"
	}
	return "mov"
}

// perSecond is how many pictures of a second are looked at.
const perSecond = 5

// Probe are ffprobe's arguments for a file on its standard input.
func (f Format) Probe() []string {
	return []string{"-v", "error", "-of", "json", "-show_entries", "format=duration:stream=codec_type,width,height:stream_side_data=rotation",
		"-protocol_whitelist", "file", "-f", f.demuxer(), "-i", "file:/dev/stdin"}
}

// Look are ffmpeg's arguments: some pictures of each second are made small and measured, and what was measured is written.
func (f Format) Look() []string {
	return []string{"-v", "error", "-nostdin", "-threads", "1", "-filter_threads", "1", "-protocol_whitelist", "file", "-f", f.demuxer(), "-i", "file:/dev/stdin",
		"-map", "0:v:0", "-vf", fmt.Sprintf("fps=%d,scale=160:-2,signalstats,scdet=threshold=100,metadata=mode=print:file=-", perSecond), "-f", "null", "-"}
}

// Read reads what ffprobe wrote of a file, and ffmpeg of its pictures. The error is a Refusal.
func Read(format Format, probed, looked []byte) (Film, error) {
	var p struct {
		Format  struct{ Duration string }
		Streams []struct {
			Type   string `json:"codec_type"`
			Width  int
			Height int
			Sides  []struct{ Rotation float64 } `json:"side_data_list"`
		}
	}
	if err := json.Unmarshal(probed, &p); err != nil {
		return Film{}, Broken
	}
	out, pictures := Film{Format: format}, false
	for _, s := range p.Streams {
		switch {
		case s.Type == "audio":
			out.Sound = true
		case s.Type == "video" && !pictures:
			pictures, out.Width, out.Height = true, s.Width, s.Height
			for _, side := range s.Sides {
				if turned := math.Mod(math.Abs(side.Rotation), 180); turned == 90 {
					out.Width, out.Height = s.Height, s.Width
				}
			}
		}
	}
	if !pictures {
		return Film{}, Refusal("The file has no pictures, only sound. Send the video.")
	}
	seconds, err := strconv.ParseFloat(p.Format.Duration, 64)
	if err != nil || !(seconds > 0) || math.IsInf(seconds, 0) || out.Width <= 0 || out.Height <= 0 {
		return Film{}, Broken
	}
	out.Seconds = seconds
	return out, out.look(looked)
}

// What is measured of a picture has to be for it to count, in 255ths of the whole range.
const (
	darkBelow = 32 // its mean brightness (the darkest is 16)
	cutAbove  = 14 // how much more it differs from the one before than that did
)

// look reads what was measured of the pictures: the keys that ffmpeg's filters signalstats and scdet write.
func (f *Film) look(looked []byte) error {
	pictures, dark, differs, at := 0, 0, 0.0, 0.0
	f.Takes = 1
	for line := range strings.Lines(string(looked)) {
		key, value, _ := strings.Cut(strings.TrimSpace(line), "=")
		if _, time, is := strings.Cut(line, "pts_time:"); is {
			at = number(strings.TrimSpace(time))
			pictures++
			continue
		}
		switch n := number(value); key {
		case "lavfi.signalstats.YAVG":
			if n < darkBelow {
				dark++
			}
		case "lavfi.signalstats.YDIF":
			differs += n
		case "lavfi.scd.score":
			if n >= cutAbove {
				if f.Takes == 1 {
					f.CutAt = at
				}
				f.Takes++
			}
		}
	}
	if pictures == 0 {
		return Broken
	}
	f.Dark = float64(dark) / float64(pictures)
	f.Motion = differs / float64(pictures)
	return nil
}

// number is one that was measured; 0 for what is none.
func number(s string) float64 {
	n, err := strconv.ParseFloat(s, 64)
	if err != nil || math.IsNaN(n) || math.IsInf(n, 0) {
		return 0
	}
	return n
}
