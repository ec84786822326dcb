package rig

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"uvent/core/fact/photo"
	"uvent/desk/boards"
	"uvent/desk/imports"
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
		client, number := i/50, i%50
		fmt.Fprintf(
			&b,
			"Client %d,Shop %d,%s Cycle Works,%d %s Street,%s,WA,98990,US,(360) %03d-%04d,Bicycle repair,\"Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-%02d:00\"\n",
			client, i, madeUp(client), 1+number*17, madeUp(7*i+3), madeUp(i%97)+" Bay", 200+i/8000, 2000+i%8000, 13+i%6,
		)
	}
	return b.Bytes()
}

// madeUp is a word for a number, another for each.
func madeUp(n int) string {
	parts := []string{"ba", "do", "fel", "gri", "hum", "jor", "kel", "lun", "mar", "nob", "pel", "quo", "ris", "sab", "tur", "vel"}
	word := ""
	for range 4 {
		word += parts[n%len(parts)]
		n /= len(parts)
	}
	return strings.ToUpper(word[:1]) + word[1:]
}

// ImportIs waits until a file is as far as that.
func (r *Rig) ImportIs(t testing.TB, id uuid.UUID, state imports.State) imports.Import {
	t.Helper()
	const patience = 2 * time.Minute
	for until, done := time.Now().Add(patience), 0; ; time.Sleep(20 * time.Millisecond) {
		in, err := r.Desk.Imports.Import(t.Context(), id)
		Must(t, err)
		if in.Done != done {
			until, done = time.Now().Add(patience), in.Done
		}
		switch {
		case in.State == state:
			return in
		case in.State == imports.Failed || time.Now().After(until):
			t.Fatalf("the file is %s, not %s: %s", in.State, state, in.Trouble)
		}
	}
}

// BringIn brings all rows of a file of locations in.
func (r *Rig) BringIn(t testing.TB, file []byte) imports.Import {
	t.Helper()
	in, err := r.Desk.Imports.Start(t.Context(), r.Who, nil, "locations.csv", file)
	Must(t, err)
	r.ImportIs(t, in.ID, imports.Ready)
	_, err = r.Desk.Imports.BringIn(t.Context(), r.Who.Actor(), in.ID)
	Must(t, err)
	return r.ImportIs(t, in.ID, imports.In)
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

// AsWritten is a body as those write it who keep to the contract: a list that holds nothing is empty, and not null.
func AsWritten(body any) ([]byte, error) {
	b, err := json.Marshal(body)
	if err != nil {
		return nil, err
	}
	var value any
	if err := json.Unmarshal(b, &value); err != nil {
		return nil, err
	}
	return json.Marshal(withoutNull(value))
}

func withoutNull(value any) any {
	switch v := value.(type) {
	case nil:
		return []any{} // what else may be missing is left out
	case map[string]any:
		for key, one := range v {
			if v[key] = withoutNull(one); one == nil && key == "attributes" { // which are by name
				v[key] = map[string]any{}
			}
		}
	case []any:
		for i, one := range v {
			v[i] = withoutNull(one)
		}
	}
	return value
}
