package compare

import (
	"math/rand/v2"
	"strings"
	"testing"
	"uvent/core/record/sighting"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

// What shows just what the record says differs nowhere, whichever facts are
// said, and spelling it otherwise makes it alike, never different.
func TestWhatIsTheSameIsNeverDifferent(t *testing.T) {
	fernlook := book(t)
	r := rand.New(rand.NewPCG(5, 5))
	some := func(text string) string {
		if r.IntN(4) == 0 {
			return ""
		}
		return text
	}
	for range 2000 {
		rec := record.Record{
			Name:     "Spokeshave Cycle Works",
			Kind:     record.Premises,
			Website:  some("https://spokeshave.example/shop"),
			Category: some("bicycle_repair"),
			Hours:    some("Tu-Fr 09:00-12:00,13:00-18:00"),
			Address: address.Address{
				Street:     "18 Tern Street",
				Unit:       some("Suite B"),
				Locality:   "Minnow Bay",
				Region:     some("WA"),
				PostalCode: some("98990"),
				Country:    "US",
			},
		}
		if r.IntN(3) > 0 {
			rec.Phones = []record.Phone{{E164: "+13605550142", Voice: true}}
		}
		same := sighting.Sighting{
			Name:     rec.Name,
			Address:  rec.Address,
			Phone:    rec.MainPhone(),
			Website:  rec.Website,
			Category: fernlook.Categories.Map[rec.Category],
			Hours:    rec.Hours,
		}
		spelled := same
		spelled.Name = strings.ToUpper(same.Name)
		spelled.Address.Street = "18 tern st."
		spelled.Address.Unit = strings.ReplaceAll(same.Address.Unit, "Suite", "Ste")
		if same.Website != "" {
			spelled.Website = "http://www.spokeshave.example/shop/?utm_source=x"
		}
		if same.Phone != "" {
			spelled.Phone = "(360) 555-0142"
		}
		if same.Hours != "" {
			spelled.Hours = "Tu-Th 09:00-12:00,13:00-18:00; Fr 09:00-12:00,13:00-18:00"
		}
		for i, seen := range []sighting.Sighting{same, spelled} {
			for _, l := range Facts(rec, fernlook, &seen, today) {
				if l.Mark == Unequal || l.Mark == Missing || i == 0 && l.Mark == Alike && l.Fact != "category" {
					t.Fatalf("%+v\nbeside %+v\n%s: %s %s", rec, seen, l.Fact, l.Mark, l.Says)
				}
			}
		}
		// One digit of the phone changed is different, and says so.
		if same.Phone != "" {
			wrong := same
			wrong.Phone = "+13605550143"
			for _, l := range Facts(rec, fernlook, &wrong, today) {
				if l.Fact == "phone" && (l.Mark != Unequal || l.Says == "") {
					t.Fatalf("another phone: %+v", l)
				}
			}
		}
	}
}
