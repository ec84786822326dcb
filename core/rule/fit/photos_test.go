package fit

import (
	"image"
	"image/color"
	"strings"
	"testing"

	"uvent/core/fact/photo"
	"uvent/rulebooks"
)

func TestPhotos(t *testing.T) {
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		t.Fatal(err)
	}
	logo := Photo{Group: "logo", Size: photo.Size{Width: 900, Height: 600}, Focus: photo.Focus{X: .4, Y: .4, W: .2, H: .2}}
	if fits := Photos(logo, book); len(fits) != 1 || fits[0].Faults != nil || fits[0].Window.Dx() != 600 || !fits[0].Rule.Crop.Circle {
		t.Errorf("%+v", fits)
	}
	for says, spoil := range map[string]func(*Photo){
		"circle cuts":           func(p *Photo) { p.Focus = photo.Focus{X: .2, Y: .1, W: .6, H: .8} },
		"200 by 200 pixels are": func(p *Photo) { p.Size = photo.Size{Width: 300, Height: 200} },
		"does not fit into": func(p *Photo) {
			p.Group, p.Focus, p.Size = "cover", photo.Focus{W: 1, H: 1}, photo.Size{Width: 900, Height: 900}
		},
		"caption has 91": func(p *Photo) { p.Group, p.Caption = "interior", strings.Repeat("é", 91) },
		"text has 121":   func(p *Photo) { p.Group, p.Alternative = "cover", strings.Repeat("é", 121) },
	} {
		p := logo
		spoil(&p)
		if fits := Photos(p, book); len(fits) != 1 || len(fits[0].Faults) != 1 || !strings.Contains(fits[0].Faults[0], says) {
			t.Errorf("want %q, got %+v", says, fits)
		}
	}
	if fits := Photos(Photo{Group: "passport"}, book); fits != nil {
		t.Errorf("%+v", fits)
	}
}

// A 12-megapixel photo, cut into every shape that the directories want of its group.
func BenchmarkRenditions(b *testing.B) {
	books, err := rulebooks.All()
	if err != nil {
		b.Fatal(err)
	}
	size := photo.Size{Width: 4000, Height: 3000}
	img := image.NewRGBA(image.Rect(0, 0, size.Width, size.Height))
	for y := range size.Height {
		for x := range size.Width {
			img.SetRGBA(x, y, color.RGBA{uint8(x / 16), uint8(y / 12), uint8((x / 40) * (y / 40)), 255})
		}
	}
	data, err := photo.Encode(img, photo.JPEG)
	if err != nil {
		b.Fatal(err)
	}
	for _, group := range PhotoGroups {
		b.Run(group.ID, func(b *testing.B) {
			var shapes int
			for b.Loop() {
				_, img, err := photo.Read(data)
				if err != nil {
					b.Fatal(err)
				}
				work := photo.Smaller(img, photo.WorkEdge)
				shapes = 0
				for _, book := range books {
					for _, f := range Photos(Photo{Group: group.ID, Size: size, Focus: photo.Middle}, book) {
						if _, err := photo.Encode(f.Rule.Crop.Cut(work, photo.Middle), photo.JPEG); err != nil {
							b.Fatal(err)
						}
						shapes++
					}
				}
			}
			b.ReportMetric(float64(shapes), "shapes/photo")
		})
	}
}
