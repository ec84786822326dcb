package reach

import (
	"bytes"
	"encoding/json"
	"errors"
	"strings"

	"golang.org/x/net/html"

	"uvent/core/fact/address"
	"uvent/core/fact/hours"
	"uvent/core/fact/hours/said"
	"uvent/core/rule/compare"
)

// ErrNoFacts means that a page shows no business that could be read.
var ErrNoFacts = errors.New("the page holds no description of a business that can be read")

// ReadPage reads the description of a business from a public page: in JSON-LD
// (https://schema.org/LocalBusiness), else in microdata
// (https://html.spec.whatwg.org/multipage/microdata.html), else from the page as people
// see it: its heading, its address, the number that it dials and its list of facts.
func ReadPage(page []byte) (compare.Sighting, error) {
	root, err := html.Parse(bytes.NewReader(page))
	if err != nil {
		return compare.Sighting{}, ErrNoFacts
	}
	for _, read := range []func(*html.Node) (compare.Sighting, bool){readLD, readMicrodata, readPlain} {
		if s, ok := read(root); ok {
			return s, nil
		}
	}
	return compare.Sighting{}, ErrNoFacts
}

func attribute(n *html.Node, key string) string {
	for _, a := range n.Attr {
		if a.Key == key {
			return a.Val
		}
	}
	return ""
}

func element(n *html.Node, name string) bool { return n.Type == html.ElementNode && n.Data == name }

// textOf is what people read in a part of a page; a line break is one.
func textOf(n *html.Node) string {
	var b strings.Builder
	for c := range n.Descendants() {
		switch {
		case c.Type == html.TextNode:
			b.WriteString(strings.ReplaceAll(c.Data, "\n", " "))
		case element(c, "br"):
			b.WriteString("\n")
		}
	}
	var lines []string
	for _, line := range strings.Split(b.String(), "\n") {
		if line = strings.Join(strings.Fields(line), " "); line != "" {
			lines = append(lines, line)
		}
	}
	return strings.Join(lines, "\n")
}

func readLD(root *html.Node) (compare.Sighting, bool) {
	for n := range root.Descendants() {
		if !element(n, "script") || attribute(n, "type") != "application/ld+json" || n.FirstChild == nil {
			continue
		}
		var b businessLD
		if json.Unmarshal([]byte(n.FirstChild.Data), &b) == nil && b.Name != "" {
			return b.sighting(), true
		}
	}
	return compare.Sighting{}, false
}

// businessLD is the part of LocalBusiness that is read.
type businessLD struct {
	Name      string `json:"name"`
	Telephone string `json:"telephone"`
	Email     string `json:"email"`
	URL       string `json:"url"`
	Category  string `json:"additionalType"`
	Address   struct {
		Street     string `json:"streetAddress"`
		Locality   string `json:"addressLocality"`
		Region     string `json:"addressRegion"`
		PostalCode string `json:"postalCode"`
		Country    string `json:"addressCountry"`
	} `json:"address"`
	Hours hours.Specifications `json:"openingHoursSpecification"`
	Dates hours.Specifications `json:"specialOpeningHoursSpecification"`
}

func (b businessLD) sighting() compare.Sighting {
	return compare.Sighting{
		Name:     b.Name,
		Phone:    b.Telephone,
		Email:    b.Email,
		Website:  b.URL,
		Category: b.Category,
		Hours:    hours.FromSpecifications(append(b.Hours, b.Dates...)).String(),
		Address: address.Address{
			Street:     b.Address.Street,
			Locality:   b.Address.Locality,
			Region:     b.Address.Region,
			PostalCode: b.Address.PostalCode,
			Country:    b.Address.Country,
		},
	}
}

// readMicrodata reads the first business that is marked up with schema.org's properties.
func readMicrodata(root *html.Node) (compare.Sighting, bool) {
	for n := range root.Descendants() {
		if kind := attribute(n, "itemtype"); n.Type != html.ElementNode || !strings.Contains(kind, "schema.org/") || strings.HasSuffix(kind, "/PostalAddress") {
			continue
		}
		props := map[string]string{}
		for c := range n.Descendants() {
			name := attribute(c, "itemprop")
			if c.Type != html.ElementNode || name == "" || props[name] != "" {
				continue
			}
			switch value := attribute(c, "content"); {
			case value != "":
				props[name] = value
			case c.Data == "a" || c.Data == "link":
				props[name] = attribute(c, "href")
			default:
				props[name] = textOf(c)
			}
		}
		if props["name"] != "" {
			return compare.Sighting{
				Name:     props["name"],
				Phone:    props["telephone"],
				Email:    props["email"],
				Website:  props["url"],
				Category: props["additionalType"],
				Hours:    readHours(props["openingHours"]),
				Address: address.Address{
					Street:     props["streetAddress"],
					Locality:   props["addressLocality"],
					Region:     props["addressRegion"],
					PostalCode: props["postalCode"],
					Country:    props["addressCountry"],
				},
			}, true
		}
	}
	return compare.Sighting{}, false
}

// readHours reads hours as they are marked up or written; what cannot be read stays as
// it is, for a person to look at.
func readHours(text string) string {
	if s, _, err := hours.Parse(text); err == nil {
		return s.String()
	}
	if r := said.Read(text, said.In{}); r.Sure {
		return r.Schedule.String()
	}
	return text
}

// readPlain reads a page that marks nothing up.
func readPlain(root *html.Node) (s compare.Sighting, ok bool) {
	label := ""
	for n := range root.Descendants() {
		if n.Type != html.ElementNode {
			continue
		}
		switch n.Data {
		case "h1":
			if s.Name == "" {
				s.Name = textOf(n)
			}
		case "address":
			s.Address = readAddress(textOf(n))
		case "a":
			if number, dials := strings.CutPrefix(attribute(n, "href"), "tel:"); dials && s.Phone == "" {
				s.Phone = number
			}
		case "dt":
			label = strings.ToLower(textOf(n))
		case "dd":
			switch label {
			case "category":
				s.Category, _, _ = strings.Cut(textOf(n), ", ")
			case "email":
				s.Email = textOf(n)
			case "website":
				s.Website = textOf(n)
			case "hours", "open":
				s.Hours = readHours(textOf(n))
			}
		}
	}
	return s, s.Name != "" && (s.Phone != "" || s.Address.Locality != "")
}

// readAddress parts an address on one line, as it is written in North America: street
// and unit, town, region and postal code.
func readAddress(line string) (a address.Address) {
	line = strings.TrimSuffix(strings.ReplaceAll(line, "\n", ", "), " and around")
	parts := strings.Split(line, ", ")
	if n := len(parts); n >= 2 {
		a.Region, a.PostalCode, _ = strings.Cut(strings.TrimSpace(parts[n-1]), " ")
		a.Locality, a.Street = parts[n-2], strings.Join(parts[:n-2], ", ")
		return a
	}
	a.Street = line
	return a
}
