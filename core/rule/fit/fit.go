package fit

import (
	"fmt"
	"slices"
	"strings"

	"uvent/core/fact/category"
	"uvent/core/fact/prose"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
)

// State is how a field of a directory is served by a record.
type State string

const (
	Good    State = "good"    // it goes as it is
	Changed State = "changed" // it goes, with something changed or lost
	Missing State = "missing" // the record says nothing of it
	Broken  State = "broken"  // what the record says cannot go
)

// Item is one field of a directory, held against a record: what it is given, and what of the
// record is lost on the way.
type Item struct {
	Key      string // one of rulebook.Fields
	Title    string // as the directory's form calls it
	Part     string // of the record's form, where it is filled in
	Weight   int    // how much it counts for a complete listing
	Required bool
	State    State
	Says     string // what is wrong or lost, and what to do; empty where it is good
	Minutes  int    // of work to mend it, about; 0 where it is good

	Value Value        // that is given; without a text where none is
	Mark  compare.Mark // what a visitor of the page learns of it, beside the record
	Lost  []string     // what the record says and a visitor does not learn, or not rightly
	Cost  Cost         // of what is shown wrongly
	Own   *Departure   // the value is the listing's own; nil: it is what the record gives
}

// there reports whether the field will be filled.
func (i Item) there() bool { return i.State == Good || i.State == Changed }

// Fit is a record held against a rulebook.
type Fit struct {
	Not     string  // why the location cannot be listed; empty when it can, and all else is told only then
	Items   []Item  // in the order of the directory's form
	Percent float64 // weight of what is there and valid, over the weight of what is taken from such a location
}

// Of holds a location against a rulebook.
func Of(s *Subject, book *rulebook.Rulebook) Fit {
	if why := book.MayList(s.Record); why != "" {
		return Fit{Not: why}
	}
	f := Fit{Items: make([]Item, 0, len(book.Facts)+len(book.Texts)+len(book.Photos)+1)}
	have, all := 0, 0
	for _, key := range book.Fields() {
		i, applies := s.held(key, book)
		if !applies {
			continue
		}
		f.Items = append(f.Items, i)
		if all += i.Weight; i.there() {
			have += i.Weight
		}
	}
	if all > 0 {
		f.Percent = 100 * float64(have) / float64(all)
	}
	return f
}

// Values are what the directory is given, in the order of its form; none where it may not list
// the location.
func (f Fit) Values() Values {
	out := Values{}
	for _, i := range f.Items {
		if i.there() {
			out = append(out, i.Value)
		}
	}
	return out
}

// Find is the item of a field; false where the directory does not ask such a location for it.
func (f Fit) Find(key string) (Item, bool) {
	i := slices.IndexFunc(f.Items, func(i Item) bool { return i.Key == key })
	if i < 0 {
		return Item{}, false
	}
	return f.Items[i], true
}

// Wrong counts the fields that a visitor would read otherwise than they are.
func (f Fit) Wrong() (n int) {
	for _, i := range f.Items {
		if i.Mark == compare.Unequal {
			n++
		}
	}
	return n
}

// Own counts the values of the listing's own, and those of them under which the record has changed.
func (f Fit) Own() (n, asks int) {
	for _, i := range f.Items {
		if i.Own == nil {
			continue
		}
		if n++; i.Own.Asks {
			asks++
		}
	}
	return n, asks
}

// Cost is what all that is shown wrongly costs.
func (f Fit) Cost() (c Cost) {
	for _, i := range f.Items {
		c = c.with(i.Cost)
	}
	return c
}

// Blocks are the fields that the directory requires and the record does not fill.
func (f Fit) Blocks() []Item {
	var out []Item
	for _, i := range f.Items {
		if i.Required && !i.there() {
			out = append(out, i)
		}
	}
	return out
}

// Gain is a field to fill next, and what filling it gains.
type Gain struct {
	Item
	Percent float64 // points that it adds
}

