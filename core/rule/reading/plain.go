package reading

import (
	"slices"
	"strings"
	"unicode"

	"golang.org/x/net/html"

	"uvent/core/fact/address"
	"uvent/core/record/sheet"
	"uvent/core/record/sighting"
)

// factOf is the fact that a column of a file holds, where rulebooks name it otherwise.
var factOf = map[string]string{
	"whole_address": "address", "street": "address", "town_line": "address", "phone_2": "other_phones", "phone_3": "other_phones",
	"opening_hours": "hours", "state_of_business": "state", "tagline": "text.tagline", "short_description": "text.short", "description": "text.medium",
	"long_description": "text.long", "story": "text.story", "booking_link": "booking", "ordering_link": "ordering", "quote_link": "quote",
	"menu_link": "menu", "gift_card_link": "gift_card", "app_link": "app", "social_profiles": "socials", "service_area": "areas",
	"registration_number": "registration",
}

// labels are what pages head their facts with, besides the names that columns have: folded, in English, French,
// German and Spanish.
var labels = map[string]string{}

func init() {
	for fact, names := range map[string]string{
		"address":  "where, find us, visit us, where to find us, where we are, ou nous trouver, so finden sie uns, donde estamos",
		"phone":    "call, call us, ring, ring us, by phone, anrufen, appelez nous, llamenos",
		"email":    "write, write to us, email us",
		"category": "what, kind, kind of business, type of place",
		"hours":    "when, opening hours this week, usual hours, regular hours, hours this week",
		"special_dates": "holiday hours, special hours, special opening hours, special dates, holidays, public holidays, upcoming closures, exceptional hours, " +
			"feiertage, sonderoffnungszeiten, horaires exceptionnels, jours feries, horario especial, dias festivos, festivos",
		"areas":        "serves, areas, we serve, we go to, towns served, service areas",
		"payments":     "pay by, we accept, accepts, accepted payments, payments accepted, payment options",
		"socials":      "elsewhere, follow us, follow, find us elsewhere, profiles, reseaux sociaux, redes sociales",
		"offerings":    "prices, price list, products and services, what we offer, products, tarifs, preise, precios",
		"attributes":   "amenities, features, facilities, attributes, equipements, ausstattung, servicios disponibles",
		"specialities": "known for, specialities, specialties",
		"team":         "people, our team, team, staff, who works here",
		"founded":      "founded in, in business since",
		"licence":      "license, licence number, license number, licences, licenses",
		"videos":       "films, film, video",
		"text.medium":  "about, about us, from the owner, description, a propos, uber uns, acerca de, sobre nosotros",
	} {
		for _, n := range strings.Split(names, ", ") {
			labels[n] = fact
		}
	}
}

// meant is the fact that a label heads; empty for none.
func meant(label string) string {
	folded := address.Fold(label)
	if fact := labels[folded]; fact != "" {
		return fact
	}
	key := sheet.Named(label)
	if fact := factOf[key]; fact != "" {
		return fact
	}
	if rest, ok := strings.CutPrefix(folded, "about "); ok && len(strings.Fields(rest)) <= 6 {
		return "text.medium"
	}
	return key
}

// named are facts that stand under labels; others of the names that columns have are none that a page would label so.
var named = []string{
	"address", "phone", "other_phones", "email", "website", "category", "other_categories", "hours", "special_dates", "areas", "payments", "socials",
	"offerings", "attributes", "specialities", "keywords", "team", "licence", "videos", "text.tagline", "text.short", "text.medium", "text.long",
	"text.story", "booking", "ordering", "quote", "menu", "gift_card", "app", "legal_name", "former_names", "registration", "store_code", "opened",
	"founded", "industry", "company_size", "company_kind", "directions", "parking", "pin", "state",
}

