package rulebook

import (
	"os"
	"strings"
	"testing"
)

// Every kind of mistake is told with its file, its line, where in the file it stands,
// and what to do about it.
func TestMistakesAreToldWithWhatToDo(t *testing.T) {
	books := map[string]string{}
	for _, name := range []string{"fernlook", "brasswire", "hithermap", "lanefolk", "skerry", "plotline"} {
		data, err := os.ReadFile("../../../rulebooks/" + name + ".yaml")
		if err != nil {
			t.Fatal(err)
		}
		books[name] = string(data)
	}
	for _, c := range []struct {
		book, from, to string
		path           string
		says           string // what is wrong, and what to do
	}{
		{"fernlook", "weight: 100", "weight: 101", "weight", "101 is too large; write 100 or less"},
		{"fernlook", "weight: 100", "weight: -1", "weight", "-1 is too small; write 0 or more"},
		{"fernlook", "weight: 100", "weight: heavy", "weight", "a text stands where a whole number is wanted"},
		{"fernlook", "weight: 100", "weight: 99.5", "weight", "a number stands where a whole number is wanted"},
		{"fernlook", "weight: 100", "weigth: 100", "", `"weight" is missing; add it`},
		{"fernlook", "id: fernlook", "id: Fern Look", "id", "write lower-case letters, digits and hyphens"},
		{"fernlook", "id: fernlook", "id: 12", "id", "a text is wanted"},
		{"fernlook", "name: Fernlook\n", "", "", `"name" is missing; add it`},
		{"fernlook", "name: Fernlook\n", "name: \"\"\n", "name", "the text is empty; write something"},
		{"fernlook", "name: Fernlook\n", "name: " + strings.Repeat("x", 61) + "\n", "name", "61 characters; write 60 at most"},
		{"fernlook", "worked: connected", "worked: conected", "worked", `did you mean "connected"?`},
		{"fernlook", "for_good: {by: mark}", "for_good: {by: magic}", "closing.for_good.by", "write one of mark, view, words"},
		{"fernlook", "for_good: {by: mark}", "for_good: {final: true}", "closing.for_good", `"by" is missing; add it`},
		{"lanefolk", "publishing:", "closing: {moved: {by: view}}\npublishing:", "closing.moved.by", "write words"},
		{"fernlook", "worked: connected", "worked: telepathy", "worked", "write one of connected, by_hand, written, file, fed, suggestions"},
		{"fernlook", "worked: connected", "worked: by_hand", "", `"page" is missing; add it, such as page: https://`},
		{"fernlook", "worked: connected", "worked: written", "", `"staff" is missing; add it, such as staff: listings@`},
		{"fernlook", "connector:\n  url: outside:/fernlook/api\n", "", "", `"connector" is missing; add it, such as connector: {url:`},
		{"fernlook", "outside:/fernlook/api", "ftp://x", "connector.url", "write an address such as https://"},
		{"fernlook", "country: US", "country: IS", "calendar.country", "the public holidays of IS are not known here; name a country whose are"},
		{"fernlook", "country: US", "country: usa", "calendar.country", "write two capitals, such as US"},
		{"fernlook", "zone: America/Los_Angeles", "zone: Pacific", "calendar.zone", `"Pacific" is no time zone; write it as America/Los_Angeles`},
		{"fernlook", "cut_off_hour: 17", "cut_off_hour: 24", "calendar.cut_off_hour", "24 is too large; write 23 or less"},
		{"fernlook", "kinds: [premises, goes_to_customers, both]", "kinds: []", "listing.kinds", "the list is empty; name at least 1"},
		{"fernlook", "kinds: [premises, goes_to_customers, both]", "kinds: premises", "listing.kinds", "a text stands where a list is wanted"},
		{"fernlook", "kinds: [premises, goes_to_customers, both]", "kinds: [premises, premises]", "listing.kinds.1", "it stands twice in the list; take one out"},
		{"fernlook", "kinds: [premises, goes_to_customers, both]", "kinds: [premises]", "listing.hide_address.0", "goes_to_customers is not among the kinds that are listed; add it to kinds"},
		{"fernlook", "countries: [US, CA]", "countries: [US, CA]\n  trades: [wizards]", "listing.trades.0", `"wizards" is neither a group nor a category in our list; see Categories`},
		{"fernlook", "causes: [round_the_clock, far_category]", "causes: [round_the_clock, bad_luck]", "appeal.evidence.2.causes.1", `"bad_luck" is none of the risks`},
		{"fernlook", "paper: licence, causes", "paper: lease, causes", "appeal.evidence.2.paper", `"lease" is not among the papers that it takes; add it to papers`},
		{"skerry", "{paper: registration, chance: 0.8}", "{paper: registration, chance: 0.2}", "appeal.evidence.0.chance", "what makes it no likelier than 0.4 is no evidence; leave it out"},
		{"hithermap", "charge: {amount: 1, currency: USD, paid_back: true}", "note: It is a small one.", "verification.1", "say in charge what a card is charged, such as {amount: 1, currency: USD}: nobody pays without knowing"},
		{"fernlook", "film: {most", "charge: {amount: 2, currency: USD}\n    film: {most", "verification.3.charge", "only a card is charged; take it out, or make the method card"},
		{"fernlook", "fact: website", "fact: phone", "facts.5.fact", `"phone" stands twice; take one out`},
		{"fernlook", "fact: website", "fact: web_site", "facts.5.fact", `did you mean "website"?`},
		{"fernlook", "required: true, weight: 10", "requierd: true, weight: 10", "facts.0.requierd", `did you mean "required"?`},
		{"skerry", "needs: {", "needs: {stamps: 3, ", "verification.0.needs.stamps", `"stamps" is not known here; what may stand here is `},
		{"fernlook", "weight: 10,", "weight: 0,", "facts.0.weight", "0 is too small; write 1 or more"},
		{"fernlook", "label: Description, most_characters: 700", "label: Description, most_characters: 0", "texts.0.most_characters", "0 is too small; write 1 or more"},
		{"fernlook", "label: Description, most_characters: 700", "label: Description", "texts.0", `"most_characters" is missing; add it`},
		{"fernlook", "text: medium", "text: poem", "texts.0.text", "write one of tagline, short, medium, long, story"},
		{"fernlook", "{text: medium", "{text: short", "texts.1.text", `"short" stands twice`},
		{"fernlook", "most: 16", "most: -1", "areas.most", "-1 is too small; write 0 or more"},
		{"fernlook", "at: .fer-pin", "at: '.fer-pin >'", "reads.0.at", "is no selector of elements"},
		{"fernlook", "fact: pin, at: .fer-pin", "fact: licence, at: .fer-pin", "reads.0.fact.0", "is not among what it takes"},
		{"fernlook", "fact: reviews, at: .fer-count", "fact: pin, at: .fer-count", "reads.12.fact", "stands twice"},
		{"fernlook", "groups: [logo]", "groups: [logo, selfie]", "photos.0.groups.1", `"selfie" is not known here; write one of logo, cover`},
		{"fernlook", "groups: [cover]", "groups: [logo]", "photos.1.groups.0", `"logo" stands twice`},
		{"fernlook", "crop: {width: 600, height: 600, circle: true}", "crop: {width: 600}", "photos.0.crop", `"height" is missing`},
		{"fernlook", "crop: {width: 600, height: 600, circle: true}", "crop: {width: 6, height: 600}", "photos.0.crop.width", "6 is too small; write 16 or more"},
		{"fernlook", "formats: [jpeg, png]", "formats: [jpeg, gif]", "photos.0.formats.1", "write one of jpeg, png"},
		{"fernlook", "sittings_per_day: 4", "sitting_per_day: 4", "hours", `"sittings_per_day" is missing`},
		{"fernlook", "past_midnight: true", "past_midnight: yes please", "hours.past_midnight", "a text stands where true or false is wanted"},
		{"fernlook", "bakery: Bakery", "ghost_house: Bakery", "categories.map.ghost_house", `"ghost_house" is not in our list of categories; see Categories`},
		{"fernlook", "bakery: Bakery", "bakery: [Bakery]", "categories.map.bakery", "a list stands where a text is wanted"},
		{"fernlook", "free_wifi: Wi-Fi", "free_wine: Wine", "attributes.map.free_wine", `"free_wine" is not in our list of attributes`},
		{"fernlook", "  - {fact: attributes, weight: 2}\n", "", "attributes", "facts does not take them; add fact: attributes"},
		{"fernlook", "form: [name, category", "form: [name, name, category", "form.1", "it stands twice in the list; take one out"},
		{"fernlook", "form: [name, category", "form: [nmae, category", "form.0", `"nmae" is not among what it takes; take it in above, or out here`},
		{"fernlook", "min: 6, max: 12", "min: 16, max: 12", "verification.0.window", "12 is less than min, 16"},
		{"fernlook", "works_days: 30", "works_days: 3", "verification.0.code", "let it work longer, shorten the window, or say works_from: arrival"},
		{"fernlook", "works_days: 30", "works_days: 30, works_from: birth", "verification.0.code.works_from", "write one of asking, arrival"},
		{"fernlook", "works_days: 30,", "", "verification.0.code", "works_days or works_minutes, not both"},
		{"fernlook", "works_days: 30", "works_days: 30, works_minutes: 5", "verification.0.code", "works_days or works_minutes, not both"},
		{"fernlook", "unit: business_days", "unit: weeks", "verification.0.window.unit", "write one of business_days, days"},
		{"fernlook", "method: text", "method: carrier_pigeon", "verification.2.method", "write one of postcard, call, text"},
		{"fernlook", "method: text", "method: call", "verification.2.method", `"call" stands twice; say all of it in one place`},
		{"fernlook", "    code: {digits: 6, works_days: 30, tries: 3}\n", "", "verification.0", `"code" is missing; add it, such as code: {digits: 6`},
		{"fernlook", "chance: 0.6", "code: {digits: 6, works_days: 30, tries: 3}", "verification.3.code", "no code is sent by video; take it out"},
		{"fernlook", "chance: 0.6", "chance: 60", "verification.3.chance", "60 is too large; write 1 or less"},
		{"fernlook", "chance: 0.6", "papers: [licence]", "verification.3.papers", "papers are named for the method papers only; take them out"},
		{"fernlook", "from_locations: 31", "from_locations: 1", "account.classes.1.from_locations", "1 does not come after 1; write the classes by the number of locations"},
		{"fernlook", "facts: [name, address], sets_off", "facts: [name, adress], sets_off", "edits.0.facts.1", `"adress" is not among what it takes`},
		{"fernlook", "sets_off: verification", "sets_off: alarm", "edits.0.sets_off", "write one of review, verification, writing, refusal"},
		{"fernlook", "weight: 100", "weight: [100", "", ""},
		{"fernlook", "weight: 100", "weight: 100\nweight: 90", "", "weight"},
		{"fernlook", "  country: US", "\tcountry: US", "", ""},
		{"brasswire", "staff: listings@brasswire.example", "staff: the people there", "staff", "write an email such as"},
		{"brasswire", "min: 4, max: 6", "min: 6, max: 4", "review.window", "4 is less than min, 6"},
		{"brasswire", "from: plotline", "from: brasswire", "copies.0.from", "Brasswire cannot copy from itself; name another directory"},
		{"brasswire", "carries: [name, address, phone]", "carries: [name, address, fax]", "copies.0.carries.2", `"fax" is not among what it takes`},
		{"lanefolk", "with: Cover", "with: Kover", "photos.0.with", `no other photos are labelled "Kover"`},
		{"lanefolk", "first:\n", "first: []\n  firsts:\n", "account.first", "the list is empty"},
		{"skerry", "- {fact: legal_name, says: the legal name}", "- {fact: legal_name}", "account.first.0", `"says" is missing`},
		{"skerry", "omits: [website, category, socials]", "omits: [website, posts]", "copies.0.omits.1", `"posts" is not among what it takes`},
		{"plotline", "look_every_hours: 24", "look_every_hours: 0", "publishing.look_every_hours", "0 is too small; write 1 or more"},
	} {
		good := books[c.book]
		at := strings.Index(good, c.from)
		if at < 0 {
			t.Fatalf("%q is not in the rulebook %s", c.from, c.book)
		}
		_, problems := Parse("x.yaml", []byte(strings.Replace(good, c.from, c.to, 1)))
		if len(problems) == 0 {
			t.Errorf("%q for %q passes", c.to, c.from)
			continue
		}
		told := false
		for _, p := range problems {
			told = told || p.Path == c.path && strings.Contains(p.Message, c.says)
			if p.File != "x.yaml" || p.Line < 1 || p.Message == "" {
				t.Errorf("%q: %+v says too little", c.to, p)
			}
			// A value that stands in the file is told with its line.
			if last := c.path[strings.LastIndexByte(c.path, '.')+1:]; p.Path == c.path && c.path != "" &&
				!strings.Contains(line(strings.Replace(good, c.from, c.to, 1), p.Line), strings.TrimRight(last, "0123456789")) {
				t.Errorf("%q: line %d is %q, not of %s", c.to, p.Line, line(strings.Replace(good, c.from, c.to, 1), p.Line), c.path)
			}
		}
		if !told {
			t.Errorf("%q: %v; want %s: %q", c.to, problems, c.path, c.says)
		}
	}
}

func line(text string, n int) string {
	lines := strings.Split(text, "\n")
	if n > len(lines) {
		return ""
	}
	return lines[n-1]
}

// What is no rulebook at all is told too.
func TestWhatIsNoRulebook(t *testing.T) {
	for text, says := range map[string]string{
		"": "a rulebook is one YAML document", "- a\n- b\n": "a list stands where a group of keys is wanted", "just words": "a text stands where a group of keys is wanted",
		"a: 1\n---\nb: 2\n": "one YAML document", "x: &a {y: *a}\n": "", "\x00": "", "{{{": "", "a: !!binary x": "",
	} {
		_, problems := Parse("x.yaml", []byte(text))
		if len(problems) == 0 || !strings.Contains(problems[0].Error(), says) {
			t.Errorf("%q: %v", text, problems)
		}
	}
}
