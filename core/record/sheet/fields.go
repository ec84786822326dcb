package sheet

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/fact/category"
	"uvent/core/record/record"
)

// ClientField is the key of the column that names a row's client.
const ClientField = "client"

// Field is one column that is known.
type Field struct {
	Key   string // its name in a file that we write
	Title string // its name for people
	path  string // of the fact, as record.Problem names it
	set   func(*record.Record, string) string
	get   func(record.Record) string
}

func text(key, title, path string, at func(*record.Record) *string) Field {
	return Field{key, title, path,
		func(r *record.Record, s string) string { *at(r) = s; return "" },
		func(r record.Record) string { return *at(&r) },
	}
}

// Fields are the columns that are known, in the order in which we write them.
var Fields = slices.Concat(
	[]Field{
		{Key: ClientField, Title: "Client", path: "client"},
		text(
			"store_code",
			"Store code",
			"store_code",
			func(r *record.Record) *string { return &r.StoreCode }),
		text("label", "Label", "label", func(r *record.Record) *string { return &r.Label }),
		text("name", "Name", "name", func(r *record.Record) *string { return &r.Name }),
		text("legal_name", "Legal name", "legal_name", func(r *record.Record) *string { return &r.LegalName }),
		list("former_names", "Former names", "former_names.0", func(r *record.Record) *[]string { return &r.FormerNames }),
		{Key: "kind", Title: "Kind of location", path: "kind", set: setKind,
			get: func(r record.Record) string { return string(r.Kind) }},
	},
	addressFields("", "", "address", func(r *record.Record) *address.Address { return &r.Address }),
	[]Field{list("former_addresses", "Former addresses", "former_addresses.0", func(r *record.Record) *[]string { return &r.Former })},
	[]Field{
		text(
			"mailing_contact",
			"Mailing contact",
			"mailing.contact",
			func(r *record.Record) *string { return &r.Mailing.Contact }),
	},
	addressFields("mailing_", "Mailing ", "mailing.address", func(r *record.Record) *address.Address { return &r.Mailing.Address }),
	[]Field{
		{Key: "latitude", Title: "Latitude", path: "pin.latitude", set: setDegrees(func(p *record.Pin) *float64 { return &p.Latitude }),
			get: getDegrees(func(p *record.Pin) *float64 { return &p.Latitude })},
		{
			Key:   "longitude",
			Title: "Longitude",
			path:  "pin.longitude",
			set:   setDegrees(func(p *record.Pin) *float64 { return &p.Longitude }),
			get:   getDegrees(func(p *record.Pin) *float64 { return &p.Longitude }),
		},
	},
	phoneFields(),
	[]Field{
		text("email", "Email", "email", func(r *record.Record) *string { return &r.Email }),
		text("website", "Website", "website", func(r *record.Record) *string { return &r.Website }),
		{Key: "category", Title: "Category", path: "category", set: func(r *record.Record, s string) string { r.Category = s; return "" },
			get: func(r record.Record) string { return category.Name(r.Category) }},
		list(
			"other_categories",
			"Other categories",
			"other_categories.0",
			func(r *record.Record) *[]string { return &r.Others }),
		{Key: "attributes", Title: "Attributes", path: "attributes", set: setAttributes, get: getAttributes},
		text("opening_hours", "Opening hours", "hours", func(r *record.Record) *string { return &r.Hours }),
		text("time_zone", "Time zone", "zone", func(r *record.Record) *string { return &r.Zone }),
		text("state_of_business", "State of business", "state.kind", func(r *record.Record) *string { return (*string)(&r.State.Kind) }),
		text("closed_until", "Closed until", "state.until", func(r *record.Record) *string { return &r.State.Until }),
		text("moved_to", "Moved to", "state.to", func(r *record.Record) *string { return &r.State.To }),
		text("opened", "Opened", "opened", func(r *record.Record) *string { return &r.Opened }),
		text("directions", "Directions", "directions", func(r *record.Record) *string { return &r.Directions }),
		text("parking", "Parking", "parking", func(r *record.Record) *string { return &r.Parking }),
		text("tagline", "Tagline", "words.tagline", func(r *record.Record) *string { return &r.Words.Tagline }),
		text("short_description", "Short description", "words.short", func(r *record.Record) *string { return &r.Words.Short }),
		text("description", "Description", "words.medium", func(r *record.Record) *string { return &r.Words.Medium }),
		text("long_description", "Long description", "words.long", func(r *record.Record) *string { return &r.Words.Long }),
		text("story", "Story", "words.story", func(r *record.Record) *string { return &r.Words.Story }),
		list("keywords", "Keywords", "words.keywords", func(r *record.Record) *[]string { return &r.Words.Keywords }),
		list("specialities", "Specialities", "words.specialities", func(r *record.Record) *[]string { return &r.Words.Specialities }),
		text("booking_link", "Booking link", "links.booking", func(r *record.Record) *string { return &r.Links.Booking }),
		text("ordering_link", "Ordering link", "links.ordering", func(r *record.Record) *string { return &r.Links.Ordering }),
		text("quote_link", "Quote link", "links.quote", func(r *record.Record) *string { return &r.Links.Quote }),
		text("menu_link", "Menu link", "links.menu", func(r *record.Record) *string { return &r.Links.Menu }),
		text("gift_card_link", "Gift card link", "links.gift_card", func(r *record.Record) *string { return &r.Links.GiftCard }),
		text("app_link", "App link", "links.app", func(r *record.Record) *string { return &r.Links.App }),
		{Key: "social_profiles", Title: "Social profiles", path: "socials", set: setSocials, get: getSocials},
		list("videos", "Videos", "videos", func(r *record.Record) *[]string { return &r.Videos }),
		list("payments", "Payments", "payments.0", func(r *record.Record) *[]string { return &r.Payments }),
		{Key: "service_area", Title: "Service area", path: "area.towns", set: setTowns, get: getTowns},
		text("registration_number", "Registration number", "company.registration", func(r *record.Record) *string { return &r.Company.Registration }),
		text("company_size", "Company size", "company.size", func(r *record.Record) *string { return &r.Company.Size }),
		text("company_kind", "Kind of company", "company.kind", func(r *record.Record) *string { return &r.Company.Kind }),
		text("industry", "Industry", "company.industry", func(r *record.Record) *string { return &r.Company.Industry }),
		text("founded", "Founded", "company.founded", func(r *record.Record) *string { return &r.Company.Founded }),
		list("domains", "Domains", "company.domains", func(r *record.Record) *[]string { return &r.Company.Domains }),
	},
)

