// Package paint draws the demo's photos: shop fronts, rooms, people's work and
// logos, different for each location. Nothing in them is of this world.
package paint

import (
	"image"
	"image/color"
	"image/draw"
	"math"
	"math/rand/v2"

	xdraw "golang.org/x/image/draw"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"
	"golang.org/x/image/vector"
)

// canvas is a picture being drawn, in pixels.
type canvas struct {
	*image.RGBA
	r *rand.Rand
}

func newCanvas(w, h int, seed uint64) canvas {
	return canvas{image.NewRGBA(image.Rect(0, 0, w, h)), rand.New(rand.NewPCG(seed, 0x7a11))}
}

func (c canvas) w() float64 { return float64(c.Bounds().Dx()) }
func (c canvas) h() float64 { return float64(c.Bounds().Dy()) }

// rect fills a box given in parts of the picture.
func (c canvas) rect(x, y, w, h float64, col color.Color) {
	r := image.Rect(int(x*c.w()), int(y*c.h()), int((x+w)*c.w()), int((y+h)*c.h()))
	draw.Draw(c.RGBA, r, image.NewUniform(col), image.Point{}, draw.Over)
}

// shape fills a polygon given in parts of the picture.
func (c canvas) shape(col color.Color, points ...[2]float64) {
	box := image.Rectangle{}
	for i, p := range points {
		at := image.Pt(int(math.Floor(p[0]*c.w())), int(math.Floor(p[1]*c.h())))
		one := image.Rectangle{at, at.Add(image.Pt(2, 2))}
		if box = box.Union(one); i == 0 {
			box = one
		}
	}
	if box = box.Intersect(c.Bounds()); box.Empty() {
		return
	}
	v := vector.NewRasterizer(box.Dx(), box.Dy()) // of its own box alone: a picture has hundreds of shapes
	for i, p := range points {
		x, y := float32(p[0]*c.w())-float32(box.Min.X), float32(p[1]*c.h())-float32(box.Min.Y)
		if i == 0 {
			v.MoveTo(x, y)
		} else {
			v.LineTo(x, y)
		}
	}
	v.ClosePath()
	v.Draw(c.RGBA, box, image.NewUniform(col), image.Point{})
}

// disc fills a circle; its radius is in parts of the picture's height.
func (c canvas) disc(x, y, r float64, col color.Color) {
	const corners = 48
	points := make([][2]float64, corners)
	for i := range points {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / corners)
		points[i] = [2]float64{x + r*cos*c.h()/c.w(), y + r*sin}
	}
	c.shape(col, points...)
}

// ring is a circle with a hole.
func (c canvas) ring(x, y, r, thick float64, col, hole color.Color) {
	c.disc(x, y, r, col)
	c.disc(x, y, r-thick, hole)
}

var lettering = func() *opentype.Font {
	f, err := opentype.Parse(gobold.TTF)
	if err != nil {
		panic(err) // it ships with its package
	}
	return f
}()

// write writes a text centred in a box given in parts of the picture, as large as
// fits.
func (c canvas) write(text string, x, y, w, h float64, col color.Color) {
	size := h * c.h() * .72
	face := faceOf(size)
	if wide := float64(font.MeasureString(face, text)) / 64; wide > w*c.w()*.92 {
		size *= w * c.w() * .92 / wide
		face = faceOf(size)
	}
	d := font.Drawer{Dst: c.RGBA, Src: image.NewUniform(col), Face: face}
	wide := float64(d.MeasureString(text)) / 64
	d.Dot = fixed.Point26_6{X: fixed.Int26_6(64 * ((x+w/2)*c.w() - wide/2)), Y: fixed.Int26_6(64 * ((y+h/2)*c.h() + size*.35))}
	d.DrawString(text)
}

func faceOf(size float64) font.Face {
	face, err := opentype.NewFace(lettering, &opentype.FaceOptions{Size: size, DPI: 72})
	if err != nil {
		panic(err) // sizes are positive
	}
	return face
}

// grain makes a drawing a little less flat, as light and a lens do.
func (c canvas) grain() canvas {
	for i := 0; i < len(c.Pix); i += 4 {
		n := int(c.r.Uint32()%13) - 6
		for j := range 3 {
			c.Pix[i+j] = uint8(max(0, min(255, int(c.Pix[i+j])+n)))
		}
	}
	return c
}

func shade(c color.RGBA, by float64) color.RGBA {
	f := func(v uint8) uint8 { return uint8(max(0, min(255, float64(v)*by))) }
	return color.RGBA{f(c.R), f(c.G), f(c.B), 255}
}

// Enlarged blows a picture up, which leaves it blurred.
func Enlarged(img image.Image, w, h int) image.Image {
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	xdraw.CatmullRom.Scale(out, out.Bounds(), img, img.Bounds(), xdraw.Src, nil)
	return out
}
