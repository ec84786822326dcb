package fit

import (
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode"

	"uvent/core/fact/address"
	"uvent/core/fact/category"
	"uvent/core/fact/contact"
	"uvent/core/fact/hours"
	"uvent/core/fact/hours/said"
	"uvent/core/record/match"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/rulebook"
)

// Own is a value of a listing's own: what it is given in one field in the place of what its record gives.
type Own struct {
	Key  string    `json:"key"`  // one of rulebook.Fields that OwnRules lists
	Text string    `json:"text"` // hours as opening_hours, a category as the directory calls it, photos by their ids, one a line
	Why  string    `json:"why"`  // in words, for whoever asks later
	Of   string    `json:"of"`   // what the record gave when somebody last said that this holds; empty for nothing
	By   string    `json:"by"`
	At   time.Time `json:"at"`
}

// Departure is a value of a listing's own beside what the record would give.
type Departure struct {
	Own
	Record string // what the record would give now; empty for nothing
	Asks   bool   // it gives something else than when somebody last said that the own value holds
}

// OwnKind is how a value of a listing's own is written.
type OwnKind string

const (
	OwnLine     OwnKind = "line"     // one line
	OwnText     OwnKind = "text"     // several
	OwnHours    OwnKind = "hours"    // a usual week
	OwnCategory OwnKind = "category" // one of the directory's
	OwnPhotos   OwnKind = "photos"   // some of the location's, in their order
)

// OwnRule is a field of a directory in which a listing may have a value of its own.
type OwnRule struct {
	Key, Title string
	Kind       OwnKind
	Most       int      // characters, or photos; 0 for no limit
	Choices    []string // that there are, of a category
}

// lines are the facts of one line, and of some words, that may be another on one listing: how they are put into
// a record. An address, a pin, and whether it is open are what they are wherever one looks.
var lines = map[string]func(r *record.Record) *string{
	"name": func(r *record.Record) *string { return &r.Name },
	"phone": func(r *record.Record) *string {
		if r.Phones = slices.Clone(r.Phones); len(r.Phones) == 0 {
			r.Phones = []record.Phone{{}}
		}
		return &r.Phones[0].E164
	},
	"website":    func(r *record.Record) *string { return &r.Website },
	"booking":    func(r *record.Record) *string { return &r.Links.Booking },
	"ordering":   func(r *record.Record) *string { return &r.Links.Ordering },
	"quote":      func(r *record.Record) *string { return &r.Links.Quote },
	"menu":       func(r *record.Record) *string { return &r.Links.Menu },
	"gift_card":  func(r *record.Record) *string { return &r.Links.GiftCard },
	"app":        func(r *record.Record) *string { return &r.Links.App },
	"directions": func(r *record.Record) *string { return &r.Directions },
	"parking":    func(r *record.Record) *string { return &r.Parking },
}

// OwnRules are the fields of a directory in which a listing of the location may have a value of its own, in the
// order of its form.
func (s *Subject) OwnRules(book *rulebook.Rulebook) (out []OwnRule) {
	for _, key := range book.Fields() {
		rule, _ := book.Takes(key)
		o := OwnRule{Key: key, Title: rule.Title(), Most: rule.MostCharacters}
		text, isText := strings.CutPrefix(key, "text.")
		switch {
		case !s.applies(key, book):
			continue
		case isText:
			p := book.Texts[slices.IndexFunc(book.Texts, func(t rulebook.Prose) bool { return t.Text == text })]
			o.Kind, o.Title, o.Most = OwnText, p.Label, p.MostCharacters
		case strings.HasPrefix(key, "photos."):
			p := book.Photos[slices.IndexFunc(book.Photos, func(p rulebook.Photos) bool { return p.Key() == key })]
			o.Kind, o.Title, o.Most = OwnPhotos, p.Label, p.Most
		case key == "hours":
			o.Kind, o.Most = OwnHours, 0
		case key == "category":
			o.Kind, o.Most, o.Choices = OwnCategory, 0, book.Categories.Theirs()
		case facts[key].prose && lines[key] != nil:
			o.Kind = OwnText
		case lines[key] != nil:
			o.Kind = OwnLine
		default:
			continue
		}
		out = append(out, o)
	}
	return out
}

