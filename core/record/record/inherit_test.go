package record

import (
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"
)

func shared(t *testing.T) Record {
	t.Helper()
	r, wrong := NormalShared(Record{
		Name:     "Spokeshave Cycle Works",
		Website:  "https://spokeshave.example",
		Category: "bicycle repair",
		Words:    Words{Long: "We mend.", Keywords: []string{"wheels"}},
		Links:    Links{GiftCard: "https://spokeshave.example/gift"},
		Payments: []string{"credit_card", "cash"},
		Company:  Company{Registration: "604 117 220"},
		Address:  good().Address,
		Hours:    "24/7",
	})
	if wrong != nil {
		t.Fatal(wrong)
	}
	if r.Hours != "" || !r.Address.Empty() || r.Category != "bicycle_repair" || !slices.Equal(r.Payments, []string{"cash", "credit_card"}) {
		t.Errorf("a client shares %+v", r)
	}
	return r
}

func TestALocationInheritsWhatItDoesNotSay(t *testing.T) {
	client := shared(t)
	in := good()
	in.Website, in.Email = "https://bay.spokeshave.example", "bay@spokeshave.example"
	r := Settle(normal(t, in), client)
	if r.Links.GiftCard != client.Links.GiftCard || r.Company.Registration != "604 117 220" || r.Words.Long != "We mend." ||
		r.Website != "https://bay.spokeshave.example" {
		t.Errorf("%+v", r)
	}
	if !slices.Equal(r.Own, []string{"website"}) {
		t.Errorf("its own are %q", r.Own)
	}
	// Said to be its own, a fact may also be nothing.
	r.Own, r.Links.GiftCard = append(r.Own, "links.gift_card"), ""
	if again := Settle(r, client); again.Links.GiftCard != "" {
		t.Errorf("the client's gift card link came back")
	}
	// Back to the client's.
	r.Own, r.Website, r.Links.GiftCard = nil, "", ""
	if back := Settle(r, client); back.Website != client.Website || back.Links.GiftCard != client.Links.GiftCard || len(back.Own) != 0 {
		t.Errorf("%+v", back)
	}
}

func TestFollowReachesOnlyWhatIsNotTheLocationsOwn(t *testing.T) {
	before := shared(t)
	mine := good()
	mine.Words.Long = "Ours is another story."
	r := Settle(normal(t, mine), before)
	after := before
	after.Words.Long, after.Website, after.Email, after.Links.GiftCard, after.Words.Story = "We mend more.", "https://new.example", "all@spokeshave.example", "", "Once"
	got := Follow(r, before, after)
	if got.Words.Long != "Ours is another story." || got.Website != "https://new.example" || got.Links.GiftCard != "" || got.Words.Story != "Once" {
		t.Errorf("%+v", got)
	}
	if got.Email != "shop@spokeshave.example" { // said before the client said anything
		t.Errorf("its own email became %q", got.Email)
	}
	if !slices.Equal(got.Own, []string{"email", "words.long"}) {
		t.Errorf("its own are %q", got.Own)
	}
}

// Whatever a client changes, a location's own facts stay, the others are the
// client's, and taking the client's change back restores the location.
func TestInheritanceLaws(t *testing.T) {
	values := func(r *rand.Rand) Record {
		var out Record
		for _, f := range inheritable {
			if p, ok := f.at(&out).(*string); ok && r.IntN(2) == 0 {
				*p = []string{"a", "b", "c"}[r.IntN(3)]
			}
			if p, ok := f.at(&out).(*[]string); ok && r.IntN(2) == 0 {
				*p = []string{[]string{"a", "b"}[r.IntN(2)]}
			}
		}
		return out
	}
	r := rand.New(rand.NewPCG(4, 2))
	for range 2000 {
		before, after := values(r), values(r)
		location := Settle(values(r), before)
		if !reflect.DeepEqual(Settle(location, before), location) {
			t.Fatal("settling twice is not settling once")
		}
		moved := Follow(location, before, after)
		for _, f := range inheritable {
			was, is, theirs := value(f.at(&location)), value(f.at(&moved)), value(f.at(&after))
			switch {
			case slices.Contains(location.Own, f.path) && !same(was, is):
				t.Fatalf("%s of its own changed from %v to %v", f.path, was, is)
			case !unsaid(theirs) && !slices.Contains(moved.Own, f.path) && !same(is, theirs):
				t.Fatalf("%s is %v, its client says %v", f.path, is, theirs)
			}
		}
	}
}

