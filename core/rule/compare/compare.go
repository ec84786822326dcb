// Package compare holds a record against what a directory shows, fact by fact.
package compare

import (
	"fmt"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/fact/category"
	"uvent/core/record/record"
	"uvent/core/record/sighting"
	"uvent/core/rule/rulebook"
)

// DaysAhead is how far ahead the dates are looked at on which other hours hold: twelve months.
const DaysAhead = 365

// Mark is how a fact compares.
type Mark string

const (
	Equal    Mark = "=" // same
	Alike    Mark = "≈" // same once spelled out
	Unequal  Mark = "≠" // different
	Missing  Mark = "∅" // missing there
	NotTaken Mark = "·" // not taken there
)

// Differs reports whether a mark is one that something is to be done about.
func (m Mark) Differs() bool { return m == Unequal || m == Missing }

// Line is one fact of the record beside what was seen.
type Line struct {
	Fact   string // its key in rulebooks, or one of Besides
	Title  string
	Record string // as people write it; empty when the record does not say
	Seen   string // empty when not shown
	Mark   Mark   // empty when there is nothing to compare, which Why tells
	Says   string // the consequence, in words
	Why    string // why it is not compared: nobody looked, the page does not show it
	Cannot string // why it cannot be mended there; empty where it can

	// Wrong is how much of the fact is wrong where it differs, 0 to 1: a phone is wrong altogether, a list that lacks
	// one of four is so by a quarter.
	Wrong         float64
	OpenWhileShut int   // minutes of a usual week shown open while shut
	ShutWhileOpen int   // minutes of a usual week shown shut while open
	Days          []Day // of the next twelve months, on which it shows other hours than hold, besides
}

// Day is one on which a page shows other hours than hold.
type Day struct {
	Date  calendar.Date
	Shown string // in words
	Holds string
	Shut  bool // people who come find it shut
}

// in is what a comparison is made of.
type in struct {
	record record.Record
	book   *rulebook.Rulebook
	seen   sighting.Sighting
	today  calendar.Date
	// holidays are the public ones of the location.
	holidays calendar.Holidays
	rule     rulebook.Fact // what the directory does with the fact
}

// fact is one that is compared.
type fact struct {
	key, title string
	of         []string // the paths of a record that it is of, as their JSON names them
	compare    func(in) Line
}

