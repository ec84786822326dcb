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
	Key     string   // its name in a file that we write
	Title   string   // its name for people
	path    string   // of the fact, as record.Problem names it
	aliases []string // other names it is found under
	set     func(*record.Record, string) string
	get     func(record.Record) string
}

func text(key, title, path string, at func(*record.Record) *string, aliases ...string) Field {
	return Field{key, title, path, aliases,
		func(r *record.Record, s string) string { *at(r) = s; return "" },
		func(r record.Record) string { return *at(&r) },
	}
}

// Fields are the columns that are known, in the order in which we write them.
var Fields = slices.Concat(
	[]Field{
		{Key: ClientField, Title: "Client", path: "client", aliases: []string{"business", "company", "customer", "account"}},
		text(
			"store_code",
			"Store code",
			"store_code",
			func(r *record.Record) *string { return &r.StoreCode },
			"code",
			"store",
			"store id",
			"id",
			"location id",
			"branch code",
		),
		text("label", "Label", "label", func(r *record.Record) *string { return &r.Label }, "location", "location name", "branch", "shop", "short name"),
		text("name", "Name", "name", func(r *record.Record) *string { return &r.Name }, "trading name", "business name", "display name", "title"),
		text("legal_name", "Legal name", "legal_name", func(r *record.Record) *string { return &r.LegalName }, "registered name"),
		list("former_names", "Former names", "former_names.0", func(r *record.Record) *[]string { return &r.FormerNames }, "old names", "previous names"),
		{Key: "kind", Title: "Kind of location", path: "kind", aliases: []string{"type", "kind of location"}, set: setKind,
			get: func(r record.Record) string { return string(r.Kind) }},
	},
	addressFields("", "", "address", func(r *record.Record) *address.Address { return &r.Address }),
	[]Field{
		text(
			"mailing_contact",
			"Mailing contact",
			"mailing.contact",
			func(r *record.Record) *string { return &r.Mailing.Contact },
			"contact name",
			"attention",
			"attn",
			"contact",
		),
	},
	addressFields("mailing_", "Mailing ", "mailing.address", func(r *record.Record) *address.Address { return &r.Mailing.Address }),
	[]Field{
		{Key: "latitude", Title: "Latitude", path: "pin.latitude", aliases: []string{"lat"}, set: setDegrees(func(p *record.Pin) *float64 { return &p.Latitude }),
			get: getDegrees(func(p *record.Pin) *float64 { return &p.Latitude })},
		{
			Key:     "longitude",
			Title:   "Longitude",
			path:    "pin.longitude",
			aliases: []string{"lng", "lon", "long"},
			set:     setDegrees(func(p *record.Pin) *float64 { return &p.Longitude }),
			get:     getDegrees(func(p *record.Pin) *float64 { return &p.Longitude }),
		},
	},
	phoneFields(),
	[]Field{
		text("email", "Email", "email", func(r *record.Record) *string { return &r.Email }, "e-mail", "mail", "email address"),
		text("website", "Website", "website", func(r *record.Record) *string { return &r.Website }, "url", "web", "site", "homepage"),
		{Key: "category", Title: "Category", path: "category", aliases: []string{"main category", "primary category", "trade"},
			set: func(r *record.Record, s string) string { r.Category = s; return "" },
			get: func(r record.Record) string { return category.Name(r.Category) }},
		list(
			"other_categories",
			"Other categories",
			"other_categories.0",
			func(r *record.Record) *[]string { return &r.Others },
			"additional categories",
			"secondary categories",
		),
		{Key: "attributes", Title: "Attributes", path: "attributes", set: setAttributes, get: getAttributes},
		text("opening_hours", "Opening hours", "hours", func(r *record.Record) *string { return &r.Hours }, "hours", "business hours", "opening times", "open"),
		text("time_zone", "Time zone", "zone", func(r *record.Record) *string { return &r.Zone }, "zone", "timezone", "tz"),
		text("state_of_business", "State of business", "state.kind", func(r *record.Record) *string { return (*string)(&r.State.Kind) }, "status"),
		text("closed_until", "Closed until", "state.until", func(r *record.Record) *string { return &r.State.Until }),
		text("moved_to", "Moved to", "state.to", func(r *record.Record) *string { return &r.State.To }),
		text("opened", "Opened", "opened", func(r *record.Record) *string { return &r.Opened }, "opening date", "open since"),
		text("directions", "Directions", "directions", func(r *record.Record) *string { return &r.Directions }),
		text("parking", "Parking", "parking", func(r *record.Record) *string { return &r.Parking }),
		text("tagline", "Tagline", "words.tagline", func(r *record.Record) *string { return &r.Words.Tagline }, "slogan"),
		text("short_description", "Short description", "words.short", func(r *record.Record) *string { return &r.Words.Short }),
		text("description", "Description", "words.medium", func(r *record.Record) *string { return &r.Words.Medium }, "about"),
		text("long_description", "Long description", "words.long", func(r *record.Record) *string { return &r.Words.Long }),
		text("story", "Story", "words.story", func(r *record.Record) *string { return &r.Words.Story }),
		list("keywords", "Keywords", "words.keywords", func(r *record.Record) *[]string { return &r.Words.Keywords }),
		list("specialities", "Specialities", "words.specialities", func(r *record.Record) *[]string { return &r.Words.Specialities }, "specialties"),
		text("booking_link", "Booking link", "links.booking", func(r *record.Record) *string { return &r.Links.Booking }, "booking url", "appointment link"),
		text("ordering_link", "Ordering link", "links.ordering", func(r *record.Record) *string { return &r.Links.Ordering }, "ordering url", "order link"),
		text("quote_link", "Quote link", "links.quote", func(r *record.Record) *string { return &r.Links.Quote }),
		text("menu_link", "Menu link", "links.menu", func(r *record.Record) *string { return &r.Links.Menu }, "menu url", "menu"),
		text("gift_card_link", "Gift card link", "links.gift_card", func(r *record.Record) *string { return &r.Links.GiftCard }),
		text("app_link", "App link", "links.app", func(r *record.Record) *string { return &r.Links.App }),
		{Key: "social_profiles", Title: "Social profiles", path: "socials", aliases: []string{"socials", "social links"}, set: setSocials, get: getSocials},
		list("videos", "Videos", "videos", func(r *record.Record) *[]string { return &r.Videos }),
		list("payments", "Payments", "payments.0", func(r *record.Record) *[]string { return &r.Payments }, "payment kinds", "ways to pay"),
		{Key: "service_area", Title: "Service area", path: "area.towns", aliases: []string{"service area towns", "areas served"}, set: setTowns, get: getTowns},
		text("registration_number", "Registration number", "company.registration", func(r *record.Record) *string { return &r.Company.Registration }),
		text("company_size", "Company size", "company.size", func(r *record.Record) *string { return &r.Company.Size }, "employees"),
		text("company_kind", "Kind of company", "company.kind", func(r *record.Record) *string { return &r.Company.Kind }),
		text("industry", "Industry", "company.industry", func(r *record.Record) *string { return &r.Company.Industry }),
		text("founded", "Founded", "company.founded", func(r *record.Record) *string { return &r.Company.Founded }, "year founded"),
		list("domains", "Domains", "company.domains", func(r *record.Record) *[]string { return &r.Company.Domains }),
	},
)

