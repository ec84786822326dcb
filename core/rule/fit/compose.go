package fit

import (
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"

	"uvent/core/fact/category"
	"uvent/core/fact/contact"
	"uvent/core/fact/hours"
	"uvent/core/fact/prose"
	"uvent/core/record/link"
	"uvent/core/record/record"
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

// Find is the value of a field; false where none is given.
func (v Values) Find(key string) (Value, bool) {
	i := slices.IndexFunc(v, func(x Value) bool { return x.Key == key })
	if i < 0 {
		return Value{}, false
	}
	return v[i], true
}

// Compose makes the values for a directory from a location: what the rulebook takes,
// within its limits, and nothing else. What cannot go within them is left out.
func Compose(s *Subject, book *rulebook.Rulebook) Values {
	out := Values{}
	for _, key := range book.Fields() {
		i, applies := s.item(key, book)
		if !applies || !i.there() {
			continue
		}
		v := Value{Key: key, Label: i.Title}
		if i.Says != "" {
			v.Says = []string{i.Says}
		}
		c := composer{s, book, &v}
		switch rest, isText := strings.CutPrefix(key, "text."); {
		case isText:
			c.words(rest)
		case key == rulebook.AreasKey:
			c.areas()
		case strings.HasPrefix(key, "photos."):
			c.photos()
		default:
			rule, _ := book.Takes(key)
			v.From, v.Tick = facts[key].from, rule.Show
			c.fact(rule)
		}
		if v.Text != "" {
			out = append(out, v)
		}
	}
	return out
}

// composer makes one value.
type composer struct {
	*Subject
	book *rulebook.Rulebook
	v    *Value
}

func (c composer) give(text, key string, data any) {
	c.v.Text, c.v.Data = text, map[string]any{key: data}
}

func (c composer) say(format string, a ...any) {
	c.v.Says = append(c.v.Says, fmt.Sprintf(format, a...))
}

// links are the facts that are web addresses, and get campaign tags.
var links = []string{"website", "booking", "ordering", "quote", "menu", "gift_card", "app"}

func (c composer) fact(rule rulebook.Fact) {
	r := &c.Record
	switch key := rule.Fact; key {
	case "address":
		c.address()
	case "pin":
		c.v.Text = fmt.Sprintf("%.6f, %.6f", r.Pin.Latitude, r.Pin.Longitude)
		c.v.Data = map[string]any{"latitude": r.Pin.Latitude, "longitude": r.Pin.Longitude}
	case "phone":
		c.give(contact.National(r.MainPhone()), key, r.MainPhone())
	case "other_phones":
		parts := c.some(rule, facts[key].parts(c.Subject))
		for i, p := range parts {
			c.v.Parts = append(c.v.Parts, contact.National(p))
			parts[i] = p
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
		c.list(key, c.some(rule, names), ", ")
	case "team", "licence", "former_names", "videos":
		c.list(key, c.some(rule, facts[key].parts(c.Subject)), "\n")
	case "keywords", "specialities":
		c.list(key, c.some(rule, facts[key].parts(c.Subject)), ", ")
	default:
		text := facts[key].parts(c.Subject)[0]
		if slices.Contains(links, key) {
			text = c.tagged(text, rule)
		}
		if facts[key].prose && rule.MostCharacters > 0 {
			text, _ = prose.Cut(text, rule.MostCharacters)
		}
		c.give(text, key, text)
	}
}

func (c composer) list(key string, parts []string, between string) {
	c.v.Parts = parts
	c.give(strings.Join(parts, between), key, parts)
}

// some are the parts of a list that a directory takes: those within its limit, and of
// those the first.
func (c composer) some(rule rulebook.Fact, parts []string) []string {
	out := []string{}
	for _, p := range parts {
		if (rule.MostCharacters == 0 || chars(p) <= rule.MostCharacters) && (rule.Most == 0 || len(out) < rule.Most) {
			out = append(out, p)
		}
	}
	return out
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
	}
}

func (c composer) category() {
	max := c.book.Categories.Most
	var names []string
	main := c.book.Categories.Category(c.Record.Category).Theirs
	names = append(names, main)
	left := 0
	for _, id := range c.Record.Others {
		f := c.book.Categories.Category(id)
		switch {
		case f.Theirs == "" || !f.Exact || slices.Contains(names, f.Theirs):
			if f.Theirs == "" || !f.Exact {
				left++
			}
		case len(names) >= max:
			left++
		default:
			names = append(names, f.Theirs)
		}
	}
	if left > 0 {
		c.say("Of the record’s other categories, %d do not go.", left)
	}
	if used := c.book.Categories.Category(c.Record.Category).UsedBy; len(used) > 0 {
		c.say("They list under it also: %s.", strings.Join(used[:min(4, len(used))], ", "))
	}
	c.v.Parts = names
	c.v.Text = strings.Join(names, "; ") // their names may hold commas
	c.v.Data = map[string]any{"category": main, "other_categories": names[1:]}
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
	for _, a := range category.AllAttributes() {
		is, said := c.Record.Attributes[a.ID]
		label := c.book.Attributes.Map[a.ID]
		if !said || label == "" {
			continue
		}
		yes[label] = is
		lines = append(lines, label+": "+map[bool]string{true: "yes", false: "no"}[is])
	}
	if lost := len(c.Record.Attributes) - len(lines); lost > 0 {
		c.say("%d of the record’s attributes are not asked for there.", lost)
	}
	c.v.Parts = lines
	c.give(strings.Join(lines, "\n"), "attributes", yes)
}

// hours are the usual week brought into what the directory can express, with the
// special dates where it takes them.
func (c composer) hours() {
	given := c.schedule
	if !c.book.Hours.FreeText {
		// The same hours may have to be written another way: 22 to 3 as two sittings.
		if f := c.inHours(c.book); !reflect.DeepEqual(f.Week, c.week) {
			given = given.WithWeek(f.Week)
		}
	}
	if _, taken := c.book.Takes("special_dates"); !taken && !c.book.Hours.FreeText {
		for _, d := range given.Specials() {
			given = given.WithoutSpecial(d.From, d.To)
		}
		if lost := len(c.schedule.Specials()); lost > 0 {
			c.say("Special dates are not taken: %d do not go.", lost)
		}
	}
	text := given.String()
	if text == c.schedule.String() {
		text = c.Record.Hours // as the record has it
	}
	c.give(given.Words(), "hours", text)
}

func (c composer) specialDates() {
	for _, d := range c.schedule.Specials() {
		c.v.Parts = append(c.v.Parts, hours.Schedule{}.WithSpecial(d).Words())
	}
	c.v.Text = strings.Join(c.v.Parts, "\n")
}

func (c composer) socials(rule rulebook.Fact) {
	urls := c.some(rule, facts["socials"].parts(c.Subject))
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
	names := c.some(rule, facts["offerings"].parts(c.Subject))
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
				line += ": " + strings.TrimSpace(i.Price+" "+currency+" "+i.Per)
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

func (c composer) areas() {
	c.v.From = "Service area"
	for _, t := range c.Record.Area.Towns[:min(len(c.Record.Area.Towns), c.book.Areas.Most)] {
		c.v.Parts = append(c.v.Parts, t.Name)
	}
	c.give(strings.Join(c.v.Parts, ", "), "areas", c.v.Parts)
}

func (c composer) photos() {
	rule := c.book.Photos[slices.IndexFunc(c.book.Photos, func(p rulebook.Photos) bool { return p.Key() == c.v.Key })]
	c.v.From = "Photos"
	data := []any{}
	for _, group := range rule.Groups {
		for _, p := range c.Photos {
			if p.Group != group || len(data) >= rule.Most || faultsOf(p, rule) != nil {
				continue
			}
			name := p.Caption
			if name == "" {
				name = groupName(p.Group)
			}
			c.v.Parts = append(c.v.Parts, name)
			photo := map[string]any{"id": p.ID, "caption": p.Caption, "alternative": p.Alternative}
			if rule.Tag != "" {
				photo["tag"] = rule.Tag
			}
			data = append(data, photo)
		}
	}
	if rule.Tag != "" {
		c.say("Mark it there as “%s”; unmarked it does not count.", rule.Tag)
	}
	c.give(strings.Join(c.v.Parts, "\n"), "photos", map[string]any{rule.Groups[0]: data})
}

func groupName(id string) string {
	for _, g := range PhotoGroups {
		if g.ID == id {
			return g.Name
		}
	}
	return id
}
