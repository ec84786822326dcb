package paint

import (
	"image"
	"image/color"
	"math"
	"strings"
)

// Trade decides what stands in the windows and on the shelves.
type Trade string

const (
	Bicycles Trade = "bicycles"
	Chimneys Trade = "chimneys"
	Yarn     Trade = "yarn"
	Animals  Trade = "animals"
	Laundry  Trade = "laundry"
)

// palette is a business's colours.
type palette struct{ main, second, wall color.RGBA }

var palettes = map[Trade]palette{
	Bicycles: {color.RGBA{31, 84, 92, 255}, color.RGBA{224, 142, 60, 255}, color.RGBA{231, 222, 203, 255}},
	Chimneys: {color.RGBA{62, 66, 70, 255}, color.RGBA{176, 74, 52, 255}, color.RGBA{206, 200, 190, 255}},
	Yarn:     {color.RGBA{132, 58, 92, 255}, color.RGBA{226, 184, 92, 255}, color.RGBA{236, 229, 219, 255}},
	Animals:  {color.RGBA{48, 96, 70, 255}, color.RGBA{236, 214, 162, 255}, color.RGBA{222, 228, 216, 255}},
	Laundry:  {color.RGBA{46, 92, 142, 255}, color.RGBA{240, 240, 232, 255}, color.RGBA{214, 224, 230, 255}},
}

var (
	white = color.RGBA{250, 249, 244, 255}
	dark  = color.RGBA{34, 40, 44, 255}
	glass = color.RGBA{170, 196, 200, 255}
	wood  = color.RGBA{150, 112, 76, 255}
)

// Front is the outside of a shop with its sign and street number.
func Front(w, h int, name, number string, t Trade, seed uint64) image.Image {
	c, p := newCanvas(w, h, seed), palettes[t]
	sky := []color.RGBA{{186, 208, 216, 255}, {226, 226, 214, 255}, {120, 132, 160, 255}, {240, 206, 176, 255}}[c.r.IntN(4)]
	c.rect(0, 0, 1, .62, sky)
	for i := range 3 { // hills across the water
		x := float64(i)*.4 - .2 + .1*c.r.Float64()
		c.shape(
			shade(color.RGBA{120, 140, 138, 255}, .9+.1*float64(i)),
			[2]float64{x, .6},
			[2]float64{x + .2 + .1*c.r.Float64(), .34 + .08*c.r.Float64()},
			[2]float64{x + .55, .6},
		)
	}
	c.rect(0, .55, 1, .1, color.RGBA{136, 166, 174, 255})
	c.rect(0, .64, 1, .2, shade(color.RGBA{150, 158, 128, 255}, .8+.3*c.r.Float64()))
	left, right, top := .03+.2*c.r.Float64(), .8+.18*c.r.Float64(), .14+.14*c.r.Float64()
	wall := shade(p.wall, .6+.4*c.r.Float64())
	for range 2 + c.r.IntN(4) { // trees beside and behind
		x, y, r := c.r.Float64(), .3+.25*c.r.Float64(), .08+.12*c.r.Float64()
		c.line(x, y, x, .84, .025, shade(wood, .6))
		c.disc(x, y, r, shade(color.RGBA{86, 120, 82, 255}, .6+.6*c.r.Float64()))
	}
	c.rect(left, top, right-left, .84-top, wall)
	for y := top; y < .84; y += .028 { // boards
		c.rect(left, y, right-left, .003, shade(wall, .9))
	}
	c.shape(shade(p.main, .7), [2]float64{left - .03, top}, [2]float64{right + .03, top}, [2]float64{right - .04, top - .1}, [2]float64{left + .04, top - .1})
	c.rect(left+.03, top+.04, right-left-.06, .12, p.main)
	c.write(name, left+.03, top+.04, right-left-.06, .12, white)
	door := left + .06 + (right-left-.3)*c.r.Float64()
	c.awning(left+.02, top+.19, right-left-.04, p)
	for x := left + .04; x < right-.14; x += .2 {
		if x+.17 > door-.02 && x < door+.15 {
			continue
		}
		c.rect(x-.006, .44, .172, .312, white)
		c.rect(x, .45, .16, .29, glass)
		c.wares(x, .45, .16, .29, t, p)
	}
	c.rect(door-.008, .42, .136, .42, white)
	c.rect(door, .43, .12, .41, shade(p.second, .85))
	c.rect(door+.025, .46, .07, .18, glass)
	c.disc(door+.1, .68, .01, dark)
	c.write(number, door, .375, .12, .05, dark)
	c.rect(0, .84, 1, .05, color.RGBA{176, 172, 164, 255})
	c.rect(0, .89, 1, .11, color.RGBA{110, 112, 112, 255})
	return c.grain().RGBA
}

