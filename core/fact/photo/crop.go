package photo

import (
	"image"
	"image/color"
	"image/draw"
	"math"

	xdraw "golang.org/x/image/draw"
)

// Crop is the shape that a directory cuts a picture to.
type Crop struct {
	Width  int  `json:"width" yaml:"width"` // pixels
	Height int  `json:"height" yaml:"height"`
	Circle bool `json:"circle" yaml:"circle"` // only what lies in the circle inside is seen
}

// Focus is what must be seen of a picture: a box, in parts of its width and
// height from the top left. A point is a box without size.
type Focus struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
	W float64 `json:"w"`
	H float64 `json:"h"`
}

// Middle is the focus of a picture of which nothing was said.
var Middle = Focus{X: .5, Y: .5}

// Good reports whether the box lies within a picture.
func (f Focus) Good() bool {
	return f.X >= 0 && f.Y >= 0 && f.W >= 0 && f.H >= 0 && f.X+f.W <= 1+1e-9 && f.Y+f.H <= 1+1e-9
}

// Window is the largest part of a picture of a size that has the crop's shape,
// laid so that the focus is as near to its middle as the picture allows.
func (c Crop) Window(of Size, f Focus) image.Rectangle {
	w, h := float64(of.Width), float64(of.Height)
	shape := float64(c.Width) / float64(c.Height)
	cw, ch := w, w/shape
	if ch > h {
		cw, ch = h*shape, h
	}
	x := clamp((f.X+f.W/2)*w-cw/2, 0, w-cw)
	y := clamp((f.Y+f.H/2)*h-ch/2, 0, h-ch)
	left, top := int(math.Round(x)), int(math.Round(y))
	width, height := max(1, int(math.Round(cw))), max(1, int(math.Round(ch)))
	return image.Rect(min(left, of.Width-width), min(top, of.Height-height), min(left, of.Width-width)+width, min(top, of.Height-height)+height)
}

func clamp(v, low, high float64) float64 { return max(low, min(v, high)) }

// Cuts reports whether the crop cuts into the focus: by its edge, or by its
// circle.
func (c Crop) Cuts(of Size, f Focus) bool {
	win := c.Window(of, f)
	left, top := f.X*float64(of.Width)-float64(win.Min.X), f.Y*float64(of.Height)-float64(win.Min.Y)
	right, bottom := left+f.W*float64(of.Width), top+f.H*float64(of.Height)
	w, h := float64(win.Dx()), float64(win.Dy())
	const slack = 1.5 // pixels that rounding may take
	if left < -slack || top < -slack || right > w+slack || bottom > h+slack {
		return true
	}
	if !c.Circle {
		return false
	}
	for _, x := range []float64{left, right} {
		for _, y := range []float64{top, bottom} {
			if dx, dy := 2*x/w-1, 2*y/h-1; dx*dx+dy*dy > 1 {
				return true
			}
		}
	}
	return false
}

// Cut cuts a picture to the crop around a focus, and scales it to the crop's
// size; a smaller picture is not blown up. What a picture lets shine through is
// laid on white.
func (c Crop) Cut(img image.Image, f Focus) image.Image {
	b := img.Bounds()
	win := c.Window(Size{b.Dx(), b.Dy()}, f).Add(b.Min)
	w, h := c.Width, c.Height
	if win.Dx() < w {
		w, h = win.Dx(), win.Dy()
	}
	return scaled(img, win, w, h, careful)
}

// scaled draws a part of a picture at a size: halved while it is twice as large or
// more, so that every pixel counts, and from there by a scaler.
func scaled(img image.Image, part image.Rectangle, w, h int, with xdraw.Scaler) *image.RGBA {
	for part.Dx() >= 2*w && part.Dy() >= 2*h && part.Dx() > 2 && part.Dy() > 2 {
		half := image.NewRGBA(image.Rect(0, 0, part.Dx()/2, part.Dy()/2))
		xdraw.ApproxBiLinear.Scale(half, half.Bounds(), img, part, xdraw.Src, nil) // at half the size, the mean of four pixels
		img, part = half, half.Bounds()
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(out, out.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	if part.Dx() == w && part.Dy() == h {
		draw.Draw(out, out.Bounds(), img, part.Min, draw.Over) // both scalers would leave every pixel as it is, at length
		return out
	}
	with.Scale(out, out.Bounds(), img, part, xdraw.Over, nil)
	return out
}

// What is shown to the public is scaled with care; copies for screens and for
// measuring are not worth it.
var (
	careful = xdraw.CatmullRom
	quick   = xdraw.ApproxBiLinear
)

// WorkEdge is the longer edge of the copy that shapes are cut from, in pixels:
// more than twice what any directory shows.
const WorkEdge = 2560

// Smaller scales a picture so that its longer edge has at most so many pixels.
func Smaller(img image.Image, edge int) image.Image {
	b := img.Bounds()
	if max(b.Dx(), b.Dy()) <= edge {
		return img
	}
	scale := float64(edge) / float64(max(b.Dx(), b.Dy()))
	return scaled(img, b, max(1, int(math.Round(float64(b.Dx())*scale))), max(1, int(math.Round(float64(b.Dy())*scale))), quick)
}