// plain reads a page as people see it: its heading, what stands under labels, its address, the number that it dials.
func (p page) plain(heading string) sighting.Sighting {
	s := sighting.Sighting{Name: heading}
	list := pairs(p.root)
	for _, l := range list { // where it is decides how numbers and dates are read
		if meant(l.label) == "address" {
			p.put(&s, "address", values(l))
		}
	}
	if s.Address.Empty() {
		shown(p.root, func(n *html.Node) bool {
			if element(n, "address") && s.Address.Empty() {
				p.put(&s, "address", []value{{textOf(n), n}})
			}
			return s.Address.Empty()
		})
	}
	if s.Address.Country != "" {
		p.in.Country, p.in.Region = s.Address.Country, s.Address.Region
	}
	var days, dates []string
	for _, l := range list {
		fact := meant(l.label)
		switch {
		case startsWithDay(l.label) && strings.ContainsFunc(l.label, unicode.IsDigit):
			dates = append(dates, l.label+": "+strings.ReplaceAll(l.text, "\n", " "))
		case startsWithDay(l.label):
			days = append(days, l.label+": "+strings.ReplaceAll(l.text, "\n", ", "))
		case fact == "hours":
			p.put(&s, "hours", values(l))
		case slices.Contains(named, fact) && fact != "special_dates":
			p.put(&s, fact, values(l))
		}
	}
	if week, ok := p.weekOf(days); ok {
		s.Hours = week
	}
	for _, l := range list {
		if meant(l.label) == "special_dates" {
			p.put(&s, "special_dates", values(l))
		}
	}
	if len(dates) > 0 {
		p.put(&s, "special_dates", []value{{strings.Join(dates, "\n"), nil}})
	}
	p.loose(&s)
	return s
}

func values(l pair) (out []value) {
	text := l.text
	for i, n := range l.nodes {
		if i > 0 {
			text = textOf(n)
		} else if len(l.nodes) > 1 {
			text = textOf(n)
		}
		out = append(out, value{text, n})
	}
	return out
}

// startsWithDay reports whether a label begins with a day of the week.
func startsWithDay(label string) bool {
	words := strings.FieldsFunc(label, func(r rune) bool { return !unicode.IsLetter(r) })
	if len(words) == 0 {
		return false
	}
	if weekday(words[0]) >= 0 {
		return true
	}
	return slices.Contains([]string{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"}, sheet.Named(words[0]))
}

// siteWords are how links to a business’s own site are called.
var siteWords = []string{"website", "visit website", "our website", "site web", "webseite", "sitio web", "web site"}

// loose takes what stands under no label and can mean one thing alone.
func (p page) loose(s *sighting.Sighting) {
	shown(p.root, func(n *html.Node) bool {
		text := ""
		if n.Type == html.ElementNode && small(n) && !anyBlock(n) {
			text = textOf(n)
		}
		href := attribute(n, "href")
		switch {
		case element(n, "a") && strings.HasPrefix(href, "tel:"):
			p.put(s, "phone", []value{{href, n}})
		case element(n, "a") && strings.HasPrefix(href, "mailto:"):
			p.put(s, "email", []value{{text, n}})
		case element(n, "a") && slices.Contains(siteWords, address.Fold(text)):
			p.put(s, "website", []value{{text, n}})
		case element(n, "time") && s.Hours == "" && startsWithDay(attribute(n, "datetime")):
			p.put(s, "hours", []value{{attribute(n, "datetime"), n}})
		case element(n, "img"):
			if to := p.link(attribute(n, "src")); to != "" && !tiny(n) {
				s.Photos = append(s.Photos, p.pictured([]value{{to, n}})...)
			}
		case s.State == "" && text != "" && len(text) < 60 && element(n, "p", "div", "span", "strong", "b", "em", "li", "h2", "h3"):
			if state := stateOf(text); state != "open" && state != "opening_soon" {
				s.State = state
			}
		}
		return true
	})
}

// tiny reports whether a picture is a sign rather than a photo.
func tiny(n *html.Node) bool {
	for _, side := range []string{"width", "height"} {
		if v := attribute(n, side); len(v) > 0 && len(v) < 3 && strings.Trim(v, "0123456789") == "" && v < "64" || len(v) == 1 {
			return true
		}
	}
	return strings.HasSuffix(strings.ToLower(attribute(n, "src")), ".svg")
}
