package match

import (
	"fmt"
	"net/url"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/fact/contact"
	"uvent/core/fact/geo"
)

// places compares addresses by their parts, and where it was before with where it is seen.
func places(a, b Business) (evidence, bool) {
	e, known := here(a, b)
	if !e.moved {
		return e, known
	}
	for _, side := range []struct{ was, now Business }{{a, b}, {b, a}} {
		for _, before := range side.was.Before {
			if was, _ := here(Business{Address: before}, side.now); was.weight >= 2 {
				return evidence{weight: 1.2, reason: fmt.Sprintf("It is at a former address, %s.", before.Line()), moved: true}, true
			}
		}
	}
	return e, known
}

func here(a, b Business) (evidence, bool) {
	c := address.Compare(a.Address, b.Address)
	town := c.Locality != address.Different || c.PostalCode == address.Exact || c.PostalCode == address.Spelled
	line := b.Address.Line()
	if c.Street == address.NotSaid {
		switch {
		case c.Locality == address.NotSaid && c.PostalCode == address.NotSaid:
			return evidence{}, false
		case !town:
			return evidence{weight: -3.5, reason: fmt.Sprintf("It is in another town, %s.", b.Address.Locality), moved: true}, true
		}
		return evidence{weight: 0.4, reason: fmt.Sprintf("It is in the same town, %s, and one of the two shows no street.", b.Address.Locality)}, true
	}
	if c.Street == address.Different {
		switch nearness := address.Near(a.Address, b.Address); {
		case !town:
			return evidence{weight: -5.6, reason: fmt.Sprintf("It is in another town, %s.", b.Address.Locality), moved: true}, true
		case nearness == address.NearNumber:
			return evidence{weight: 1.6, reason: fmt.Sprintf("The address differs by two digits that changed places, or one: %s.", line), near: true}, true
		case nearness == address.NearStreet:
			return evidence{weight: 2.2, reason: fmt.Sprintf("The address is the same but for the spelling of the street, %s.", line)}, true
		case nearness == address.SameStreet:
			return evidence{weight: -1.2, reason: fmt.Sprintf("It is on the same street at another number, %s.", line), moved: true}, true
		}
		return evidence{weight: -1.6, reason: fmt.Sprintf("It is in the same town at another address, %s.", line), moved: true}, true
	}
	switch {
	case !town:
		return evidence{weight: -4, reason: fmt.Sprintf("The street is of the same name, in another town: %s.", line), moved: true}, true
	case c.Unit == address.Different:
		return evidence{weight: 0.6, reason: fmt.Sprintf("It is in the same building, in another unit: %s.", line)}, true
	case c.Unit == address.NotSaid && address.HasUnit(a.Address) != address.HasUnit(b.Address):
		return evidence{weight: 2, reason: fmt.Sprintf("It is in the same building; only one of the two names a unit: %s.", line)}, true
	}
	return evidence{weight: 2.8, reason: fmt.Sprintf("The address is the same, %s.", line)}, true
}

func phones(a, b Business) (evidence, bool) {
	if len(a.Phones) == 0 || len(b.Phones) == 0 {
		return evidence{}, false
	}
	near := ""
	for _, p := range a.Phones {
		for _, q := range b.Phones {
			switch {
			case p == q:
				return evidence{weight: 2.6, reason: fmt.Sprintf("The phone is the same, %s.", contact.National(p)), line: true}, true
			case oneSlip(p, q):
				near = q
			}
		}
	}
	if near != "" {
		return evidence{
			weight: 1.4,
			reason: fmt.Sprintf("The phone differs by one digit, or by two that changed places: %s.", contact.National(near)),
			slip:   true,
		}, true
	}
	return evidence{weight: -0.7, reason: fmt.Sprintf("The phone is another, %s.", contact.National(b.Phones[0]))}, true
}

// oneSlip reports whether two numbers differ by one digit, or by two neighbours that
// changed places, past the country and area codes.
func oneSlip(p, q string) bool {
	const own = 7 // digits past those codes
	return len(p) == len(q) && len(p) > own && p[:len(p)-own] == q[:len(q)-own] && address.OneSlip(p[len(p)-own:], q[len(q)-own:])
}

func sites(a, b Business) (evidence, bool) {
	hostA, pathA := site(a.Website)
	hostB, pathB := site(b.Website)
	switch {
	case hostA == "" || hostB == "":
		return evidence{}, false
	case hostA != hostB:
		return evidence{weight: -1, reason: fmt.Sprintf("The website is another, %s.", hostB)}, true
	case pathA == pathB && pathA != "":
		return evidence{weight: 2.4, reason: fmt.Sprintf("The website is the same page, %s%s.", hostB, pathB)}, true
	case pathA == pathB:
		return evidence{weight: 1.2, reason: fmt.Sprintf("The website is the same, %s.", hostB)}, true
	case pathA == "" || pathB == "":
		return evidence{weight: 0.8, reason: fmt.Sprintf("The website is on the same host, %s.", hostB)}, true
	}
	return evidence{weight: -0.8, reason: fmt.Sprintf("The website is another page of the same host, %s%s.", hostB, pathB), page: true}, true
}

// site is a web address without scheme, www, tags and closing slash.
func site(s string) (host, path string) {
	u, err := url.Parse(s)
	if err != nil {
		return "", ""
	}
	return strings.TrimPrefix(strings.ToLower(u.Hostname()), "www."), strings.TrimSuffix(u.Path, "/")
}

// SameSite reports whether two web addresses lead to the same page, whatever
// their scheme, tags and closing slash.
func SameSite(a, b string) bool {
	hostA, pathA := site(a)
	hostB, pathB := site(b)
	return hostA != "" && hostA == hostB && pathA == pathB
}

func positions(a, b Business) (evidence, bool) {
	if a.Pin == nil || b.Pin == nil {
		return evidence{}, false
	}
	m := geo.Metres(geo.Point{Longitude: a.Pin.Longitude, Latitude: a.Pin.Latitude}, geo.Point{Longitude: b.Pin.Longitude, Latitude: b.Pin.Latitude})
	switch {
	case m <= 150:
		return evidence{weight: 0.6, reason: fmt.Sprintf("The pin is %.0f m from ours.", m)}, true
	case m <= 1500:
		return evidence{weight: -0.2, reason: fmt.Sprintf("The pin is %.0f m from ours.", m)}, true
	case m <= 5000:
		return evidence{weight: -0.8, reason: fmt.Sprintf("The pin is %.1f km from ours.", m/1000)}, true
	}
	return evidence{weight: -1.8, reason: fmt.Sprintf("The pin is %.1f km from ours.", m/1000)}, true
}
