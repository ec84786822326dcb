package film

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"uvent/core/fact/address"
	"uvent/core/fact/language"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// probed is what ffprobe writes of a film of a size, with sound or without, which stands as it was filmed or is turned.
func probed(seconds string, width, height int, sound, turned bool) []byte {
	sides, audio := "", ""
	if turned {
		sides = `, "side_data_list": [{"rotation": -90}]`
	}
	if sound {
		audio = `, {"codec_type": "audio"}`
	}
	return fmt.Appendf(
		nil,
		`{"programs": [], "streams": [{"codec_type": "video", "width": %d, "height": %d%s}%s], "format": {"duration": "%s"}}`,
		width,
		height,
		sides,
		audio,
		seconds,
	)
}

// looked is what ffmpeg writes of pictures: their brightness, how each differs from the one before, and how abruptly.
func looked(pictures ...[3]float64) []byte {
	var out []byte
	for i, p := range pictures {
		out = fmt.Appendf(
			out,
			"frame:%d    pts:%d       pts_time:%g\nlavfi.signalstats.YMIN=16\nlavfi.signalstats.YAVG=%g\nlavfi.signalstats.YDIF=%g\nlavfi.scd.score=%g\n",
			i,
			i,
			float64(i)/5,
			p[0],
			p[1],
			p[2],
		)
	}
	return out
}

func TestRead(t *testing.T) {
	calm := looked([3]float64{120, 0, 0}, [3]float64{121, 6, 1}, [3]float64{118, 6, 2})
	for name, c := range map[string]struct {
		probed, looked []byte
		want           Film
		says           string
	}{
		"upright":        {probed("61.5", 1920, 1080, true, true), calm, Film{Format: MP4, Seconds: 61.5, Width: 1080, Height: 1920, Sound: true, Takes: 1, Motion: 4}, ""},
		"lying":          {probed("61.5", 1920, 1080, false, false), calm, Film{Format: MP4, Seconds: 61.5, Width: 1920, Height: 1080, Takes: 1, Motion: 4}, ""},
		"cut":            {probed("3", 640, 360, false, false), looked([3]float64{120, 0, 0}, [3]float64{90, 40, 30}, [3]float64{90, 2, 0}, [3]float64{10, 60, 50}), Film{Format: MP4, Seconds: 3, Width: 640, Height: 360, Takes: 3, CutAt: 0.2, Dark: 0.25, Motion: 25.5}, ""},
		"sound alone":    {[]byte(`{"streams": [{"codec_type": "audio"}], "format": {"duration": "9"}}`), nil, Film{}, "only sound"},
		"no pictures":    {probed("9", 640, 360, true, false), nil, Film{}, "damaged or cut short"},
		"no length":      {probed("N/A", 640, 360, true, false), calm, Film{}, "damaged or cut short"},
		"no size":        {probed("9", 0, 0, true, false), calm, Film{}, "damaged or cut short"},
		"no end":         {probed("Inf", 640, 360, true, false), calm, Film{}, "damaged or cut short"},
		"nothing at all": {nil, nil, Film{}, "damaged or cut short"},
	} {
		got, err := Read(MP4, c.probed, c.looked)
		if c.says != "" {
			if err == nil || !strings.Contains(err.Error(), c.says) {
				t.Errorf("%s: %v", name, err)
			}
		} else if err != nil || got != c.want {
			t.Errorf("%s: %+v, %v", name, got, err)
		}
	}
	for name, c := range map[string]struct {
		data   []byte
		format Format
		says   string
	}{
		"an MP4": {[]byte("\x00\x00\x00\x18ftypisom and more"), MP4, ""}, "a WebM": {[]byte("\x1a\x45\xdf\xa3 and more"), WebM, ""},
		"a playlist": {[]byte("#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n"), "", "no video that can be read"}, "nothing": {nil, "", "no video that can be read"},
		"too much": {make([]byte, MostBytes+1), "", "has 40 MB; up to 40 MB are taken"},
	} {
		format, err := Sniff(c.data)
		if format != c.format || (err == nil) != (c.says == "") || err != nil && !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %s, %v", name, format, err)
		}
		for _, args := range [][]string{format.Probe(), format.Look()} {
			if line := strings.Join(args, " "); !strings.Contains(line, "-protocol_whitelist file -f ") || !strings.Contains(line, "-i file:/dev/stdin") {
				t.Errorf("%s: %s", name, line)
			}
		}
	}
}

