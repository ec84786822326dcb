package rulebook

import "slices"

// Key is a fact that a directory may ask for.
type Key struct {
	ID      string // as rulebooks name it
	Title   string // as people say it
	Part    string // of a record's form, where it is filled in
	Minutes int    // of somebody's work, about, to find it out and to fill it in
	Limits  Limits // that a rulebook may set
}

// Limits are what a rulebook may limit of a fact.
type Limits int

const (
	limitsCharacters Limits = 1 << iota // of it, or of each of its parts
	limitsParts                         // how many parts go
)

// Keys are all facts that a rulebook can name under facts, in the order in which
// people think of them.
var Keys = []Key{
	{"name", "Name", "identity", 1, limitsCharacters},
	{"legal_name", "Legal name", "identity", 2, limitsCharacters},
	{"former_names", "Former names", "identity", 2, limitsCharacters | limitsParts},
	{"registration", "Registration number", "identity", 10, limitsCharacters},
	{"opened", "Opening date", "identity", 1, limitsCharacters},
	{"store_code", "Store code", "identity", 1, limitsCharacters},
	{"company_size", "Company size", "identity", 1, limitsCharacters},
	{"company_kind", "Kind of company", "identity", 1, limitsCharacters},
	{"industry", "Industry", "identity", 1, limitsCharacters},
	{"founded", "Founded", "identity", 1, limitsCharacters},
	{"address", "Address", "contact", 2, 0},
	{"directions", "Directions", "contact", 5, limitsCharacters},
	{"parking", "Parking", "contact", 3, limitsCharacters},
	{"pin", "Pin", "contact", 2, 0},
	{"phone", "Phone", "contact", 1, limitsCharacters},
	{"other_phones", "Other phones", "contact", 1, limitsCharacters | limitsParts},
	{"email", "Email", "contact", 1, limitsCharacters},
	{"website", "Website", "contact", 1, limitsCharacters},
	{"category", "Category", "categories", 2, 0},
	{"attributes", "Attributes", "categories", 5, 0},
	{"hours", "Hours", "hours", 4, 0},
	{"special_dates", "Special dates", "hours", 5, limitsParts},
	{"keywords", "Keywords", "words", 5, limitsCharacters | limitsParts},
	{"specialities", "Specialities", "words", 5, limitsCharacters | limitsParts},
	{"booking", "Booking link", "links", 2, limitsCharacters},
	{"ordering", "Ordering link", "links", 2, limitsCharacters},
	{"quote", "Quote link", "links", 2, limitsCharacters},
	{"menu", "Menu link", "links", 2, limitsCharacters},
	{"gift_card", "Gift card link", "links", 2, limitsCharacters},
	{"app", "App link", "links", 2, limitsCharacters},
	{"button", "Button", "links", 2, 0},
	{"socials", "Social profiles", "links", 4, limitsCharacters | limitsParts},
	{"videos", "Films", "links", 30, limitsCharacters | limitsParts},
	{"offerings", "Offerings", "offerings", 20, limitsCharacters | limitsParts},
	{"payments", "Ways to pay", "offerings", 1, limitsCharacters | limitsParts},
	{"team", "Team", "offerings", 15, limitsCharacters | limitsParts},
	{"licence", "Licence", "papers", 8, limitsCharacters | limitsParts},
}

// TakesCharacters reports whether a rulebook may limit the characters of the fact, or of each of its parts.
func (k Key) TakesCharacters() bool { return k.Limits&limitsCharacters != 0 }

// TakesMost reports whether a rulebook may limit how many parts of the fact go.
func (k Key) TakesMost() bool { return k.Limits&limitsParts != 0 }

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
