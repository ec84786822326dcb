package fit

import (
	"fmt"
	"math/rand/v2"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/goccy/go-yaml"
	"github.com/rivo/uniseg"

	"uvent/core/fact/address"
	"uvent/core/fact/category"
	"uvent/core/fact/hours"
	"uvent/core/fact/photo"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// A generator of random records and random valid rulebooks.
type random struct{ *rand.Rand }

func pick[T any](r random, of []T) T { return of[r.IntN(len(of))] }

func (r random) yes() bool { return r.IntN(2) == 0 }

// Words with what is easily broken: entities, families, flags, marks that join.
var pieces = []string{
	"wheel",
	"Tern",
	"&amp;",
	"caf\u0065\u0301",
	"👩‍👩‍👧",
	"🇨🇦",
	"&#8217;s",
	"e-bike",
	"o’clock",
	"a",
	"notwithstanding",
	"Straße",
	"&eacute;t&eacute;",
	"—",
	"3.50",
}

func (r random) prose(most int) string {
	var b strings.Builder
	for chars(b.String()) < most {
		b.WriteString(pick(r, pieces))
		b.WriteString(pick(r, []string{" ", " ", " ", " ", ". ", "; ", ", ", "? "}))
	}
	return strings.TrimSpace(b.String())
}

func (r random) text(most int) string {
	if r.IntN(4) == 0 {
		return ""
	}
	return r.prose(1 + r.IntN(most))
}

func (r random) texts(n, most int) (out []string) {
	for range r.IntN(n + 1) {
		out = append(out, r.prose(1+r.IntN(most)))
	}
	return out
}

func (r random) link() string {
	if r.yes() {
		return ""
	}
	return "https://spokeshave.example/" + strings.Repeat("x", r.IntN(60))
}

func (r random) record() record.Record {
	rec := record.Record{
		Name:        r.text(60),
		LegalName:   r.text(60),
		FormerNames: r.texts(3, 40),
		Kind:        pick(r, []record.Kind{record.Premises, record.GoesToCustomers, record.Both}),
		Address:     address.Address{Street: r.text(30), Locality: r.text(12), Region: "WA", PostalCode: "98991", Country: "US"},
		Directions:  r.text(400),
		Parking:     r.text(200),
		Email:       "x@y.example",
		Website:     r.link(),
		Links:       record.Links{Booking: r.link(), Menu: r.link(), GiftCard: r.link()},
		Tags:        record.Tags{On: r.yes(), Medium: "listing", Campaign: "spring"},
		Videos:      r.texts(2, 80),
		Words: record.Words{
			Tagline:      r.text(100),
			Short:        r.text(250),
			Medium:       r.text(700),
			Long:         r.text(2000),
			Story:        r.text(2000),
			Keywords:     r.texts(12, 30),
			Specialities: r.texts(12, 30),
		},
		Payments: []string{"cash", "cheque"},
		Company:  record.Company{Registration: r.text(12), Industry: r.text(40), Founded: "2011"},
		Hours: pick(
			r,
			[]string{
				"",
				"24/7",
				"Mo-Fr 09:00-12:00,13:00-18:00; Sa 22:00-03:00",
				"Tu 09:00-10:00,11:00-12:00,13:00-14:00,15:00-16:00; 2026 Nov 26 off",
				"Mo-Sa 10:00-18:00; PH off; 2026 Nov 26 12:00-14:00; 2026 Oct 05 off",
				"Th-Sa 18:00-02:00; 2026 Dec 24-2026 Dec 26 off; 2026 Dec 31 20:00-28:00; 2027 Feb 14 12:00-14:00,18:00-22:00",
				`Mo-Fr 08:00-12:00; Jul-Aug Mo-Fr 08:00-11:00; PH "by appointment"`,
				"nonsense",
			},
		),
	}
	if r.yes() {
		rec.Phones = []record.Phone{{E164: "+13605550142"}, {E164: "+13605550143"}}
		rec.Pin = &record.Pin{Latitude: 48.7, Longitude: -124.8}
		rec.Socials = []record.Social{{Name: "Murmurhall", URL: "https://murmurhall.example/" + strings.Repeat("y", r.IntN(80)), Show: r.yes()}}
		rec.Attributes = map[string]bool{"free_wifi": r.yes(), "rentals": true}
		rec.Licences = []record.Licence{{Name: "Trade", Number: r.text(20)}}
	}
	if r.yes() {
		rec.Category = pick(r, category.All()).ID
		rec.Others = []string{pick(r, category.All()).ID, pick(r, category.All()).ID, pick(r, category.All()).ID}
	}
	for _, name := range r.texts(8, 20) {
		rec.Area.Towns = append(rec.Area.Towns, record.Town{Name: name})
	}
	for range r.IntN(3) {
		section := record.Section{Title: r.text(20)}
		for _, name := range r.texts(5, 50) {
			section.Items = append(section.Items, record.Item{Name: name, Price: "12.50"})
		}
		rec.Offerings = append(rec.Offerings, section)
		rec.Team = append(rec.Team, record.Member{Name: r.prose(12), Role: r.text(20)})
	}
	return rec
}

func (r random) photos() (out []Photo) {
	for range r.IntN(6) {
		out = append(
			out,
			Photo{
				ID:          fmt.Sprint(len(out)),
				Group:       pick(r, PhotoGroups).ID,
				Size:        photo.Size{Width: 50 + r.IntN(2000), Height: 50 + r.IntN(2000)},
				Caption:     r.text(80),
				Alternative: r.text(80),
			},
		)
	}
	return out
}

type m = map[string]any

// rulebook writes one, and reads it as any other is read: it must be valid.
func (r random) rulebook(t *testing.T) *rulebook.Rulebook {
	rule := func(more m) m {
		out := m{"required": r.yes(), "weight": 1 + r.IntN(10)}
		for k, v := range more {
			out[k] = v
		}
		return out
	}
	var facts, texts, photos []any
	for _, k := range rulebook.Keys {
		if k.ID == "name" || r.yes() {
			f := rule(m{"fact": k.ID})
			if r.yes() && k.TakesCharacters() {
				f["most_characters"] = 1 + r.IntN(120)
			}
			if r.yes() && k.TakesMost() {
				f["most"] = 1 + r.IntN(6)
			}
			facts = append(facts, f)
		}
	}
	for _, which := range []string{"tagline", "short", "medium", "long", "story"} {
		if r.yes() {
			texts = append(texts, rule(m{"text": which, "label": "Place for " + which, "most_characters": 1 + r.IntN(300)}))
		}
	}
	for _, g := range PhotoGroups {
		if r.yes() {
			photos = append(photos, rule(m{"groups": []string{g.ID}, "label": g.Name, "most": 1 + r.IntN(3), "formats": []string{"jpeg"}, "most_kilobytes": 900,
				"crop": m{"width": 100 + r.IntN(500), "height": 100 + r.IntN(500)}, "least": m{"width": 100, "height": 100}, "caption_most_characters": 1 + r.IntN(60)}))
		}
	}
	categories := m{}
	for range r.IntN(20) {
		categories[pick(r, category.All()).ID] = pick(r, []string{"Shops", "Trades", "Food"})
	}
	book := m{
		"id":         "pierbook",
		"name":       "Pierbook",
		"kind":       "booklet",
		"summary":    "A booklet.",
		"weight":     r.IntN(101),
		"worked":     "file",
		"calendar":   m{"country": "US", "zone": "America/Los_Angeles"},
		"listing":    m{"kinds": []string{"premises", "goes_to_customers", "both"}, "hide_address": []string{"goes_to_customers"}},
		"facts":      facts,
		"texts":      texts,
		"photos":     photos,
		"areas":      m{"most": r.IntN(4)},
		"categories": m{"most": 1 + r.IntN(4), "map": categories},
		"hours":      m{"sittings_per_day": 1 + r.IntN(3), "past_midnight": r.yes(), "free_text": r.IntN(4) == 0},
		"publishing": m{"window": m{"min": 0, "max": 3, "unit": "days"}, "look_every_hours": 24},
	}
	if r.yes() {
		book["categories"].(m)["other"] = "The rest"
	}
	data, err := yaml.Marshal(book)
	if err != nil {
		t.Fatal(err)
	}
	b, problems := rulebook.Parse("pierbook.yaml", data)
	if problems != nil {
		t.Fatalf("%v\n%s", problems, data)
	}
	return &b
}

var entity = regexp.MustCompile(`&(#\d+|#[xX][0-9a-fA-F]+|\w+);`)

// What is composed never breaks a limit of the rulebook, and what is shortened is cut
// between words: never within a word, an entity or what people see as one character.
func TestComposingKeepsEveryLimit(t *testing.T) {
	shortened := 0
	var book *rulebook.Rulebook
	seeds := uint64(1500)
	if testing.Short() {
		seeds = 300
	}
	for seed := range seeds {
		r := random{rand.New(rand.NewPCG(seed, 7))}
		if seed%10 == 0 { // reading one costs more than all else
			book = r.rulebook(t)
		}
		s := Read(r.record(), r.photos(), now)
		fit := Of(s, book)
		values := Of(s, book).Values()
		wrong := func(format string, a ...any) { t.Errorf("seed %d: "+format, append([]any{seed}, a...)...) }
		if fit.Percent < 0 || fit.Percent > 100 {
			wrong("%v per cent", fit.Percent)
		}
		for _, i := range fit.Items {
			if _, given := values.Find(i.Key); given != i.there() {
				wrong("%s is %s (%s), and given: %v", i.Key, i.State, i.Says, given)
			}
			if (i.State == Good) != (i.Says == "") || i.there() != (i.Minutes == 0) {
				wrong("%+v", i)
			}
		}
		for _, v := range values {
			parts := v.Parts
			if parts == nil {
				parts = []string{v.Text}
			}
			if rule, ok := book.Takes(v.Key); ok {
				if rule.Most > 0 && facts[v.Key].list && len(parts) > rule.Most {
					wrong("%s: %d of at most %d", v.Key, len(parts), rule.Most)
				}
				for _, p := range parts {
					if facts[v.Key].parts != nil && rule.MostCharacters > 0 && v.Key != "phone" && v.Key != "other_phones" && v.Key != "payments" &&
						chars(p) > rule.MostCharacters {
						wrong("%s: %q is longer than %d", v.Key, p, rule.MostCharacters)
					}
				}
			}
			switch which, isText := strings.CutPrefix(v.Key, "text."); {
			case isText:
				rule := book.Texts[slices.IndexFunc(book.Texts, func(p rulebook.Prose) bool { return p.Text == which })]
				if chars(v.Text) > rule.MostCharacters {
					wrong("%s: %d of %d characters", v.Key, chars(v.Text), rule.MostCharacters)
				}
				if v.Text != s.words(which) {
					shortened++
					checkCut(wrong, s.words(which), v.Text)
				}
			case v.Key == rulebook.AreasKey && len(parts) > book.Areas.Most:
				wrong("%d towns of at most %d", len(parts), book.Areas.Most)
			case v.Key == "category" && len(parts) > book.Categories.Most:
				wrong("%d categories of at most %d", len(parts), book.Categories.Most)
			case v.Key == "hours" && !book.Hours.FreeText:
				given, _, err := hours.Parse(v.Data["hours"].(string))
				if err != nil {
					wrong("hours %q: %v", v.Data["hours"], err)
				}
				for _, day := range given.Week() {
					if len(day) > book.Hours.SittingsPerDay || !book.Hours.PastMidnight && len(day) > 0 && day[len(day)-1].End > hours.DayMinutes {
						wrong("hours %q", v.Text)
					}
				}
			case strings.HasPrefix(v.Key, "photos."):
				rule := book.Photos[slices.IndexFunc(book.Photos, func(p rulebook.Photos) bool { return p.Key() == v.Key })]
				if len(parts) > rule.Most {
					wrong("%d photos of at most %d", len(parts), rule.Most)
				}
			}
		}
	}
	if shortened < int(seeds)/2 {
		t.Errorf("only %d texts were shortened", shortened)
	}
}

// checkCut holds a shortened text, which may end with a sentence on towns, against the
// whole one.
func checkCut(wrong func(string, ...any), whole, cut string) {
	cut, _, _ = strings.Cut(cut, "Serving ")
	body := strings.TrimRight(cut, " ")
	kept := strings.TrimSuffix(body, "…")
	if !strings.HasPrefix(whole, kept) {
		wrong("%q does not begin %q", kept, whole)
		return
	}
	at := len(kept)
	for _, e := range entity.FindAllStringIndex(whole, -1) {
		if e[0] < at && at < e[1] {
			wrong("an entity is parted: %q", cut)
		}
	}
	clusters, n := uniseg.NewGraphemes(whole), 0
	for clusters.Next() {
		if n += len(clusters.Str()); n >= at {
			break
		}
	}
	if n != at && at > 0 {
		wrong("a character is parted: %q", cut)
	}
	if at < len(whole) && at > 0 && regexp.MustCompile(`[\pL\d]$`).MatchString(kept) && regexp.MustCompile(`^[\pL\d\pM]`).MatchString(whole[at:]) {
		wrong("a word is parted: %q", cut)
	}
}

func TestNextIsTheBestOfAll(t *testing.T) {
	for seed := range uint64(60) {
		r := random{rand.New(rand.NewPCG(seed, 11))}
		f := Of(Read(r.record(), r.photos(), now), r.rulebook(t))
		next, ok := f.Next()
		for _, i := range f.Items {
			if !i.there() && (!ok || float64(i.Weight)/float64(i.Minutes) > float64(next.Weight)/float64(next.Minutes)+1e-12) {
				t.Errorf("seed %d: %s gains more than %s", seed, i.Key, fmt.Sprint(next.Key))
			}
		}
	}
}
