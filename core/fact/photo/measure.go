package photo

import (
	"image"
	"math"
	"math/bits"
	"slices"
)

// blurEdge is the length of the longer edge at which sharpness is measured, in
// pixels: a fixed scale, so that pictures of all sizes compare.
const blurEdge = 512

// Blurred is the sharpness below which a picture looks blurred.
const Blurred = 60.0

// Sharpness is the variance of a picture's Laplacian at a fixed scale, in squared
// grey levels of 0 to 255. The part of the picture that is sharpest decides: a
// sharp sign before a soft background is a sharp photo.
func Sharpness(img image.Image) float64 {
	g := grey(Smaller(img, blurEdge))
	const parts = 4
	best := 0.0
	for py := range parts {
		for px := range parts {
			best = max(best, laplacian(g, px*g.w/parts, py*g.h/parts, (px+1)*g.w/parts, (py+1)*g.h/parts))
		}
	}
	return best
}

// laplacian is the variance of the Laplacian within a part of a picture.
func laplacian(g greys, x0, y0, x1, y1 int) float64 {
	var sum, squares float64
	n := 0
	for y := max(1, y0); y < min(y1, g.h-1); y++ {
		for x := max(1, x0); x < min(x1, g.w-1); x++ {
			v := g.at(x-1, y) + g.at(x+1, y) + g.at(x, y-1) + g.at(x, y+1) - 4*g.at(x, y)
			sum += v
			squares += v * v
			n++
		}
	}
	if n == 0 {
		return 0
	}
	mean := sum / float64(n)
	return squares/float64(n) - mean*mean
}

type greys struct {
	w, h int
	pix  []float64
}

func (g greys) at(x, y int) float64 { return g.pix[y*g.w+x] }

// grey is a picture in grey levels (ITU-R BT.601).
func grey(img image.Image) greys {
	b := img.Bounds()
	g := greys{b.Dx(), b.Dy(), make([]float64, b.Dx()*b.Dy())}
	for y := range g.h {
		for x := range g.w {
			r, gr, bl, _ := img.At(b.Min.X+x, b.Min.Y+y).RGBA()
			g.pix[y*g.w+x] = (299*float64(r) + 587*float64(gr) + 114*float64(bl)) / 1000 / 257
		}
	}
	return g
}

// Hash is a perceptual hash of 64 bits: the lowest frequencies of a discrete
// cosine transform of the picture at 32 by 32, above or below their median. It
// changes little when a picture is scaled, encoded anew or made a little softer.
func Hash(img image.Image) uint64 {
	const n, low = 32, 8
	g := grey(scaled(img, img.Bounds(), n, n, careful))
	var waves [low][n]float64
	for u := range low {
		for x := range n {
			waves[u][x] = math.Cos(math.Pi / n * (float64(x) + .5) * float64(u))
		}
	}
	var freq []float64
	for v := range low {
		for u := range low {
			sum := 0.0
			for y := range n {
				for x := range n {
					sum += g.at(x, y) * waves[u][x] * waves[v][y]
				}
			}
			freq = append(freq, sum)
		}
	}
	sorted := slices.Clone(freq[1:]) // the first is the mere brightness
	slices.Sort(sorted)
	median := sorted[len(sorted)/2]
	var hash uint64
	for i, f := range freq {
		if i > 0 && f > median {
			hash |= 1 << i
		}
	}
	return hash
}

// Distance is how many bits two hashes differ in, of 64.
func Distance(a, b uint64) int { return bits.OnesCount64(a ^ b) }

// SamePicture is the distance up to which two hashes are of one picture.
const SamePicture = 6
