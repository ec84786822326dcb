package page

import (
	"slices"
	"strings"
	"testing"
	"time"
	"uvent/core/record/sighting"

	"uvent/core/fact/address"
	"uvent/core/fact/photo"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

var now = time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC)

func shop() (record.Record, []fit.Photo) {
	r := record.Record{
		Name:      "Spokeshave Cycle Works",
		LegalName: "Spokeshave LLC",
		Kind:      record.Premises,
		StoreCode: "SC-1",
		Opened:    "2011-04-01",
		Address:   address.Address{Street: "18 Quernstone Row", Locality: "Minnow Bay", Region: "WA", PostalCode: "98977", Country: "US"},
		Pin:       &record.Pin{Latitude: 48.123457, Longitude: -124.765431},
		Phones:    []record.Phone{{E164: "+13605550142"}},
		Email:     "shop@spokeshave.example",
		Website:   "https://spokeshave.example/",
		Company:   record.Company{Registration: "604 117 220", Size: "2-10", Kind: "limited company", Industry: "Repair", Founded: "1998"},
		Category:  "bicycle_repair",
		Hours:     "Tu-Fr 09:00-12:00; Sa 10:00-12:00; 2026 Dec 24 off",
		Words: record.Words{
			Tagline:  "By the ferry",
			Short:    "We mend.",
			Medium:   "We mend bicycles.",
			Long:     "We mend bicycles here.",
			Story:    "A bell.",
			Keywords: []string{"bicycles"},
		},
		Licences: []record.Licence{{Name: "Trade", Number: "T-1"}},
		Area:     record.Area{Towns: []record.Town{{Name: "Fennick"}}},
		Tags:     record.Tags{On: true, Medium: "listing"},
	}
	var photos []fit.Photo
	for _, group := range []string{"logo", "cover", "exterior", "interior", "team", "at_work", "product"} {
		photos = append(photos, fit.Photo{ID: group, Group: group, Size: photo.Size{Width: 3000, Height: 3000}, Focus: photo.Middle, Alternative: "the " + group})
	}
	return r, photos
}

// all that a page says, piece by piece.
func said(p Page) (texts, photos []string) {
	for _, band := range p.Bands {
		for _, column := range band {
			for _, piece := range column {
				for _, l := range piece.Lines {
					texts = append(texts, l.Text)
				}
				for _, shown := range piece.Photos {
					photos = append(photos, shown.ID)
				}
			}
		}
	}
	return texts, photos
}

// On each of the fifteen, everything that is given either shows, in one place, or is told to be unseen; and no two
// lay their pages out alike.
func TestEveryDirectoryLaysItsPagesOutInItsOwnWay(t *testing.T) {
	books, err := rulebooks.All()
	if err != nil {
		t.Fatal(err)
	}
	r, photos := shop()
	orders := map[string]string{}
	for i := range books {
		book := &books[i]
		if book.Layout.Bands == nil || book.Layout.Row == nil {
			t.Errorf("%s does not say how its pages are laid out", book.Name)
		}
		order := strings.Join(slices.Concat(book.Layout.Bands...), "|")
		if other := orders[order]; other != "" {
			t.Errorf("%s lays its pages out as %s does", book.Name, other)
		}
		orders[order] = book.Name
		rec := r
		rec.Kind = book.Listing.Kinds[len(book.Listing.Kinds)-1]
		if len(book.Listing.Streets) > 0 {
			rec.Address.Street, rec.Address.Locality = "1 "+book.Listing.Streets[0], book.Listing.Towns[0]
		}
		if book.MayList(rec) != "" {
			rec.Category = "chimney_sweep"
		}
		s := fit.Read(rec, photos, now)
		f := fit.Of(s, book)
		if f.Not != "" {
			t.Errorf("%s: %s", book.Name, f.Not)
		}
		would, unseen := Would(s, f, book, nil)
		texts, shown := said(would)
		hidden := ""
		for _, u := range unseen {
			hidden += u.Label + ": " + u.Says + "\n"
		}
		for _, v := range f.Values() {
			if strings.HasPrefix(v.Key, "photos.") {
				for _, id := range v.Data["photos"].(map[string]any) {
					for _, one := range id.([]any) {
						if id := one.(map[string]any)["id"].(string); !slices.Contains(shown, id) {
							t.Errorf("%s is given the photo %s, and it stands nowhere", book.Name, id)
						}
					}
				}
				continue
			}
			want := lines(v.Key, v.Text)[0]
			if slices.Contains(fit.Links, v.Key) {
				want = "spokeshave.example"
			}
			if n := len(slices.DeleteFunc(slices.Clone(texts), func(text string) bool { return text != want })); n == 0 && !strings.Contains(hidden, v.Label+":") &&
				!strings.Contains(hidden, "The street:") && v.Key != "address" {
				t.Errorf("%s is given %s, %q, and it stands nowhere and is not told to be unseen:\n%v\n%s", book.Name, v.Key, want, texts, hidden)
			}
		}
		if !book.ShowsStreet(rec) && strings.Contains(strings.Join(texts, "\n"), "Quernstone") {
			t.Errorf("%s shows the street:\n%v", book.Name, texts)
		}
		if len(would.Row) == 0 {
			t.Errorf("%s stands in no list of results", book.Name)
		}
	}
	if len(orders) != 15 {
		t.Errorf("%d layouts", len(orders))
	}
}