// facts are the comparisons, in the order in which they are shown.
var facts = []fact{
	{"name", "Name", []string{"name"}, name},
	{
		"legal_name",
		"Legal name",
		[]string{"legal_name"},
		one(func(i in) (string, string) { return i.record.LegalName, i.seen.LegalName }, "It goes by another firm’s name."),
	},
	{"former_names", "Former names", []string{"former_names"}, many(func(i in) ([]string, []string) { return i.record.FormerNames, i.seen.FormerNames })},
	{"state", "State of business", []string{"state"}, state},
	{"address", "Address", []string{"address", "kind"}, place},
	{"pin", "Pin", []string{"pin"}, pin},
	{"phone", "Phone", []string{"phones"}, phone},
	{"other_phones", "Other phones", []string{"phones"}, otherPhones},
	{"email", "Email", []string{"email"}, email},
	{"website", "Website", []string{"website", "tags"}, leads("website", func(r record.Record) string { return r.Website })},
	{"category", "Category", []string{"category"}, kind},
	{"other_categories", "Other categories", []string{"other_categories"}, otherKinds},
	{"hours", "Hours", []string{"hours"}, times},
	{"special_dates", "Special dates", []string{"hours"}, dates},
	{"attributes", "Attributes", []string{"attributes"}, attributes},
	{"text.tagline", "Tagline", []string{"words.tagline"}, words("tagline")},
	{"text.short", "Short description", []string{"words.short"}, words("short")},
	{"text.medium", "Description", []string{"words.medium"}, words("medium")},
	{"text.long", "Long description", []string{"words.long"}, words("long")},
	{"text.story", "Story", []string{"words.story"}, words("story")},
	{"keywords", "Keywords", []string{"words.keywords"}, many(func(i in) ([]string, []string) { return i.record.Words.Keywords, i.seen.Keywords })},
	{
		"specialities",
		"Specialities",
		[]string{"words.specialities"},
		many(func(i in) ([]string, []string) { return i.record.Words.Specialities, i.seen.Specialities }),
	},
	{
		"directions",
		"Directions",
		[]string{"directions"},
		one(func(i in) (string, string) { return i.record.Directions, i.seen.Directions }, "It shows other directions."),
	},
	{
		"parking",
		"Parking",
		[]string{"parking"},
		one(func(i in) (string, string) { return i.record.Parking, i.seen.Parking }, "It says something else of parking."),
	},
	{"areas", "Service area", []string{"area"}, areas},
	{"booking", "Booking link", []string{"links.booking"}, leads("booking", func(r record.Record) string { return r.Links.Booking })},
	{"ordering", "Ordering link", []string{"links.ordering"}, leads("ordering", func(r record.Record) string { return r.Links.Ordering })},
	{"quote", "Quote link", []string{"links.quote"}, leads("quote", func(r record.Record) string { return r.Links.Quote })},
	{"menu", "Menu link", []string{"links.menu"}, leads("menu", func(r record.Record) string { return r.Links.Menu })},
	{"gift_card", "Gift card link", []string{"links.gift_card"}, leads("gift_card", func(r record.Record) string { return r.Links.GiftCard })},
	{"app", "App link", []string{"links.app"}, leads("app", func(r record.Record) string { return r.Links.App })},
	{"socials", "Social profiles", []string{"socials"}, socials},
	{"videos", "Films", []string{"videos"}, many(func(i in) ([]string, []string) { return i.record.Videos, i.seen.Videos })},
	{"offerings", "Offerings", []string{"offerings"}, offerings},
	{"payments", "Ways to pay", []string{"payments"}, payments},
	{"team", "Team", []string{"team"}, team},
	{"licence", "Licence", []string{"licences"}, licences},
	{"opened", "Opening date", []string{"opened"}, begun(func(i in) (string, string) { return i.record.Opened, i.seen.Opened })},
	{"founded", "Founded", []string{"company.founded"}, begun(func(i in) (string, string) { return i.record.Company.Founded, i.seen.Founded })},
	{
		"registration",
		"Registration number",
		[]string{"company.registration"},
		one(func(i in) (string, string) { return i.record.Company.Registration, i.seen.Registration }, "It is another firm’s number."),
	},
	{
		"store_code",
		"Store code",
		[]string{"store_code"},
		one(func(i in) (string, string) { return i.record.StoreCode, i.seen.StoreCode }, "It is another location’s code."),
	},
	{
		"company_size",
		"Company size",
		[]string{"company.size"},
		one(func(i in) (string, string) { return i.record.Company.Size, i.seen.CompanySize }, "It shows another size."),
	},
	{
		"company_kind",
		"Kind of company",
		[]string{"company.kind"},
		one(func(i in) (string, string) { return i.record.Company.Kind, i.seen.CompanyKind }, "It shows another kind of company."),
	},
	{
		"industry",
		"Industry",
		[]string{"company.industry"},
		one(func(i in) (string, string) { return i.record.Company.Industry, i.seen.Industry }, "It shows another industry."),
	},
}

// Titles are what the facts that are compared are called, by their keys.
var Titles = func() map[string]string {
	out := map[string]string{}
	for _, f := range facts {
		out[f.key] = f.title
	}
	return out
}()

// Uncompared are the paths of a record that no page is held against, with why.
var Uncompared = map[string]string{
	"label":            "our own word for the location; nobody is given it",
	"former_addresses": "where to search for old listings; no page shows them",
	"mailing":          "where post goes; it is never published",
	"zone":             "it tells how hours are meant; pages show them in local time",
	"company.domains":  "by which emails are known to be the business’s own; no page shows them",
	"own":              "which facts are not the client’s; nobody is given it",
}

// Besides are facts that are compared and that no form of a directory asks for by a key of its own.
var Besides = []string{"state", "other_categories"}

