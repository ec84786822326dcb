package sighting

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"uvent/core/fact/hours"
	"uvent/core/record/record"
)

// column is a fact by the name that it has as a column of a file (docs/csv.md).
type column struct {
	key string
	get func(Sighting) string
	set func(*Sighting, string)
}

// between parts the texts of a list in one cell.
const between = " | "

func text(key string, at func(*Sighting) *string) column {
	return column{key: key, get: func(s Sighting) string { return *at(&s) }, set: func(s *Sighting, v string) { *at(s) = v }}
}

func list(key string, at func(*Sighting) *[]string) column {
	return column{
		key: key,
		get: func(s Sighting) string { return strings.Join(*at(&s), between) },
		set: func(s *Sighting, v string) { *at(s) = split(v) },
	}
}

func split(v string) (out []string) {
	for _, one := range strings.Split(v, "|") {
		if one = strings.TrimSpace(one); one != "" {
			out = append(out, one)
		}
	}
	return out
}

func inMap(key, name string, at func(*Sighting) *map[string]string) column {
	return column{
		key: key,
		get: func(s Sighting) string { return (*at(&s))[name] },
		set: func(s *Sighting, v string) {
			if *at(s) == nil {
				*at(s) = map[string]string{}
			}
			(*at(s))[name] = v
		},
	}
}

var columns = []column{
	text("name", func(s *Sighting) *string { return &s.Name }),
	text("legal_name", func(s *Sighting) *string { return &s.LegalName }),
	list("former_names", func(s *Sighting) *[]string { return &s.FormerNames }),
	text("store_code", func(s *Sighting) *string { return &s.StoreCode }),
	text("street", func(s *Sighting) *string { return &s.Address.Street }),
	text("unit", func(s *Sighting) *string { return &s.Address.Unit }),
	text("locality", func(s *Sighting) *string { return &s.Address.Locality }),
	text("region", func(s *Sighting) *string { return &s.Address.Region }),
	text("postal_code", func(s *Sighting) *string { return &s.Address.PostalCode }),
	text("country", func(s *Sighting) *string { return &s.Address.Country }),
	degrees("latitude", func(p *record.Pin) *float64 { return &p.Latitude }),
	degrees("longitude", func(p *record.Pin) *float64 { return &p.Longitude }),
	text("phone", func(s *Sighting) *string { return &s.Phone }),
	phone("phone_2", 0), phone("phone_3", 1),
	text("email", func(s *Sighting) *string { return &s.Email }),
	text("website", func(s *Sighting) *string { return &s.Website }),
	text("category", func(s *Sighting) *string { return &s.Category }),
	list("other_categories", func(s *Sighting) *[]string { return &s.OtherCategories }),
	{key: "attributes", get: getAttributes, set: setAttributes},
	{key: "state_of_business", get: func(s Sighting) string { return string(s.State) }, set: func(s *Sighting, v string) { s.State = record.StateKind(v) }},
	text("opened", func(s *Sighting) *string { return &s.Opened }),
	text("directions", func(s *Sighting) *string { return &s.Directions }),
	text("parking", func(s *Sighting) *string { return &s.Parking }),
	inMap("tagline", "tagline", texts), inMap("short_description", "short", texts), inMap("description", "medium", texts),
	inMap("long_description", "long", texts), inMap("story", "story", texts),
	list("keywords", func(s *Sighting) *[]string { return &s.Keywords }),
	list("specialities", func(s *Sighting) *[]string { return &s.Specialities }),
	inMap("booking_link", "booking", links), inMap("ordering_link", "ordering", links), inMap("quote_link", "quote", links),
	inMap("menu_link", "menu", links), inMap("gift_card_link", "gift_card", links), inMap("app_link", "app", links),
	{key: "social_profiles", get: getSocials, set: setSocials},
	list("videos", func(s *Sighting) *[]string { return &s.Videos }),
	list("payments", func(s *Sighting) *[]string { return &s.Payments }),
	list("service_area", func(s *Sighting) *[]string { return &s.Areas }),
	text("registration_number", func(s *Sighting) *string { return &s.Registration }),
	text("company_size", func(s *Sighting) *string { return &s.CompanySize }),
	text("company_kind", func(s *Sighting) *string { return &s.CompanyKind }),
	text("industry", func(s *Sighting) *string { return &s.Industry }),
	text("founded", func(s *Sighting) *string { return &s.Founded }),
}

// hoursColumn holds the usual week, and in what is read the special dates too.
const hoursColumn = "opening_hours"

