package fit

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"uvent/core/fact/category"
	"uvent/core/fact/contact"
	"uvent/core/fact/prose"
	"uvent/core/record/link"
	"uvent/core/record/record"
	"uvent/core/rule/compare"
	"uvent/core/rule/cost"
	"uvent/core/rule/rulebook"
)

// Value is what one field of a directory is given.
type Value struct {
	Key   string         `json:"key"`             // one of rulebook.Fields
	Label string         `json:"label"`           // as the directory's form calls it
	Text  string         `json:"text"`            // as a person copies it
	Parts []string       `json:"parts,omitempty"` // each of a list
	Data  map[string]any `json:"data,omitempty"`  // as a connector is given it; see docs/connector.md
	From  string         `json:"from"`            // where in the record it stands
	Says  []string       `json:"says,omitempty"`  // what was changed or lost
	Tick  string         `json:"tick,omitempty"`  // the switch that must be ticked with it
}

// Values are what a directory is given, in the order of its form.
type Values []Value

// Facts are the values as a connector is given them, in one object.
func (v Values) Facts() map[string]any {
	out := map[string]any{}
	for _, value := range v {
		for key, data := range value.Data {
			group, grouped := data.(map[string]any)
			if have, ok := out[key].(map[string]any); ok && grouped {
				maps.Copy(have, group)
				continue
			}
			if grouped {
				data = maps.Clone(group)
			}
			out[key] = data
		}
	}
	return out
}

// Labels are what the directory's form calls the values.
func (v Values) Labels() []string {
	out := make([]string, len(v))
	for i := range v {
		out[i] = v[i].Label
	}
	return out
}

// Find is the value of a field; false where none is given.
func (v Values) Find(key string) (Value, bool) {
	i := slices.IndexFunc(v, func(x Value) bool { return x.Key == key })
	if i < 0 {
		return Value{}, false
	}
	return v[i], true
}

// compose fills an item with the value that goes: what the rulebook takes, within its limits, and
// nothing else; and notes what of the record is lost on the way.
func (s *Subject) compose(i *Item, book *rulebook.Rulebook) {
	i.Value = Value{Key: i.Key, Label: i.Title}
	c := composer{s, book, i, &i.Value}
	i.Mark = compare.Equal
	switch rest, isText := strings.CutPrefix(i.Key, "text."); {
	case isText:
		c.words(rest)
	case i.Key == rulebook.AreasKey:
		c.areas()
	case strings.HasPrefix(i.Key, "photos."):
		c.photos()
	default:
		rule, _ := book.Takes(i.Key)
		c.v.From, c.v.Tick = facts[i.Key].from, rule.Show
		c.fact(rule)
	}
	switch {
	case c.v.Text == "":
		*i = Item{Key: i.Key, Title: i.Title, Part: i.Part, Weight: i.Weight, Required: i.Required}
		i.spoil("Nothing of it goes within the limits of %s.", book.Name)
	case s.truth != nil && s.departs(i.Key, book): // what it costs is reckoned when it is held against the record
	case len(i.Lost) > 0:
		c.reckon()
	}
}

// reckon notes what it costs that a visitor does not learn all, or learns it wrongly.
func (c composer) reckon() {
	c.i.State = Changed
	if c.i.Cost.People = c.people(); c.i.Cost.People > 0 {
		c.say("It misleads %s.", cost.Around(c.i.Cost.People))
	}
}

// composer makes one value.
type composer struct {
	*Subject
	book *rulebook.Rulebook
	i    *Item
	v    *Value
}

// lose notes what a visitor of the page does not learn.
func (c composer) lose(what ...string) {
	if len(what) > 0 && c.i.Mark == compare.Equal {
		c.i.Mark = compare.Alike
	}
	c.i.Lost = append(c.i.Lost, what...)
}

// mislead notes what a visitor of the page learns otherwise than it is.
func (c composer) mislead(what ...string) {
	c.lose(what...)
	if len(what) > 0 {
		c.i.Mark = compare.Unequal
	}
}