// MakeOwn reads what somebody writes as a listing's own value of a field. The problem says in words why it cannot
// be one, and is empty where it can.
func (s *Subject) MakeOwn(book *rulebook.Rulebook, key, text string) (own Own, problem string) {
	rules := s.OwnRules(book)
	at := slices.IndexFunc(rules, func(r OwnRule) bool { return r.Key == key })
	if at < 0 {
		return own, fmt.Sprintf("%s takes no value of its own in this field; it is given what the record says.", book.Name)
	}
	rule := rules[at]
	own = Own{Key: key, Text: Plain(text)}
	if own.Text == "" {
		return own, "Write a value, or go back to what the record gives."
	}
	switch rule.Kind {
	case OwnHours:
		own.Text, problem = s.ownHours(book, own.Text)
	case OwnCategory:
		i := slices.IndexFunc(rule.Choices, func(c string) bool { return strings.EqualFold(c, own.Text) })
		if i < 0 {
			return own, fmt.Sprintf("%s has no category “%s”. Choose one of its own.", book.Name, own.Text)
		}
		own.Text = rule.Choices[i]
	case OwnPhotos:
		problem = s.ownPhotos(book, rule, own.Text)
	case OwnLine:
		if strings.ContainsAny(own.Text, "\n\r") {
			return own, rule.Title + " is one line."
		}
		own.Text, problem = s.ownLine(key, own.Text)
	}
	long := rule.Kind == OwnLine || rule.Kind == OwnText
	if n := chars(own.Text); long && problem == "" && rule.Most > 0 && n > rule.Most {
		problem = fmt.Sprintf("It has %s; %s takes %d.", counted(n, "character", "characters"), book.Name, rule.Most)
	}
	if problem == "" {
		i, _ := s.Without(book.ID, key).held(key, book)
		own.Of = gives(i.Value)
	}
	return own, problem
}

// gives tells one value from another: photos by their ids, since two may be called alike.
func gives(v Value) string {
	places, _ := v.Data["photos"].(map[string]any)
	if places == nil {
		return v.Text
	}
	var ids []string
	for _, photos := range places { // of one place
		for _, p := range photos.([]any) {
			ids = append(ids, p.(map[string]any)["id"].(string))
		}
	}
	return strings.Join(ids, "\n")
}

// Plain is a text as it was meant: without what no keyboard writes and nobody sees.
func Plain(text string) string {
	return strings.TrimSpace(strings.Map(func(r rune) rune {
		if r != '\n' && unicode.IsControl(r) || r == unicode.ReplacementChar {
			return -1
		}
		return r
	}, text))
}

func (s *Subject) ownLine(key, text string) (string, string) {
	r := s.Record
	*lines[key](&r) = text
	if key == "phone" {
		read := contact.ReadPhone(text, r.Address.Country)
		if !read.Valid {
			return text, fmt.Sprintf("“%s” is no phone number.", text)
		}
		return read.E164, ""
	}
	r, wrong := record.Normal(r)
	for _, p := range wrong {
		if p.Path == key || strings.HasSuffix(p.Path, "."+key) {
			return text, p.Message
		}
	}
	return *lines[key](&r), ""
}

func (s *Subject) ownHours(book *rulebook.Rulebook, text string) (string, string) {
	schedule, _, err := hours.Parse(text)
	if written := said.Read(text, said.In{Country: s.Record.Address.Country}); err != nil && written.Read && len(written.Left) == 0 {
		schedule, err = written.Schedule, nil
	}
	switch {
	case err != nil:
		return text, fmt.Sprintf("The hours cannot be read: %s.", err)
	case schedule.Usual().String() != schedule.String():
		return text, "Special dates stay those of the record. Write the usual week alone."
	case book.Hours.FreeText:
		return schedule.String(), ""
	}
	week := schedule.Week()
	if d := hours.Compare(week.Reduce(able{Hours: book.Hours}.ability()), week); d.OpenWhileShut+d.ShutWhileOpen > 0 {
		return text, book.Hours.Words() + ". Write hours that fit into that."
	}
	return schedule.String(), ""
}

func (s *Subject) ownPhotos(book *rulebook.Rulebook, rule OwnRule, text string) string {
	ids := strings.Split(text, "\n")
	if len(ids) > rule.Most {
		return fmt.Sprintf("%s takes %s here.", book.Name, counted(rule.Most, "photo", "photos"))
	}
	place := book.Photos[slices.IndexFunc(book.Photos, func(p rulebook.Photos) bool { return p.Key() == rule.Key })]
	for n, id := range ids {
		i := slices.IndexFunc(s.Photos, func(p Photo) bool { return p.ID == id })
		switch {
		case i < 0:
			return "One of the photos is not, or no longer, the location’s."
		case slices.Contains(ids[:n], id):
			return fmt.Sprintf("“%s” is chosen twice.", s.Photos[i].Name())
		case faultsOf(s.Photos[i], place) != nil:
			return fmt.Sprintf("“%s” does not fit there. %s", s.Photos[i].Name(), faultsOf(s.Photos[i], place)[0])
		}
	}
	return ""
}

// With is the location with the values of its listings' own, by directory.
func (s *Subject) With(own map[string][]Own) *Subject {
	out := *s
	out.own, out.as = own, map[string]*Subject{}
	return &out
}

// Without is the location without one listing's own value of a field.
func (s *Subject) Without(directory, key string) *Subject {
	own := map[string][]Own{}
	for id, values := range s.own {
		own[id] = slices.DeleteFunc(slices.Clone(values), func(o Own) bool { return id == directory && o.Key == key })
	}
	return s.With(own)
}

// WithOwn is the location with another value of one listing's own.
func (s *Subject) WithOwn(directory string, o Own) *Subject {
	out := s.Without(directory, o.Key)
	out.own[directory] = append(out.own[directory], o)
	return out
}

func (s *Subject) departs(key string, book *rulebook.Rulebook) bool {
	_, own := s.owns(book.ID, key)
	return own
}

