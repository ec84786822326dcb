package reach

import (
	"errors"
	"testing"
)

// The same business, as three kinds of pages show it.
func TestReadPage(t *testing.T) {
	want := "Spokeshave & Sons|18 Tern Street, Suite B|Minnow Bay|WA|98990|+13605550142|https://spokeshave.example/shop|Cycle repairs|Tu-Fr 09:00-12:00,13:00-18:00"
	for name, page := range map[string]string{
		"JSON-LD": `<html><script type="application/ld+json">{"@type": "BreadcrumbList"}</script><script type="application/ld+json">{"@type": "LocalBusiness", "name": "Spokeshave & Sons", "telephone": "+13605550142",
			"url": "https://spokeshave.example/shop", "additionalType": "Cycle repairs", "address": {"streetAddress": "18 Tern Street, Suite B", "addressLocality": "Minnow Bay", "addressRegion": "WA", "postalCode": "98990"},
			"openingHoursSpecification": [{"dayOfWeek": ["Tuesday", "Wednesday", "Thursday", "Friday"], "opens": "09:00", "closes": "12:00"}, {"dayOfWeek": ["Tuesday", "Wednesday", "Thursday", "Friday"], "opens": "13:00", "closes": "18:00"}]}</script></html>`,
		"microdata": `<div itemscope itemtype="https://schema.org/BikeStore"><h1 itemprop="name">Spokeshave &amp; Sons</h1><p itemprop="additionalType">Cycle repairs</p>
			<div itemprop="address" itemscope itemtype="https://schema.org/PostalAddress"><span itemprop="streetAddress">18 Tern Street,
			Suite B</span> <span itemprop="addressLocality">Minnow Bay</span> <span itemprop="addressRegion">WA</span> <span itemprop="postalCode">98990</span></div>
			<span itemprop="telephone" content="+13605550142">(360) 555-0142</span> <a itemprop="url" href="https://spokeshave.example/shop">our site</a><meta itemprop="openingHours" content="Tu-Fr 09:00-12:00,13:00-18:00"></div>`,
		"plain": `<h1>Spokeshave &amp; Sons</h1><h1>Another heading</h1><dl><dt>Category</dt><dd>Cycle repairs, Cycle shop</dd><dt>Address</dt><dd><address>18 Tern Street, Suite B, Minnow Bay, WA 98990</address></dd>
			<dt>Phone</dt><dd><a href="tel:+13605550142">call</a> or <a href="tel:+13605550100">the other</a></dd><dt>Website</dt><dd><a href="x">https://spokeshave.example/shop</a></dd><dt>Hours</dt><dd>Tue–Fri 9–12, 13–18<br></dd></dl>`,
	} {
		s, err := ReadPage([]byte(page))
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if got := s.Name + "|" + s.Address.Street + "|" + s.Address.Locality + "|" + s.Address.Region + "|" + s.Address.PostalCode + "|" + s.Phone + "|" + s.Website + "|" + s.Category + "|" + s.Hours; got != want {
			t.Errorf("%s is read as %s", name, got)
		}
	}
	// Hours that cannot be read stay as they are written, for a person to look at.
	s, err := ReadPage([]byte(`<h1>X</h1><address>Minnow Bay, WA 98990 and around</address><dl><dt>Hours</dt><dd>when the light is on</dd></dl>`))
	if err != nil || s.Hours != "when the light is on" || s.Address.Locality != "Minnow Bay" || s.Address.PostalCode != "98990" || s.Address.Street != "" {
		t.Errorf("%v, %+v", err, s)
	}
	for _, page := range []string{"", "<h1>Only a heading</h1>", "<p>no business here</p>", `<script type="application/ld+json">{"name": 4}</script>`, `<div itemscope itemtype="https://schema.org/Person"></div>`} {
		if s, err := ReadPage([]byte(page)); !errors.Is(err, ErrNoFacts) {
			t.Errorf("%q is read as %+v, %v", page, s, err)
		}
	}
}

func FuzzReadPage(f *testing.F) {
	f.Add([]byte(`<div itemscope itemtype="https://schema.org/LocalBusiness"><h1 itemprop="name">X</h1></div>`))
	f.Add([]byte(`<h1>X</h1><a href="tel:1">`))
	f.Add([]byte(`<script type="application/ld+json">{"name": "X"}</script>`))
	f.Fuzz(func(t *testing.T, page []byte) {
		if s, err := ReadPage(page); err == nil && s.Name == "" {
			t.Errorf("a business without a name: %+v", s)
		}
	})
}
