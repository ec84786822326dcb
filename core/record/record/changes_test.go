package record

import (
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"
)

func normal(t *testing.T, r Record) Record {
	t.Helper()
	out, wrong := Normal(r)
	if wrong != nil {
		t.Fatal(wrong)
	}
	return out
}

// edits are changes of one fact each.
var edits = map[string]func(*Record){
	"Trading name":         func(r *Record) { r.Name = "Spokeshave" },
	"Label":                func(r *Record) { r.Label = "The Bay" },
	"Legal name":           func(r *Record) { r.LegalName = "Spokeshave LLC" },
	"Store code":           func(r *Record) { r.StoreCode = "SCW-03" },
	"Former names":         func(r *Record) { r.FormerNames = []string{"Old", "Older"} },
	"Kind of location":     func(r *Record) { r.Kind = Both },
	"Street":               func(r *Record) { r.Address.Street = "20 Tern Street" },
	"Unit":                 func(r *Record) { r.Address.Unit = "Suite B" },
	"Postal code":          func(r *Record) { r.Address.PostalCode = "98991" },
	"Name on the envelope": func(r *Record) { r.Mailing.Contact = "Dov Marsh" },
	"Mailing address":      func(r *Record) { r.Mailing.Address = r.Address },
	"Pin":                  func(r *Record) { r.Pin = &Pin{48.5, -124.75} },
	"Phones":               func(r *Record) { r.Phones = []Phone{{"+13605550121", true, true}} },
	"Email":                func(r *Record) { r.Email = "" },
	"Website":              func(r *Record) { r.Website = "https://other.example" },
	"Category":             func(r *Record) { r.Category = "bicycle_shop" },
	"Hours":                func(r *Record) { r.Hours = "24/7" },
	"State":                func(r *Record) { r.State = State{Kind: Moved, To: "2 Mill Lane"} },
	"Opened":               func(r *Record) { r.Opened = "1987" },
	"Directions":           func(r *Record) { r.Directions = "Past the ferry." },
	"Parking":              func(r *Record) { r.Parking = "Behind the shop." },
	"Other categories":     func(r *Record) { r.Others = []string{"bicycle_rental"} },
	"Attributes":           func(r *Record) { r.Attributes = map[string]bool{"delivery": true} },
	"Tagline":              func(r *Record) { r.Words.Tagline = "Wheels, mended" },
	"Short description":    func(r *Record) { r.Words.Short = "We mend." },
	"Description":          func(r *Record) { r.Words.Medium = "We mend." },
	"Long description":     func(r *Record) { r.Words.Long = "We\nmend." },
	"Story":                func(r *Record) { r.Words.Story = "It began." },
	"Keywords":             func(r *Record) { r.Words.Keywords = []string{"wheel truing"} },
	"Service area": func(r *Record) {
		r.Area = Area{Minutes: 30, Towns: []Town{{Name: "Quillcote", Population: 900}}, Without: []string{}}
	},
	"Booking link":        func(r *Record) { r.Links.Booking = "https://b.example" },
	"Ordering link":       func(r *Record) { r.Links.Ordering = "https://b.example" },
	"Quote link":          func(r *Record) { r.Links.Quote = "https://b.example" },
	"Menu link":           func(r *Record) { r.Links.Menu = "https://b.example" },
	"Gift card link":      func(r *Record) { r.Links.GiftCard = "https://b.example" },
	"App link":            func(r *Record) { r.Links.App = "https://b.example" },
	"Social profiles":     func(r *Record) { r.Socials = []Social{{"Murmurhall", "https://m.example/spoke", true}} },
	"Videos":              func(r *Record) { r.Videos = []string{"https://film.example/1"} },
	"Campaign tags":       func(r *Record) { r.Tags = Tags{true, "listing", "bay"} },
	"Payments":            func(r *Record) { r.Payments = []string{"cash"} },
	"Licences":            func(r *Record) { r.Licences = []Licence{{Name: "Trade", Number: "7"}} },
	"Team":                func(r *Record) { r.Team = []Member{{Name: "Dov Marsh", Role: "Owner"}} },
	"Offerings":           func(r *Record) { r.Offerings = []Section{{"Repairs", []Item{{Name: "Puncture", Price: "12.50"}}}} },
	"Registration number": func(r *Record) { r.Company.Registration = "604 117 220" },
	"Company size":        func(r *Record) { r.Company.Size = "2-10" },
	"Kind of company":     func(r *Record) { r.Company.Kind = "limited company" },
	"Industry":            func(r *Record) { r.Company.Industry = "Bicycles" },
	"Founded":             func(r *Record) { r.Company.Founded = "1987" },
	"Domains":             func(r *Record) { r.Company.Domains = []string{"spokeshave.example"} },
	"Facts of its own":    func(r *Record) { r.Own = []string{"website"} },
	"Specialities":        func(r *Record) { r.Words.Specialities = []string{"Old steel"} },
	"Time zone":           func(r *Record) { r.Zone = "America/Vancouver" },
	"Town":                func(r *Record) { r.Address.Locality = "Quillcote" },
	"Region":              func(r *Record) { r.Address.Region = "OR" },
}

func TestEachChangeIsNamed(t *testing.T) {
	for title, edit := range edits {
		before := normal(t, good())
		after := before
		edit(&after)
		changes := Changes(before, after)
		if len(changes) != 1 || changes[0].Title != title || changes[0].Before == changes[0].After {
			t.Errorf("%s: %+v", title, changes)
		}
	}
	before := normal(t, good())
	after := before
	after.Phones = []Phone{{"+13605550121", true, true}}
	after.Pin = &Pin{48.5, -124.75}
	got := Changes(before, after)
	if got[0].After != "48.5, -124.75" || got[1].Before != "+13605550142 (voice)" || got[1].After != "+13605550121 (voice, text)" {
		t.Errorf("%+v", got)
	}
	// Every fact of a record has its place among the changes.
	known := map[string]bool{}
	for _, f := range facts {
		known[strings.Split(f.path, ".")[0]] = true
	}
	for key := range tree(Record{}) {
		if !known[key] {
			t.Errorf("a change of %q would not be seen", key)
		}
	}
}

// Taking a change back undoes just that change, whatever was changed since.
func TestRevertTakesBackOneChange(t *testing.T) {
	titles := make([]string, 0, len(edits))
	for title := range edits {
		titles = append(titles, title)
	}
	r := rand.New(rand.NewPCG(9, 9))
	for range 500 {
		before := normal(t, good())
		after := before
		first, second := titles[r.IntN(len(titles))], titles[r.IntN(len(titles))]
		edits[first](&after)
		if back, left := Revert(after, before, after); left != nil || !reflect.DeepEqual(back, before) {
			t.Fatalf("%s taken back: %+v, left %v", first, back, left)
		}
		if first == second || second == "Mailing address" && strings.Contains("Street Unit Town Region Postal code", first) {
			continue
		}
		now, want := after, before
		edits[second](&now)
		edits[second](&want)
		if back, left := Revert(now, before, after); left != nil || len(Changes(back, want)) != 0 {
			t.Fatalf("%s taken back after %s: %v, left %v", first, second, Changes(back, want), left)
		}
		changed := now
		changed.Name, changed.Hours = "Something else", "Mo 09:00-10:00"
		if first == "Trading name" || first == "Hours" {
			if back, left := Revert(changed, before, after); len(left) != 1 || left[0] != first || !reflect.DeepEqual(back, changed) {
				t.Fatalf("%s was changed again: %+v, left %v", first, back, left)
			}
		}
	}
}
