package rig

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/photo"
	"uvent/desk/boards"
	"uvent/desk/ledger"
	"uvent/desk/problem"
)

// Refused checks that an error is a problem of a kind that says something.
func Refused(t testing.TB, err error, kind problem.Kind, says string) {
	t.Helper()
	var p *problem.Problem
	if !errors.As(err, &p) || p.Kind != kind {
		t.Fatalf("got %v, want a problem of kind %d that says %q", err, kind, says)
	}
	all := p.Detail
	for _, f := range p.Fields {
		all += " " + f.Path + ": " + f.Message
	}
	if !strings.Contains(all, says) {
		t.Fatalf("it says %q, want %q", all, says)
	}
}

// Eventually waits for what is done in the background, and has it done at once.
func (r *Rig) Eventually(t testing.TB, so func() bool) {
	t.Helper()
	for end := time.Now().Add(60 * time.Second); !so(); time.Sleep(10 * time.Millisecond) {
		r.Desk.Wake()
		if time.Now().After(end) {
			t.Fatal("it never came to be so")
		}
	}
}

// Tasks are the rows of Today.
func Tasks(t boards.Today, err error) ([]boards.Cell, error) { return t.Rows, err }

// On is the same location on another directory.
func On(p ledger.Place, directory string) ledger.Place {
	p.Directory = directory
	return p
}

// ManyRows is a file of n locations, fifty to a client.
func ManyRows(n int) []byte {
	var b bytes.Buffer
	b.WriteString("Client,Location,Name,Street,Town,State,Zip,Country,Phone,Category,Hours\n")
	for i := range n {
		fmt.Fprintf(
			&b,
			"Client %d,Shop %d,Spokeshave Cycle Works,%d Tern Street,Minnow Bay,WA,98990,US,(360) 555-01%02d,Bicycle repair,\"Tu-Fr 09:00-12:00,13:00-18:00; Sa "+
				"09:00-%02d:00\"\n",
			i/50,
			i,
			i+1,
			i%100,
			13+i%6,
		)
	}
	return b.Bytes()
}

// Boxes is a photo of a size, different for each seed.
func Boxes(t testing.TB, w, h int, seed uint64) []byte {
	t.Helper()
	r := rand.New(rand.NewPCG(seed, seed))
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for range 30 {
		at := image.Rect(0, 0, w/6+r.IntN(w/3), h/6+r.IntN(h/3)).Add(image.Pt(r.IntN(w), r.IntN(h)))
		draw.Draw(img, at, image.NewUniform(color.RGBA{uint8(r.IntN(256)), uint8(r.IntN(256)), uint8(r.IntN(256)), 255}), image.Point{}, draw.Src)
	}
	data, err := photo.Encode(img, photo.JPEG)
	Must(t, err)
	return data
}
