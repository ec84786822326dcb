package fit

import (
	"slices"
	"strings"
	"testing"

	"uvent/core/fact/category"
	"uvent/core/fact/photo"
	"uvent/core/record/link"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// limited is a directory that takes one fact, up to a limit.
func limited(f rulebook.Fact) *rulebook.Rulebook {
	return &rulebook.Rulebook{
		Name:    "Pierbook",
		Listing: rulebook.Listing{Kinds: []record.Kind{record.Premises, record.GoesToCustomers}},
		Facts:   []rulebook.Fact{f},
		Photos: []rulebook.Photos{
			{Groups: []string{"cover"}, Label: "Front", Most: 2, Crop: photo.Crop{Width: 400, Height: 200}, Least: photo.Size{Width: 200, Height: 100},
				CaptionMost: 5, AlternativesMost: 7},
		},
		Texts: []rulebook.Prose{{Text: "short", Label: "Line", MostCharacters: 10}},
		Areas: rulebook.Areas{Most: 2},
	}
}

// What just keeps within a limit goes as it is; one more, and it is told what is lost.
func TestAtTheLimit(t *testing.T) {
	x := func(n int) string { return strings.Repeat("x", n) }
	towns := func(n int) (out []record.Town) {
		for range n {
			out = append(out, record.Town{Name: "Fennick"})
		}
		return out
	}
	covers := func(n int) (out []Photo) {
		for range n {
			out = append(out, Photo{Group: "cover", Size: photo.Size{Width: 800, Height: 400}, Focus: photo.Middle})
		}
		return out
	}
	for _, c := range []struct {
		rule   rulebook.Fact
		key    string
		record record.Record
		photos []Photo
		state  State
		says   string
	}{
		{rulebook.Fact{Fact: "name", MostCharacters: 5}, "name", record.Record{Name: x(5)}, nil, Good, ""},
		{rulebook.Fact{Fact: "name", MostCharacters: 5}, "name", record.Record{Name: x(6)}, nil, Broken, "Name has 6 characters; Pierbook takes 5. Shorten it."},
		{rulebook.Fact{Fact: "name"}, "name", record.Record{Name: x(600)}, nil, Good, ""},
		{rulebook.Fact{Fact: "parking", MostCharacters: 10}, "parking", record.Record{Parking: "Behind the"}, nil, Good, ""},
		{rulebook.Fact{Fact: "parking", MostCharacters: 10}, "parking", record.Record{Parking: "Behind the house"}, nil, Changed, "The parking is cut from 16 characters to 7, after “Behind…”."},
		{rulebook.Fact{Fact: "parking", MostCharacters: 10}, "parking", record.Record{Parking: x(16)}, nil, Broken, "No word of it fits into its 10 characters."},
		{rulebook.Fact{Fact: "keywords", Most: 2}, "keywords", record.Record{Words: record.Words{Keywords: []string{"a", "b"}}}, nil, Good, ""},
		{rulebook.Fact{Fact: "keywords", Most: 2}, "keywords", record.Record{Words: record.Words{Keywords: []string{"a", "b", "c"}}}, nil, Changed, "1 of 3 does not go, beyond the 2 that it takes."},
		{rulebook.Fact{Fact: "keywords", MostCharacters: 2}, "keywords", record.Record{Words: record.Words{Keywords: []string{"ab", "b", "c"}}}, nil, Good, ""},
		{rulebook.Fact{Fact: "keywords", MostCharacters: 1}, "keywords", record.Record{Words: record.Words{Keywords: []string{"ab", "b", "c"}}}, nil, Changed, "1 of 3 does not go, with more than 1 character."},
		{rulebook.Fact{Fact: "keywords", MostCharacters: 1}, "keywords", record.Record{Words: record.Words{Keywords: []string{"ab", "bc"}}}, nil, Broken, "Each of the keywords is longer than the 1 character that Pierbook takes."},
		{rulebook.Fact{Fact: "name"}, "text.short", record.Record{Words: record.Words{Short: "Ten of it!"}}, nil, Good, ""},
		{rulebook.Fact{Fact: "name"}, "text.short", record.Record{Words: record.Words{Short: "Eleven of it"}}, nil, Changed, "The line is cut from 12 characters to 10, after “Eleven of…”."},
		{rulebook.Fact{Fact: "name"}, "areas", record.Record{Kind: record.GoesToCustomers, Area: record.Area{Towns: towns(2)}}, nil, Good, ""},
		{rulebook.Fact{Fact: "name"}, "areas", record.Record{Kind: record.GoesToCustomers, Area: record.Area{Towns: towns(3)}}, nil, Changed, "2 of the 3 towns go, the largest."},
		{rulebook.Fact{Fact: "name"}, "photos.cover", record.Record{}, covers(2), Good, ""},
		{rulebook.Fact{Fact: "name"}, "photos.cover", record.Record{}, covers(3), Changed, "1 of 3 does not go."},
	} {
		if c.record.Kind == "" {
			c.record.Kind = record.Premises
		}
		f := Of(Read(c.record, c.photos, now), limited(c.rule))
		i := slices.IndexFunc(f.Items, func(i Item) bool { return i.Key == c.key })
		if i < 0 || f.Items[i].State != c.state || !strings.HasPrefix(f.Items[i].Says, c.says) || (c.says == "") != (f.Items[i].Says == "") {
			t.Errorf("%s: %+v, want %s, %q", c.key, f.Items, c.state, c.says)
		}
	}
	rule := limited(rulebook.Fact{Fact: "name"}).Photos[0]
	good := Photo{Group: "cover", Size: photo.Size{Width: 200, Height: 100}, Focus: photo.Middle, Caption: x(5), Alternative: x(7)}
	if faults := faultsOf(good, rule); faults != nil {
		t.Errorf("what just keeps within the limits has faults: %q", faults)
	}
	for _, spoil := range []func(*Photo){
		func(p *Photo) { p.Size = photo.Size{Width: 199, Height: 100} }, func(p *Photo) { p.Caption += "x" }, func(p *Photo) { p.Alternative += "x" },
	} {
		p := good
		spoil(&p)
		if faults := faultsOf(p, rule); len(faults) != 1 {
			t.Errorf("%+v has the faults %q", p, faults)
		}
	}
	rule.CaptionMost, rule.AlternativesMost = 0, 0
	good.Caption, good.Alternative = x(500), x(500)
	if faults := faultsOf(good, rule); faults != nil {
		t.Errorf("without limits on words it has faults: %q", faults)
	}
}

// Where people do not come, nobody asks how; what few have is asked for only where they have it.
func TestWhatIsAskedOfWhom(t *testing.T) {
	ids := func(r record.Record, f rulebook.Fact) (out []string) {
		for _, i := range Of(Read(r, nil, now), limited(f)).Items {
			out = append(out, i.Key)
		}
		return out
	}
	goes, comes := record.Record{Kind: record.GoesToCustomers}, record.Record{Kind: record.Premises}
	if slices.Contains(ids(goes, rulebook.Fact{Fact: "parking"}), "parking") || !slices.Contains(ids(comes, rulebook.Fact{Fact: "parking"}), "parking") {
		t.Error("parking is asked of the wrong ones")
	}
	if slices.Contains(ids(comes, rulebook.Fact{Fact: "store_code"}), "store_code") ||
		!slices.Contains(ids(comes, rulebook.Fact{Fact: "store_code", Required: true}), "store_code") {
		t.Error("a store code is asked of who has none, or not where it is required")
	}
	if comes.StoreCode = "12"; !slices.Contains(ids(comes, rulebook.Fact{Fact: "store_code"}), "store_code") {
		t.Error("a store code that there is does not go")
	}
	comes.Phones = []record.Phone{{E164: "+13605550142"}, {E164: "+13605550143"}}
	if got := facts["other_phones"].parts(Read(comes, nil, now)); !slices.Equal(got, []string{"+13605550143"}) {
		t.Errorf("other phones: %q", got)
	}
	if facts["button"].said(Read(record.Record{Website: "https://x.example"}, nil, now)) != 1 || facts["button"].said(Read(record.Record{}, nil, now)) != 0 {
		t.Error("a button leads nowhere, or somewhere though nothing is known")
	}
}

// What does not go with categories and attributes is counted, and tags are said.
func TestWhatIsSaidOfWhatDoesNotGo(t *testing.T) {
	var ids []string
	b := limited(rulebook.Fact{Fact: "category"})
	b.Facts = append(b.Facts, rulebook.Fact{Fact: "attributes"}, rulebook.Fact{Fact: "offerings"}, rulebook.Fact{Fact: "website", MostCharacters: 60})
	b.Categories = rulebook.Categories{Most: 2, Map: map[string]string{}}
	for _, c := range category.All()[:4] {
		ids = append(ids, c.ID)
		b.Categories.Map[c.ID] = "Their " + c.Name
	}
	b.Attributes.Map = map[string]string{"free_wifi": "Wi-Fi"}
	r := record.Record{
		Kind:       record.Premises,
		Category:   ids[0],
		Others:     ids[1:4],
		Attributes: map[string]bool{"free_wifi": true, "toilets": false, "delivery": true},
		Website:    "https://x.example/",
		Tags:       record.Tags{On: true, Medium: "listing", Campaign: strings.Repeat("c", 9)},
	}
	r.Offerings = []record.Section{{Title: "Empty"}, {Title: "Repairs", Items: []record.Item{{Name: "A puncture"}}}}
	notes := func(key string) string {
		v, given := Of(Read(r, nil, now), b).Values().Find(key)
		if !given {
			t.Fatalf("no %s is given", key)
		}
		return strings.Join(v.Says, " ")
	}
	if got := notes("category"); !strings.Contains(got, "Of the record’s other categories, 2 do not go.") {
		t.Errorf("%s", got)
	}
	if got := notes("attributes"); !strings.Contains(got, "Of the record’s attributes, 2 are not asked for there.") {
		t.Errorf("%s", got)
	}
	r.Attributes, r.Others = map[string]bool{"free_wifi": true}, ids[1:2]
	if got := notes("attributes") + notes("category"); strings.Contains(got, "not") {
		t.Errorf("where all goes: %s", got)
	}
	v, _ := Of(Read(r, nil, now), b).Values().Find("offerings")
	if sections := v.Data["offerings"].([]any); len(sections) != 1 || sections[0].(map[string]any)["title"] != "Repairs" {
		t.Errorf("%+v", v.Data)
	}
	tagged := link.Tagged(r.Website, b.ID, r.Tags)
	for most, says := range map[int]string{len(tagged): "With campaign tags", len(tagged) - 1: "Goes without campaign tags", 0: "With campaign tags"} {
		if b.Facts[3].MostCharacters = most; !strings.Contains(notes("website"), says) {
			t.Errorf("%s of %d characters where %d go: %s", tagged, len(tagged), most, notes("website"))
		}
	}
	b.Photos[0].Tag = "Cover"
	v, given := Of(Read(r, []Photo{{Group: "cover", Size: photo.Size{Width: 800, Height: 400}, Focus: photo.Middle}}, now), b).Values().Find("photos.cover")
	if said := strings.Join(v.Says, " "); !given || !strings.Contains(said, "Mark it there as “Cover”") {
		t.Errorf("%+v", v)
	}
}