// Columns are what was shown by the names of columns (docs/csv.md); the hours without special dates, which Dates are.
func (s Sighting) Columns() map[string]string {
	out := map[string]string{}
	for _, c := range columns {
		if v := c.get(s); v != "" {
			out[c.key] = v
		}
	}
	if schedule, ok := s.Schedule(); ok {
		for _, d := range schedule.Specials() {
			schedule = schedule.WithoutSpecial(d.From, d.To)
		}
		if text := schedule.String(); text != "" {
			out[hoursColumn] = text
		}
	} else if s.Hours != "" {
		out[hoursColumn] = s.Hours
	}
	return out
}

// Dates are the special dates that were shown.
func (s Sighting) Dates() []hours.Special {
	schedule, _ := s.Schedule()
	return schedule.Specials()
}

// FromColumns is what was shown, by the names of columns. The error names one that is none.
func FromColumns(facts map[string]string) (s Sighting, err error) {
	for _, key := range slices.Sorted(maps.Keys(facts)) {
		i := slices.IndexFunc(columns, func(c column) bool { return c.key == key })
		switch {
		case key == hoursColumn:
			s.Hours = facts[key]
		case i < 0:
			return s, fmt.Errorf("%q is no fact that a page can show", key)
		case facts[key] != "":
			columns[i].set(&s, facts[key])
		}
	}
	return s, nil
}

func phone(key string, n int) column {
	return column{
		key: key,
		get: func(s Sighting) string {
			if n < len(s.OtherPhones) {
				return s.OtherPhones[n]
			}
			return ""
		},
		set: func(s *Sighting, v string) { s.OtherPhones = append(s.OtherPhones, v) },
	}
}

func degrees(key string, at func(*record.Pin) *float64) column {
	return column{
		key: key,
		get: func(s Sighting) string {
			if s.Pin == nil {
				return ""
			}
			return strconv.FormatFloat(*at(s.Pin), 'f', -1, 64)
		},
		set: func(s *Sighting, v string) {
			if n, err := strconv.ParseFloat(v, 64); err == nil {
				if s.Pin == nil {
					s.Pin = &record.Pin{}
				}
				*at(s.Pin) = n
			}
		},
	}
}

func getAttributes(s Sighting) string {
	var parts []string
	for _, name := range slices.Sorted(maps.Keys(s.Attributes)) {
		parts = append(parts, name+map[bool]string{true: "=yes", false: "=no"}[s.Attributes[name]])
	}
	return strings.Join(parts, between)
}

func setAttributes(s *Sighting, v string) {
	s.Attributes = map[string]bool{}
	for _, part := range split(v) {
		name, is, _ := strings.Cut(part, "=")
		s.Attributes[strings.TrimSpace(name)] = strings.TrimSpace(is) != "no"
	}
}

func getSocials(s Sighting) string {
	var parts []string
	for _, p := range s.Socials {
		parts = append(parts, strings.TrimSpace(p.Name+" "+p.URL))
	}
	return strings.Join(parts, between)
}

func setSocials(s *Sighting, v string) {
	s.Socials = nil
	for _, part := range split(v) {
		part = strings.TrimSuffix(part, " (hidden)")
		name, url := "", part
		if i := strings.LastIndex(part, " "); i >= 0 {
			name, url = part[:i], part[i+1:]
		}
		s.Socials = append(s.Socials, Social{Name: name, URL: url})
	}
}

// factsOf are the facts that a column holds, where they are called otherwise.
var factsOf = map[string][]string{
	"street": {"address"}, "unit": {"address"}, "locality": {"address"}, "region": {"address"}, "postal_code": {"address"}, "country": {"address"},
	"latitude": {"pin"}, "longitude": {"pin"}, "phone_2": {"other_phones"}, "phone_3": {"other_phones"}, hoursColumn: {"hours", "special_dates"},
	"state_of_business": {"state"}, "tagline": {"text.tagline"}, "short_description": {"text.short"}, "description": {"text.medium"},
	"long_description": {"text.long"}, "story": {"text.story"}, "booking_link": {"booking"}, "ordering_link": {"ordering"}, "quote_link": {"quote"},
	"menu_link": {"menu"}, "gift_card_link": {"gift_card"}, "app_link": {"app"}, "social_profiles": {"socials"}, "service_area": {"areas"},
	"registration_number": {"registration"},
}

// FactsOf are the facts, as rulebooks name them, that a column of a file holds.
func FactsOf(key string) []string {
	if of, ok := factsOf[key]; ok {
		return of
	}
	return []string{key}
}