// What the page shows now lies in the same pieces, and what differs is marked on both.
func TestWhatDiffersIsMarkedOnBoth(t *testing.T) {
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		t.Fatal(err)
	}
	r, photos := shop()
	s := fit.Read(r, photos, now)
	seen := sighting.Sighting{Name: r.Name, Phone: "(360) 555-0143", Address: r.Address, Category: "Bike repair service"}
	would, _ := Would(s, fit.Of(s, &book), &book, &seen)
	is := Is(s, &book, seen)
	find := func(p Page, key string) (out []Line) {
		for _, band := range p.Bands {
			for _, column := range band {
				for _, piece := range column {
					for _, l := range piece.Lines {
						if l.Key == key {
							out = append(out, l)
						}
					}
				}
			}
		}
		return out
	}
	for key, want := range map[string]struct {
		mark      compare.Mark
		would, is string
	}{
		"name":    {compare.Equal, "Spokeshave Cycle Works", "Spokeshave Cycle Works"},
		"phone":   {compare.Unequal, "(360) 555-0142", "(360) 555-0143"},
		"website": {compare.Missing, "spokeshave.example", ""},
	} {
		a, b := find(would, key), find(is, key)
		if len(a) != 1 || len(b) != 1 || a[0].Mark != want.mark || b[0].Mark != want.mark || a[0].Text != want.would || b[0].Text != want.is {
			t.Errorf("%s: would be %+v, is %+v", key, a, b)
		}
	}
	if hours := find(would, "hours"); len(hours) != 2 || hours[0].Text != "Tue–Fri 9–12" {
		t.Errorf("%+v", hours)
	}
	if len(would.Bands) <= len(is.Bands) || is.Style != would.Style {
		t.Errorf("%d bands as it would be, %d as it is", len(would.Bands), len(is.Bands))
	}
}

// A page that lacks what it must have says so where it would stand.
func TestAPreviewWithoutANameSaysWhatIsMissing(t *testing.T) {
	book, err := rulebooks.Read("fernlook")
	if err != nil {
		t.Fatal(err)
	}
	r, _ := shop()
	r.Name = ""
	s := fit.Read(r, nil, now)
	would, _ := Would(s, fit.Of(s, &book), &book, nil)
	for _, piece := range would.Bands[0][0] {
		if piece.ID == "title" && piece.Lacks == "The record has no name." {
			return
		}
	}
	t.Errorf("%+v", would.Bands[0])
}

// A rulebook without a layout has a plain one; a wrong one is told by its path.
func TestALayoutThatIsWrong(t *testing.T) {
	shipped, err := rulebooks.Read("brasswire")
	if err != nil {
		t.Fatal(err)
	}
	before, _, _ := strings.Cut(shipped.Source, "\nlayout:")
	book, problems := rulebook.Parse("brasswire.yaml", []byte(before))
	if problems != nil || len(book.Laid().Bands) == 0 {
		t.Fatalf("%v", problems)
	}
	for layout, want := range map[string]string{
		"{style: ruled, bands: [[title hat], [facts]]}":                                        `layout.bands.0.0: there is no piece "hat"`,
		"{style: ruled, bands: [[title], [facts title]]}":                                      `layout.bands: "title" stands twice`,
		"{style: ruled, bands: [[title]]}":                                                     "layout.bands: place facts somewhere",
		"{style: baroque, bands: [[facts]]}":                                                   "layout.style",
		"{style: ruled, bands: [[facts]], row: [Title]}":                                       "layout.row.0",
		"{style: ruled, bands: [[facts]], unseen: [{fields: [colour], says: nobody sees it}]}": "layout.unseen.0.fields",
		"{style: ruled, bands: [[facts], [title, kind, line, words]]}":                         "layout.bands.1",
	} {
		_, problems := rulebook.Parse("brasswire.yaml", []byte(before+"\nlayout: "+layout+"\n"))
		if len(problems) == 0 || !strings.Contains(problems[0].Error(), want) {
			t.Errorf("%s: %v", layout, problems)
		}
	}
}
