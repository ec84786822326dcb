package compare

import (
	"reflect"
	"slices"
	"strings"
	"testing"

	"uvent/core/record/record"
	"uvent/core/record/sighting"
	"uvent/core/rule/rulebook"
)

// openBook is of a directory that takes every fact and shows it.
func openBook() rulebook.Rulebook {
	b := rulebook.Rulebook{ID: "pierbook", Name: "Pierbook", Areas: rulebook.Areas{Most: 40}}
	b.Categories.Map = map[string]string{"bicycle_repair": "Bike repair service", "bicycle_shop": "Bike store", "cafe": "Coffee house"}
	b.Attributes.Map = map[string]string{"delivery": "Delivers", "wheelchair_entrance": "Step-free entrance"}
	for _, k := range rulebook.Keys {
		b.Facts = append(b.Facts, rulebook.Fact{Fact: k.ID})
	}
	for _, which := range []string{"tagline", "short", "medium", "long", "story"} {
		b.Texts = append(b.Texts, rulebook.Prose{Text: which, MostCharacters: 400})
	}
	for _, f := range facts {
		b.Reads = append(b.Reads, rulebook.Read{Fact: f.key})
	}
	return b
}

// leaves are the paths of all that a value holds, by its JSON names; lists and maps are one.
func leaves(t reflect.Type, path string, out *[]string) {
	if t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	if t.Kind() != reflect.Struct {
		*out = append(*out, path)
		return
	}
	for n := range t.NumField() {
		name, _, _ := strings.Cut(t.Field(n).Tag.Get("json"), ",")
		leaves(t.Field(n).Type, strings.TrimPrefix(path+"."+name, "."), out)
	}
}

// Every fact of a record is compared, or there is a reason why not; and neither names what a record does not have.
func TestEveryFactOfARecordIsCompared(t *testing.T) {
	var all []string
	leaves(reflect.TypeFor[record.Record](), "", &all)
	covers := func(by, path string) bool { return by == path || strings.HasPrefix(path, by+".") }
	used := map[string]bool{}
	for _, path := range all {
		found := 0
		for _, f := range facts {
			for _, by := range f.of {
				if covers(by, path) {
					found, used[by] = found+1, true
				}
			}
		}
		why := ""
		for by, says := range Uncompared {
			if covers(by, path) {
				why, used[by] = says, true
			}
		}
		if (found > 0) == (why != "") {
			t.Errorf("%s is compared %d times, and not compared since %q", path, found, why)
		}
	}
	for _, f := range facts {
		for _, by := range f.of {
			if !used[by] {
				t.Errorf("%s is compared of %s, which no record has", f.key, by)
			}
		}
	}
	for by := range Uncompared {
		if !used[by] {
			t.Errorf("no record has %s", by)
		}
	}
}

// pair is a record and what shows the same; wrong shows something else.
type pair struct {
	ours        func(*record.Record)
	same, wrong func(*sighting.Sighting)
}

func text(at func(*record.Record) *string, seen func(*sighting.Sighting) *string, is, other string) pair {
	return pair{func(r *record.Record) { *at(r) = is }, func(s *sighting.Sighting) { *seen(s) = is }, func(s *sighting.Sighting) { *seen(s) = other }}
}

func texts(which string, at func(*record.Record) *string) pair {
	return pair{
		func(r *record.Record) { *at(r) = "We mend bicycles." },
		func(s *sighting.Sighting) { s.Texts = map[string]string{which: "We mend bicycles."} },
		func(s *sighting.Sighting) { s.Texts = map[string]string{which: "We sell hats."} },
	}
}

func links(key string, at func(*record.Record) *string) pair {
	return pair{
		func(r *record.Record) { *at(r) = "https://spokeshave.example/a" },
		func(s *sighting.Sighting) {
			s.Links = map[string]string{key: "https://www.spokeshave.example/a?utm_source=pierbook"}
		},
		func(s *sighting.Sighting) { s.Links = map[string]string{key: "https://spokeshave.example/b"} },
	}
}

