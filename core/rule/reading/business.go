package reading

import (
	"cmp"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"uvent/core/fact/address"
	"uvent/core/fact/contact"
	"uvent/core/record/record"
	"uvent/core/record/sighting"
)

// noPlace are types of things that are no place of business.
var noPlace = []string{
	"WebSite", "WebPage", "BreadcrumbList", "Person", "PostalAddress", "GeoCoordinates", "Review", "Rating", "AggregateRating", "Offer", "Article",
	"NewsArticle", "BlogPosting", "ImageObject", "VideoObject", "SearchAction", "ItemList", "Event", "Product", "ContactPoint", "OfferCatalog",
	"FAQPage", "Question", "Answer", "Country", "City", "JobPosting", "Recipe", "CollectionPage", "SearchResultsPage", "ListItem", "Menu",
}

// beside are properties by which an item names businesses that are not what it is about.
var beside = []string{
	"publisher", "author", "creator", "provider", "brand", "parentOrganization", "subOrganization", "department", "branchOf", "memberOf", "sponsor",
	"isRelatedTo", "isSimilarTo", "containedInPlace", "containsPlace", "worksFor", "seller", "itemReviewed", "amenityFeature", "location", "organizer",
	"copyrightHolder", "sourceOrganization", "affiliation", "member", "itemListElement",
}

// placeness is how much an item says that only a place of business has; 0: it is none.
func placeness(i *item) (n int) {
	if i.text("name", "legalName") == "" || i.is(noPlace...) {
		return 0
	}
	for property, counts := range map[string]int{
		"address": 3, "openingHoursSpecification": 3, "openingHours": 3, "telephone": 2, "geo": 2, "priceRange": 1, "areaServed": 1, "url": 1,
	} {
		if len(i.props[property]) > 0 {
			n += counts
		}
	}
	switch { // who runs the page describes itself, too
	case len(i.types) == 0 || i.is("Organization", "Corporation", "OnlineBusiness", "NewsMediaOrganization"):
		n -= 2
	default:
		n++
	}
	return max(0, n)
}

// businesses are the places that the items of a page describe, those that are named beside another left out.
func businesses(items []*item) (out []*item) {
	aside := map[*item]bool{}
	for _, i := range items {
		for _, property := range beside {
			for _, o := range i.items(property) {
				aside[o] = true
			}
		}
	}
	for _, i := range items {
		inside := i.node != nil && insideHidden(i.node)
		if !aside[i] && !inside && placeness(i) > 0 {
			out = append(out, i)
		}
	}
	return out
}

// about is the one of some businesses that a page is about: the one it is headed by, or the one that it says most of.
// It is nil where several are told alike, as in a list of results.
func about(list []*item, heading string) *item {
	var best *item
	most, names := 0, map[string]bool{}
	for _, i := range list {
		name := address.Fold(i.text("name", "legalName"))
		names[name] = true
		n := placeness(i)
		if name != "" && strings.Contains(" "+address.Fold(heading)+" ", " "+name+" ") {
			n += 20
		}
		if n > most {
			best, most = i, n
		}
	}
	if len(names) > 1 && most < 20 {
		return nil
	}
	return best
}

