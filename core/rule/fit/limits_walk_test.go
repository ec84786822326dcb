package fit

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/fact/photo"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// plenty says more than any limit takes.
func plenty() record.Record {
	r := spokeshave()
	u, long := "https://y.example/a/page/of/its/own", strings.Repeat("words of ours ", 30)
	r.Name, r.LegalName, r.FormerNames = "Spokeshave Cycle Works", "Spokeshave Cycle Works LLC", []string{"Former one", "Former two"}
	r.Company = record.Company{Registration: "604 117 220", Size: "2-10 people", Kind: "limited company", Industry: "Repairing", Founded: "1998-01"}
	r.Opened, r.StoreCode, r.Directions, r.Parking, r.Pin = "2011-04-01", "SC-000001", long, long, &record.Pin{Latitude: 48.61, Longitude: -124.9}
	r.Phones = append(r.Phones, record.Phone{E164: "+13605550143"}, record.Phone{E164: "+13605550144"})
	r.Category, r.Others, r.Attributes = "bicycle_repair", []string{"bicycle_shop", "bakery"}, map[string]bool{"classes": true, "gift_cards": true}
	r.Hours = "Tu-Fr 08:00-10:00,11:00-12:00,13:00-18:00; Sa 20:00-02:00; 2026 Nov 26 off; 2026 Dec 24 off"
	r.Words = record.Words{
		Tagline:      long,
		Short:        long,
		Medium:       long,
		Long:         long,
		Story:        long,
		Keywords:     []string{"bicycles", "wheels"},
		Specialities: []string{"bicycles", "wheels"},
	}
	r.Links = record.Links{Booking: u, Ordering: u, Quote: u, Menu: u, GiftCard: u, App: u}
	r.Socials = []record.Social{{Name: "a", URL: u, Show: true}, {Name: "b", URL: u + "b", Show: true}}
	r.Videos = []string{u, u + "b"}
	r.Offerings = []record.Section{{Title: "Repairs", Items: []record.Item{{Name: "Puncture"}, {Name: "Wheel building"}}}}
	r.Payments, r.Team = []string{"cash", "contactless"}, []record.Member{{Name: "Perpetua Hale"}, {Name: "Dov Marsh"}}
	r.Licences = []record.Licence{{Name: "Trade", Number: "T-12345"}, {Name: "Trade", Number: "T-22345"}}
	r.Kind, r.Area = record.Both, record.Area{Towns: []record.Town{{Name: "Fennick"}, {Name: "Quillcote"}}}
	return r
}

// withMore is a rulebook that has more, as YAML, beside what each must have.
func withMore(t *testing.T, fact, more string) (*rulebook.Rulebook, []rulebook.Problem) {
	t.Helper()
	b, problems := rulebook.Parse("pierbook.yaml", []byte(`{id: pierbook, name: Pierbook, kind: booklet, summary: A booklet., weight: 20, worked: file,
		calendar: {country: US, zone: America/Los_Angeles}, listing: {kinds: [both]}, facts: [`+fact+`], speaks: {buttons: [visit]},
		publishing: {window: {min: 0, max: 3, unit: days}, look_every_hours: 24},
		`+more+"}"))
	return &b, problems
}

const (
	usualHours      = "hours: {sittings_per_day: 2, past_midnight: true}"
	usualCategories = "categories: {most: 3, map: {bicycle_repair: Bicycle repair, bicycle_shop: Bicycles, bakery: Bakers}}"
)

// Each limit on a fact that a rulebook can set is kept: what is given is within it, or nothing is; and one that
// could not be kept is refused.
func TestEveryLimitOnAFactIsKeptOrRefused(t *testing.T) {
	s := Read(plenty(), nil, now)
	for _, k := range rulebook.Keys {
		for limit, n := range map[string]int{"most_characters": 5, "most": 1} {
			more := usualHours + ", " + usualCategories
			if k.ID == "attributes" {
				more += ", attributes: {map: {classes: Classes, gift_cards: Gift cards}}"
			}
			b, problems := withMore(t, fmt.Sprintf("{fact: %s, %s: %d}", k.ID, limit, n), more)
			takes := limit == "most" && k.TakesMost() || limit != "most" && k.TakesCharacters()
			if !takes {
				if len(problems) != 1 || problems[0].Path != "facts.0."+limit {
					t.Errorf("%s of %s: %v", limit, k.ID, problems)
				}
				continue
			}
			if problems != nil {
				t.Fatalf("%s of %s: %v", limit, k.ID, problems)
			}
			i, asked := Of(s, b).Find(k.ID)
			parts := i.Value.Parts
			if parts == nil && i.Value.Text != "" {
				parts = []string{i.Value.Text}
			}
			over := limit == "most" && len(parts) > n || limit != "most" && slices.ContainsFunc(parts, func(p string) bool { return chars(p) > n })
			if !asked || over || i.Says == "" || i.State == Good || i.State == Missing {
				t.Errorf("%s of %s: %q goes, %s: %s", limit, k.ID, parts, i.State, i.Says)
			}
		}
	}
}

