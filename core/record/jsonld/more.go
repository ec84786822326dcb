package jsonld

import (
	"cmp"
	"encoding/json"
	"net/url"
	"slices"
	"strings"

	"uvent/core/fact/category"
	"uvent/core/record/record"
)

// list is one value or several, as schema.org's documents have either; one that
// is written in a shape that we have no use for is passed over.
type list[T any] []T

// MarshalJSON writes one value by itself.
func (l list[T]) MarshalJSON() ([]byte, error) {
	if len(l) == 1 {
		return json.Marshal(l[0])
	}
	return json.Marshal([]T(l))
}

// UnmarshalJSON reads one value or several.
func (l *list[T]) UnmarshalJSON(data []byte) error {
	var several []json.RawMessage
	if json.Unmarshal(data, &several) != nil {
		several = []json.RawMessage{data}
	}
	for _, raw := range several {
		var one T
		if string(raw) != "null" && json.Unmarshal(raw, &one) == nil {
			*l = append(*l, one)
		}
	}
	return nil
}

// served is a town (https://schema.org/City) that the business goes to.
type served struct {
	Type string `json:"@type"`
	Name string `json:"name"`
	Geo  *geo   `json:"geo,omitempty"`
}

// action is something to do at an address: https://schema.org/ReserveAction, https://schema.org/OrderAction, and
// https://schema.org/ViewAction with the name of what is seen there.
type action struct {
	Type   string `json:"@type"`
	Name   string `json:"name,omitempty"`
	Target string `json:"target"`
}

// menuName names the list of what is offered, where it is no menu as schema.org knows it: only where people eat.
const menuName = "Menu"

// employee is a https://schema.org/Person.
type employee struct {
	Type      string `json:"@type"`
	Name      string `json:"name"`
	Role      string `json:"jobTitle,omitempty"`
	Email     string `json:"email,omitempty"`
	Telephone string `json:"telephone,omitempty"`
}

// catalog is a https://schema.org/OfferCatalog: of sections or, one level down,
// of offers.
type catalog struct {
	Type     string    `json:"@type"`
	Name     string    `json:"name,omitempty"`
	Elements []element `json:"itemListElement"`
}

// element is a section or a https://schema.org/Offer, by its type.
type element struct {
	Type     string    `json:"@type"`
	Name     string    `json:"name,omitempty"`
	Elements []element `json:"itemListElement,omitempty"`
	About    string    `json:"description,omitempty"`
	Price    string    `json:"price,omitempty"`
	Currency string    `json:"priceCurrency,omitempty"`
	Per      string    `json:"disambiguatingDescription,omitempty"`
}

// more writes the facts of record/more.go that schema.org has a place for.
func (b *business) more(r record.Record) {
	for _, t := range r.Area.Towns {
		b.AreaServed = append(b.AreaServed, served{"City", t.Name, &geo{"GeoCoordinates", t.Latitude, t.Longitude}})
	}
	for _, s := range r.Socials {
		b.SameAs = append(b.SameAs, s.URL)
	}
	actions := []action{{"ReserveAction", "", r.Links.Booking}, {"OrderAction", "", r.Links.Ordering}}
	if kind, _ := category.Find(r.Category); kind.Group == "eating" && r.Links.Menu != "" {
		b.Type, b.Menu = "FoodEstablishment", list[string]{r.Links.Menu} // a kind of LocalBusiness, and all that has one
	} else {
		actions = append(actions, action{"ViewAction", menuName, r.Links.Menu})
	}
	for _, a := range actions {
		if a.Target != "" {
			b.Actions = append(b.Actions, a)
		}
	}
	var names []string
	for _, kind := range record.PaymentKinds {
		if slices.Contains(r.Payments, kind.ID) {
			names = append(names, kind.Name)
		}
	}
	if names != nil {
		b.Payments = list[string]{strings.Join(names, ", ")}
	}
	for _, m := range r.Team {
		b.Employees = append(b.Employees, employee{"Person", m.Name, m.Role, m.Email, m.Phone})
	}
	if len(r.Offerings) > 0 {
		b.Catalog = list[catalog]{{Type: "OfferCatalog", Name: "Offerings", Elements: sections(r)}}
	}
}