// business reads one item. where is what is known of the country, today the date by which dates without a year are meant.
func (p page) business(i *item) sighting.Sighting {
	s := sighting.Sighting{Name: oneLine(i.text("name", "legalName")), Email: strings.TrimPrefix(i.text("email"), "mailto:")}
	s.LegalName = oneLine(i.text("legalName"))
	s.Address = p.address(i)
	country := cmp.Or(s.Address.Country, p.in.Country)
	phones := i.texts("telephone")
	for _, c := range i.items("contactPoint") {
		phones = append(phones, c.texts("telephone")...)
	}
	s.Phone, s.OtherPhones = numbers(phones, country)
	s.Website = p.link(i.text("url"))
	if s.Website != "" && p.same(s.Website) { // its page here, not its own site
		s.Website = ""
	}
	s.Category, s.OtherCategories = p.kinds(i)
	schedule, text := p.times(i)
	if s.Hours = text; text == "" {
		s.Hours = schedule.String()
	}
	if g := i.items("geo"); len(g) > 0 {
		s.Pin = pin(g[0].text("latitude"), g[0].text("longitude"))
	} else {
		s.Pin = pin(i.text("latitude"), i.text("longitude"))
	}
	s.FormerNames = i.texts("alternateName")
	s.StoreCode, s.Founded = i.text("branchCode"), i.text("foundingDate")
	s.Keywords = parted(i.texts("keywords"))
	s.Specialities = parted(i.texts("knowsAbout"))
	s.Texts = filled(map[string]string{"tagline": i.text("slogan"), "short": i.text("disambiguatingDescription"), "medium": i.text("description")})
	s.Payments = parted(i.texts("paymentAccepted"))
	for _, a := range i.texts("areaServed") {
		s.Areas = append(s.Areas, oneLine(a))
	}
	for _, u := range i.texts("sameAs") {
		if to := p.link(u); to != "" {
			s.Socials = append(s.Socials, sighting.Social{URL: to})
		}
	}
	for _, f := range i.items("amenityFeature", "additionalProperty") {
		if name := f.text("name"); name != "" {
			if s.Attributes == nil {
				s.Attributes = map[string]bool{}
			}
			s.Attributes[oneLine(name)] = !slices.Contains([]string{"false", "no", "0"}, strings.ToLower(f.text("value")))
		}
	}
	s.Links = p.actions(i)
	for _, c := range i.items("hasOfferCatalog", "makesOffer", "hasMenuSection") {
		s.Offerings = append(s.Offerings, offerings(c, "", 0)...)
	}
	for _, e := range i.items("employee") {
		s.Team = append(s.Team, oneLine(e.text("name")))
	}
	s.Photos = p.pictures(i)
	if r := i.items("aggregateRating"); len(r) > 0 {
		if n, err := strconv.Atoi(cmp.Or(r[0].text("reviewCount"), r[0].text("ratingCount"))); err == nil && n >= 0 {
			s.Reviews = &n
		}
	}
	return s
}

// address is where a place is: in parts, or in one text.
func (p page) address(i *item) (a address.Address) {
	if list := i.items("address"); len(list) > 0 {
		of := list[0]
		a = address.Address{
			Street:     strings.Trim(strings.ReplaceAll(textLines(of.texts("streetAddress")), "\n", ", "), ", "),
			Unit:       oneLine(of.text("extendedAddress")),
			Locality:   oneLine(of.text("addressLocality")),
			Region:     oneLine(of.text("addressRegion")),
			PostalCode: oneLine(of.text("postalCode")),
			Country:    oneLine(of.text("addressCountry")),
		}
	} else {
		a = p.readAddress(i.text("address"))
	}
	return p.settled(a)
}

func textLines(list []string) string {
	lines := []string{}
	for _, t := range list {
		for _, l := range strings.Split(t, "\n") {
			if l = oneLine(strings.Trim(l, ", ")); l != "" {
				lines = append(lines, l)
			}
		}
	}
	return strings.Join(lines, "\n")
}

// settled is an address with its country and region by their codes, and the unit apart from the street.
func (p page) settled(a address.Address) address.Address {
	if code, ok := address.Country(a.Country); ok {
		a.Country = code
	}
	if a.Country == "" { // which the form of the postal code may tell, or the region beside it
		read, _ := address.Read(a.Line(), "")
		a.Country = read.Country
	}
	country := cmp.Or(a.Country, p.in.Country)
	if code, ok := address.Region(country, a.Region); ok {
		a.Region = code
	}
	if a.Unit == "" {
		a.Street, a.Unit = unitApart(a.Street)
	}
	return a
}

// unitForm is a street with a unit behind it, told by its word.
var unitForm = regexp.MustCompile(
	`(?i)^(.*\pL.*?),?\s+((?:(?:suite|ste|unit|apt|apartment|floor|fl|building|bldg|room|rm)\b\.?\s*#?\s*[\pL\d-]+|` +
		`#\s*[\pL\d-]+|\d+(?:st|nd|rd|th) floor|(?:ground|first|second|third|upper|lower) floor)\b.*)$`,
)

// unitApart takes a unit off the end of a street.
func unitApart(street string) (line, unit string) {
	if m := unitForm.FindStringSubmatch(street); m != nil {
		return strings.TrimRight(m[1], ", "), m[2]
	}
	return street, ""
}

// numbers are phones in E.164 as far as they can be read, the first apart.
func numbers(phones []string, country string) (main string, others []string) {
	for _, text := range phones {
		text = strings.TrimPrefix(oneLine(text), "tel:")
		if read := contact.ReadPhone(text, country); read.Valid {
			text = read.E164
		}
		switch {
		case text == "" || text == main || slices.Contains(others, text):
		case main == "":
			main = text
		default:
			others = append(others, text)
		}
	}
	return main, others
}

