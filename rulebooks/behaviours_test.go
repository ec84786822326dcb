package rulebooks

import (
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/address"
	"uvent/core/fact/photo"
	"uvent/core/record/record"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// A behaviour is met either here, in what a record becomes by the rulebook, or where the
// directory is at work: in a test of that name.
type behaviour struct {
	is string
	by func(b *rulebook.Rulebook) bool
	in string // file: words that stand in it
}

const (
	atWork = "outside/behaviours_test.go: "
	trying = "outside/trouble_test.go: "
)

// given composes the values for a workshop that has something of everything.
func given(b *rulebook.Rulebook, more ...func(*record.Record)) fit.Values {
	r := record.Record{
		Name:       "Spokeshave Cycle Works",
		LegalName:  "Spokeshave Cycle Works LLC",
		Kind:       record.Both,
		Website:    "https://spokeshave.example",
		Email:      "shop@spokeshave.example",
		Address:    address.Address{Street: "12 Harbour Street", Locality: "Port Sable", Region: "WA", PostalCode: "98991", Country: "US"},
		Phones:     []record.Phone{{E164: "+13605550142", Voice: true, Text: true}},
		Category:   "bicycle_repair",
		Others:     []string{"bicycle_shop", "electric_bicycle_shop", "bicycle_rental", "cafe", "bakery", "plumber", "electrician", "yarn_shop"},
		Hours:      "Mo-Fr 09:00-12:00,13:00-18:00; Sa 20:00-02:00; 2026 Nov 26 off",
		Pin:        &record.Pin{Latitude: 48.1, Longitude: -122.6},
		Directions: "By the pier.",
		Parking:    "Behind the shop.",
		Attributes: map[string]bool{"wheelchair_entrance": true},
		Company:    record.Company{Registration: "604 117 220", Size: "2-10", Kind: "private", Industry: "Repair", Founded: "1998"},
		Licences:   []record.Licence{{Number: "SCBT-40712"}},
		Links:      record.Links{GiftCard: "https://spokeshave.example/gift", Booking: "https://spokeshave.example/book"},
		Socials: []record.Social{
			{Name: "Murmurhall", URL: "https://murmurhall.example/spokeshave", Show: true},
		},
		Videos:    []string{"https://films.example/1", "https://films.example/2"},
		Team:      []record.Member{{Name: "Dov"}, {Name: "Ines"}, {Name: "Rue"}},
		Offerings: []record.Section{{Title: "Repairs", Items: []record.Item{{Name: "Puncture", Price: "18"}}}},
		Words: record.Words{
			Tagline:      "Wheels, by the water",
			Short:        "We mend bicycles.",
			Medium:       "We mend bicycles.",
			Long:         "We mend bicycles.",
			Story:        "It began with a bell.",
			Keywords:     strings.Fields("a b c d e f g h i j k l"),
			Specialities: []string{"wheels"},
		},
	}
	for i := range 20 {
		r.Area.Towns = append(r.Area.Towns, record.Town{Name: "Town " + string(rune('A'+i))})
	}
	var photos []fit.Photo
	for i, group := range []string{"logo", "cover", "exterior", "interior", "team", "at_work", "product", "exterior", "interior"} {
		photos = append(photos, fit.Photo{ID: string(rune('a' + i)), Group: group, Size: photo.Size{Width: 3000, Height: 2500}})
	}
	for _, change := range more {
		change(&r)
	}
	return fit.Of(fit.Read(r, photos, time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC)), b).Values()
}

func parts(b *rulebook.Rulebook, key string) int {
	v, _ := given(b).Find(key)
	return len(v.Parts)
}

func has(b *rulebook.Rulebook, keys ...string) bool {
	v := given(b)
	return !slices.ContainsFunc(keys, func(key string) bool { _, ok := v.Find(key); return !ok })
}

func hoursOf(b *rulebook.Rulebook) string {
	v, _ := given(b).Find("hours")
	return v.Text
}

func lists(b *rulebook.Rulebook, change func(*record.Record)) bool {
	r := record.Record{
		Kind:     record.Both,
		Category: "bicycle_repair",
		Address:  address.Address{Street: "12 Harbour Street", Locality: "Port Sable", Region: "WA", Country: "US"},
	}
	change(&r)
	return b.MayList(r) == ""
}

func goes(r *record.Record) { r.Kind = record.GoesToCustomers }

func way(b *rulebook.Rulebook, name rulebook.MethodName) rulebook.Method {
	m, _ := b.Way(name)
	return m
}