func lists(at func(*record.Record) *[]string, seen func(*sighting.Sighting) *[]string) pair {
	return pair{
		func(r *record.Record) { *at(r) = []string{"one", "two"} },
		func(s *sighting.Sighting) { *seen(s) = []string{"Two", "one"} },
		func(s *sighting.Sighting) { *seen(s) = []string{"one", "three"} },
	}
}

var every = map[string]pair{
	"name":         text(func(r *record.Record) *string { return &r.Name }, func(s *sighting.Sighting) *string { return &s.Name }, "Spokeshave", "Spoke"),
	"legal_name":   text(func(r *record.Record) *string { return &r.LegalName }, func(s *sighting.Sighting) *string { return &s.LegalName }, "S Ltd", "T Ltd"),
	"former_names": lists(func(r *record.Record) *[]string { return &r.FormerNames }, func(s *sighting.Sighting) *[]string { return &s.FormerNames }),
	"state": {
		func(r *record.Record) { r.State.Kind = record.ClosedForATime }, func(s *sighting.Sighting) { s.State = record.ClosedForATime },
		func(s *sighting.Sighting) { s.State = record.Open },
	},
	"address": {
		func(r *record.Record) { r.Address, r.Kind = tern, record.Premises }, func(s *sighting.Sighting) { s.Address = tern },
		func(s *sighting.Sighting) { s.Address = tern; s.Address.Street = "2 Old Quay" },
	},
	"pin": {
		func(r *record.Record) { r.Pin = &record.Pin{Latitude: 48.5, Longitude: -123} },
		func(s *sighting.Sighting) { s.Pin = &record.Pin{Latitude: 48.50002, Longitude: -123} },
		func(s *sighting.Sighting) { s.Pin = &record.Pin{Latitude: 48.502, Longitude: -123} },
	},
	"phone": {
		func(r *record.Record) { r.Phones = []record.Phone{{E164: "+13605550142"}} }, func(s *sighting.Sighting) { s.Phone = "+1 360 555 0142" },
		func(s *sighting.Sighting) { s.Phone = "+1 360 555 0143" },
	},
	"other_phones": {
		func(r *record.Record) { r.Phones = []record.Phone{{E164: "+13605550142"}, {E164: "+13605550143"}} },
		func(s *sighting.Sighting) { s.OtherPhones = []string{"+1 360 555 0143"} },
		func(s *sighting.Sighting) { s.OtherPhones = []string{"+1 360 555 0144"} },
	},
	"email": text(func(r *record.Record) *string { return &r.Email }, func(s *sighting.Sighting) *string { return &s.Email }, "a@b.example", "c@b.example"),
	"website": text(
		func(r *record.Record) *string { return &r.Website },
		func(s *sighting.Sighting) *string { return &s.Website },
		"https://b.example/x",
		"https://b.example/y",
	),
	"category": text(func(r *record.Record) *string { return &r.Category }, func(s *sighting.Sighting) *string { return &s.Category },
		"bicycle_repair", "Hat shop"),
	"other_categories": {
		func(r *record.Record) { r.Category, r.Others = "bicycle_repair", []string{"bicycle_shop"} },
		func(s *sighting.Sighting) { s.OtherCategories = []string{"Bike store"} },
		func(s *sighting.Sighting) { s.OtherCategories = []string{"Coffee house"} },
	},
	"hours": text(
		func(r *record.Record) *string { return &r.Hours },
		func(s *sighting.Sighting) *string { return &s.Hours },
		"Mo-Fr 09:00-18:00",
		"Mo-Fr 09:00-17:00",
	),
	"special_dates": text(func(r *record.Record) *string { return &r.Hours }, func(s *sighting.Sighting) *string { return &s.Hours },
		"Mo-Fr 09:00-18:00; 2026 Dec 24 off", "Mo-Fr 09:00-18:00"),
	"attributes": {
		func(r *record.Record) { r.Attributes = map[string]bool{"delivery": true, "wheelchair_entrance": false} },
		func(s *sighting.Sighting) {
			s.Attributes = map[string]bool{"delivers": true, "Step-free entrance": false}
		},
		func(s *sighting.Sighting) { s.Attributes = map[string]bool{"Delivers": false} },
	},
	"text.tagline": texts("tagline", func(r *record.Record) *string { return &r.Words.Tagline }),
	"text.short":   texts("short", func(r *record.Record) *string { return &r.Words.Short }),
	"text.medium":  texts("medium", func(r *record.Record) *string { return &r.Words.Medium }),
	"text.long":    texts("long", func(r *record.Record) *string { return &r.Words.Long }),
	"text.story":   texts("story", func(r *record.Record) *string { return &r.Words.Story }),
	"keywords":     lists(func(r *record.Record) *[]string { return &r.Words.Keywords }, func(s *sighting.Sighting) *[]string { return &s.Keywords }),
	"specialities": lists(func(r *record.Record) *[]string { return &r.Words.Specialities }, func(s *sighting.Sighting) *[]string { return &s.Specialities }),
	"directions": text(
		func(r *record.Record) *string { return &r.Directions },
		func(s *sighting.Sighting) *string { return &s.Directions },
		"By the quay.",
		"By the hill.",
	),
	"parking": text(
		func(r *record.Record) *string { return &r.Parking },
		func(s *sighting.Sighting) *string { return &s.Parking },
		"Behind the house.",
		"None.",
	),
	"areas": {
		func(r *record.Record) { r.Area.Towns = []record.Town{{Name: "Quillcote"}} }, func(s *sighting.Sighting) { s.Areas = []string{"Quillcote"} },
		func(s *sighting.Sighting) { s.Areas = []string{"Fennick"} },
	},
	"booking":   links("booking", func(r *record.Record) *string { return &r.Links.Booking }),
	"ordering":  links("ordering", func(r *record.Record) *string { return &r.Links.Ordering }),
	"quote":     links("quote", func(r *record.Record) *string { return &r.Links.Quote }),
	"menu":      links("menu", func(r *record.Record) *string { return &r.Links.Menu }),
	"gift_card": links("gift_card", func(r *record.Record) *string { return &r.Links.GiftCard }),
	"app":       links("app", func(r *record.Record) *string { return &r.Links.App }),
	"socials": {
		func(r *record.Record) {
			r.Socials = []record.Social{{Name: "Murmurhall", URL: "https://murmurhall.example/a", Show: true}, {URL: "https://lanefolk.example/a"}}
		},
		func(s *sighting.Sighting) {
			s.Socials = []sighting.Social{{URL: "https://www.murmurhall.example/a/"}}
		},
		func(s *sighting.Sighting) {
			s.Socials = []sighting.Social{{URL: "https://murmurhall.example/b"}}
		},
	},
	"videos": lists(func(r *record.Record) *[]string { return &r.Videos }, func(s *sighting.Sighting) *[]string { return &s.Videos }),
	"offerings": {
		func(r *record.Record) {
			r.Offerings = []record.Section{{Title: "Care", Items: []record.Item{{Name: "Tune-up", Price: "65.00"}}}}
		},
		func(s *sighting.Sighting) { s.Offerings = []sighting.Offering{{Name: "Tune-up", Price: "from 65 USD"}} },
		func(s *sighting.Sighting) { s.Offerings = []sighting.Offering{{Name: "Tune-up", Price: "60 USD"}} },
	},
	"payments": {
		func(r *record.Record) { r.Payments = []string{"cash", "credit_card"} }, func(s *sighting.Sighting) { s.Payments = []string{"Credit card", "cash"} },
		func(s *sighting.Sighting) { s.Payments = []string{"Cash"} },
	},
	"team": {
		func(r *record.Record) { r.Team = []record.Member{{Name: "Dov Arkin", Role: "Mechanic"}} },
		func(s *sighting.Sighting) { s.Team = []string{"Dov Arkin, Mechanic"} },
		func(s *sighting.Sighting) { s.Team = []string{"Ada Roe"} },
	},
	"licence": {
		func(r *record.Record) { r.Licences = []record.Licence{{Number: "WA-1234"}} }, func(s *sighting.Sighting) { s.Licence = []string{"Licence WA 1234"} },
		func(s *sighting.Sighting) { s.Licence = []string{"WA-9"} },
	},
	"opened":  text(func(r *record.Record) *string { return &r.Opened }, func(s *sighting.Sighting) *string { return &s.Opened }, "2011-05-02", "2012"),
	"founded": text(func(r *record.Record) *string { return &r.Company.Founded }, func(s *sighting.Sighting) *string { return &s.Founded }, "1987", "1978"),
	"registration": text(func(r *record.Record) *string { return &r.Company.Registration }, func(s *sighting.Sighting) *string { return &s.Registration },
		"603-111", "603-112"),
	"store_code":   text(func(r *record.Record) *string { return &r.StoreCode }, func(s *sighting.Sighting) *string { return &s.StoreCode }, "A1", "A2"),
	"company_size": text(func(r *record.Record) *string { return &r.Company.Size }, func(s *sighting.Sighting) *string { return &s.CompanySize }, "2-10", "1"),
	"company_kind": text(
		func(r *record.Record) *string { return &r.Company.Kind },
		func(s *sighting.Sighting) *string { return &s.CompanyKind },
		"charity",
		"corporation",
	),
	"industry": text(
		func(r *record.Record) *string { return &r.Company.Industry },
		func(s *sighting.Sighting) *string { return &s.Industry },
		"Bicycles",
		"Hats",
	),
}

