package demo

import (
	"context"
	"maps"

	"uvent/outside/visit"
)

// furnish puts into the world what was there before the agency came: old
// listings, and phones that are not what the records say.
func (l *layer) furnish(ctx context.Context) error {
	us, ca := visit.Facts{"region": "WA", "country": "US"}, visit.Facts{"region": "BC", "country": "CA"}
	listings := []struct {
		holder string
		facts  visit.Facts
	}{
		// Two digits of the phone swapped, and no lunch break.
		{"", with(us, visit.Facts{"name": "Spokeshave Cycle Works", "street": "7 Heronry Rd, Ste B", "locality": "Three Herons", "postal_code": "98993", "phone": "+13605550164",
			"website": "https://spokeshave.example/three-herons?utm_source=fernlook", "category": "Bike store", "hours": "Tu-Fr 09:00-18:00; Sa 09:00-16:00"})},
		{"maps@northlightmedia.example", with(us, visit.Facts{"name": "Sablecote Vet", "street": "15 Orchard St", "locality": "Quillcote", "postal_code": "98992", "phone": "+13605550182",
			"website": "https://sablecote.example", "category": "Animal clinic", "hours": "Mo-Fr 08:00-18:00"})},
		{"", with(ca, visit.Facts{"name": "Saltgrass Laundry", "street": "56 Glacier St", "locality": "Upper Moraine", "postal_code": "V0O 1H6", "phone": "+12505550192",
			"category": "Self-service laundry", "hours": "Mo-Su 06:00-24:00"})},
		{"", with(us, visit.Facts{"name": "Nettlewick Wool Room", "street": "31 Chandlery Lane", "locality": "Port Sable", "postal_code": "98991", "phone": "+13605550109",
			"category": "Wool and yarn store"})},
		{"", with(us, visit.Facts{"name": "Nettlewick Yarns", "street": "9 Old Wharf", "locality": "Port Sable", "postal_code": "98991", "phone": "+13605550109",
			"website": "https://nettlewick.example/old-wharf", "category": "Wool and yarn store", "hours": "Tu-Sa 10:00-17:30"})},
		{"owner@gullandspoke.example", with(us, visit.Facts{"name": "Gull and Spoke Bicycles", "street": "12 Breakwater Street", "locality": "Port Sable", "postal_code": "98991",
			"phone": "+13605550173", "category": "Bike store", "hours": "Mo-Sa 09:00-18:00"})},
		{"owner@quaywash.example", with(ca, visit.Facts{"name": "Quay Wash", "street": "90 Fennick Road", "locality": "Fennick", "postal_code": "V0O 1F2", "phone": "+12505550171",
			"category": "Self-service laundry", "hours": "24/7"})},
	}
	for _, p := range listings {
		if _, err := l.world.Place(ctx, "fernlook", p.holder, p.facts); err != nil {
			return err
		}
	}
	// Pages that were moved or taken down since the records were written.
	for _, page := range []struct {
		address string
		status  int
		leads   string
	}{{"spokeshave.example/gift-cards", 404, ""}, {"saltgrasslaundry.example/upper-moraine", 301, "https://saltgrasslaundry.example/"}} {
		if err := l.world.Site(ctx, page.address, page.status, page.leads); err != nil {
			return err
		}
	}
	// The clinic's number is a landline: a text to it is lost.
	return l.world.Phone(ctx, "+12505550184", true, "", pacific.String())
}

func with(a, b visit.Facts) visit.Facts {
	out := maps.Clone(a)
	maps.Copy(out, b)
	return out
}
