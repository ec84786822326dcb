package reading

import (
	"bytes"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/rulebooks"
)

var today = calendar.Date{Year: 2026, Month: 11, Day: 24}

// described are the facts of a reading, a line each.
func described(r Reading) string {
	var b strings.Builder
	fmt.Fprintf(&b, "reads: %s\n", r.Reads)
	if r.Half {
		b.WriteString("half\n")
	}
	facts := r.Sighting.Columns()
	for _, key := range slices.Sorted(maps.Keys(facts)) {
		fmt.Fprintf(&b, "%s: %s\n", key, strings.ReplaceAll(facts[key], "\n", `\n`))
	}
	for _, d := range r.Sighting.Dates() {
		fmt.Fprintf(&b, "special: %s to %s %s\n", d.From, d.To, hours.SittingsText(d.Sittings))
	}
	for _, o := range r.Sighting.Offerings {
		fmt.Fprintf(&b, "offers: %s / %s / %s\n", o.Section, o.Name, o.Price)
	}
	for _, p := range r.Sighting.Photos {
		fmt.Fprintf(&b, "photo: %s\n", strings.TrimSpace(p.Place+" "+p.URL))
	}
	if n := r.Sighting.Reviews; n != nil {
		fmt.Fprintf(&b, "reviews: %d\n", *n)
	}
	return b.String()
}

// Pages as sites of many kinds serve them are read as a person reads them: what each says stands beside it.
func TestPagesOfManyKinds(t *testing.T) {
	files, err := filepath.Glob("testdata/*.html")
	if err != nil || len(files) < 14 {
		t.Fatalf("%d pages, %v", len(files), err)
	}
	for _, file := range files {
		page, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		want, err := os.ReadFile(strings.TrimSuffix(file, "html") + "txt")
		if err != nil {
			t.Fatal(err)
		}
		if got := described(Read(page, In{Address: "https://townfinder.example/place/1", Today: today})); got != string(want) {
			t.Errorf("%s is read as\n%swant\n%s", file, got, want)
		}
	}
}

// A page that breaks off anywhere is told as half, whatever of it can be read.
func TestABrokenPageIsHalf(t *testing.T) {
	for _, name := range []string{"graph", "tables", "plain", "rdfa", "french"} {
		page, err := os.ReadFile("testdata/" + name + ".html")
		if err != nil {
			t.Fatal(err)
		}
		end := bytes.Index(page, []byte("</body>"))
		begin := bytes.Index(page, []byte("<body"))
		for cut := begin + len("<body"); cut <= end; cut += 7 {
			if r := Read(page[:cut], In{Today: today}); !r.Half {
				t.Fatalf("%s, cut at %d, is whole: %s", name, cut, described(r))
			}
		}
		if r := Read(page, In{Today: today}); r.Half || r.Reads != Listing {
			t.Errorf("%s, whole: %s", name, described(r))
		}
	}
}

// Where a rulebook says where facts stand, they are read from there, whatever else the page says.
func TestTheRulebookSaysWhereFactsStand(t *testing.T) {
	book, err := rulebooks.Read("hithermap")
	if err != nil {
		t.Fatal(err)
	}
	book.Reads = append(
		book.Reads[:0:0],
		parseReads(
			t,
			"name .who",
			"phone .n@data-n",
			"text.short .say",
			"state .st",
			"photos .pics img",
			"areas ul.towns",
			"special_dates .hol li",
			"reviews .rev",
		)...)
	book.Reads[3].Means = map[string]string{"Gone fishing": "closed_for_a_time"}
	book.Reads[5].Parts = " / "
	r := Read(
		[]byte(
			`<html><body><h1>A page of Hithermap</h1><p class="who">Tern Cycles</p><i class="n" data-n="+1 360 555 0151">call</i><p class="st">Gone fishing</p><p class="say">Bikes,
		mended.</p><div class="pics"><img src="/1.jpg" data-place="logo"></div><ul class="towns">Quillcote / Larkspur Falls</ul><ul class="hol"><li>26 Nov: closed</li><li>Dec 24 9am–1pm</li></ul><b class="rev">12 people</b></body></html>`,
		),
		In{Address: "https://hithermap.example/x", Country: "US", Region: "WA", Today: today, Book: &book},
	)
	want := `reads: listing
name: Tern Cycles
phone: +13605550151
service_area: Quillcote | Larkspur Falls
short_description: Bikes, mended.
state_of_business: closed_for_a_time
special: 2026-11-26 to 2026-11-26 
special: 2026-12-24 to 2026-12-24 09:00-13:00
photo: logo https://hithermap.example/1.jpg
reviews: 12
`
	if got := described(r); got != want {
		t.Errorf("read as\n%swant\n%s", got, want)
	}
}