// tell says what was changed or lost.
func (c composer) tell(format string, a ...any) {
	c.say(format, a...)
	c.i.Says = strings.TrimSpace(c.i.Says + " " + c.v.Says[len(c.v.Says)-1])
}

func (c composer) give(text, key string, data any) {
	c.v.Text, c.v.Data = text, map[string]any{key: data}
}

func (c composer) say(format string, a ...any) {
	c.v.Says = append(c.v.Says, fmt.Sprintf(format, a...))
}

// Links are the facts that are web addresses, and get campaign tags.
var Links = []string{"website", "booking", "ordering", "quote", "menu", "gift_card", "app"}

func (c composer) fact(rule rulebook.Fact) {
	r := &c.Record
	switch key := rule.Fact; key {
	case "address":
		c.address()
	case "pin":
		c.v.Text = fmt.Sprintf("%.6f, %.6f", r.Pin.Latitude, r.Pin.Longitude)
		c.v.Data = map[string]any{"latitude": r.Pin.Latitude, "longitude": r.Pin.Longitude}
	case "phone":
		c.give(c.phone, key, r.MainPhone())
	case "other_phones":
		parts := c.take(rule, facts[key].parts(c.Subject), contact.National)
		for _, p := range parts {
			c.v.Parts = append(c.v.Parts, contact.National(p))
		}
		c.give(strings.Join(c.v.Parts, "\n"), key, parts)
	case "category":
		c.category()
	case "button":
		c.chosenButton()
	case "attributes":
		c.attributes()
	case "hours":
		c.hours()
	case "special_dates":
		c.specialDates()
	case "socials":
		c.socials(rule)
	case "offerings":
		c.offerings(rule)
	case "payments":
		var names []string
		for _, k := range record.PaymentKinds {
			if slices.Contains(r.Payments, k.ID) {
				names = append(names, k.Name)
			}
		}
		c.list(key, c.take(rule, names, itself), ", ")
	case "team", "licence", "former_names", "videos":
		c.list(key, c.take(rule, facts[key].parts(c.Subject), itself), "\n")
	case "keywords", "specialities":
		c.list(key, c.take(rule, facts[key].parts(c.Subject), itself), ", ")
	default:
		text := facts[key].parts(c.Subject)[0]
		if slices.Contains(Links, key) {
			text = c.tagged(text, rule)
		}
		if facts[key].prose && rule.MostCharacters > 0 {
			whole, cut := chars(text), false
			if text, cut = prose.Cut(text, rule.MostCharacters); cut {
				c.cut(c.v.Label, whole, text)
			}
		}
		c.give(text, key, text)
	}
}

func (c composer) list(key string, parts []string, between string) {
	c.v.Parts = parts
	c.give(strings.Join(parts, between), key, parts)
}

// take are the parts of a list that a directory takes: those within its limit, and of those the
// first. The others are lost, by the names that people know them by.
func (c composer) take(rule rulebook.Fact, parts []string, name func(string) string) []string {
	out, long := []string{}, 0
	for _, p := range parts {
		switch {
		case rule.MostCharacters > 0 && chars(p) > rule.MostCharacters:
			long++
			c.lose(name(p))
		case rule.Most > 0 && len(out) >= rule.Most:
			c.lose(name(p))
		default:
			out = append(out, p)
		}
	}
	if lost := len(parts) - len(out); lost > 0 {
		why := ""
		if long > 0 {
			why = ", with more than " + counted(rule.MostCharacters, "character", "characters")
		}
		if long < lost {
			why += fmt.Sprintf(", beyond the %d that it takes", rule.Most)
		}
		c.tell("%s%s.", left(lost, len(parts)), why)
	}
	return out
}

func itself(s string) string { return s }

// left says how many of some do not go.
func left(lost, of int) string {
	if lost == 1 {
		return fmt.Sprintf("1 of %d does not go", of)
	}
	return fmt.Sprintf("%d of %d do not go", lost, of)
}

