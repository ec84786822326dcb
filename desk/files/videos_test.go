package files_test

import (
	"strings"
	"testing"

	"uvent/core/fact/language"
	"uvent/core/rule/film"
	"uvent/demo/paint"
	"uvent/desk/problem"
	"uvent/e2e/rig"
)

// What a video is like is measured from the file itself: one that proves nothing is told from one that does, and a file that
// is none is refused.
func TestVideosAreLookedAt(t *testing.T) {
	r, ctx := rig.Start(t), t.Context()
	at := r.Add(t, rig.Shop("Minnow Bay"))
	book, err := r.Desk.Shelf.Book("fernlook")
	rig.Must(t, err)
	way, _ := book.Way("video")
	const hum = "sine=frequency=300:duration="
	for name, c := range map[string]struct {
		pictures, sound string
		says            string // what is minded; empty: nothing
	}{
		"a good one":      {"testsrc2=size=640x360:rate=1:duration=30", hum + "30", ""},
		"upright":         {"testsrc2=size=360x640:rate=1:duration=30", hum + "30", ""},
		"four seconds":    {"testsrc2=size=640x360:rate=1:duration=4", hum + "4", "The video takes 4 seconds; at least 20 seconds are wanted."},
		"an animation":    {"testsrc2=size=320x240:rate=1:duration=30", hum + "30", "Its picture is 320 × 240"},
		"a picture":       {"color=c=0x808080:size=640x360:rate=1:duration=30", hum + "30", "Nothing moves in it"},
		"at night":        {"testsrc2=size=640x360:rate=1:duration=30,eq=brightness=-0.95,lutyuv=y=val*0.15+14", hum + "30", "It is too dark"},
		"without sound":   {"testsrc2=size=640x360:rate=1:duration=30", "", "It has no sound."},
		"put together":    {"testsrc2=size=640x360:rate=1:duration=15[a];color=c=white:size=640x360:rate=1:duration=15,noise=alls=30:allf=t[b];[a][b]concat=n=2:v=1:a=0", hum + "30", "it seems to be cut at second 15."},
		"a minute longer": {"testsrc2=size=640x360:rate=1:duration=150", hum + "150", "The video takes 2 minutes 30 seconds; up to 2 minutes is looked at."},
	} {
		data := rig.Shoot(t, c.pictures, c.sound)
		seen := film.Seen{At: map[string]int{"street": 0, "sign": 1, "inside": 3}, Private: true}
		row, err := r.Desk.Files.AddVideo(ctx, r.Who.Actor(), at.Location, "take.mp4", data, seen)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		doubts := row.Film.Doubts(way.Film, language.English)
		if c.says == "" && len(doubts) > 0 || c.says != "" && (len(doubts) != 1 || !strings.Contains(doubts[0], c.says)) {
			t.Errorf("%s: %q, want %q: %+v", name, doubts, c.says, row.Film)
		}
	}
	whole := rig.Take(t, 30)
	for name, data := range map[string][]byte{
		"headers alone": paint.Film(60),
		"cut short":     whole[:len(whole)/3],
		"a playlist":    append([]byte("\x00\x00\x00\x18ftypisom"), "#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n"...),
	} {
		_, err := r.Desk.Files.AddVideo(ctx, r.Who.Actor(), at.Location, "take.mp4", data, film.Seen{})
		rig.Refused(t, err, problem.Invalid, "The video is damaged or cut short.")
		if err == nil {
			t.Errorf("%s is taken", name)
		}
	}
}
