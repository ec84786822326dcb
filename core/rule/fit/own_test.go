package fit

import (
	"strings"
	"testing"

	"uvent/core/fact/photo"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
)

// A value of a listing's own goes as it was written, and is held against the record all the same.
func TestAValueOfItsOwn(t *testing.T) {
	book := rulebook.Rulebook{
		ID:      "pierbook",
		Name:    "Pierbook",
		Weight:  50,
		Listing: rulebook.Listing{Kinds: []record.Kind{record.Premises}},
		Facts: []rulebook.Fact{
			{Fact: "name", Required: true, MostCharacters: 16},
			{Fact: "phone"},
			{Fact: "website"},
			{Fact: "address"},
			{Fact: "category"},
			{Fact: "hours"},
		},
		Texts:      []rulebook.Prose{{Text: "medium", Label: "About", MostCharacters: 60}},
		Photos:     []rulebook.Photos{{Groups: []string{"cover"}, Label: "Banner", Most: 1}},
		Hours:      rulebook.Hours{SittingsPerDay: 1},
		Categories: rulebook.Categories{Most: 1, Map: map[string]string{"bicycle_repair": "Bicycle repair", "bakery": "Bakers"}},
	}
	r := spokeshave()
	r.Name, r.Hours, r.Category = "Spokeshave Cycle Works", "Mo-Fr 09:00-12:00,13:00-18:00", "bicycle_repair"
	r.Words.Medium = "Wheels trued while you wait."
	s := Read(r, nil, now)
	if i, _ := Of(s, &book).Find("name"); i.State != Broken {
		t.Fatalf("the name goes as %+v", i)
	}
	for _, c := range []struct {
		key, text string
		mark      compare.Mark
		given     string
		says      string
	}{
		{"name", "Spokeshave", compare.Unequal, "Spokeshave", "It misleads"},
		{"name", " Spoke\x00shave\xff\u0007 ", compare.Unequal, "Spokeshave", "It misleads"},
		{"name", "spokeshave cycles", "", "", "17 characters"},
		{"name", "Spoke\nshave", "", "", "one line"},
		{"phone", "(360) 555-0199", compare.Unequal, "(360) 555-0199", "It misleads"},
		{"phone", "ring us", "", "", "is no phone number"},
		{"website", r.Website + "/", compare.Alike, r.Website + "/", ""},
		{"website", "not a site", "", "", "does not start with https://"},
		{"hours", "Mo-Fr 09:00-18:00", compare.Unequal, "Mon–Fri 9–18", "5 hours a week shown open while shut"},
		{"hours", "Mon to Fri 9 am to 6 pm", compare.Unequal, "Mon–Fri 9–18", "5 hours a week shown open while shut"},
		{"hours", "Mo-Fr 09:00-12:00,13:00-17:00", "", "", "one sitting a day"},
		{"hours", "Mo-Fr 09:00-12:00; Dec 24 off", "", "", "Special dates stay those of the record"},
		{"hours", "some time", "", "", "cannot be read"},
		{"category", "bakers", compare.Unequal, "Bakers", "is Bicycle repair there"},
		{"category", "Spaceports", "", "", "no category “Spaceports”"},
		{"text.medium", "Wheels.", compare.Alike, "Wheels.", ""},
		{"text.medium", strings.Repeat("long ", 20), "", "", "99 characters"},
		{"photos.cover", "nobody", "", "", "not, or no longer"},
		{"address", "1 Elsewhere", "", "", "takes no value of its own"},
		{"name", " ", "", "", "Write a value"},
	} {
		own, wrong := s.MakeOwn(&book, c.key, c.text)
		if c.mark == "" {
			if !strings.Contains(wrong, c.says) {
				t.Errorf("%s %q is refused with %q", c.key, c.text, wrong)
			}
			continue
		}
		if own.Why = "It is so here"; wrong != "" {
			t.Errorf("%s %q is refused: %s", c.key, c.text, wrong)
			continue
		}
		with := s.WithOwn(book.ID, own)
		i, _ := Of(with, &book).Find(c.key)
		says := strings.Join(i.Value.Says, " ")
		if i.Mark != c.mark || !strings.HasPrefix(i.Value.Text, c.given) || !strings.Contains(says, c.says) ||
			!strings.Contains(says, "A value of its own: It is so here.") {
			t.Errorf("%s %q goes %s as %q: %s", c.key, c.text, i.Mark, i.Value.Text, says)
		}
		if i.Own == nil || i.Own.Asks || i.Value.From != "A value of its own" {
			t.Errorf("%s: %+v", c.key, i.Own)
		}
		if before, now := s.Agreement([]rulebook.Rulebook{book}), with.Agreement([]rulebook.Rulebook{book}); (now < before) != (c.key == "name" || c.key == "phone") {
			t.Errorf("%s: the agreement goes from %v to %v", c.key, before, now)
		}
	}

	r.Words.Medium = "" // then nothing is lost by what is written in its place
	s = Read(r, nil, now)
	own, _ := s.MakeOwn(&book, "text.medium", "Wheels.")
	if i, _ := Of(s.WithOwn(book.ID, own), &book).Find("text.medium"); i.Mark != compare.Equal || i.Value.Text != "Wheels." {
		t.Errorf("of a record without a text, %q goes %s", i.Value.Text, i.Mark)
	}
}