// What shows the same is the same, or alike; what shows something else differs, and says what that does; and what is not
// shown is missing where the page is known to show it.
func TestEachFactTellsSameFromOther(t *testing.T) {
	book := openBook()
	for _, f := range facts {
		p, ok := every[f.key]
		if !ok {
			t.Errorf("%s is not tried", f.key)
			continue
		}
		var r record.Record
		p.ours(&r)
		for _, c := range []struct {
			show func(*sighting.Sighting)
			want []Mark
		}{{p.same, []Mark{Equal, Alike}}, {p.wrong, []Mark{Unequal}}, {func(*sighting.Sighting) {}, []Mark{Missing}}} {
			s := sighting.Sighting{}
			if f.key == "category" {
				book.Categories.Map["bicycle_repair"] = "bicycle_repair"
			}
			c.show(&s)
			l := lineOf(Facts(r, book, &s, today), f.key)
			if f.key == "state" && s.State == "" { // a page that says nothing of it says that it is open
				c.want = []Mark{Unequal}
			}
			if !slices.Contains(c.want, l.Mark) {
				t.Errorf("%s: %+v, want %v", f.key, l, c.want)
			}
			if l.Mark.Differs() && (l.Says == "" || l.Wrong <= 0 && len(l.Days) == 0 || l.Wrong > 1) {
				t.Errorf("%s differs, and says %q, wrong by %v", f.key, l.Says, l.Wrong)
			}
		}
		// Nobody who did not speak of a fact said that it is missing.
		s := sighting.Sighting{More: sighting.More{Only: []string{"other"}}}
		if l := lineOf(Facts(r, book, &s, today), f.key); l.Mark != "" || l.Why == "" {
			t.Errorf("%s, of which nothing was said: %+v", f.key, l)
		}
	}
}