// kinds are a place's categories: as they are named, or else the type that it is described by.
func (p page) kinds(i *item) (main string, others []string) {
	for _, property := range []string{"additionalType", "category"} {
		for _, t := range i.texts(property) {
			if strings.Contains(t, "://") {
				t = spaced(short(t))
			}
			for _, one := range parted([]string{t}) {
				if main == "" {
					main = one
				} else if one != main && !slices.Contains(others, one) {
					others = append(others, one)
				}
			}
		}
	}
	for _, t := range i.types {
		if main == "" && !slices.Contains([]string{"LocalBusiness", "Organization", "Place", "Store", "ProfessionalService", "Corporation", "Thing"}, t) {
			main = spaced(t)
		}
	}
	return main, others
}

// spaced writes the name of a type in words: BikeStore is Bike store.
func spaced(name string) string {
	var b strings.Builder
	for n, r := range name {
		if n > 0 && unicode.IsUpper(r) {
			b.WriteByte(' ')
			r = unicode.ToLower(r)
		}
		b.WriteRune(r)
	}
	return b.String()
}

// parted are lists that are written in one text.
func parted(texts []string) (out []string) {
	for _, t := range texts {
		for _, one := range strings.FieldsFunc(t, func(r rune) bool {
			return r == ',' || r == ';' || r == '\n' || r == '|' || r == '•' || r == '·' || r == '\t'
		}) {
			if one = oneLine(one); one != "" && !slices.Contains(out, one) {
				out = append(out, one)
			}
		}
	}
	return out
}

func filled(m map[string]string) map[string]string {
	for k, v := range m {
		if m[k] = strings.TrimSpace(v); m[k] == "" {
			delete(m, k)
		}
	}
	if len(m) == 0 {
		return nil
	}
	return m
}

func pin(latitude, longitude string) *record.Pin {
	lat, errLat := strconv.ParseFloat(strings.TrimSpace(latitude), 64)
	lng, errLng := strconv.ParseFloat(strings.TrimSpace(longitude), 64)
	if errLat != nil || errLng != nil || !(lat >= -90 && lat <= 90 && lng >= -180 && lng <= 180) || lat == 0 && lng == 0 {
		return nil
	}
	return &record.Pin{Latitude: lat, Longitude: lng}
}

// actions are links for one purpose (https://schema.org/potentialAction).
func (p page) actions(i *item) map[string]string {
	out := map[string]string{"menu": p.link(i.text("hasMenu", "menu"))}
	for _, a := range i.items("potentialAction") {
		key := map[string]string{
			"ReserveAction": "booking", "BookAction": "booking", "ScheduleAction": "booking", "OrderAction": "ordering", "BuyAction": "ordering", "QuoteAction": "quote",
		}[append(a.types, "")[0]]
		if a.is("ViewAction") && strings.EqualFold(a.text("name"), "menu") {
			key = "menu"
		}
		if key != "" && out[key] == "" {
			out[key] = p.link(a.text("target", "url"))
		}
	}
	return filled(out)
}

func offerings(i *item, section string, depth int) (out []sighting.Offering) {
	if depth > mostDepth {
		return nil
	}
	inner := i.items("itemListElement", "hasMenuItem", "hasMenuSection", "item")
	if len(inner) > 0 {
		title := section
		if !i.is("ListItem") && depth > 0 {
			title = oneLine(i.text("name"))
		}
		for _, o := range inner {
			out = append(out, offerings(o, title, depth+1)...)
		}
		return out
	}
	name := i.text("name")
	for _, o := range i.items("itemOffered") {
		name = cmp.Or(name, o.text("name"))
	}
	if name = oneLine(name); name == "" {
		return nil
	}
	price := oneLine(i.text("price"))
	for _, o := range i.items("offers", "priceSpecification") {
		price = cmp.Or(price, oneLine(o.text("price")))
	}
	return []sighting.Offering{{Section: section, Name: name, Price: price}}
}

// pictures are the photos that an item names.
func (p page) pictures(i *item) (out []sighting.Photo) {
	for _, property := range []string{"logo", "image", "photo", "primaryImageOfPage"} {
		for _, v := range i.props[property] {
			at, _ := v.(string)
			if o, ok := v.(*item); ok {
				at = o.text("contentUrl", "url", "@id")
			}
			place := ""
			if property == "logo" {
				place = "logo"
			}
			if to := p.link(at); to != "" && !slices.ContainsFunc(out, func(h sighting.Photo) bool { return h.URL == to }) {
				out = append(out, sighting.Photo{URL: to, Place: place})
			}
		}
	}
	return out
}