// Of photos that are called alike, those go that were chosen; and another that comes first asks.
func TestAChoiceOfPhotosThatAreCalledAlike(t *testing.T) {
	book := rulebook.Rulebook{
		ID: "pierbook", Name: "Pierbook", Listing: rulebook.Listing{Kinds: []record.Kind{record.Premises}},
		Photos: []rulebook.Photos{{Groups: []string{"cover"}, Label: "Banner", Most: 1, Crop: photo.Crop{Width: 2, Height: 1}}},
	}
	cover := func(id string) Photo {
		return Photo{ID: id, Group: "cover", Size: photo.Size{Width: 800, Height: 400}, Focus: photo.Middle}
	}
	s := Read(spokeshave(), []Photo{cover("one"), cover("two")}, now)
	own, wrong := s.MakeOwn(&book, "photos.cover", "two")
	if wrong != "" {
		t.Fatal(wrong)
	}
	i, _ := Of(s.WithOwn(book.ID, own), &book).Find("photos.cover")
	if gives(i.Value) != "two" || i.Own == nil || i.Own.Asks {
		t.Errorf("%q goes, %+v", gives(i.Value), i.Own)
	}
	later := Read(spokeshave(), []Photo{cover("zero"), cover("one"), cover("two")}, now).With(map[string][]Own{book.ID: {own}})
	if i, _ = Of(later, &book).Find("photos.cover"); gives(i.Value) != "two" || !i.Own.Asks {
		t.Errorf("%q goes, %+v", gives(i.Value), i.Own)
	}
}

// When the fact that it departs from changes, it stays, and asks whether it still holds.
func TestAValueOfItsOwnAsksWhenTheRecordChanges(t *testing.T) {
	book := rulebook.Rulebook{
		ID:      "pierbook",
		Name:    "Pierbook",
		Listing: rulebook.Listing{Kinds: []record.Kind{record.Premises}},
		Facts:   []rulebook.Fact{{Fact: "name"}},
	}
	r := spokeshave()
	s := Read(r, nil, now)
	own, wrong := s.MakeOwn(&book, "name", "Spokeshave by the Sound")
	if wrong != "" {
		t.Fatal(wrong)
	}
	r.Name = "Spokeshave Wheels"
	changed := Read(r, nil, now).With(map[string][]Own{book.ID: {own}})
	i, _ := Of(changed, &book).Find("name")
	if i.Value.Text != "Spokeshave by the Sound" || !i.Own.Asks || i.Own.Record != "Spokeshave Wheels" || !strings.Contains(i.Says, "does it still hold?") {
		t.Errorf("%+v %+v", i, i.Own)
	}
	own, _ = changed.MakeOwn(&book, "name", own.Text)
	if i, _ = Of(changed.WithOwn(book.ID, own), &book).Find("name"); i.Own.Asks {
		t.Errorf("it holds, and asks again: %+v", i.Own)
	}
	if i, _ = Of(changed.Without(book.ID, "name"), &book).Find("name"); i.Own != nil || i.Value.Text != "Spokeshave Wheels" || i.Mark != compare.Equal {
		t.Errorf("without it: %+v", i)
	}
}
