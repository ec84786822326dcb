package photo

import (
	"image"
	"image/color"
)

// upright turns a picture as EXIF's orientation says
// (https://www.cipa.jp/std/documents/e/DC-008-2012_E.pdf, section 4.6.4).
func upright(img image.Image, turn int) image.Image {
	if turn <= 1 || turn > 8 {
		return img
	}
	b := img.Bounds()
	w, h := b.Dx(), b.Dy()
	pixel := func(x, y int) color.RGBA { return color.RGBAModel.Convert(img.At(b.Min.X+x, b.Min.Y+y)).(color.RGBA) }
	if p, ok := img.(*image.YCbCr); ok { // as most photos are; without a detour for every pixel
		pixel = func(x, y int) color.RGBA {
			c := p.YCbCrAt(b.Min.X+x, b.Min.Y+y)
			r, g, bl := color.YCbCrToRGB(c.Y, c.Cb, c.Cr)
			return color.RGBA{r, g, bl, 255}
		}
	}
	size := image.Rect(0, 0, w, h)
	if turn >= 5 {
		size = image.Rect(0, 0, h, w)
	}
	out := image.NewRGBA(size)
	for y := range h {
		for x := range w {
			tx, ty := x, y
			switch turn {
			case 2:
				tx = w - 1 - x
			case 3:
				tx, ty = w-1-x, h-1-y
			case 4:
				ty = h - 1 - y
			case 5:
				tx, ty = y, x
			case 6:
				tx, ty = h-1-y, x
			case 7:
				tx, ty = h-1-y, w-1-x
			case 8:
				tx, ty = y, w-1-x
			}
			out.SetRGBA(tx, ty, pixel(x, y))
		}
	}
	return out
}