func TestMoreProblems(t *testing.T) {
	for path, spoil := range map[string]func(*Record){
		"area.minutes": func(r *Record) { r.Area.Minutes = 900 }, "area.towns.0": func(r *Record) { r.Area.Towns = []Town{{Name: "x", Latitude: 91}} },
		"links.menu": func(r *Record) { r.Links.Menu = "menu.pdf" }, "socials.0.url": func(r *Record) { r.Socials = []Social{{Name: "Murmurhall"}} },
		"videos.0": func(r *Record) { r.Videos = []string{"film"} }, "payments.0": func(r *Record) { r.Payments = []string{"shells"} },
		"licences.0.until": func(r *Record) { r.Licences = []Licence{{Name: "Trade", Until: "soon"}} }, "team.0.phone": func(r *Record) { r.Team = []Member{{Name: "Dov", Phone: "12"}} },
		"team.0.name": func(r *Record) { r.Team = []Member{{Role: "Owner"}} }, "offerings.0.items.0.price": func(r *Record) { r.Offerings = []Section{{"", []Item{{Name: "x", Price: "three"}}}} },
		"offerings.0.items.0.name": func(r *Record) { r.Offerings = []Section{{"", []Item{{Price: "3"}}}} }, "company.size": func(r *Record) { r.Company.Size = "many" },
		"company.founded": func(r *Record) { r.Company.Founded = "long ago" }, "company.domains.0": func(r *Record) { r.Company.Domains = []string{"https://x.example"} },
		"tags.medium": func(r *Record) { r.Tags.Medium = strings.Repeat("x", 301) },
	} {
		r := good()
		spoil(&r)
		if _, problems := Normal(r); len(problems) != 1 || problems[0].Path != path {
			t.Errorf("%s: %v", path, problems)
		}
	}
	r := good()
	r.Area.Towns = []Town{{Name: "Small", Population: 2}, {Name: "Large", Population: 9}, {Name: "small"}}
	r.Offerings, r.Team = []Section{{}, {" Repairs ", []Item{{}, {Name: "Puncture"}}}}, []Member{{}, {Name: "Dov", Phone: "360 555 0121"}}
	r = normal(t, r)
	if len(r.Area.Towns) != 2 || r.Area.Towns[0].Name != "Large" || len(r.Offerings) != 1 || len(r.Offerings[0].Items) != 1 || len(r.Team) != 1 ||
		r.Team[0].Phone != "+13605550121" {
		t.Errorf("%+v", r)
	}
	for country, want := range map[string]string{"US": "USD", "CA": "CAD", "DE": "EUR", "": ""} {
		if got, ok := Currency(country); ok != (want != "") || ok && got != want {
			t.Errorf("%s is paid in %s", country, got)
		}
	}
	if _, wrong := NormalShared(Record{Website: "x", Phones: []Phone{{E164: "1"}}}); len(wrong) != 2 { // the name is missing too
		t.Errorf("%v", wrong)
	}
}

func TestPricesAsPeopleWriteThem(t *testing.T) {
	for text, want := range map[string][2]string{
		"12": {"12", ""}, "12.5": {"12.5", ""}, "$12.50": {"12.50", ""}, "12,50 €": {"12.50", ""}, "$1,250": {"1250", ""}, "1.250,50": {"1250.50", ""}, "from $12": {"12", "from"},
		"CAD 45 an hour": {"45", "an hour"}, "C$4": {"4", ""}, "on request": {"on request", ""}, "3 for 5": {"3 for 5", ""}, "1 200": {"1200", ""},
	} {
		if number, beside := readPrice(text); number != want[0] || beside != want[1] {
			t.Errorf("%q reads as %q, %q", text, number, beside)
		}
	}
	r := good()
	r.Offerings = []Section{{"Repairs", []Item{{Name: "Truing", Price: "from $18"}, {Name: "Advice", Price: "9", Per: "a visit"}}}}
	if r = normal(t, r); r.Offerings[0].Items[0] != (Item{Name: "Truing", Price: "18", Per: "from"}) || r.Offerings[0].Items[1].Per != "a visit" {
		t.Errorf("%+v", r.Offerings)
	}
}