func (c canvas) awning(x, y, w float64, p palette) {
	const stripes = 14
	for i := range stripes {
		col := p.second
		if i%2 == 0 {
			col = white
		}
		a, b := x+w*float64(i)/stripes, x+w*float64(i+1)/stripes
		c.shape(col, [2]float64{a, y}, [2]float64{b, y}, [2]float64{b + .01, y + .07}, [2]float64{a + .01, y + .07})
	}
	c.rect(x, y-.008, w, .012, shade(p.main, .8))
}

// wares are what a window or a shelf shows.
func (c canvas) wares(x, y, w, h float64, t Trade, p palette) {
	switch t {
	case Bicycles:
		r := h * .2
		lx, rx, by := x+w*.27, x+w*.73, y+h*.72
		for _, wx := range []float64{lx, rx} {
			c.ring(wx, by, r, r*.16, dark, glass)
		}
		frame := shade(p.second, .7+.5*c.r.Float64())
		for _, l := range [][4]float64{{lx, by, x + w*.42, y + h*.42}, {x + w*.42, y + h*.42, rx - w*.06, y + h*.4}, {rx - w*.06, y + h*.4, rx, by}, {x + w*.5, by,
			rx - w*.08, y + h*.44}, {lx, by, x + w*.5, by}} {
			c.line(l[0], l[1], l[2], l[3], .006, frame)
		}
	case Yarn:
		for range 14 {
			col := color.RGBA{uint8(110 + c.r.IntN(130)), uint8(60 + c.r.IntN(150)), uint8(70 + c.r.IntN(150)), 255}
			bx, by, r := x+w*(.12+.76*c.r.Float64()), y+h*(.35+.55*c.r.Float64()), h*.09
			c.disc(bx, by, r, col)
			for k := range 3 {
				c.line(bx-r*.5, by-r*.5+float64(k)*r*.5, bx+r*.5, by-r*.3+float64(k)*r*.4, .002, shade(col, .75))
			}
		}
	case Animals:
		paw := p.main
		px, py := x+w*.5, y+h*.6
		c.disc(px, py, h*.13, paw)
		for i, d := range [][2]float64{{-.19, -.16}, {-.07, -.28}, {.07, -.28}, {.19, -.16}} {
			c.disc(px+d[0]*w, py+d[1]*h, h*(.055+.005*float64(i%2)), paw)
		}
	case Laundry:
		for i := range 2 {
			bx := x + w*(.06+.47*float64(i))
			c.rect(bx, y+h*.3, w*.41, h*.62, white)
			c.ring(bx+w*.2, y+h*.66, h*.17, h*.035, shade(p.main, .8), shade(glass, .8+.3*c.r.Float64()))
			c.rect(bx+w*.05, y+h*.35, w*.3, h*.07, shade(p.main, 1.2))
		}
	case Chimneys:
		c.rect(x+w*.38, y+h*.2, w*.24, h*.7, p.second)
		for k := range 7 {
			c.rect(x+w*.38, y+h*(.22+.1*float64(k)), w*.24, h*.012, shade(p.second, .7))
		}
		c.rect(x+w*.32, y+h*.14, w*.36, h*.08, dark)
	}
}

// line is a stroke as thick as a part of the picture's height.
func (c canvas) line(x0, y0, x1, y1, thick float64, col color.Color) {
	dx, dy := (x1-x0)*c.w(), (y1-y0)*c.h()
	length := max(1e-6, dx*dx+dy*dy)
	scale := thick * c.h() / 2 / math.Sqrt(length)
	nx, ny := -dy*scale/c.w(), dx*scale/c.h()
	c.shape(col, [2]float64{x0 + nx, y0 + ny}, [2]float64{x1 + nx, y1 + ny}, [2]float64{x1 - nx, y1 - ny}, [2]float64{x0 - nx, y0 - ny})
}

