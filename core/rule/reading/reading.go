// Package reading reads what a public page shows of a location: from what it marks up, from where a rulebook says that
// its facts stand, and from the page as people see it.
package reading

import (
	"bytes"
	"cmp"
	"net/url"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"uvent/core/fact/address"
	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/record/sighting"
	"uvent/core/rule/rulebook"
)

// Kind is what a page turned out to be.
type Kind string

const (
	Listing Kind = "listing" // a place of business
	Gone    Kind = "gone"    // it says that there is no such listing, or no longer
	Other   Kind = "other"   // something else: a list of results, an article, a question whether one is a program
	Empty   Kind = "empty"   // nothing that can be read, as where a program would have to run first
)

// In is what is known before a page is read.
type In struct {
	Address string             // of the page; empty where it is not known: then links that need it lead nowhere
	Country string             // where the location is, if the page does not say; ISO 3166-1 alpha-2
	Region  string             // of it, ISO 3166-2 without the country
	Today   calendar.Date      // by which dates without a year are meant
	Book    *rulebook.Rulebook // of the directory, which says where its facts stand; nil: it is not known
}

// Reading is what was read.
type Reading struct {
	Reads    Kind
	Sighting sighting.Sighting // of a listing
	Half     bool              // the page breaks off: what is not in the sighting may stand in the rest
}

// page is one that is being read.
type page struct {
	in   In
	root *html.Node
	base *url.URL // nil where it is not known
}

// Read reads a page of HTML, in UTF-8. It never fails: what cannot be read is Empty.
func Read(text []byte, in In) Reading {
	root, err := html.Parse(bytes.NewReader(text))
	if err != nil {
		return Reading{Reads: Empty}
	}
	p := page{in: in, root: root}
	if p.base, err = url.Parse(in.Address); err != nil || in.Address == "" {
		p.base = nil
	}
	for n := range root.Descendants() {
		if to := attribute(n, "href"); element(n, "base") && to != "" {
			if u, err := url.Parse(resolve(p.base, to)); err == nil && u.Host != "" {
				p.base = u
			}
		}
	}
	out := Reading{Half: half(text)}
	s, ok := p.sighting()
	switch {
	case ok:
		out.Reads, out.Sighting = Listing, s
	default:
		out.Reads = p.verdict()
	}
	return out
}

// half reports whether a page breaks off before its end: it opens a document, and does not close it.
func half(text []byte) bool {
	low := bytes.ToLower(text)
	opens := bytes.Contains(low, []byte("<body")) || bytes.Contains(low, []byte("<html"))
	return opens && !bytes.Contains(low, []byte("</html>")) && !bytes.Contains(low, []byte("</body>"))
}

// sighting is what the page shows of the place that it is about; false where it is about none.
func (p page) sighting() (s sighting.Sighting, ok bool) {
	heading := p.heading()
	found := businesses(marked(p.root))
	main := about(found, heading+" "+p.title())
	if len(found) > 0 && main == nil {
		return s, false // several, none of which the page is about
	}
	if main != nil {
		s = p.business(main)
		p.in.Country = cmp.Or(s.Address.Country, p.in.Country)
		p.in.Region = cmp.Or(s.Address.Region, p.in.Region)
	}
	told, says := p.told()
	if main == nil && !says {
		if !p.aPlace(heading) {
			return s, false
		}
	}
	s = fill(told, s) // the rulebook knows the page best
	seen := p.plain(heading)
	if main != nil && s.Phone != "" {
		seen.Phone, seen.OtherPhones = "", nil // what a page dials besides may be anybody's
	}
	s = fill(s, seen)
	return s, s.Name != "" && (says || main != nil || s.Phone != "" || s.Address.Locality != "" || s.Address.Street != "")
}

// fill lays over a sighting's empty facts those of another.
func fill(s, with sighting.Sighting) sighting.Sighting {
	for _, f := range sighting.Facts {
		if f.Empty(s) {
			f.Take(&s, with)
		}
	}
	dated(&s, with)
	return s
}

// dated takes over special dates, where only the other says any.
func dated(s *sighting.Sighting, with sighting.Sighting) {
	ours, ok := s.Schedule()
	theirs, okWith := with.Schedule()
	if !ok || !okWith || len(ours.Specials()) > 0 {
		return
	}
	for _, sp := range theirs.Specials() {
		ours = ours.WithSpecial(sp)
	}
	s.Hours = ours.String()
}

// heading is the page's first, as a visitor reads it.
func (p page) heading() (out string) {
	shown(p.root, func(n *html.Node) bool {
		if element(n, "h1") && out == "" {
			out = oneLine(textOf(n))
		}
		return out == ""
	})
	return out
}

// title is the document's.
func (p page) title() string {
	for n := range p.root.Descendants() {
		if element(n, "title") && n.FirstChild != nil {
			return oneLine(n.FirstChild.Data)
		}
	}
	return ""
}

// link is where a link leads, on the web.
func (p page) link(to string) string { return resolve(p.base, to) }

// same reports whether a link leads to the directory itself.
func (p page) same(to string) bool {
	u, err := url.Parse(to)
	return err == nil && p.base != nil && strings.EqualFold(u.Host, p.base.Host)
}

// readAddress parts an address in one text: street and unit, town, region and postal code.
func (p page) readAddress(text string) (a address.Address) {
	text = strings.Join(strings.FieldsFunc(text, func(r rune) bool { return r == '\n' || r == '\t' }), ", ")
	text = strings.TrimSuffix(oneLine(strings.NewReplacer("(", ", ", ")", " ").Replace(text)), " and around")
	if text == "" {
		return a
	}
	if read, ok := address.Read(text, p.in.Country); ok {
		return read
	}
	parts := strings.Split(text, ", ")
	n := len(parts)
	last := strings.Fields(parts[n-1])
	if region, ok := address.Region(cmp.Or(p.in.Country, "US"), append(last, "")[0]); ok && n >= 2 { // a town alone, with its region
		a.Region, a.PostalCode = region, strings.Join(last[1:], " ")
		a.Locality, a.Street = parts[n-2], strings.Join(parts[:n-2], ", ")
		return a
	}
	if n == 1 && !strings.ContainsAny(text, "0123456789") {
		a.Locality = text
		return a
	}
	a.Street = text
	return a
}

// withDates is a schedule as text, with special dates laid over it.
func withDates(s hours.Schedule, dates []hours.Special) string {
	for _, d := range dates {
		s = s.WithSpecial(d)
	}
	return s.String()
}

// insideHidden reports whether an element stands in a part that is not about the place.
func insideHidden(n *html.Node) bool {
	for p := n; p != nil; p = p.Parent {
		if hidden(p) && !element(p, "head") {
			return true
		}
	}
	return false
}

// anyOf reports whether a folded text holds one of some phrases, as words.
func anyOf(folded string, phrases []string) bool {
	return slices.ContainsFunc(phrases, func(p string) bool { return strings.Contains(" "+folded+" ", " "+p+" ") })
}