// owns finds a listing's own value of a field.
func (s *Subject) owns(directory, key string) (Own, bool) {
	i := slices.IndexFunc(s.own[directory], func(o Own) bool { return o.Key == key })
	if i < 0 {
		return Own{}, false
	}
	return s.own[directory][i], true
}

// On is the location as one directory is told of it: the values of the listing's own stand in the record.
func (s *Subject) On(directory string) *Subject {
	if len(s.own[directory]) == 0 {
		return s
	}
	if out := s.as[directory]; out != nil {
		return out
	}
	out := *s
	out.truth, out.reduced, out.chosen = s, map[able]shown{}, map[string][]string{}
	for _, o := range s.own[directory] {
		text, isText := strings.CutPrefix(o.Key, "text.")
		switch {
		case isText:
			*out.text(text) = o.Text
		case strings.HasPrefix(o.Key, "photos."):
			out.chosen[o.Key] = strings.Split(o.Text, "\n")
		case o.Key == "hours":
			if week, _, err := hours.Parse(o.Text); err == nil {
				out.schedule, out.readable = s.schedule.WithWeek(week.Week()), true
				out.week, out.Record.Hours = out.schedule.Week(), out.schedule.String()
			}
		case lines[o.Key] != nil:
			*lines[o.Key](&out.Record) = o.Text
		}
	}
	out.phone = contact.National(out.Record.MainPhone())
	s.as[directory] = &out
	return &out
}

// depart holds a listing's own value of a field, which is composed already, against the record.
func (s *Subject) depart(i *Item, own Own, book *rulebook.Rulebook) {
	plain, _ := s.Without(book.ID, own.Key).held(own.Key, book)
	departure := &Departure{Own: own, Record: plain.Value.Text, Asks: gives(plain.Value) != own.Of}
	if i.Own = departure; !i.there() {
		return
	}
	same := gives(i.Value) == gives(plain.Value)
	if same { // then it is as the record's own is
		plain.Own = departure
		*i = plain
	}
	c := composer{s, book, i, &i.Value}
	i.Value.From = "A value of its own"
	switch {
	case same:
	case lines[own.Key] != nil && !facts[own.Key].prose:
		switch said := *lines[own.Key](&s.Record); {
		case own.Text == said:
		case said != "" && (address.Fold(own.Text) == address.Fold(said) || slices.Contains(Links, own.Key) && match.SameSite(own.Text, said)):
			i.Mark = compare.Alike
		case said != "":
			c.mislead(said)
		}
	case !s.says(own, book):
	case lines[own.Key] != nil || strings.HasPrefix(own.Key, "text."):
		c.lose("what the record says in its place")
	}
	if len(i.Lost) > 0 && i.Cost.People == 0 {
		c.reckon()
	}
	c.tell("A value of its own: %s", ended(own.Why))
	if i.Own.Asks {
		c.tell("The record has changed since: does it still hold?")
	}
}

// says reports whether the record says something that an own text leaves out: other words, or towns to name.
func (s *Subject) says(own Own, book *rulebook.Rulebook) bool {
	which, isText := strings.CutPrefix(own.Key, "text.")
	if !isText {
		return lines[own.Key] != nil && *lines[own.Key](&s.Record) != ""
	}
	if words := s.words(which); words != "" && words != own.Text {
		return true
	}
	rule := book.Texts[slices.IndexFunc(book.Texts, func(t rulebook.Prose) bool { return t.Text == which })]
	return len(s.Record.Area.Towns) > 0 && composer{Subject: s, book: book}.namesTowns(rule)
}

// ended is a sentence with its full stop.
func ended(s string) string {
	if s == "" || strings.ContainsAny(s[len(s)-1:], ".!?") {
		return s
	}
	return s + "."
}

// ownCategory is the category that a listing is to stand under by a value of its own.
func (c composer) ownCategory(theirs string) rulebook.CategoryFit {
	main := c.book.Categories.Category(c.Record.Category)
	name := category.Name(c.Record.Category)
	switch {
	case name == "", theirs == main.Theirs:
	case main.Exact:
		c.mislead(name)
		c.tell("The record’s category, %s, is %s there.", name, main.Theirs)
	case theirs == c.book.Categories.Other:
		c.lose(name)
	default:
		c.mislead(name)
	}
	return rulebook.CategoryFit{Theirs: theirs, Exact: theirs == main.Theirs && main.Exact}
}

// Agreement is how much of what people see of a location agrees with its record in name, address and phone: the
// weight of the directories that are told each as the record has it, over that of all that may list it, from 0 to
// 1; 1 where none may.
func (s *Subject) Agreement(books []rulebook.Rulebook) float64 {
	agrees, all := 0, 0
	for n := range books {
		b := &books[n]
		if b.MayList(s.Record) != "" {
			continue
		}
		all += b.Weight
		differs := slices.ContainsFunc([]string{"name", "address", "phone"}, func(key string) bool {
			_, taken := b.Takes(key)
			i, applies := s.held(key, b)
			return taken && applies && i.Mark == compare.Unequal
		})
		if !differs {
			agrees += b.Weight
		}
	}
	if all == 0 {
		return 1
	}
	return float64(agrees) / float64(all)
}