// counted is a number with what so many do.
func counted(n int, one, more string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, more)
}

// tagged is an address with campaign tags, or without where they make it too long.
func (c composer) tagged(address string, rule rulebook.Fact) string {
	out := link.Tagged(address, c.book.ID, c.Record.Tags)
	switch {
	case out == address:
	case rule.MostCharacters > 0 && chars(out) > rule.MostCharacters:
		c.say("Goes without campaign tags: with them it has %d characters, and %d go.", chars(out), rule.MostCharacters)
		return address
	default:
		c.say("With campaign tags for %s.", c.book.Name)
	}
	return out
}

func (c composer) address() {
	a := c.Record.Address
	if !c.book.GivesStreet(c.Record) {
		a.Street, a.Unit, a.PostalCode = "", "", ""
		c.say("The street is not given: %s would show it, and nobody is to come there.", c.book.Name)
	}
	street := a.Street
	if a.Unit != "" {
		street += ", " + a.Unit
	}
	hide := c.book.HidesAddress(c.Record)
	c.v.Text = a.Line()
	c.v.Data = map[string]any{
		"street": street, "locality": a.Locality, "region": a.Region, "postal_code": a.PostalCode, "country": a.Country, "hide_street": hide,
	}
	if hide {
		c.say("The street is given, and not shown to the public.")
		if c.Record.Kind != record.GoesToCustomers {
			c.lose("the street")
			c.tell("People who come do not learn where.")
		}
	}
}

func (c composer) category() {
	name := category.Name(c.Record.Category)
	main := c.book.Categories.Category(c.Record.Category)
	own, departs := c.owns(c.book.ID, "category")
	switch {
	case departs:
		main = c.ownCategory(own.Text)
	case strings.EqualFold(main.Theirs, name):
	case main.Exact:
		c.i.Mark = compare.Alike // the same in their words
	case main.Fallback:
		c.lose(name)
		c.tell("%s has no category for %s; it goes under %s.", c.book.Name, name, main.Theirs)
	default:
		c.mislead(name)
		c.tell("%s has no category for %s; %s, which it has for %s, is nearest.", c.book.Name, name, main.Theirs, category.Name(main.Ours))
	}
	names, left := []string{main.Theirs}, 0
	for _, id := range c.Record.Others {
		switch f := c.book.Categories.Category(id); {
		case f.Theirs == "" || !f.Exact:
			left++
			c.lose(category.Name(id))
		case slices.Contains(names, f.Theirs):
		case len(names) >= c.book.Categories.Most:
			left++
			c.lose(category.Name(id))
		default:
			names = append(names, f.Theirs)
		}
	}
	if left > 0 {
		c.tell("Of the record’s other categories, %s.", counted(left, "does not go", "do not go"))
	}
	if used := main.UsedBy; len(used) > 0 {
		c.say("They list under it also: %s.", strings.Join(used[:min(4, len(used))], ", "))
	}
	c.v.Parts = names
	c.v.Text = strings.Join(names, "; ") // their names may hold commas
	c.v.Data = map[string]any{"category": main.Theirs, "other_categories": names[1:]}
}

// button is the first of the directory's buttons that leads somewhere, best the one that
// brings a booking; empty for none.
func (s *Subject) button(book *rulebook.Rulebook) (chosen string) {
	for _, b := range book.Speaks.Buttons {
		if Leads(b, &s.Record) != "" && (chosen == "" || b == "book") {
			chosen = b
		}
	}
	return chosen
}

func (c composer) chosenButton() {
	chosen := c.button(c.book)
	c.give(chosen, "button", chosen)
	c.say("Of %s: it leads to %s.", strings.Join(c.book.Speaks.Buttons, ", "), Leads(chosen, &c.Record))
}

