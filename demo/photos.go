package demo

import (
	"context"
	"errors"
	"fmt"
	"hash/fnv"
	"image"
	"slices"
	"strings"

	"uvent/core/fact/photo"
	"uvent/demo/paint"
	"uvent/desk/clockwork"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/desk/people"
	"uvent/desk/problem"
)

// trades are what the clients' photos show.
var trades = map[string]paint.Trade{
	spokeshave: paint.Bicycles, mossback: paint.Chimneys, nettlewick: paint.Yarn, sablecote: paint.Animals, saltgrass: paint.Laundry,
}

// shot is a photo to be drawn.
type shot struct {
	group, file, caption, alternative string
	picture                           func(seed uint64) image.Image
	focus                             *photo.Focus
}

// Hang draws the photos and takes them in, one after the other while people look
// around already; those that are there are left alone. Some have faults: a logo
// that a circle cuts, one that is blurred, one that is too small, one that is there
// twice. The newest shop has none.
func Hang(ctx context.Context, d *clockwork.Desk) error {
	clients, err := d.Records.Clients(ctx)
	if err != nil {
		return err
	}
	for _, c := range clients {
		trade, known := trades[c.Name]
		if !known {
			continue // a visitor's
		}
		if err := take(ctx, d, ledger.OfClient(c.ID), c.Name, logo(c.Name, trade)); err != nil {
			return err
		}
		locations, err := d.Records.Locations(ctx, ledger.OfClient(c.ID))
		if err != nil {
			return err
		}
		for _, loc := range locations {
			if loc.Label == "Larkspur Falls" {
				continue
			}
			for _, s := range shots(c.Name, loc.Label, loc.Record.Address.Street, trade) {
				if err := take(ctx, d, ledger.Scope{Location: &loc.ID}, c.Name+"/"+loc.Label, s); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

func logo(client string, t paint.Trade) shot {
	s := shot{group: "logo", file: "logo.png", alternative: client + ", logo"}
	s.picture = func(seed uint64) image.Image { return paint.Logo(640, 640, client, t, seed) }
	s.focus = &photo.Focus{X: .2, Y: .22, W: .6, H: .56}
	if t == paint.Chimneys { // a line of words, which no circle can hold
		s.picture = func(seed uint64) image.Image { return paint.Logo(1200, 400, client, t, seed) }
		s.focus = &photo.Focus{X: .05, Y: .2, W: .9, H: .6}
	}
	return s
}

func shots(client, label, street string, t paint.Trade) []shot {
	number, _, _ := strings.Cut(street, " ")
	sign := &photo.Focus{X: .16, Y: .22, W: .68, H: .14}
	front := func(w, h int) func(uint64) image.Image {
		return func(seed uint64) image.Image { return paint.Front(w, h, client, number, t, seed) }
	}
	inside := func(seed uint64) image.Image { return paint.Inside(800, 600, t, seed+1) }
	work := func(seed uint64) image.Image { return paint.Work(800, 600, t, seed+2) }
	switch label {
	case "Alder Landing":
		return []shot{
			{"cover", "at-work.jpg", "", "A chimney being swept", func(seed uint64) image.Image { return paint.Work(1200, 675, t, seed) }, nil},
			{group: "at_work", file: "flue.jpg", picture: work},
		}
	case "Upper Moraine":
		return []shot{{"exterior", "front.jpg", "", "", func(seed uint64) image.Image {
			return paint.Enlarged(photo.Smaller(front(800, 600)(seed), 60), 800, 600) // a phone's, taken in a hurry
		}, nil}, {group: "interior", file: "machines.jpg", picture: inside}}
	case "Fennick":
		return []shot{{"exterior", "front.jpg", "From the road", "A yarn shop’s front with two windows", front(800, 600), sign},
			{"interior", "shelves-small.jpg", "", "", func(seed uint64) image.Image { return photo.Smaller(inside(seed), 320) }, nil}}
	case "Three Herons":
		return []shot{
			{"exterior", "front.jpg", "Heronry Road", "The shop’s front under a striped awning", front(800, 600), sign},
			{"cover", "front-again.jpg", "", "", func(seed uint64) image.Image { return photo.Smaller(front(800, 600)(seed), 700) }, nil},
			{group: "interior", file: "room.jpg", picture: inside},
		}
	}
	return []shot{
		{"cover", "front-wide.jpg", "", fmt.Sprintf("%s in %s, seen from the street", client, label), front(1200, 675), sign},
		{
			"exterior",
			"front.jpg",
			"The front on " + strings.TrimLeft(street, "0123456789 "),
			"The front with its sign and the street number " + number,
			func(seed uint64) image.Image {
				return paint.Front(800, 600, client, number, t, seed+9)
			},
			sign,
		},
		{"interior", "inside.jpg", "Inside", "Shelves, a counter and three lamps", inside, nil},
	}
}

// take draws a photo and takes it in, unless it hangs there already.
func take(ctx context.Context, d *clockwork.Desk, at ledger.Scope, of string, s shot) error {
	there, err := d.Files.Photos(ctx, at)
	if err != nil || slices.ContainsFunc(there, func(p files.Photo) bool { return p.FileName == s.file && p.Kind == s.group }) {
		return err
	}
	h := fnv.New64a()
	h.Write([]byte(of))
	format := photo.JPEG
	if strings.HasSuffix(s.file, ".png") {
		format = photo.PNG
	}
	data, err := photo.Encode(s.picture(h.Sum64()), format)
	if err != nil {
		return err
	}
	f := files.PhotoFacts{Group: s.group, Caption: s.caption, Alternative: s.alternative, Focus: photo.Middle}
	if s.focus != nil {
		f.Focus = *s.focus
	}
	_, err = d.Files.AddPhoto(ctx, people.Actor{Name: People[0].Name}, at, f, s.file, data)
	var p *problem.Problem
	if errors.As(err, &p) && p.Kind == problem.Conflict {
		return nil // a visitor has hung the same meanwhile
	}
	return err
}
