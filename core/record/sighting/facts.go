package sighting

import (
	"maps"
	"slices"
)

// Fact is one fact of a sighting.
type Fact struct {
	Key   string // as rulebooks name it; of a text "text." and which of ours, of a photo "photos"
	Empty func(Sighting) bool
	Take  func(to *Sighting, from Sighting) // takes it over
}

func one[T comparable](key string, at func(*Sighting) *T) Fact {
	var none T
	return Fact{key,
		func(s Sighting) bool { return *at(&s) == none },
		func(to *Sighting, from Sighting) { *at(to) = *at(&from) },
	}
}

func several[T any](key string, at func(*Sighting) *[]T) Fact {
	return Fact{key,
		func(s Sighting) bool { return len(*at(&s)) == 0 },
		func(to *Sighting, from Sighting) { *at(to) = slices.Clone(*at(&from)) },
	}
}

// named is one of several texts by their names.
func named(key, name string, at func(*Sighting) *map[string]string) Fact {
	return Fact{key,
		func(s Sighting) bool { return (*at(&s))[name] == "" },
		func(to *Sighting, from Sighting) {
			if v := (*at(&from))[name]; v != "" {
				out := maps.Clone(*at(to))
				if out == nil {
					out = map[string]string{}
				}
				out[name] = v
				*at(to) = out
			}
		},
	}
}

func texts(s *Sighting) *map[string]string { return &s.Texts }
func links(s *Sighting) *map[string]string { return &s.Links }

// Facts are all that a sighting can hold.
var Facts = []Fact{
	one("name", func(s *Sighting) *string { return &s.Name }),
	one("legal_name", func(s *Sighting) *string { return &s.LegalName }),
	several("former_names", func(s *Sighting) *[]string { return &s.FormerNames }),
	one("registration", func(s *Sighting) *string { return &s.Registration }),
	one("store_code", func(s *Sighting) *string { return &s.StoreCode }),
	one("opened", func(s *Sighting) *string { return &s.Opened }),
	{"state", func(s Sighting) bool { return s.State == "" }, func(to *Sighting, from Sighting) { to.State = from.State }},
	one("company_size", func(s *Sighting) *string { return &s.CompanySize }),
	one("company_kind", func(s *Sighting) *string { return &s.CompanyKind }),
	one("industry", func(s *Sighting) *string { return &s.Industry }),
	one("founded", func(s *Sighting) *string { return &s.Founded }),
	{"address", func(s Sighting) bool { return s.Address.Empty() }, func(to *Sighting, from Sighting) { to.Address = from.Address }},
	{"pin", func(s Sighting) bool { return s.Pin == nil }, func(to *Sighting, from Sighting) { to.Pin = from.Pin }},
	one("directions", func(s *Sighting) *string { return &s.Directions }),
	one("parking", func(s *Sighting) *string { return &s.Parking }),
	one("phone", func(s *Sighting) *string { return &s.Phone }),
	several("other_phones", func(s *Sighting) *[]string { return &s.OtherPhones }),
	one("email", func(s *Sighting) *string { return &s.Email }),
	one("website", func(s *Sighting) *string { return &s.Website }),
	one("category", func(s *Sighting) *string { return &s.Category }),
	several("other_categories", func(s *Sighting) *[]string { return &s.OtherCategories }),
	{"attributes", func(s Sighting) bool { return len(s.Attributes) == 0 }, func(to *Sighting, from Sighting) { to.Attributes = maps.Clone(from.Attributes) }},
	one("hours", func(s *Sighting) *string { return &s.Hours }),
	named("text.tagline", "tagline", texts),
	named("text.short", "short", texts),
	named("text.medium", "medium", texts),
	named("text.long", "long", texts),
	named("text.story", "story", texts),
	several("keywords", func(s *Sighting) *[]string { return &s.Keywords }),
	several("specialities", func(s *Sighting) *[]string { return &s.Specialities }),
	named("booking", "booking", links),
	named("ordering", "ordering", links),
	named("quote", "quote", links),
	named("menu", "menu", links),
	named("gift_card", "gift_card", links),
	named("app", "app", links),
	one("button", func(s *Sighting) *string { return &s.Button }),
	several("socials", func(s *Sighting) *[]Social { return &s.Socials }),
	several("videos", func(s *Sighting) *[]string { return &s.Videos }),
	several("offerings", func(s *Sighting) *[]Offering { return &s.Offerings }),
	several("payments", func(s *Sighting) *[]string { return &s.Payments }),
	several("team", func(s *Sighting) *[]string { return &s.Team }),
	several("licence", func(s *Sighting) *[]string { return &s.Licence }),
	several("areas", func(s *Sighting) *[]string { return &s.Areas }),
	several("photos", func(s *Sighting) *[]Photo { return &s.Photos }),
	{"reviews", func(s Sighting) bool { return s.Reviews == nil }, func(to *Sighting, from Sighting) { to.Reviews = from.Reviews }},
}
