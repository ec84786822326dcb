package httpapi

import (
	"bytes"
	"encoding/base64"
	"image"
	"image/color"
	"image/png"
	"testing"
)

// A QR code has its quiet zone and its three finders, each a dark ring around a dark middle, so that
// a phone finds it; and another text has another code.
func TestQRCodes(t *testing.T) {
	t.Parallel()
	read := func(text string) image.Image {
		t.Helper()
		kept, err := qrCode(text)
		if err != nil {
			t.Fatal(err)
		}
		data, err := base64.StdEncoding.DecodeString(kept)
		if err != nil {
			t.Fatal(err)
		}
		img, err := png.Decode(bytes.NewReader(data))
		if err != nil {
			t.Fatal(err)
		}
		return img
	}
	dark := func(img image.Image, x, y int) bool {
		return color.GrayModel.Convert(img.At(x, y)).(color.Gray).Y < 128
	}
	one, other := read("https://uvent.example/o/3m2Tzq0b4f8sVfTn7Lw1Kg"), read("https://uvent.example/o/9x4QxY1c5g7tWgUo8Mx2Lh")
	left, right := qrEdge, 0 // of what is dark
	differ := false
	for y := range qrEdge {
		for x := range qrEdge {
			if dark(one, x, y) {
				left, right = min(left, x), max(right, x)
			}
			differ = differ || dark(one, x, y) != dark(other, x, y)
		}
	}
	if left < qrQuiet || right >= qrEdge-qrQuiet || !differ {
		t.Fatalf("it lies between %d and %d of %d, and differs: %v", left, right, qrEdge, differ)
	}
	// Along the middle of a finder: 1 dark, 1 light, 3 dark, 1 light, 1 dark.
	top := left
	for !dark(one, left, top) {
		top++
	}
	module := 0
	for dark(one, left+module, top+module) {
		module++
	}
	for i, want := range []bool{true, false, true, true, true, false, true} {
		at := i*module + module/2
		if got := dark(one, left+at, top+3*module+module/2); got != want {
			t.Errorf("module %d of the finder is dark: %v", i, got)
		}
	}
}