// Next is the field that gains most per minute of work, and of those that gain
// alike the one that is required; false where nothing is left.
func (f Fit) Next() (Gain, bool) {
	all := 0
	for _, i := range f.Items {
		all += i.Weight
	}
	var best Gain
	for _, i := range f.Items {
		if i.there() {
			continue
		}
		g := Gain{i, 100 * float64(i.Weight) / float64(all)}
		ours, its := float64(i.Weight)*float64(best.Minutes), float64(best.Weight)*float64(i.Minutes)
		if best.Key == "" || ours > its || ours == its && i.Required && !best.Required {
			best = g
		}
	}
	return best, best.Key != ""
}

// Whys are what keeps a directory from taking a record, in sentences; nothing when
// it takes it.
func (f Fit) Whys() []string {
	if f.Not != "" {
		return []string{f.Not}
	}
	var out []string
	for _, i := range f.Blocks() {
		out = append(out, i.Says)
	}
	return out
}

// About how many minutes of work it takes to fill a field that is no fact by itself.
const (
	minutesToWrite  = 15
	minutesToChoose = 3
	minutesToShoot  = 10
	minutesToMend   = 2
)

// held is one field held against the record, with what it is given; false where the field is not for
// such a location.
func (s *Subject) held(key string, book *rulebook.Rulebook) (Item, bool) {
	on := s.On(book.ID)
	i, applies := on.item(key, book)
	if i.there() {
		on.compose(&i, book)
	}
	if own, ok := s.owns(book.ID, key); ok && applies {
		s.depart(&i, own, book)
	}
	if !i.there() {
		i.Mark = compare.Missing
	}
	return i, applies
}

// item says whether one field can be filled from the record; false where the field is not for such a
// location.
func (s *Subject) item(key string, book *rulebook.Rulebook) (Item, bool) {
	if !s.applies(key, book) {
		return Item{}, false
	}
	if rule, ok := book.Takes(key); ok {
		k, _ := rulebook.FindKey(key)
		i := Item{Key: key, Title: rule.Title(), Part: k.Part, Weight: rule.Counts(), Required: rule.Required, State: Good}
		s.fact(&i, rule, k, book)
		return i, true
	}
	if rest, ok := strings.CutPrefix(key, "text."); ok {
		rule := book.Texts[slices.IndexFunc(book.Texts, func(t rulebook.Prose) bool { return t.Text == rest })]
		i := Item{Key: key, Title: rule.Label, Part: "words", Weight: rule.Counts(), Required: rule.Required, State: Good}
		switch n := chars(s.words(rest)); {
		case n == 0:
			i.miss(minutesToWrite, "The record has no %s, which fills “%s”.", textNames[rest], rule.Label)
		case n > rule.MostCharacters && !prose.Starts(s.words(rest), rule.MostCharacters):
			i.spoil("No word of the %s fits into its %d characters.", textNames[rest], rule.MostCharacters)
		}
		return i, true
	}
	if key == rulebook.AreasKey {
		i := Item{Key: key, Title: book.Areas.Title(), Part: "area", Weight: book.Areas.Counts(), State: Good}
		if len(s.Record.Area.Towns) == 0 {
			i.miss(minutesToChoose, "The record has no service area.")
		}
		return i, true
	}
	rule := book.Photos[slices.IndexFunc(book.Photos, func(p rulebook.Photos) bool { return p.Key() == key })]
	i := Item{Key: key, Title: rule.Label, Part: "photos", Weight: rule.Counts(), Required: rule.Required, State: Good}
	s.photos(&i, rule, book)
	return i, true
}

// textNames are what a record's own words are called within a sentence.
var textNames = map[string]string{
	"tagline": "tagline", "short": "short description", "medium": "description", "long": "long description", "story": "story",
}

func (i *Item) miss(minutes int, format string, a ...any) {
	i.State, i.Minutes, i.Says = Missing, minutes, fmt.Sprintf(format, a...)
}

