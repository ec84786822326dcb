package demo

import (
	"context"
	"fmt"

	"uvent/demo/paint"
	"uvent/desk/files"
	"uvent/desk/ledger"
)

// paper is one to be written and taken in.
type paper struct {
	client, label string // without a label, the client's for all its locations
	file          string
	kind, issued  string
	until         string
	heading       string
	lines         []string
}

// papers are what owners have sent so far. One names a suite that the record of
// its location lacks.
var papers = []paper{
	{
		spokeshave,
		"",
		"registration.pdf",
		"registration",
		"1987-03-02",
		"",
		"Certificate of Formation",
		[]string{"Spokeshave Cycle Works LLC", "Registered number 604 117 220", "Sound County, 2 March 1987"},
	},
	{
		mossback,
		"",
		"contractor-licence.pdf",
		"licence",
		"2025-06-01",
		"2027-05-31",
		"General contractor licence",
		[]string{"Mossback Home Services LLC", "Licence no. MOSSBCG841KD", "Holds until 31 May 2027"},
	},
	{
		sablecote,
		"",
		"premises-permit.pdf",
		"licence",
		"2025-01-02",
		"2026-12-31",
		"Veterinary premises permit",
		[]string{"Sablecote Animal Health PLLC", "Permit VPP-20418", "Holds until 31 December 2026"},
	},
	{
		sablecote,
		"Quillcote",
		"electricity-october.pdf",
		"utility_bill",
		"2026-10-31",
		"",
		"Sound County Electric",
		[]string{"Utility bill, October 2026", "Sablecote Animal Health PLLC", "15 Orchard Street, Suite 2", "Quillcote, WA 98992", "Amount due 184.20"},
	},
	{
		spokeshave,
		"Three Herons",
		"water-september.pdf",
		"utility_bill",
		"2026-09-30",
		"",
		"Herons Water Service",
		[]string{"Utility bill, September 2026", "Spokeshave Cycle Works LLC", "7 Heronry Road, Suite B", "Three Herons, WA 98993"},
	},
	{
		saltgrass,
		"Saltgrass",
		"hydro-october.pdf",
		"utility_bill",
		"2026-10-31",
		"",
		"Strait Hydro",
		[]string{"Utility bill, October 2026", "Saltgrass Laundry Ltd.", "3 Causeway", "Saltgrass, BC V0O 1G4"},
	},
	{
		saltgrass,
		"Saltgrass",
		"phone-october.pdf",
		"phone_bill",
		"2026-10-20",
		"",
		"Moraine Telephone",
		[]string{"Phone bill, October 2026", "Saltgrass Laundry Ltd.", "Saltgrass, BC"},
	},
}

// file takes the papers in.
func (l *layer) file(ctx context.Context) error {
	for _, p := range papers {
		at := l.places[p.client+"/"+p.label].Location
		scope := ledger.Scope{Location: &at}
		if p.label == "" {
			client := l.clients[p.client]
			scope = ledger.OfClient(client)
		}
		added, err := l.desk.Files.AddPaper(ctx, l.who.Actor(), scope, p.file, paint.Letter(p.heading, p.lines...))
		if err != nil {
			return fmt.Errorf("%s: %w", p.file, err)
		}
		if _, err := l.desk.Files.SavePaper(ctx, l.who.Actor(), added.ID, files.PaperFacts{Kind: p.kind, Issued: p.issued, Until: p.until}); err != nil {
			return err
		}
	}
	return nil
}