// Each other limit of the schema that is about a record is kept, and there is none besides; those that are about
// something else name what keeps them.
func TestEveryLimitOfTheSchemaIsKept(t *testing.T) {
	big := Photo{ID: "big", Group: "cover", Size: photo.Size{Width: 3000, Height: 2000}, Focus: photo.Middle, Caption: "a caption", Alternative: "an alternative"}
	small, second := big, big
	small.ID, small.Size, second.ID = "small", photo.Size{Width: 300, Height: 200}, "second"
	photos := func(more string) string {
		return usualHours + ", " + usualCategories + ", photos: [{groups: [cover], label: Front, crop: {width: 400, height: 200}, formats: [jpeg], " + more + "}]"
	}
	const plain = "most: 9, least: {width: 200, height: 100}, most_kilobytes: 900"
	for path, c := range map[string]struct {
		within, beyond string // rulebooks that are alike but for the limit
		key            string
		photos         []Photo
		lost           func(Item) bool
	}{
		"texts[].most_characters": {
			usualHours + ", " + usualCategories + ", texts: [{text: short, label: Line, most_characters: 900}]",
			usualHours + ", " + usualCategories + ", texts: [{text: short, label: Line, most_characters: 20}]",
			"text.short", nil, func(i Item) bool { return chars(i.Value.Text) <= 20 },
		},
		"areas.most": {
			usualHours + ", " + usualCategories + ", areas: {most: 2}", usualHours + ", " + usualCategories + ", areas: {most: 1}",
			"areas", nil, func(i Item) bool { return len(i.Value.Parts) == 1 },
		},
		"photos[].most": {
			photos(plain), photos("most: 1, least: {width: 200, height: 100}, most_kilobytes: 900"),
			"photos.cover", []Photo{big, second}, func(i Item) bool { return len(i.Value.Parts) == 1 },
		},
		"photos[].least.width": {
			photos(plain), photos("most: 9, least: {width: 301, height: 100}, most_kilobytes: 900"),
			"photos.cover", []Photo{small}, func(i Item) bool { return i.State == Broken },
		},
		"photos[].least.height": {
			photos(plain), photos("most: 9, least: {width: 200, height: 151}, most_kilobytes: 900"),
			"photos.cover", []Photo{small}, func(i Item) bool { return i.State == Broken },
		},
		"photos[].caption_most_characters": {
			photos(plain), photos(plain + ", caption_most_characters: 8"),
			"photos.cover", []Photo{big}, func(i Item) bool { return i.State == Broken },
		},
		"photos[].alternative_text_most_characters": {
			photos(plain), photos(plain + ", alternative_text_most_characters: 8"),
			"photos.cover", []Photo{big}, func(i Item) bool { return i.State == Broken },
		},
		"hours.sittings_per_day": {
			"hours: {sittings_per_day: 3, past_midnight: true}, " + usualCategories, "hours: {sittings_per_day: 1, past_midnight: true}, " + usualCategories,
			"hours", nil, func(i Item) bool { return most(i) == 1 },
		},
		"categories.most": {
			usualHours + ", " + usualCategories, usualHours + ", " + strings.Replace(usualCategories, "most: 3", "most: 1", 1),
			"category", nil, func(i Item) bool { return len(i.Value.Parts) == 1 },
		},
	} {
		fact := "{fact: name}, {fact: hours}, {fact: category}, {fact: special_dates}"
		s := Read(plenty(), c.photos, now)
		delete(keptElsewhere, path)
		within, beyond := Item{}, Item{}
		for text, to := range map[string]*Item{c.within: &within, c.beyond: &beyond} {
			b, problems := withMore(t, fact, text)
			if problems != nil {
				t.Fatalf("%s: %v", path, problems)
			}
			*to, _ = Of(s, b).Find(c.key)
		}
		if len(within.Lost) >= len(beyond.Lost) && beyond.State != Broken || !c.lost(beyond) || beyond.Says == "" {
			t.Errorf("%s: within it goes %+v\nbeyond it %+v", path, within, beyond)
		}
		keptElsewhere[path] = "here"
	}
	var schema map[string]any
	if err := json.Unmarshal(rulebook.Schema(), &schema); err != nil {
		t.Fatal(err)
	}
	written := limitsOf("", schema)
	slices.Sort(written)
	if known := slices.Sorted(maps.Keys(keptElsewhere)); !slices.Equal(written, known) {
		t.Errorf("the schema has the limits\n%q\nand it is known who keeps\n%q", written, known)
	}
}

// most is how many sittings a day hours hold.
func most(i Item) (n int) {
	schedule, _, _ := hours.Parse(i.Value.Data["hours"].(string))
	for d := range 7 {
		n = max(n, len(schedule.On(calendar.Date{Year: 2026, Month: 10, Day: 5 + d}, calendar.HolidaysOf("US", "WA"))))
	}
	return n
}

// keptElsewhere are the limits of the schema that no record can break by itself, with what keeps them.
var keptElsewhere = map[string]string{
	"facts[].most_characters": "TestEveryLimitOnAFactIsKeptOrRefused", "facts[].most": "TestEveryLimitOnAFactIsKeptOrRefused",
	"photos[].most_kilobytes":      "photo.EncodeWithin, as photos are cut",
	"page_address.most_characters": "rulebook.PageAddress, and as a listing is created",
	"verification[].again.most":    "verification.Ways", "verification[].film.most_seconds": "the film package",
	"appeal.most": "the cases package", "appeal.most_characters": "as an appeal is written",
	"speaks.events_most_days": "the saying package", "speaks.offers_most_percent": "the saying package",
}

// limitsOf are the limits that a schema has, by where they stand.
func limitsOf(path string, node map[string]any) (out []string) {
	if items, ok := node["items"].(map[string]any); ok {
		out = append(out, limitsOf(path+"[]", items)...)
	}
	properties, _ := node["properties"].(map[string]any)
	for name, of := range properties {
		to, of := strings.TrimPrefix(path+"."+name, "."), of.(map[string]any)
		out = append(out, limitsOf(to, of)...)
		limit := strings.HasSuffix(path, ".least") || strings.HasPrefix(name, "most") || strings.Contains(name, "_most_") || strings.HasPrefix(name, "sittings")
		if limit && of["properties"] == nil {
			out = append(out, to)
		}
	}
	return out
}