func FuzzRead(f *testing.F) {
	files, _ := filepath.Glob("testdata/*.html")
	for _, file := range files {
		page, _ := os.ReadFile(file)
		f.Add(page)
	}
	f.Fuzz(func(t *testing.T, page []byte) {
		r := Read(page, In{Address: "https://townfinder.example/place/1", Country: "US", Region: "WA", Today: today})
		s := r.Sighting
		if (r.Reads == Listing) != (s.Name != "") {
			t.Errorf("%s with the name %q", r.Reads, s.Name)
		}
		if s.Hours != "" {
			if schedule, ok := s.Schedule(); ok && schedule.String() != s.Hours {
				t.Errorf("hours that are not in their normal form: %q", s.Hours)
			}
		}
		for _, p := range s.Photos {
			if !strings.HasPrefix(p.URL, "http") {
				t.Errorf("a photo at %q", p.URL)
			}
		}
	})
}

// A page that is made to take long is read all the same: depth, width and repetition are bounded.
func TestAHostilePageIsRead(t *testing.T) {
	const n = 60_000
	for name, page := range map[string]string{
		"deep":      strings.Repeat("<div><span>", n) + "x: y",
		"wide":      "<h1>A</h1>" + strings.Repeat("<p>Phone: (360) 555-0142</p>", n),
		"headings":  strings.Repeat("<h2>Hours</h2><p>Mon: 9-5</p>", n/4),
		"dates":     "<h1>A</h1><h2>Holiday hours</h2>" + strings.Repeat("<p>Dec 24: 9am-12pm</p>", n/4),
		"items":     strings.Repeat(`<div itemscope itemtype="https://schema.org/Store"><b itemprop="name">A</b>`, n/8),
		"json":      `<script type="application/ld+json">` + strings.Repeat(`[{"@graph":`, n) + `</script>`,
		"list":      `<script type="application/ld+json">[` + strings.Repeat(`{"@type":"Store","name":"A","telephone":"1"},`, n) + `{}]</script>`,
		"attribute": `<a href="tel:` + strings.Repeat("1", 20*n) + `">`,
		"terms":     "<h1>A</h1><dl>" + strings.Repeat("<dt>Open", n) + strings.Repeat("<dd>9-5", n),
	} {
		if r := Read([]byte(page), In{Address: "https://townfinder.example/", Country: "US", Today: today}); r.Reads == "" {
			t.Errorf("%s is read as nothing", name)
		}
	}
}

// A directory of one country shows places of another: their numbers are read as they are written there.
func TestAPlaceInAnotherCountryThanItsDirectory(t *testing.T) {
	book, err := rulebooks.Read("hithermap")
	if err != nil {
		t.Fatal(err)
	}
	book.Reads = parseReads(t, "name h1", "phone .n")
	r := Read([]byte(`<h1>Tern Cycles</h1><p class="n">01632 960123</p>`), In{Country: "GB", Today: today, Book: &book})
	if r.Sighting.Phone != "+441632960123" {
		t.Errorf("%s", described(r))
	}
}