func addressFields(prefix, title, path string, at func(*record.Record) *address.Address) []Field {
	field := func(key, name string, part func(*address.Address) *string) Field {
		f := text(prefix+key, strings.TrimSpace(title+name), path+"."+key, func(r *record.Record) *string { return part(at(r)) })
		if title != "" {
			f.Title = title + strings.ToLower(name)
		}
		return f
	}
	return []Field{
		field("street", "Street", func(a *address.Address) *string { return &a.Street }),
		field("unit", "Unit", func(a *address.Address) *string { return &a.Unit }),
		field("locality", "Town", func(a *address.Address) *string { return &a.Locality }),
		field("region", "Region", func(a *address.Address) *string { return &a.Region }),
		field("postal_code", "Postal code", func(a *address.Address) *string { return &a.PostalCode }),
		field("country", "Country", func(a *address.Address) *string { return &a.Country }),
	}
}

func phoneFields() (out []Field) {
	for i := range record.MostPhones {
		key, title := "phone", "Phone"
		if i > 0 {
			key, title = fmt.Sprintf("phone_%d", i+1), fmt.Sprintf("Phone %d", i+1)
		}
		path := fmt.Sprintf("phones.%d.e164", i)
		out = append(out,
			Field{key, title, path,
				func(r *record.Record, s string) string { phoneAt(r, i).E164 = s; return "" },
				func(r record.Record) string {
					if i < len(r.Phones) {
						return r.Phones[i].E164
					}
					return ""
				}},
			Field{key + "_can", title + " can", path,
				func(r *record.Record, s string) string { return setAbilities(phoneAt(r, i), s) },
				func(r record.Record) string {
					if i < len(r.Phones) {
						return abilities(r.Phones[i])
					}
					return ""
				}},
		)
	}
	return out
}

