package paint

import (
	"testing"

	"uvent/core/fact/photo"
)

func BenchmarkFront(b *testing.B) {
	for b.Loop() {
		Front(1000, 750, "Spokeshave Cycle Works", "18", Bicycles, 3)
	}
}

// Every drawing is sharp, differs from place to place, and shows what was asked for.
func TestDrawingsDiffer(t *testing.T) {
	var hashes []uint64
	seed := uint64(0)
	for _, trade := range []Trade{Bicycles, Chimneys, Yarn, Animals, Laundry} {
		for range 3 {
			seed++
			img := Front(500, 375, "Spokeshave Cycle Works", "18", trade, seed)
			if s := photo.Sharpness(img); s < photo.Blurred {
				t.Errorf("%s %d: sharpness %.0f", trade, seed, s)
			}
			h := photo.Hash(img)
			for _, o := range hashes {
				if d := photo.Distance(o, h); d <= photo.SamePicture {
					t.Errorf("%s %d lies %d from another", trade, seed, d)
				}
			}
			hashes = append(hashes, h)
		}
		if s := photo.Sharpness(Enlarged(photo.Smaller(Inside(500, 375, trade, 1), 60), 500, 375)); s >= photo.Blurred {
			t.Errorf("%s enlarged: sharpness %.0f", trade, s)
		}
		for name, b := range map[string][2]int{"work": {Work(200, 150, trade, 1).Bounds().Dx(), 200}, "logo": {Logo(300, 100, "Mossback Chimney & Gutter", trade, 1).Bounds().Dx(), 300}} {
			if b[0] != b[1] {
				t.Errorf("%s is %d wide", name, b[0])
			}
		}
	}
}
