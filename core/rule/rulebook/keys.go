package rulebook

import "slices"

// Key is a fact that a directory may ask for.
type Key struct {
	ID      string // as rulebooks name it
	Title   string // as people say it
	Part    string // of a record's form, where it is filled in
	Minutes int    // of somebody's work, about, to find it out and to fill it in
}

// Keys are all facts that a rulebook can name under facts, in the order in which
// people think of them.
var Keys = []Key{
	{"name", "Name", "identity", 1},
	{"legal_name", "Legal name", "identity", 2},
	{"former_names", "Former names", "identity", 2},
	{"registration", "Registration number", "identity", 10},
	{"opened", "Opening date", "identity", 1},
	{"store_code", "Store code", "identity", 1},
	{
		"company_size",
		"Company size",
		"identity",
		1,
	},
	{"company_kind", "Kind of company", "identity", 1},
	{"industry", "Industry", "identity", 1},
	{"founded", "Founded", "identity", 1},
	{"address", "Address", "contact", 2},
	{"directions", "Directions", "contact", 5},
	{"parking", "Parking", "contact", 3},
	{"pin", "Pin", "contact", 2},
	{"phone", "Phone", "contact", 1},
	{"other_phones", "Other phones", "contact", 1},
	{"email", "Email", "contact", 1},
	{"website", "Website", "contact", 1},
	{"category", "Category", "categories", 2},
	{"attributes", "Attributes", "categories", 5},
	{"hours", "Hours", "hours", 4},
	{"special_dates", "Special dates", "hours", 5},
	{"keywords", "Keywords", "words", 5},
	{"specialities", "Specialities", "words", 5},
	{"booking", "Booking link", "links", 2},
	{"ordering", "Ordering link", "links", 2},
	{"quote", "Quote link", "links", 2},
	{"menu", "Menu link", "links", 2},
	{"gift_card", "Gift card link", "links", 2},
	{"app", "App link", "links", 2},
	{"button", "Button", "links", 2},
	{"socials", "Social profiles", "links", 4},
	{"videos", "Films", "links", 30},
	{"offerings", "Offerings", "offerings", 20},
	{"payments", "Ways to pay", "offerings", 1},
	{"team", "Team", "offerings", 15},
	{"licence", "Licence", "papers", 8},
}

// FindKey is the key with an id.
func FindKey(id string) (Key, bool) {
	i := slices.IndexFunc(Keys, func(k Key) bool { return k.ID == id })
	if i < 0 {
		return Key{}, false
	}
	return Keys[i], true
}

// Fields are the keys of all that a directory takes, in the order of its form: what
// the form names first, then the rest as the rulebook has it. Words are "text." and
// which of ours fill them, photos "photos." and the first group, towns "areas".
func (r Rulebook) Fields() []string {
	all := make([]string, 0, len(r.Facts)+len(r.Texts)+len(r.Photos)+1)
	for _, f := range r.Facts {
		all = append(all, f.Fact)
	}
	for _, t := range r.Texts {
		all = append(all, t.Key())
	}
	if r.Areas.Most > 0 {
		all = append(all, AreasKey)
	}
	for _, p := range r.Photos {
		all = append(all, p.Key())
	}
	at := func(key string) int {
		if i := slices.Index(r.Form, key); i >= 0 {
			return i
		}
		return len(r.Form)
	}
	slices.SortStableFunc(all, func(a, b string) int { return at(a) - at(b) })
	return all
}

// AreasKey is the field for the towns of a service area.
const AreasKey = "areas"
