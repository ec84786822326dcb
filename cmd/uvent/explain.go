package main

import (
	"fmt"
	"io"
	"strings"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/photo"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// sample is a made-up location to show what a rulebook comes to.
type sample struct {
	what   string
	record record.Record
	photos []fit.Photo
}

// explained is the day on which the samples are held against a rulebook, so that it always says the same.
var explained = time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC)

// samples are of each kind of location: one that says all, one that does not show where it is, and one that says
// little and works at night.
func samples() []sample {
	shop := record.Record{
		Name: "Spokeshave Cycle Works", LegalName: "Spokeshave Cycle Works LLC", Kind: record.Premises, Opened: "2011-04-01", StoreCode: "SCW-01",
		Address: address.Address{Street: "18 Tern Street", Locality: "Minnow Bay", Region: "WA", PostalCode: "98990", Country: "US"},
		Pin:     &record.Pin{Latitude: 48.61, Longitude: -124.95}, Phones: []record.Phone{{E164: "+13605550142"}, {E164: "+13605550143"}},
		Email: "shop@spokeshave.example", Website: "https://spokeshave.example/minnow-bay", Category: "bicycle_repair", Others: []string{"bicycle_shop"},
		Hours:   "Tu-Fr 09:00-12:00,13:00-18:00; Sa 09:00-16:00; PH off; 2026 Dec 24 09:00-12:00",
		Company: record.Company{Registration: "604 117 220", Size: "2-10", Kind: "limited company", Industry: "Repair", Founded: "1998"},
		Words: record.Words{
			Tagline:  "The workshop by the ferry",
			Short:    "Bicycles mended by the ferry, while you wait.",
			Keywords: []string{"bicycles", "repair", "ferry", "brakes", "wheels"},
			Medium: "We mend bicycles two minutes from the ferry. Leave yours on the way out, and it is ready when the evening boat comes in. " +
				"We build wheels, cut keys for old locks, and lend you another meanwhile.",
		},
		Links: record.Links{Booking: "https://spokeshave.example/book"}, Payments: []string{"cash", "contactless"},
		Licences: []record.Licence{{Name: "Trade", Number: "SCBT-40712"}},
	}
	van := shop
	van.Kind, van.Category, van.Others = record.GoesToCustomers, "chimney_sweep", nil
	van.Area = record.Area{Towns: []record.Town{{Name: "Minnow Bay"}, {Name: "Port Sable"}, {Name: "Fennick"}}}
	night := record.Record{
		Name: "The Lamplighter Rooms and Late Supper House at the Old Customs Quay", Kind: record.Both, Category: "restaurant",
		Address: shop.Address, Phones: shop.Phones[:1], Hours: "Th-Sa 18:00-02:00",
	}
	var photos []fit.Photo
	for _, g := range fit.PhotoGroups {
		photos = append(photos, fit.Photo{ID: g.ID, Group: g.ID, Size: photo.Size{Width: 2400, Height: 1800}, Focus: photo.Middle})
	}
	return []sample{
		{"A shop that says all, with its photos", shop, photos},
		{"A sweep who goes to his customers, and has photos", van, photos},
		{"A supper house with a long name, that opens past midnight and says little else", night, nil},
	}
}

// explainRulebook says in sentences what follows from a rulebook for the samples.
func explainRulebook(b *rulebook.Rulebook, out io.Writer) {
	for _, s := range samples() {
		f := fit.Of(fit.Read(s.record, s.photos, explained), b)
		fmt.Fprintf(out, "\n%s\n", s.what)
		if f.Not != "" {
			fmt.Fprintf(out, "  Cannot be listed. %s\n", f.Not)
			continue
		}
		fmt.Fprintf(out, "  The listing can be %.0f %% complete.\n", f.Percent)
		for _, i := range f.Items {
			fmt.Fprintf(out, "  %s %s\n", i.Mark, explain(i))
		}
	}
}

// explain says in one sentence or two what becomes of a field.
func explain(i fit.Item) string {
	switch given := strings.ReplaceAll(i.Value.Text, "\n", " / "); {
	case i.Mark == compare.Missing && i.Required:
		return i.Title + " is required. " + i.Says
	case i.Mark == compare.Missing:
		return i.Title + ": nothing goes. " + i.Says
	case i.Says == "":
		return fmt.Sprintf("%s is given “%s”.", i.Title, given)
	default:
		return fmt.Sprintf("%s is given “%s”. %s", i.Title, given, i.Says)
	}
}