var behaviours = map[string][]behaviour{
	"fernlook": {
		{is: "search first", in: "desk/listings/story_test.go: Search"},
		{is: "all kinds of location", by: func(b *rulebook.Rulebook) bool {
			return lists(b, goes) && lists(b, func(r *record.Record) { r.Kind = record.Premises }) && lists(b, func(*record.Record) {})
		}},
		{is: "address may be hidden", by: func(b *rulebook.Rulebook) bool {
			v, _ := given(b, goes).Find("address")
			return v.Data["hide_street"] == true
		}},
		{is: "up to 16 areas", by: func(b *rulebook.Rulebook) bool { return parts(b, "areas") == 16 }},
		{is: "1 main and 6 other categories", by: func(b *rulebook.Rulebook) bool { return b.Categories.Most == 7 && parts(b, "category") == 7 }},
		{is: "split hours", by: func(b *rulebook.Rulebook) bool { return strings.Contains(hoursOf(b), "9–12, 13–18") }},
		{is: "special dates", by: func(b *rulebook.Rulebook) bool { return has(b, "special_dates") }},
		{is: "nothing public until verified", in: atWork + "shows nothing until it is verified"},
		{is: "not always the same ways", in: atWork + "offers not every way for every listing"},
		{is: "postcard, text, video", in: trying + "takes a video, and refuses one that is too long"},
		{is: "logo in a circle", in: atWork + "shows a logo in a circle"},
		{is: "another class of account above 30 locations", by: func(b *rulebook.Rulebook) bool { return b.Account.Class(30) != b.Account.Class(31) }},
		{is: "posts", in: "outside/trouble_test.go: shows posts on the listing’s page"},
		{is: "suspends and hears appeals", in: trying + "suspends for an address that is no place"},
	},
	"fernlook-facts": {
		{is: "a panel made by itself", in: atWork + "makes a panel by itself of what Fernlook shows"},
		{is: "claimed first", in: atWork + "claims by an email"},
		{is: "suggestions with evidence, a reviewer’s email", in: trying + "takes suggestions with public evidence, and a reviewer answers by email"},
	},
	"waywren": {
		{is: "existing: call at once; new: papers or postcard", in: atWork + "calls where it knows the place, writes or asks for papers where it does not"},
		{is: "reviewed up to 6 days", in: atWork + "takes papers for a new place, and looks at them for up to six days"},
		{is: "pin by coordinates", by: func(b *rulebook.Rulebook) bool { return has(b, "pin") }},
		{is: "not for those who only go to customers", in: atWork + "lists nobody who only goes to customers"},
		{is: "attributes by category", by: func(b *rulebook.Rulebook) bool { return has(b, "attributes") }},
		{is: "photos in groups", by: func(b *rulebook.Rulebook) bool { return len(b.Photos) >= 3 }},
		{is: "9 more business days until public", in: atWork + "takes up to nine business days from the code to the public"},
		{is: "access by role", in: trying + "lets accounts act by their role"},
	},
	"skerry": {
		{is: "copies only part", in: atWork + "copies from Fernlook, and only part"},
		{is: "no field for areas", by: func(b *rulebook.Rulebook) bool {
			v, _ := given(b).Find("text.long")
			return !has(b, "areas") && strings.Contains(v.Text, "Town A")
		}},
		{is: "legal name and number first", in: atWork + "wants the legal name and the registration number first"},
		{is: "email only on the domain, else post", by: func(b *rulebook.Rulebook) bool {
			return way(b, rulebook.Email).Needs.EmailOnDomain && way(b, rulebook.Postcard).Window.Max > 0
		}},
		{is: "a logo counts only when tagged", in: atWork + "counts a logo only when it is marked as one"},
		{is: "events up to 21 days", in: trying + "takes events up to three weeks ahead"},
	},
	"hithermap": {
		{is: "up to 4 categories", by: func(b *rulebook.Rulebook) bool { return b.Categories.Most == 4 }},
		{is: "which businesses use them", by: func(b *rulebook.Rulebook) bool {
			v, _ := given(b).Find("category")
			return strings.Contains(strings.Join(v.Says, " "), "They list under it also")
		}},
		{is: "call or card", in: atWork + "verifies by a card at once"},
		{is: "the call only while open", by: func(b *rulebook.Rulebook) bool { return way(b, rulebook.Call).Needs.OpenMinutes == 10 }},
		{is: "directions and parking", by: func(b *rulebook.Rulebook) bool { return has(b, "directions", "parking") }},
		{is: "forms that fail", in: atWork + "fails now and then, and goes on when it is sent again"},
		{is: "photos that do not stick or blur", in: atWork + "loses some photos and blurs others, and says nothing"},
	},
	"murmurhall": {
		{is: "page address from the name", by: func(b *rulebook.Rulebook) bool { return b.PageAddress.Begins != "" }},
		{is: "one sitting a day", by: func(b *rulebook.Rulebook) bool { return !strings.Contains(hoursOf(b), "12, 13") }},
		{is: "the street may be hidden", in: atWork + "is public within a day of a text, and hides the street"},
		{is: "a story in a warmer voice", by: func(b *rulebook.Rulebook) bool { return has(b, "text.story") }},
		{is: "3 posts a month within a radius, people counted", in: trying + "takes three posts a month within a radius, and counts the people"},
		{is: "a second look", in: atWork + "takes a second look now and then"},
	},
	"lanefolk": {
		{is: "a personal account", by: func(b *rulebook.Rulebook) bool { return b.Account.Personal }},
		{is: "licence number, gift-card link", by: func(b *rulebook.Rulebook) bool { return has(b, "licence", "gift_card") }},
		{is: "logo and cover together", in: "core/rule/fit/fit_test.go: TestPhotosThatComeTogether"},
		{is: "up to 4 topics", in: atWork + "Topics: we take 4"},
		{is: "withdrawn until ready", in: atWork + "its page before it is said to be ready"},
		{is: "hours that must match", by: func(b *rulebook.Rulebook) bool { return b.Hours.AgreeWith == "fernlook" }},
	},
	"guildbench": {
		{is: "page address, taken names", in: atWork + "gives each page address once"},
		{is: "size, kind, industry, founded, tagline", by: func(b *rulebook.Rulebook) bool {
			return has(b, "company_size", "company_kind", "industry", "founded", "text.tagline")
		}},
		{is: "one chosen button", in: trying + "shows one chosen button"},
		{is: "location optional, the signer attests", in: atWork + "asks for no place, and for somebody who attests"},
		{is: "email or papers", by: func(b *rulebook.Rulebook) bool {
			return way(b, rulebook.Email).Code.Digits > 0 && way(b, rulebook.Papers).Papers != nil
		}},
	},
	"candourbox": {
		{is: "text or email", by: func(b *rulebook.Rulebook) bool {
			return way(b, rulebook.Text).Code.Digits > 0 && way(b, rulebook.Email).Code.Digits > 0
		}},
		{is: "held by a former agency", in: atWork + "is held by a former agency"},
		{is: "handed over or not", in: trying + "has a former agency asked"},
		{is: "price list with sections", by: func(b *rulebook.Rulebook) bool {
			v, _ := given(b).Find("offerings")
			return strings.HasPrefix(v.Text, "Repairs\nPuncture: 18")
		}},
		{is: "offers with a ceiling, reviews to read", in: trying + "takes offers up to a ceiling, and has reviews to read"},
		{is: "there with an old address", in: "demo/before.go: At a former address"},
	},
	"brasswire": {
		{is: "staff change everything, 4 to 6 business days, confirmed by email", in: atWork + "is changed by its staff, who answer days later by email"},
		{is: "free-text hours", by: func(b *rulebook.Rulebook) bool { return strings.Contains(hoursOf(b), "20–2") }},
	},
	"plotline": {{is: "feeds others within 14 days, overwrites", in: atWork + "feeds others within fourteen days, and overwrites them"}},
	"roadwhistle": {
		{is: "cannot be edited", in: atWork + "cannot be asked or worked on"},
		{is: "answers voice questions", by: func(b *rulebook.Rulebook) bool { return b.Speaks.AnswersByVoice }},
	},
	"sound-chamber": {
		{is: "live at once, socials only if ticked", in: atWork + "is live at once, and shows profiles only where the switch is ticked"},
		{is: "short texts", by: func(b *rulebook.Rulebook) bool { return b.Texts[0].MostCharacters <= 100 }},
		{is: "keywords decide", by: func(b *rulebook.Rulebook) bool {
			f, _ := b.Takes("keywords")
			return f.Required && parts(b, "keywords") == 10
		}},
		{is: "categories only through staff", by: func(b *rulebook.Rulebook) bool { return b.Categories.StaffOnly }},
		{is: "takes the member file unless told otherwise", in: atWork + "takes the member file unless it is told otherwise"},
	},
	"old-wharf-merchants": {
		{is: "for premises within its streets", in: "core/rule/fit/fit_test.go: on its own streets only"},
		{is: "new or changed, by writing", in: atWork + "is written to as well"},
		{is: "up to 4 gallery photos", by: func(b *rulebook.Rulebook) bool { return parts(b, "photos.cover") == 4 }},
		{is: "up to 2 team members, a film", by: func(b *rulebook.Rulebook) bool { return parts(b, "team") == 2 && parts(b, "videos") == 1 }},
		{is: "buttons from links, slogan under the title", by: func(b *rulebook.Rulebook) bool { return has(b, "booking", "gift_card", "text.tagline") }},
	},
	"spanner-register": {
		{is: "only for one trade", in: "core/rule/fit/fit_test.go: lists one trade only"},
		{is: "licence checked, 4 digits or a phone bill", in: atWork + "checks a licence, calls with four digits, or takes a phone bill"},
		{is: "categories of its own", by: func(b *rulebook.Rulebook) bool {
			v, _ := given(b).Find("category")
			return strings.HasPrefix(v.Text, "All repairs")
		}},
	},
}

// All that the directories are there to show is met.
func TestEveryBehaviourIsMet(t *testing.T) {
	all, err := All()
	if err != nil {
		t.Fatal(err)
	}
	for i := range all {
		b := &all[i]
		if len(behaviours[b.ID]) == 0 {
			t.Errorf("%s shows nothing", b.Name)
		}
		for _, c := range behaviours[b.ID] {
			if c.by != nil && !c.by(b) {
				t.Errorf("%s: %s is not so", b.Name, c.is)
			}
			if c.in == "" {
				continue
			}
			file, words, _ := strings.Cut(c.in, ": ")
			text, err := os.ReadFile(filepath.Join("..", file))
			if err != nil || words == "" || !strings.Contains(string(text), words) {
				t.Errorf("%s: %s is tried nowhere: %s (%v)", b.Name, c.is, c.in, err)
			}
		}
	}
}