// Inside is a room of the shop: shelves, a counter, lamps.
func Inside(w, h int, t Trade, seed uint64) image.Image {
	c, p := newCanvas(w, h, seed), palettes[t]
	back := shade(p.wall, .55+.5*c.r.Float64())
	c.rect(0, 0, 1, .72, back)
	c.shape(shade(wood, .9), [2]float64{0, 1}, [2]float64{0, .78}, [2]float64{.12, .7}, [2]float64{.88, .7}, [2]float64{1, .78}, [2]float64{1, 1})
	for i := range 9 { // floorboards
		x := float64(i) / 8
		c.line(.5+(x-.5)*.8, .7, .5+(x-.5)*2.2, 1, .003, shade(wood, .7))
	}
	for row := range 3 {
		y := .14 + .19*float64(row)
		for col := range 4 {
			x := .08 + .21*float64(col) + .01*c.r.Float64()
			if c.r.IntN(6) == 0 {
				continue // a bare bit of wall
			}
			c.rect(x, y, .19, .15, shade(back, .7+.5*c.r.Float64()))
			c.wares(x, y-.01, .19, .16, t, p)
			c.rect(x-.005, y+.15, .2, .014, wood)
		}
	}
	for i := range 3 {
		x := .2 + .3*float64(i)
		c.line(x, 0, x, .06, .004, dark)
		c.disc(x, .075, .025, color.RGBA{250, 226, 160, 255})
	}
	counter := .05 + .5*c.r.Float64()
	c.rect(counter, .7, .42, .17, p.main)
	c.rect(counter-.01, .685, .44, .025, wood)
	return c.grain().RGBA
}

// Work is hands at work: a tool, a bench, and what is mended.
func Work(w, h int, t Trade, seed uint64) image.Image {
	c, p := newCanvas(w, h, seed), palettes[t]
	c.rect(0, 0, 1, 1, shade(p.main, .55))
	for i := range 8 {
		x := .06 + .12*float64(i)
		c.line(x, .1, x+.02, .34+.1*c.r.Float64(), .02, shade(color.RGBA{150, 152, 156, 255}, .7+.5*c.r.Float64()))
		c.disc(x, .09, .02, dark)
	}
	c.rect(0, .68, 1, .32, wood)
	c.rect(0, .68, 1, .02, shade(wood, 1.2))
	c.rect(.2, .2, .6, .52, glass)
	c.wares(.2, .2, .6, .52, t, p)
	skin := []color.RGBA{{206, 160, 128, 255}, {142, 98, 70, 255}, {232, 194, 164, 255}}[c.r.IntN(3)]
	for _, side := range []float64{-1, 1} {
		x := .5 + side*.34
		c.shape(shade(p.second, .9), [2]float64{x + side*.2, 1}, [2]float64{x + side*.02, .78}, [2]float64{x - side*.06, .86}, [2]float64{x + side*.06, 1})
		c.disc(x-side*.03, .8, .055, skin)
	}
	return c.grain().RGBA
}

// Logo is a mark with the business's initials, or its whole name on one line.
func Logo(w, h int, name string, t Trade, seed uint64) image.Image {
	c, p := newCanvas(w, h, seed), palettes[t]
	c.rect(0, 0, 1, 1, white)
	if w > 2*h {
		c.rect(0, .1, 1, .8, p.main)
		c.write(name, 0, .1, 1, .8, p.second)
		return c.RGBA
	}
	c.disc(.5, .5, .46, p.main)
	c.ring(.5, .5, .42, .012, p.second, p.main)
	initials := ""
	for _, word := range strings.Fields(name) {
		if word != "&" && len(initials) < 2 {
			initials += word[:1]
		}
	}
	c.write(initials, .2, .2, .6, .5, p.second)
	c.write(strings.Fields(name)[0], .22, .64, .56, .14, white)
	return c.RGBA
}
