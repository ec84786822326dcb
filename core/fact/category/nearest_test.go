package category

import (
	"strings"
	"testing"
)

func TestNearest(t *testing.T) {
	for text, want := range map[string]string{
		"Bakery": "bakery!", "bakeries": "bakery!", "Book shops": "bookshop!", "Tyre shop": "tire_shop!", "Antiques": "antique_shop!", "Pub": "bar!", "Music shop": "record_shop", "Bäckerei": "bakery!", "boulangerie": "bakery!", "PANADERIA": "bakery!", "Bicycle store": "bicycle_shop!",
		"Coffee shop": "cafe", "Vets": "veterinary_clinic!", "Tierarztpraxis": "veterinary_clinic!", "Veterinary": "veterinary_clinic", "Chimney sweeping": "chimney_sweep",
		"Launderette": "laundromat!", "Kfz-Werkstatt": "car_repair!", "Coiffeur": "hairdresser!", "Florsit": "", "Restaurnt": "restaurant", "Ghosts": "", "": "", "Shop": "",
	} {
		got, ok := Nearest(text)
		said := got.ID
		if !ok {
			said = ""
		} else if got.Sure {
			said += "!"
		}
		if said != want && want != "" || want == "" && strings.HasSuffix(said, "!") {
			t.Errorf("%q is %q, want %q", text, said, want)
		}
	}
	sure, _ := names()
	for _, c := range All() {
		if sure[stem(c.Name)].ID != c.ID {
			t.Errorf("%s is not found by its own name", c.Name)
		}
		if got, ok := Nearest(c.Name); !ok || !got.Sure || got.ID != c.ID {
			t.Errorf("%s finds %s", c.Name, got.ID)
		}
	}
	for line := range strings.Lines(elsewhere) {
		if id, _, ok := strings.Cut(line, ": "); ok && line[0] != '#' && byID[id].ID == "" {
			t.Errorf("%q is no category", id)
		}
	}
}