// basic are facts that every public page of a business is expected to show, where the directory takes them.
var basic = map[string]bool{
	"name":          true,
	"address":       true,
	"phone":         true,
	"email":         true,
	"website":       true,
	"category":      true,
	"hours":         true,
	"special_dates": true,
}

// Facts compares every fact of a record, as it is on a date at the location, with a sighting, or
// only lays out the record when there is none.
func Facts(r record.Record, book rulebook.Rulebook, seen *sighting.Sighting, today calendar.Date) []Line {
	return Where(r, book, seen, today, calendar.HolidaysOf(r.Address.Country, r.Address.Region))
}

// Where is Facts where other public holidays than those of the record's address hold.
func Where(r record.Record, book rulebook.Rulebook, seen *sighting.Sighting, today calendar.Date, holidays calendar.Holidays) []Line {
	out := make([]Line, 0, len(facts))
	for _, f := range facts {
		i := in{record: r, book: &book, today: today, holidays: holidays}
		if seen != nil {
			i.seen = *seen
		}
		i.rule, _ = book.Takes(f.key)
		l := f.compare(i)
		l.Fact, l.Title = f.key, f.title
		l.settle(f.key, &book, seen)
		out = append(out, l)
	}
	return out
}

// settle says of a line why nothing is compared, and what is missing.
func (l *Line) settle(key string, book *rulebook.Rulebook, seen *sighting.Sighting) {
	none := func(mark Mark, says, why string) {
		*l = Line{Fact: l.Fact, Title: l.Title, Record: l.Record, Seen: l.Seen, Mark: mark, Says: says, Why: why, Days: l.Days}
	}
	switch {
	case !Taken(book, key):
		days := l.Days
		none(NotTaken, "Not taken here.", "")
		if key == "special_dates" && len(days) > 0 {
			l.Says = "Not taken here. " + l.DatesCost()
		}
	case seen == nil:
		none("", "", "Nobody has looked yet.")
		l.Days = nil
	case !seen.Says(key):
		none("", "", "Whoever looked did not say.")
		l.Days = nil
	case unseen(book, key) != "" && l.Seen == "":
		none("", "", "Not shown there: "+unseen(book, key)+".")
	case l.Record == "" && l.Seen == "":
		none("", "", "Neither the record nor the page says it.")
	case l.Record == "":
		l.Mark, l.Says, l.Wrong = Unequal, "The record says nothing of this.", 1
	case l.Seen == "" && l.Mark == "" && !basic[key] && !book.ReadsFact(key):
		none("", "", "Its page does not show it where it can be read.")
	case l.Seen == "" && l.Mark == "":
		l.Mark, l.Wrong = Missing, 1
		if l.Says == "" {
			l.Says = "Missing there."
		}
	}
	if l.Mark == Unequal && l.Wrong == 0 {
		l.Wrong = 1
	}
	if key == "category" && l.Mark.Differs() && book.Categories.StaffOnly {
		l.Cannot = "Only its staff sets categories."
	}
}

// Taken reports whether a directory takes a fact, so that its pages can show it.
func Taken(book *rulebook.Rulebook, key string) bool {
	_, fact := book.Takes(key)
	which, isText := strings.CutPrefix(key, "text.")
	switch {
	case isText:
		for _, t := range book.Texts {
			fact = fact || t.Text == which
		}
	case key == rulebook.AreasKey:
		return book.Areas.Most > 0
	case key == "other_categories":
		_, fact = book.Takes("category")
		return fact && book.Categories.Most != 1
	case key == "state":
		return true
	case key == "special_dates" && book.Hours.FreeText: // they are said in the words of the hours
		_, hours := book.Takes("hours")
		return fact || hours
	}
	return fact
}

// unseen is why a fact is given and not shown; empty where it is.
func unseen(book *rulebook.Rulebook, key string) string {
	for _, u := range book.Laid().Unseen {
		for _, f := range u.Fields {
			if f == key {
				return u.Says
			}
		}
	}
	return ""
}

// textual compares two texts, and then their folded forms.
func textual(a, b, foldedA, foldedB string) Mark {
	switch {
	case a == "" || b == "":
		return ""
	case a == b:
		return Equal
	case foldedA == foldedB:
		return Alike
	}
	return Unequal
}