func (i *Item) spoil(format string, a ...any) {
	i.State, i.Minutes, i.Says = Broken, minutesToMend, fmt.Sprintf(format, a...)
}

// fact holds one fact against its rule.
func (s *Subject) fact(i *Item, rule rulebook.Fact, k rulebook.Key, book *rulebook.Rulebook) {
	f := facts[rule.Fact]
	n := f.said(s)
	if rule.Fact == "category" && s.departs("category", book) {
		return
	}
	if rule.Fact == "address" && !book.GivesStreet(s.Record) {
		n = min(1, len(s.Record.Address.Locality))
	}
	if n == 0 {
		i.miss(k.Minutes, "The record has no %s.", strings.ToLower(k.Title))
		return
	}
	switch rule.Fact {
	case "category":
		if book.Categories.Category(s.Record.Category).Theirs == "" {
			i.spoil("%s has no category for %s, nor one near it.", book.Name, category.Name(s.Record.Category))
			i.Minutes = 5
		}
		return
	case "hours":
		if !s.readable {
			i.spoil("The record’s hours cannot be read. Mend them in the record.")
		}
		return
	case "special_dates":
		if len(s.ahead()) == 0 {
			i.miss(k.Minutes, "The record has no special dates ahead.")
		}
		return
	case "button":
		if s.button(book) == "" {
			i.miss(k.Minutes, "Nothing in the record is where one of %s’s buttons could lead.", book.Name)
		}
		return
	case "attributes":
		if s.attributesThere(book) == 0 {
			i.miss(k.Minutes, "Of the attributes that %s takes, the record says none.", book.Name)
		}
		return
	}
	if f.parts == nil || rule.MostCharacters == 0 && (rule.Most == 0 || n <= rule.Most) {
		return
	}
	long := 0
	for _, p := range f.parts(s) {
		if rule.MostCharacters > 0 && chars(p) > rule.MostCharacters {
			long++
		}
	}
	switch {
	case f.prose && long > 0 && !prose.Starts(f.parts(s)[0], rule.MostCharacters):
		i.spoil("No word of it fits into its %d characters.", rule.MostCharacters)
	case f.prose:
	case long == n && !f.list:
		i.spoil("%s has %s; %s takes %d. Shorten it.", k.Title, counted(chars(f.parts(s)[0]), "character", "characters"), book.Name, rule.MostCharacters)
	case long == n:
		i.spoil(
			"Each of the %s is longer than the %s that %s takes. Shorten one.",
			strings.ToLower(k.Title),
			counted(rule.MostCharacters, "character", "characters"),
			book.Name,
		)
	}
}

func (s *Subject) attributesThere(book *rulebook.Rulebook) (n int) {
	for id := range s.Record.Attributes {
		if book.Attributes.Map[id] != "" {
			n++
		}
	}
	return n
}

// photos holds the photos of a place's groups against its rule.
func (s *Subject) photos(i *Item, rule rulebook.Photos, book *rulebook.Rulebook) {
	if len(s.given(rule)) == 0 {
		fault := ""
		for _, p := range s.Photos {
			if slices.Contains(rule.Groups, p.Group) {
				fault = faultsOf(p, rule)[0]
				break
			}
		}
		if fault == "" {
			i.miss(minutesToShoot, "There is no photo for “%s”.", rule.Label)
		} else {
			i.spoil("No photo for “%s” fits. %s", rule.Label, fault)
			i.Minutes = minutesToShoot
		}
	}
	if w := rule.With; w != "" && i.there() {
		with := book.Photos[slices.IndexFunc(book.Photos, func(p rulebook.Photos) bool { return p.Label == w })]
		if !slices.ContainsFunc(s.Photos, func(p Photo) bool { return slices.Contains(with.Groups, p.Group) && faultsOf(p, with) == nil }) {
			i.spoil("It must come together with “%s”, for which no photo fits.", w)
			i.Minutes = minutesToShoot
		}
	}
}