func addressFields(prefix, title, path string, at func(*record.Record) *address.Address) []Field {
	field := func(key, name string, part func(*address.Address) *string, aliases ...string) Field {
		for i := range aliases {
			aliases[i] = strings.ToLower(title) + aliases[i]
		}
		f := text(prefix+key, strings.TrimSpace(title+name), path+"."+key, func(r *record.Record) *string { return part(at(r)) }, aliases...)
		if title != "" {
			f.Title = title + strings.ToLower(name)
		}
		return f
	}
	return []Field{
		field("street", "Street", func(a *address.Address) *string { return &a.Street }, "address", "street address", "address line 1", "address 1"),
		field("unit", "Unit", func(a *address.Address) *string { return &a.Unit }, "suite", "address line 2", "address 2"),
		field("locality", "Town", func(a *address.Address) *string { return &a.Locality }, "city", "town", "place"),
		field("region", "Region", func(a *address.Address) *string { return &a.Region }, "state", "province", "state province"),
		field("postal_code", "Postal code", func(a *address.Address) *string { return &a.PostalCode }, "zip", "zip code", "postcode", "postal"),
		field("country", "Country", func(a *address.Address) *string { return &a.Country }, "country code"),
	}
}

func phoneFields() (out []Field) {
	for i := range record.MostPhones {
		key, title, also := "phone", "Phone", []string{"telephone", "tel", "phone number", "main phone", "primary phone", "phone 1"}
		if i > 0 {
			key, title, also = fmt.Sprintf("phone_%d", i+1), fmt.Sprintf("Phone %d", i+1), nil
		}
		path := fmt.Sprintf("phones.%d.e164", i)
		out = append(out,
			Field{key, title, path, also,
				func(r *record.Record, s string) string { phoneAt(r, i).E164 = s; return "" },
				func(r record.Record) string {
					if i < len(r.Phones) {
						return r.Phones[i].E164
					}
					return ""
				}},
			Field{key + "_can", title + " can", path, nil,
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
func list(key, title, path string, at func(*record.Record) *[]string, aliases ...string) Field {
	return Field{key, title, path, aliases,
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

// Match finds the field of each column of a header by its name; one that is not
// known, or known already from a column before it, has none.
func Match(header []string) []string {
	out := make([]string, len(header))
	for i, h := range header {
		name := address.Fold(h)
		for _, f := range Fields {
			if !slices.Contains(out, f.Key) &&
				(name == address.Fold(f.Key) || name == address.Fold(f.Title) || slices.ContainsFunc(f.aliases, func(a string) bool { return address.Fold(a) == name })) {
				out[i] = f.Key
				break
			}
		}
	}
	return out
}

func field(key string) (Field, bool) {
	i := slices.IndexFunc(Fields, func(f Field) bool { return f.Key == key })
	if i < 0 {
		return Field{}, false
	}
	return Fields[i], true
}

// CheckColumns reports a choice of columns that cannot be used.
func CheckColumns(header, columns []string) error {
	if len(columns) != len(header) {
		return &Error{0, fmt.Sprintf("%d columns are matched; the file has %d", len(columns), len(header))}
	}
	for i, key := range columns {
		if _, known := field(key); key != "" && !known {
			return &Error{0, fmt.Sprintf("%q is no fact that a column can hold", key)}
		}
		if key != "" && slices.Contains(columns[:i], key) {
			return &Error{0, fmt.Sprintf("two columns are matched with %q; leave one of them out", key)}
		}
	}
	return nil
}
