package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"uvent/core/fact/photo"
	"uvent/demo/paint"
	"uvent/desk/files"
	"uvent/desk/ledger"
	"uvent/e2e/rig"
)

// Photos come in several at once; those that are refused say why; a click says
// what must be seen, and every shape follows.
func TestPhotosAreBroughtInAndFocused(t *testing.T) {
	s := open(t)
	at := s.rig.Add(t, rig.Shop("Minnow Bay"))
	dir := t.TempDir()
	file := func(name string, data []byte) string {
		path := filepath.Join(dir, name)
		s.do(os.WriteFile(path, data, 0o600))
		return path
	}
	front, err := photo.Encode(paint.Front(1000, 750, "Spokeshave Cycle Works", "18", paint.Bicycles, 4), photo.JPEG)
	s.do(err)
	s.do(s.Open(s.at("/record/l/"+at.Location.String()+"#photos")), s.See("No photos yet"))
	s.do(s.Upload("photos", file("front.jpg", front), file("sign.svg", []byte("<svg onload='alert(1)'/>")), file("hours.jpg", []byte("closed"))))
	s.do(s.See("This is an SVG drawing, which may hold scripts."), s.See("This is no picture that can be read"), s.See("1000 × 750"), s.See("= fits"))
	s.do(s.Press("Dismiss sign.svg"), s.NotSee("may hold scripts"))
	s.do(s.Type("Caption", "The front on Tern Street"), s.Type("Alternative text", "A shop front with a striped awning"))

	photos := func() []files.Photo {
		list, err := s.rig.Desk.Files.Photos(t.Context(), ledger.Scope{Location: &at.Location})
		s.do(err)
		return list
	}
	s.do(s.eventually(func() bool { return photos()[0].Alternative == "A shop front with a striped awning" }))
	// A click near the right edge moves what the shapes show.
	spot := now[[]float64](
		s,
		`(() => { const b = document.querySelector(".focus-field").getBoundingClientRect(); return [b.x + b.width * .9, b.y + b.height * .5] })()`,
	)
	s.do(s.Drag(spot[0], spot[1], spot[0], spot[1]))
	s.do(s.eventually(func() bool { f := photos()[0].Focus; return f.X > .85 && f.X < .95 && f.W == 0 }))
	if p := photos()[0]; p.Caption != "The front on Tern Street" || p.Kind != "exterior" {
		t.Errorf("%+v", p.Picture)
	}
	s.do(s.Press("Remove"), s.See("front.jpg is taken out."), s.See("No photos yet"), s.Press("Undo"), s.See("1000 × 750"))
}
