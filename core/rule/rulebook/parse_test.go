package rulebook

import (
	"os"
	"strings"
	"testing"
	"time"

	"uvent/core/fact/address"
	"uvent/core/record/record"
)

func itself(id string) string { return id }

func fernlook(t testing.TB) string {
	t.Helper()
	data, err := os.ReadFile("../../../rulebooks/fernlook.yaml")
	if err != nil {
		t.Fatal(err)
	}
	return string(data)
}

func TestAGoodRulebook(t *testing.T) {
	r, problems := Parse("fernlook.yaml", []byte(fernlook(t)))
	if problems != nil {
		t.Fatal(problems)
	}
	if r.Name != "Fernlook" || r.Weight != 100 || len(r.Methods) != 5 {
		t.Errorf("%+v", r)
	}
	postcard, ok := r.Way(Postcard)
	if !ok || postcard.AtOnce() || postcard.Window.Max != 12 || postcard.Code.Works() != 30*24*time.Hour || postcard.Again.After() != 14*24*time.Hour {
		t.Errorf("%+v", postcard)
	}
	if _, ok := r.Takes("email"); ok {
		t.Error("email is taken")
	}
	if f, ok := r.Takes("name"); !ok || !f.Required || f.MostCharacters != 80 {
		t.Errorf("name: %+v", f)
	}
	van := record.Record{Kind: record.GoesToCustomers, Address: address.Address{Country: "US"}}
	if !r.HidesAddress(van) || r.MayList(van) != "" {
		t.Error("a business that goes to customers is not listed with its address hidden")
	}
	van.Address.Country = "FR"
	if r.MayList(van) == "" {
		t.Error("France is listed")
	}
	if zone := r.Calendar.Place().Zone.String(); zone != "America/Los_Angeles" {
		t.Errorf("it counts its days in %s", zone)
	}
}

// What docs/rulebook.md teaches, put together, is a good rulebook that says what it
// teaches; each part by itself is not one.
func TestTheLessonMakesARulebook(t *testing.T) {
	lesson, err := os.ReadFile("../../../docs/rulebook.md")
	if err != nil {
		t.Fatal(err)
	}
	var whole strings.Builder
	parts := strings.Split(string(lesson), "```yaml\n")[1:]
	for _, part := range parts {
		text, _, closed := strings.Cut(part, "```")
		if !closed {
			t.Fatalf("a part has no end: %s", part)
		}
		if _, problems := Parse("part.yaml", []byte(text)); problems == nil {
			t.Errorf("this alone is a rulebook:\n%s", text)
		}
		whole.WriteString(text)
	}
	r, problems := Parse("pierbook.yaml", []byte(whole.String()))
	if problems != nil {
		t.Fatal(problems)
	}
	if len(parts) != 15 || r.Reads[3].Means["Gone fishing"] != "closed_for_a_time" || r.Moving.Another != AnotherTown || r.Access.Evidence[0].Chance != 0.8 ||
		len(r.Layout.Bands) != 3 ||
		len(r.Risks) != 2 ||
		!r.Closing.ForGood.Final ||
		r.Name != "Pierbook" ||
		r.Hours.SittingsPerDay != 1 ||
		len(r.Photos) != 1 ||
		r.Texts[0].MostCharacters != 80 ||
		len(r.Methods) != 1 ||
		r.Calendar.CutOffHour != 15 ||
		r.Worked != Written ||
		r.Fields()[1] != "text.short" {
		t.Errorf("%d parts make %s, with %d risks", len(parts), r.Name, len(r.Risks))
	}
	if why := r.MayList(record.Record{Kind: record.GoesToCustomers, Address: address.Address{Country: "US"}}); !strings.Contains(why, "does not list this kind") {
		t.Errorf("who goes to customers: %q", why)
	}
}

// Everything that a rulebook takes is said in sentences.
func TestSayingsOfWhatIsTaken(t *testing.T) {
	r, problems := Parse("fernlook.yaml", []byte(fernlook(t)))
	if problems != nil {
		t.Fatal(problems)
	}
	all := ""
	for _, s := range r.Sayings(itself) {
		all += s.About + "\n" + strings.Join(s.Says, "\n") + "\n"
	}
	for _, want := range []string{
		"Description, up to 700 characters.", "Summary, up to 160 characters.", "Service area of up to 16 towns.", "Logo: up to 1, cut to 600 by 600 pixels, from at least 240 by 240, shown in a circle; JPEG, PNG of up to 4000 KB.",
		"Gallery: up to 24, cut to 960 by 720 pixels", "Postcard: in 6 to 12 business days", "Name, required, up to 80 characters.",
	} {
		if !strings.Contains(all, want) {
			t.Errorf("no %q in:\n%s", want, all)
		}
	}
}

func FuzzParse(f *testing.F) {
	f.Add([]byte(fernlook(f)))
	f.Add([]byte("id: x\n"))
	f.Add([]byte("- 1\n"))
	f.Add([]byte("? {}\n: 1\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		r, problems := Parse("x.yaml", data)
		if len(problems) == 0 && r.ID == "" {
			t.Fatal("a rulebook without an id passes")
		}
		for _, p := range problems {
			if p.Line < 1 || p.Message == "" {
				t.Fatalf("%+v says too little", p)
			}
		}
	})
}

// A code that comes within a business day and works for twenty minutes can be said: its life counts from
// its arrival. Before it is there, the latest that it can lapse is known.
func TestACodesLifeFromItsArrival(t *testing.T) {
	swift := strings.Replace(fernlook(t), "window: {min: 6, max: 12, unit: business_days}", "window: {min: 0, max: 1, unit: business_days}", 1)
	for from, wants := range map[string]string{"": "works_from: arrival", ", works_from: asking": "works_from: arrival", ", works_from: arrival": ""} {
		b, problems := Parse("fernlook.yaml", []byte(strings.Replace(swift, "works_days: 30", "works_minutes: 20"+from, 1)))
		if wants != "" {
			if len(problems) != 1 || !strings.Contains(problems[0].Message, wants) {
				t.Errorf("%q: %v", from, problems)
			}
			continue
		}
		post, _ := b.Way(Postcard)
		tuesday := time.Date(2026, 11, 24, 17, 12, 0, 0, time.UTC)
		if problems != nil || post.Code.Words() != "20 minutes from its arrival" ||
			!post.Lapses(tuesday, b.Calendar.Place()).Equal(time.Date(2026, 11, 26, 8, 20, 0, 0, time.UTC)) { // Wednesday's midnight in Seattle
			t.Errorf("%v, %+v lapses %v", problems, post.Code, post.Lapses(tuesday, b.Calendar.Place()))
		}
	}
}
