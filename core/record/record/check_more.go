package record

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"

	"uvent/core/fact/contact"
)

// more tidies and checks the facts of more.go.
func (c *checker) more(r *Record) {
	r.Area = c.area(r.Area)
	for _, l := range []struct {
		path string
		text *string
	}{
		{"links.booking", &r.Links.Booking}, {"links.ordering", &r.Links.Ordering}, {"links.quote", &r.Links.Quote},
		{"links.menu", &r.Links.Menu}, {"links.gift_card", &r.Links.GiftCard}, {"links.app", &r.Links.App},
	} {
		c.link(l.path, l.text)
	}
	r.Socials = each(c, "socials", r.Socials, MostSocials, func(path string, s *Social) bool {
		c.line(path+".name", &s.Name)
		c.link(path+".url", &s.URL)
		if s.Name != "" && s.URL == "" {
			c.add(path+".url", "%s has no address; paste the profile’s, or take the row out", s.Name)
		}
		return s.Name != "" || s.URL != ""
	})
	r.Videos = each(c, "videos", r.Videos, MostListed, func(path string, v *string) bool {
		c.link(path, v)
		return *v != ""
	})
	c.line("tags.medium", &r.Tags.Medium)
	c.line("tags.campaign", &r.Tags.Campaign)
	r.Payments = c.payments(r.Payments)
	r.Licences = each(c, "licences", r.Licences, MostListed, func(path string, l *Licence) bool {
		c.line(path+".name", &l.Name)
		c.line(path+".number", &l.Number)
		c.line(path+".authority", &l.Authority)
		c.when(path+".until", &l.Until, "2006-01-02")
		return *l != Licence{}
	})
	r.Team = each(c, "team", r.Team, MostTeam, func(path string, m *Member) bool { return c.member(path, m, r.Address.Country) })
	r.Offerings = each(c, "offerings", r.Offerings, MostSections, c.section)
	c.company(&r.Company)
	r.Own = own(r.Own)
}

// each tidies the entries of a list; those of which keep says no are left out.
func each[T any](c *checker, path string, in []T, most int, keep func(path string, entry *T) bool) []T {
	out := []T{}
	for i, entry := range in {
		if keep(fmt.Sprintf("%s.%d", path, i), &entry) {
			out = append(out, entry)
		}
	}
	if len(out) > most {
		c.add(path, "%d are given; a record holds %d", len(out), most)
	}
	return out
}

// line tidies and checks a text of one line.
func (c *checker) line(path string, text *string) {
	*text = strings.TrimSpace(*text)
	c.length(path, *text)
}

func (c *checker) link(path string, text *string) {
	if c.line(path, text); *text != "" {
		c.said(path, contact.Website(*text))
	}
}

func (c *checker) area(a Area) Area {
	if a.Minutes < 0 || a.Minutes > MostMinutes {
		c.add("area.minutes", "%d minutes is no travel time; choose up to %d", a.Minutes, MostMinutes)
	}
	names := map[string]bool{}
	a.Towns = each(c, "area.towns", a.Towns, MostTowns, func(path string, t *Town) bool {
		c.line(path+".name", &t.Name)
		if math.Abs(t.Latitude) > 90 || math.Abs(t.Longitude) > 180 || t.Population < 0 || !(t.Minutes >= 0) {
			c.add(path, "%q has no place, population or travel time that can be", t.Name)
		}
		key := strings.ToLower(t.Name)
		fresh := key != "" && !names[key]
		names[key] = true
		return fresh
	})
	slices.SortStableFunc(a.Towns, func(x, y Town) int { return y.Population - x.Population })
	a.Without = c.list("area.without", a.Without)
	return a
}

func (c *checker) payments(in []string) []string {
	out := []string{}
	for _, kind := range PaymentKinds {
		if slices.Contains(in, kind.ID) {
			out = append(out, kind.ID)
		}
	}
	for i, id := range in {
		if !slices.Contains(out, id) {
			c.add(fmt.Sprintf("payments.%d", i), "%q is not in our list of ways to pay", id)
		}
	}
	return out
}

func (c *checker) member(path string, m *Member, country string) bool {
	c.line(path+".name", &m.Name)
	c.line(path+".role", &m.Role)
	if c.line(path+".email", &m.Email); m.Email != "" {
		c.said(path+".email", contact.Email(m.Email))
	}
	if c.line(path+".phone", &m.Phone); m.Phone != "" {
		if e164, reason := contact.E164(m.Phone, country); reason != "" {
			c.add(path+".phone", "%q: %s", m.Phone, reason)
		} else {
			m.Phone = e164
		}
	}
	if m.Name == "" && (m.Role != "" || m.Email != "" || m.Phone != "") {
		c.add(path+".name", "a member of the team needs a name")
	}
	return *m != Member{}
}

var price = regexp.MustCompile(`^\d{1,9}(\.\d{1,2})?$`)

func (c *checker) section(path string, s *Section) bool {
	c.line(path+".title", &s.Title)
	s.Items = each(c, path+".items", s.Items, MostItems, func(path string, i *Item) bool {
		c.line(path+".name", &i.Name)
		c.line(path+".per", &i.Per)
		c.long(path+".about", &i.About, MostAbout)
		c.line(path+".price", &i.Price)
		c.price(path+".price", i)
		if i.Name == "" && *i != (Item{}) {
			c.add(path+".name", "what is offered needs a name")
		}
		return *i != Item{}
	})
	return s.Title != "" || len(s.Items) > 0
}

// price tidies an item's price; words beside the number say what it is for.
func (c *checker) price(path string, i *Item) {
	if i.Price == "" {
		return
	}
	number, beside := readPrice(i.Price)
	if !price.MatchString(number) || beside != "" && i.Per != "" && beside != i.Per {
		c.add(path, "%q is no price; write 12 or 12.50, and what it is for beside it", i.Price)
		return
	}
	if i.Price = number; i.Per == "" {
		i.Per = beside
	}
}

func (c *checker) company(f *Company) {
	c.line("company.registration", &f.Registration)
	c.line("company.industry", &f.Industry)
	c.when("company.founded", &f.Founded, "2006-01-02", "2006-01", "2006")
	for _, choice := range []struct {
		path string
		text *string
		of   []string
	}{{"company.size", &f.Size, CompanySizes}, {"company.kind", &f.Kind, CompanyKinds}} {
		if c.line(choice.path, choice.text); *choice.text != "" && !slices.Contains(choice.of, *choice.text) {
			c.add(choice.path, "%q is none of %s", *choice.text, strings.Join(choice.of, ", "))
		}
	}
	f.Domains = c.list("company.domains", f.Domains)
	for i, d := range f.Domains {
		f.Domains[i] = strings.ToLower(d)
		if m := contact.Website("https://" + f.Domains[i]); m != "" || strings.ContainsAny(d, "/@: ") {
			c.add(fmt.Sprintf("company.domains.%d", i), "%q is no domain; write it as shop.example", d)
		}
	}
}
