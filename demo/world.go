package demo

import (
	"context"
	"maps"

	"uvent/desk/records"
	"uvent/outside/visit"
)

// furnish puts into the world what was there before the agency came: old
// listings, and phones that are not what the records say.
func (l *layer) furnish(ctx context.Context) error {
	us, ca := visit.Facts{"region": "WA", "country": "US"}, visit.Facts{"region": "BC", "country": "CA"}
	listings := []struct {
		holder string
		facts  visit.Facts
		on     string // the directory; empty: Fernlook
	}{
		// Two digits of the phone swapped, and no lunch break.
		{holder: "", facts: with(us, visit.Facts{"name": "Spokeshave Cycle Works", "street": "7 Heronry Rd, Ste B", "locality": "Three Herons", "postal_code": "98993", "phone": "+13605550164",
			"website": "https://spokeshave.example/three-herons?utm_source=fernlook", "category": "Bike store", "hours": "Tu-Fr 09:00-18:00; Sa 09:00-16:00"})},
		{holder: "maps@northlightmedia.example", facts: with(us, visit.Facts{"name": "Sablecote Vet", "street": "15 Orchard St", "locality": "Quillcote", "postal_code": "98992", "phone": "+13605550182",
			"website": "https://sablecote.example", "category": "Animal clinic", "hours": "Mo-Fr 08:00-18:00"})},
		{holder: "", facts: with(ca, visit.Facts{"name": "Saltgrass Laundry", "street": "56 Glacier St", "locality": "Upper Moraine", "postal_code": "V0O 1H6", "phone": "+12505550192",
			"category": "Self-service laundry", "hours": "Mo-Su 06:00-24:00"})},
		{holder: "", facts: with(us, visit.Facts{"name": "Nettlewick Wool Room", "street": "31 Chandlery Lane", "locality": "Port Sable", "postal_code": "98991", "phone": "+13605550109",
			"category": "Wool and yarn store"})},
		{holder: "", facts: with(us, visit.Facts{"name": "Nettlewick Yarns", "street": "9 Old Wharf", "locality": "Port Sable", "postal_code": "98991", "phone": "+13605550109",
			"website": "https://nettlewick.example/old-wharf", "category": "Wool and yarn store", "hours": "Tu-Sa 10:00-17:30"})},
		{holder: "owner@gullandspoke.example", facts: with(us, visit.Facts{"name": "Gull and Spoke Bicycles", "street": "12 Breakwater Street", "locality": "Port Sable", "postal_code": "98991",
			"phone": "+13605550173", "category": "Bike store", "hours": "Mo-Sa 09:00-18:00"})},
		{holder: "owner@quaywash.example", facts: with(ca, visit.Facts{"name": "Quay Wash", "street": "90 Fennick Road", "locality": "Fennick", "postal_code": "V0O 1F2", "phone": "+12505550171",
			"category": "Self-service laundry", "hours": "24/7"})},
		{facts: with(us, visit.Facts{"name": "Sablecote Veterinary", "street": "77 Lantern Hill Rd", "locality": "Port Sable", "postal_code": "98991", "phone": "+13605550180", "category": "Vet"}), on: "waywren"},
		// At a former address.
		{facts: with(us, visit.Facts{"name": "Spokeshave Cycle Works", "street": "2 Heronry Road", "locality": "Three Herons", "postal_code": "98993", "phone": "+13605550146", "category": "Bicycles"}), on: "candourbox"},
		{holder: "maps@northlightmedia.example", facts: with(us, visit.Facts{"name": "Sablecote Veterinary", "street": "15 Orchard Street", "locality": "Quillcote", "postal_code": "98992", "phone": "+13605550182", "category": "Vets"}), on: "candourbox"},
	}
	for _, p := range listings {
		if p.on == "" {
			p.on = "fernlook"
		}
		if _, err := l.world.Place(ctx, p.on, p.holder, p.facts); err != nil {
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

// enrol fills the register of accounts, with what is wrong with some of them.
func (l *layer) enrol(ctx context.Context) error {
	for _, f := range []records.AccountFacts{
		{Directory: "fernlook", Email: Account, Holder: "Ines Roake", Person: &l.who.ID, Class: "Single", Confirmed: true},
		{Directory: "waywren", Email: Account, Holder: "Ines Roake", Person: &l.who.ID, Class: "Owner", Confirmed: true},
		{Directory: "skerry", Email: Account, Holder: "Ines Roake", Person: &l.who.ID, Confirmed: true},
		{Directory: "hithermap", Email: Account, Holder: "Tobias Finch"},
		{Directory: "murmurhall", Email: "pages@halyardstreet.example", Holder: "Juno Abara", Confirmed: true, Personal: true, Gone: true, Note: "Juno left in September; her own account is still behind the pages."},
		{Directory: "lanefolk", Email: "ida.renn@tidemail.example", Holder: "Ida Renn, the owner", Confirmed: true, Personal: true},
		{Directory: "guildbench", Email: Account, Holder: "Ines Roake", Person: &l.who.ID, Confirmed: true, Personal: true},
		{Directory: "candourbox", Email: Account, Holder: "Tobias Finch", Confirmed: false},
		{Directory: "plotline", Email: "data@halyardstreet.example", Holder: "Tobias Finch", Class: "Starter", Confirmed: true},
	} {
		if _, err := l.desk.Records.SaveAccount(ctx, l.who.Actor(), nil, f); err != nil {
			return err
		}
	}
	return nil
}