func sections(r record.Record) (out []element) {
	money, _ := record.Currency(r.Address.Country)
	for _, s := range r.Offerings {
		section := element{Type: "OfferCatalog", Name: s.Title}
		for _, i := range s.Items {
			offer := element{Type: "Offer", Name: i.Name, About: i.About, Price: i.Price, Per: i.Per}
			if i.Price != "" {
				offer.Currency = money
			}
			section.Elements = append(section.Elements, offer)
		}
		out = append(out, section)
	}
	return out
}

// readMore lays what more writes over a record; what a document does not say
// stays, also within an entry that is known by its name or address.
func (b *business) readMore(r *record.Record) {
	if b.AreaServed != nil {
		r.Area.Towns = merged(b.AreaServed, r.Area.Towns, func(s served, t record.Town) bool { return s.Name == t.Name }, func(s served, t record.Town) record.Town {
			t.Name = s.Name
			if s.Geo != nil {
				t.Latitude, t.Longitude = s.Geo.Latitude, s.Geo.Longitude
			}
			return t
		})
	}
	if b.SameAs != nil {
		r.Socials = merged(
			b.SameAs,
			r.Socials,
			func(address string, s record.Social) bool { return s.URL == address },
			func(address string, s record.Social) record.Social {
				s.URL, s.Name = address, cmp.Or(s.Name, network(address))
				return s
			},
		)
	}
	for _, menu := range b.Menu {
		r.Links.Menu = menu
	}
	for _, a := range b.Actions {
		switch a.Type {
		case "ReserveAction":
			r.Links.Booking = a.Target
		case "OrderAction":
			r.Links.Ordering = a.Target
		case "ViewAction":
			if a.Name == menuName {
				r.Links.Menu = a.Target
			}
		}
	}
	if b.Payments != nil {
		r.Payments = nil
		for _, name := range strings.Split(strings.Join(b.Payments, ","), ",") {
			for _, kind := range record.PaymentKinds {
				if strings.EqualFold(strings.TrimSpace(name), kind.Name) {
					r.Payments = append(r.Payments, kind.ID)
				}
			}
		}
	}
	if b.Employees != nil {
		r.Team = merged(b.Employees, r.Team, func(e employee, m record.Member) bool { return e.Name == m.Name }, func(e employee, m record.Member) record.Member {
			return record.Member{Name: e.Name, Role: e.Role, Email: e.Email, Phone: e.Telephone, Photo: m.Photo}
		})
	}
	if b.Catalog != nil {
		var all []element
		for _, c := range b.Catalog {
			all = append(all, c.Elements...)
		}
		r.Offerings = offerings(all, r.Offerings)
	}
}

// merged turns a document's entries into a record's, each over the known one
// that is the same.
func merged[D, R any](in []D, known []R, same func(D, R) bool, lay func(D, R) R) []R {
	out := make([]R, 0, len(in))
	for _, d := range in {
		var base R
		if i := slices.IndexFunc(known, func(k R) bool { return same(d, k) }); i >= 0 {
			base = known[i]
		}
		out = append(out, lay(d, base))
	}
	return out
}

// offerings reads sections; offers that stand in none are put in one without a title.
func offerings(in []element, known []record.Section) (out []record.Section) {
	photos := map[string]string{}
	for _, s := range known {
		for _, i := range s.Items {
			photos[s.Title+"\x00"+i.Name] = i.Photo
		}
	}
	items := func(title string, in []element) []record.Item {
		out := make([]record.Item, 0, len(in))
		for _, o := range in {
			out = append(out, record.Item{Name: o.Name, Price: o.Price, Per: o.Per, About: o.About, Photo: photos[title+"\x00"+o.Name]})
		}
		return out
	}
	var loose []element
	for _, e := range in {
		if e.Type == "Offer" {
			loose = append(loose, e)
			continue
		}
		out = append(out, record.Section{Title: e.Name, Items: items(e.Name, e.Elements)})
	}
	if loose != nil {
		out = append(out, record.Section{Items: items("", loose)})
	}
	return out
}

// network names a social network by its host.
func network(address string) string {
	u, err := url.Parse(address)
	if err != nil {
		return ""
	}
	return strings.TrimPrefix(u.Hostname(), "www.")
}