// one compares a fact of one text.
func one(of func(in) (ours, theirs string), says string) func(in) Line {
	return func(i in) Line {
		ours, theirs := of(i)
		l := Line{Record: ours, Seen: theirs, Mark: textual(ours, theirs, address.Fold(ours), address.Fold(theirs))}
		if l.Mark == Unequal {
			if most := i.rule.MostCharacters; most > 0 && len([]rune(ours)) > most && begins(ours, theirs) {
				l.Mark, l.Cannot = Alike, fmt.Sprintf("It takes %d characters.", most)
				return l
			}
			l.Says = says
		}
		return l
	}
}

// begins reports whether a text that is shown is the beginning of another.
func begins(whole, shown string) bool {
	shown = strings.TrimRight(shown, " .…")
	return shown != "" && strings.HasPrefix(address.Fold(whole), address.Fold(shown))
}

// begun compares dates of which one may be told only by its month or year.
func begun(of func(in) (ours, theirs string)) func(in) Line {
	return func(i in) Line {
		ours, theirs := of(i)
		l := Line{Record: ours, Seen: theirs, Mark: textual(ours, theirs, ours, theirs)}
		if l.Mark == Unequal {
			l.Says = "It shows another date."
			if strings.HasPrefix(ours, theirs) || strings.HasPrefix(theirs, ours) || strings.Contains(theirs, ours) {
				l.Mark, l.Says = Alike, ""
			}
		}
		return l
	}
}

func name(i in) Line {
	r, s := i.record, i.seen
	l := Line{Record: r.Name, Seen: s.Name, Mark: textual(r.Name, s.Name, address.Fold(r.Name), address.Fold(s.Name))}
	if l.Mark == Unequal {
		l.Says = "People who look for the name on the sign may not find it."
	}
	return l
}

// kind compares the main category, by what the directory calls it.
func kind(i in) Line {
	r, s, book := i.record, i.seen, i.book
	l := Line{Seen: s.Category}
	if r.Category != "" {
		l.Record = category.Name(r.Category)
	}
	theirs := book.Categories.Category(r.Category)
	given := theirs.Theirs != "" && strings.EqualFold(s.Category, theirs.Theirs)
	switch {
	case s.Category == "":
	case strings.EqualFold(s.Category, l.Record):
		l.Mark = Equal
	case given && theirs.Exact:
		l.Mark = Alike
	case given && theirs.Fallback:
		l.Mark, l.Says = Alike, fmt.Sprintf("%s has no category for this one; it stands under the one for all others.", book.Name)
	case given:
		l.Mark, l.Says = Unequal, fmt.Sprintf("%s has no category for this one; it is found under the nearest.", book.Name)
		l.Cannot = fmt.Sprintf("%s has no category for this one.", book.Name)
	case len(book.Categories.Map) == 0 && sameTrade(r.Category, s.Category):
		l.Mark = Alike
	default:
		l.Mark, l.Says = Unequal, "It is found under another kind of business."
	}
	return l
}

// sameTrade reports whether a text names one of our categories, where a directory's own names are not known.
func sameTrade(ours, text string) bool {
	found, ok := category.Nearest(text)
	return ok && found.ID == ours
}

func otherKinds(i in) Line {
	var ours, theirs []string
	most := i.book.Categories.Most - 1
	main := i.book.Categories.Category(i.record.Category).Theirs
	for _, id := range i.record.Others {
		f := i.book.Categories.Category(id)
		switch {
		case len(i.book.Categories.Map) == 0:
			ours = append(ours, category.Name(id))
		case f.Exact && f.Theirs != main && (most < 0 || len(ours) < most):
			ours = append(ours, f.Theirs)
		}
	}
	for _, t := range i.seen.OtherCategories {
		if found, ok := category.Nearest(t); ok && found.Sure && len(i.book.Categories.Map) == 0 {
			t = found.Name
		}
		theirs = append(theirs, t)
	}
	return listed(ours, theirs, 0, address.Fold)
}