func (c composer) attributes() {
	yes := map[string]any{}
	var lines []string
	left := 0
	for _, a := range category.AllAttributes() {
		is, said := c.Record.Attributes[a.ID]
		label := c.book.Attributes.Map[a.ID]
		switch {
		case !said:
		case label == "":
			left++
			c.lose(a.Name)
		default:
			yes[label] = is
			lines = append(lines, label+": "+map[bool]string{true: "yes", false: "no"}[is])
		}
	}
	if left > 0 {
		c.tell("Of the record’s attributes, %s there.", counted(left, "is not asked for", "are not asked for"))
	}
	c.v.Parts = lines
	c.give(strings.Join(lines, "\n"), "attributes", yes)
}

func (c composer) socials(rule rulebook.Fact) {
	urls := c.take(rule, facts["socials"].parts(c.Subject), itself)
	data := []any{}
	for _, p := range c.Record.Socials {
		if p.Show && slices.Contains(urls, p.URL) {
			c.v.Parts = append(c.v.Parts, p.URL)
			data = append(data, map[string]any{"name": p.Name, "url": p.URL, "show": true})
		}
	}
	c.give(strings.Join(c.v.Parts, "\n"), "socials", data)
}

func (c composer) offerings(rule rulebook.Fact) {
	names := c.take(rule, facts["offerings"].parts(c.Subject), itself)
	currency, _ := record.Currency(c.Record.Address.Country)
	sections := []any{}
	var lines []string
	for _, section := range c.Record.Offerings {
		items := []any{}
		for _, i := range section.Items {
			at := slices.Index(names, i.Name)
			if at < 0 {
				continue
			}
			names = slices.Delete(names, at, at+1)
			if len(items) == 0 && section.Title != "" {
				lines = append(lines, section.Title)
			}
			c.v.Parts = append(c.v.Parts, i.Name)
			line := i.Name
			if i.Price != "" {
				line += ": " + priced(i, currency)
			}
			lines = append(lines, line)
			items = append(items, map[string]any{"name": i.Name, "price": i.Price, "currency": currency, "per": i.Per, "about": i.About})
		}
		if len(items) > 0 {
			sections = append(sections, map[string]any{"title": section.Title, "items": items})
		}
	}
	c.give(strings.Join(lines, "\n"), "offerings", sections)
}

// priced writes a price as people say it: "18.50 USD an hour", "from 25 USD".
func priced(i record.Item, currency string) string {
	before, after := "", i.Per
	for _, word := range []string{"from", "about", "up to"} {
		if rest, ok := strings.CutPrefix(i.Per, word); ok && (rest == "" || rest[0] == ' ') {
			before, after = word, rest
		}
	}
	return strings.Join(strings.Fields(before+" "+i.Price+" "+currency+" "+after), " ")
}

func (c composer) areas() {
	c.v.From = "Service area"
	for n, t := range c.Record.Area.Towns {
		if n < c.book.Areas.Most {
			c.v.Parts = append(c.v.Parts, t.Name)
		} else {
			c.lose(t.Name)
		}
	}
	if all := len(c.Record.Area.Towns); all > c.book.Areas.Most {
		c.tell("%d of the %d towns go, the largest.", c.book.Areas.Most, all)
	}
	c.give(strings.Join(c.v.Parts, ", "), "areas", c.v.Parts)
}

func (c composer) photos() {
	rule := c.book.Photos[slices.IndexFunc(c.book.Photos, func(p rulebook.Photos) bool { return p.Key() == c.v.Key })]
	c.v.From = "Photos"
	data := []any{}
	for _, i := range c.given(rule) {
		p := c.Photos[i]
		c.v.Parts = append(c.v.Parts, p.Name())
		photo := map[string]any{"id": p.ID, "caption": p.Caption, "alternative": p.Alternative}
		if rule.Tag != "" {
			photo["tag"] = rule.Tag
		}
		data = append(data, photo)
	}
	if rule.Tag != "" {
		c.say("Mark it there as “%s”; unmarked it does not count.", rule.Tag)
	}
	c.give(strings.Join(c.v.Parts, "\n"), "photos", map[string]any{rule.Groups[0]: data})
	c.losePhotos(rule)
}
