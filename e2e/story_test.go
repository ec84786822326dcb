package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"uvent/outside/visit"
)

const threeLocations = "Client,Location,Name,Street,Town,State,Zip,Country,Contact name,Phone,Phone can,Email,Website,Category,Hours\r\n" +
	"Spokeshave Cycle Works,Minnow Bay,Spokeshave Cycle Works,18 Tern Street,Minnow Bay,WA,98990,US,Dov Marsh,(360) 555-0142,voice,shop@tidemail.example,https://spokeshave.example,Bicycle repair,\"Tu-Fr 09:00-12:00,13:00-18:00\"\r\n" +
	"Spokeshave Cycle Works,Quillcote,Spokeshave Cycle Works,61 Mill Lane,Quillcote,WA,98992,US,Dov Marsh,(360) 555-0133,voice text,quillcote@spokeshave.example,https://spokeshave.example,Bicycle shop,Tu-Sa 10:00-18:00\r\n" +
	"Nettlewick Yarns,Old Wharf,Nettlewick Yarns,9 Old Wharf,Port Sable,WA,98991,US,Perpetua Hale,(360) 555-0109,voice,hello@nettlewick.example,https://nettlewick.example,Yarn shop,Tu-Sa 10:00-17:30\r\n"

// From a row in a spreadsheet to a public listing, by what is written on the
// screen alone.
func TestFromASpreadsheetToAPublicListing(t *testing.T) {
	s := open(t)
	ctx := t.Context()
	_, err := s.rig.World.Place(
		ctx,
		"fernlook",
		"",
		visit.Facts{"name": "Spokeshave Cycles", "street": "61 Mill Ln", "locality": "Quillcote", "region": "WA", "postal_code": "98992",
			"country": "US", "phone": "+13605550133", "category": "Bike store", "hours": "Mo-Sa 10:00-18:00"},
	)
	s.do(err)

	// Bring the spreadsheet in.
	file := filepath.Join(t.TempDir(), "locations.csv")
	s.do(os.WriteFile(file, []byte(threeLocations), 0o600))
	s.do(s.Open(s.at("/today")), s.See("No locations yet"), s.Press("Bring in locations"), s.See("Choose a file"), s.Upload("file", file))
	s.do(s.See("Bringing in “locations.csv”"), s.See("3 rows: 3 come in."), s.See("2 clients would be added"), s.Press("Bring in 3"))
	s.do(s.See("“locations.csv” is in"), s.Press("See the locations"), s.See("2 clients, 3 locations, one record each."))

	// Search, and create one.
	s.do(s.Press("Today"), s.Press("Look for 3 places: one round"), s.Press("Look for Minnow Bay on Fernlook"))
	s.do(s.See("Look for it first"), s.Press("Search Fernlook"))
	s.do(s.See("Nothing like it is there"), s.Press("Create listing"))
	s.do(s.See("Held by listings@agency.example"), s.See("No phone in the record takes text messages."), s.See("The email is not on the website's domain."))

	// Ask for a postcard, and wait for it.
	s.do(s.Press("Ask", "Postcard"), s.See("Enter the code"), s.See("3 tries left"), s.See("Due Thu 3 Dec to Fri 11 Dec"))
	s.do(s.PressOne("clock"), s.Type("Move to", "12122026\t1000AM"), s.Press("Move"), s.See("It is Sat 12 Dec 10:00 now."))
	s.do(s.Press("Today"), s.See("The postcard for Minnow Bay on Fernlook is late"))

	// The code is read in the outside, by a person.
	s.do(s.Open(s.rig.World.Base+"/?at=Tern+Street"), s.See("For Dov Marsh."))
	text := now[string](s, `document.querySelector("#letters").innerText`)
	code := visit.CodeIn(text)
	if len(code) != 6 {
		t.Fatalf("the card says %q", text)
	}
	s.do(
		s.Open(s.at("/today")),
		s.Press("The postcard for Minnow Bay on Fernlook is late"),
		s.Press("The listing’s page"),
		s.Press("It has arrived"),
		s.See("In hand since Sat 12 Dec"),
	)
	var n int
	fmt.Sscan(code, &n)
	s.do(s.Type("Code of 6 digits", fmt.Sprintf("%06d", (n+1)%1_000_000)), s.Press("Submit"))
	s.do(s.See("This is not the code that was sent. 2 tries are left."))
	s.do(s.Type("Code of 6 digits", code), s.Press("Submit"), s.See("Minnow Bay is verified on Fernlook."), s.See("Verified, and not public yet."))

	// Claim the one that is there.
	s.do(
		s.all(),
		s.Press("Today"),
		s.Press("Look for 2 places: one round"),
		s.Press("Look for Quillcote on Fernlook"),
		s.Press("Search Fernlook"),
		s.See("Is one of these yours?"),
		s.See("The phone is the same, (360) 555-0133."),
	)
	s.do(s.Press("Claim", "Spokeshave Cycles"), s.See("Held by listings@agency.example"), s.See("Ways to verify"))

	// Wait, and see it public: in Coverage, on the listing's page, and outside.
	s.do(s.PressOne("clock"), s.Type("Move to", "12202026\t1000AM"), s.Press("Move"), s.See("It is Sun 20 Dec 10:00 now."))
	s.do(s.all(), s.Press("Coverage"), s.See("3 listings wanted, 1 public, 1 under way, 1 not begun."))
	s.do(s.Until(`!!document.querySelector('a[aria-label="Minnow Bay on Fernlook: held, verified, public"]')`))
	s.do(s.Press("Minnow Bay on Fernlook: held, verified, public"), s.See("Looked: the listing is public."), s.See("Open public page"))
	page := now[string](s, `[...document.querySelectorAll("a")].find(a => a.innerText === "Open public page").href`)
	s.do(s.Open(page), s.See("Spokeshave Cycle Works"), s.See("18 Tern Street, Minnow Bay, WA 98990"), s.See("Tue–Fri 9–12, 13–18"))
	s.do(s.Open(s.rig.World.Base+"/"), s.See("Spokeshave Cycle Works, Minnow Bay"))
}