// phoneAt makes room for the i-th phone. A new one is taken to be answered.
func phoneAt(r *record.Record, i int) *record.Phone {
	r.Phones = slices.Clone(r.Phones)
	for len(r.Phones) <= i {
		r.Phones = append(r.Phones, record.Phone{Voice: true})
	}
	return &r.Phones[i]
}

func setAbilities(p *record.Phone, s string) string {
	p.Voice, p.Text = false, false
	for _, w := range strings.FieldsFunc(strings.ToLower(s), func(r rune) bool { return strings.ContainsRune(" ,;|+/", r) }) {
		switch w {
		case "voice", "call", "calls":
			p.Voice = true
		case "text", "texts", "sms":
			p.Text = true
		case "nothing":
		default:
			return fmt.Sprintf("%q is nothing a phone can do here; write voice, text, both, or nothing", w)
		}
	}
	return ""
}

func abilities(p record.Phone) string {
	switch {
	case p.Voice && p.Text:
		return "voice text"
	case p.Voice:
		return "voice"
	case p.Text:
		return "text"
	}
	return "nothing"
}

// list is a field of several texts, parted by bars.
func list(key, title, path string, at func(*record.Record) *[]string) Field {
	return Field{key, title, path,
		func(r *record.Record, s string) string {
			*at(r) = nil
			for _, n := range strings.Split(s, "|") {
				if n = strings.TrimSpace(n); n != "" {
					*at(r) = append(*at(r), n)
				}
			}
			return ""
		},
		func(r record.Record) string { return strings.Join(*at(&r), " | ") },
	}
}

func setAttributes(r *record.Record, s string) string {
	out := map[string]bool{}
	for _, part := range strings.Split(s, "|") {
		name, value, found := strings.Cut(part, "=")
		switch strings.ToLower(strings.TrimSpace(value)) {
		case "yes", "true", "1":
			out[strings.TrimSpace(name)] = true
		case "no", "false", "0":
			out[strings.TrimSpace(name)] = false
		default:
			if found || strings.TrimSpace(name) != "" {
				return fmt.Sprintf("%q says neither yes nor no; write delivery=yes, parted by |", strings.TrimSpace(part))
			}
		}
	}
	r.Attributes = out
	return ""
}

func getAttributes(r record.Record) string {
	var parts []string
	for _, id := range slices.Sorted(maps.Keys(r.Attributes)) {
		value := "no"
		if r.Attributes[id] {
			value = "yes"
		}
		parts = append(parts, id+"="+value)
	}
	return strings.Join(parts, " | ")
}

var kinds = map[string]record.Kind{
	"premises": record.Premises, "shop": record.Premises, "store": record.Premises, "storefront": record.Premises, "office": record.Premises,
	"goes to customers": record.GoesToCustomers, "service area": record.GoesToCustomers, "mobile": record.GoesToCustomers,
	"both": record.Both, "hybrid": record.Both, "premises and goes to customers": record.Both,
}

func setKind(r *record.Record, s string) string {
	k, ok := kinds[address.Fold(s)]
	if !ok {
		return fmt.Sprintf("%q is no kind of location; write premises, goes_to_customers or both", s)
	}
	r.Kind = k
	return ""
}

func setDegrees(at func(*record.Pin) *float64) func(*record.Record, string) string {
	return func(r *record.Record, s string) string {
		v, err := strconv.ParseFloat(s, 64)
		if err != nil || v != v {
			return fmt.Sprintf("%q is no number of degrees; write it with a point: 48.5123", s)
		}
		pin := record.Pin{}
		if r.Pin != nil {
			pin = *r.Pin
		}
		*at(&pin) = v
		r.Pin = &pin
		return ""
	}
}

func getDegrees(at func(*record.Pin) *float64) func(record.Record) string {
	return func(r record.Record) string {
		if r.Pin == nil {
			return ""
		}
		return strconv.FormatFloat(*at(r.Pin), 'f', -1, 64)
	}
}