// Whatever was written, it is a film of some length, of parts of a whole, or a refusal.
func FuzzRead(f *testing.F) {
	f.Add(probed("61.5", 1920, 1080, true, true), looked([3]float64{120, 0, 0}, [3]float64{90, 40, 30}))
	f.Add(probed("-1", -5, 3, false, false), looked([3]float64{0, 0, 0}))
	f.Add([]byte("{}"), []byte("frame:0 pts:0 pts_time:nan\nlavfi.signalstats.YAVG=nan\n"))
	f.Fuzz(func(t *testing.T, probed, looked []byte) {
		film, err := Read(WebM, probed, looked)
		if err == nil && (film.Takes < 1 || !(film.Seconds > 0) || film.Dark < 0 || film.Dark > 1 || math.IsNaN(film.Motion) || film.Width <= 0) {
			t.Errorf("%+v", film)
		}
	})
}

func TestDoubts(t *testing.T) {
	rule := rulebook.Film{MostSeconds: 120, LeastSeconds: 20, LeastPixels: 360, Sound: true, Shows: []string{"street", "sign", "inside"}}
	film := Film{Format: MP4, Seconds: 80, Width: 720, Height: 1280, Sound: true, Takes: 1, Motion: 5}
	good := Shown{Film: film, Seen: Seen{At: map[string]int{"street": 2, "sign": 20, "inside": 55}, Private: true}}
	if d := good.Doubts(rule, language.English); d != nil {
		t.Errorf("%q", d)
	}
	for says, spoil := range map[string]func(*Shown){
		"takes 2 minutes 30 seconds; up to 2 minutes is looked at": func(s *Shown) { s.Seconds = 150 },
		"takes 4 seconds; at least 20 seconds are wanted": func(s *Shown) {
			s.Seconds, s.Seen.At = 4, map[string]int{"street": 0, "sign": 1, "inside": 3}
		},
		"seems to be cut at second 31":               func(s *Shown) { s.Takes, s.CutAt = 2, 31.4 },
		"picture is 320 × 240":                       func(s *Shown) { s.Width, s.Height = 320, 240 },
		"too dark to see":                            func(s *Shown) { s.Dark = 0.5 },
		"Nothing moves in it":                        func(s *Shown) { s.Motion = 0.1 },
		"It has no sound":                            func(s *Shown) { s.Sound = false },
		"not said where it shows the sign":           func(s *Shown) { s.Seen.At = map[string]int{"street": 2, "inside": 55} },
		"ends before second 90":                      func(s *Shown) { s.Seen.At = map[string]int{"street": 2, "sign": 20, "inside": 90} },
		"Nobody has said that nothing private is in": func(s *Shown) { s.Seen.Private = false },
	} {
		bad := good
		spoil(&bad)
		if d := bad.Doubts(rule, language.English); len(d) != 1 || !strings.Contains(d[0], says) {
			t.Errorf("%q, want %q", d, says)
		}
	}
}

// A video that was kept before anything of it was measured is not blamed for that.
func TestWhatWasNotMeasured(t *testing.T) {
	old := Shown{Film: Film{Format: MP4, Seconds: 80, Takes: 1}, Seen: Seen{At: map[string]int{"sign": 20}, Private: true}}
	if d := old.Doubts(rulebook.Film{MostSeconds: 120, LeastSeconds: 20, LeastPixels: 360, Sound: true, Shows: []string{"sign"}}, "fr"); d != nil {
		t.Errorf("%q", d)
	}
	if (Shown{}).There() || !old.There() || long(61, language.English) != "1 minute 1 second" || long(61, "fr") != "1 minute 1 seconde" {
		t.Error("there, or how long")
	}
}

func TestShots(t *testing.T) {
	rule := rulebook.Film{MostSeconds: 120, Shows: []string{"street", "sign", "inside"}}
	r := record.Record{Name: "Mossback", Kind: record.GoesToCustomers, Category: "chimney_sweep", Address: address.Address{Street: "4 Alder Way"}}
	say := func() string {
		var out strings.Builder
		for _, s := range Shots(r, rule, language.English) {
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
	if n := len(Shots(r, rule, language.English)); n != 3 {
		t.Errorf("%d shots for a directory that wants the sign", n)
	}
}