// What a form cannot take is told as that, with what it costs all the same.
func TestWhatADirectoryCannotTake(t *testing.T) {
	b := openBook()
	b.Hours = rulebook.Hours{SittingsPerDay: 1}
	b.Facts = slices.DeleteFunc(b.Facts, func(f rulebook.Fact) bool { return f.Fact == "special_dates" })
	r := record.Record{Hours: "Mo-Fr 09:00-12:00,13:00-18:00; 2026 Dec 24-26 off", Words: record.Words{Medium: strings.Repeat("We mend bicycles. ", 40)}}
	s := sighting.Sighting{Hours: "Mo-Fr 09:00-18:00", More: sighting.More{Texts: map[string]string{"medium": strings.Repeat("We mend bicycles. ", 20)}}}
	lines := Facts(r, b, &s, today)
	if l := lineOf(lines, "hours"); l.Mark != Unequal || l.OpenWhileShut != 300 || l.Cannot != "Pierbook takes one sitting a day, none past midnight." {
		t.Errorf("%+v", l)
	}
	if l := lineOf(lines, "special_dates"); l.Mark != NotTaken || len(l.Days) != 2 || !strings.Contains(l.Says, "Wrong on 2 days") {
		t.Errorf("%+v", l)
	}
	if l := lineOf(lines, "text.medium"); l.Mark != Alike || l.Cannot == "" {
		t.Errorf("%+v", l)
	}
}
