// Package match tells whether two descriptions are of the same business.
package match

import (
	"fmt"
	"math"
	"net/url"
	"strings"

	"uvent/core/address"
	"uvent/core/contact"
	"uvent/core/geo"
	"uvent/core/record"
)

// Business is what is known of a business; empty means not known.
type Business struct {
	Name      string
	LegalName string
	Former    []string
	Address   address.Address
	Phones    []string // E.164
	Website   string
	Pin       *record.Pin
}

// Of describes a location's record.
func Of(r record.Record) Business {
	b := Business{Name: r.Name, LegalName: r.LegalName, Former: r.FormerNames, Address: r.Address, Website: r.Website, Pin: r.Pin}
	for _, p := range r.Phones {
		b.Phones = append(b.Phones, p.E164)
	}
	return b
}

// Verdict is what a score comes to.
type Verdict string

const (
	SameBusiness Verdict = "same"
	Probably     Verdict = "probably"
	Unlikely     Verdict = "unlikely"
	Different    Verdict = "different"
)

// Result is how alike two descriptions are.
type Result struct {
	Score   float64 // 0 to 1
	Verdict Verdict
	Reasons []string // sentences that a person can check, weightiest first
}

// evidence is what one fact says: weight is how much it counts when known,
// agrees from 0 (speaks against) to 1 (speaks for).
type evidence struct {
	weight, agrees float64
	reason         string
}

// Compare holds ours against a candidate, theirs. What either side does not
// say counts neither for nor against.
func Compare(ours, theirs Business) Result {
	var total, agreed float64
	var out Result
	for _, judge := range []func(a, b Business) (evidence, bool){names, places, phones, sites, positions} {
		if e, known := judge(ours, theirs); known {
			total += e.weight
			agreed += e.weight * e.agrees
			out.Reasons = append(out.Reasons, e.reason)
		}
	}
	if total == 0 {
		return Result{Verdict: Different, Reasons: []string{"Nothing is known of both that could be compared."}}
	}
	// Few facts make a weak case, whichever way they point.
	out.Score = math.Round(100*agreed/(total+0.5)*1.1) / 100
	out.Score = min(out.Score, 1)
	switch {
	case out.Score >= 0.8:
		out.Verdict = SameBusiness
	case out.Score >= 0.55:
		out.Verdict = Probably
	case out.Score >= 0.3:
		out.Verdict = Unlikely
	default:
		out.Verdict = Different
	}
	return out
}

// legalForms and generic words say little about which business is meant.
var legalForms = words("llc inc incorporated ltd limited corp corporation co company plc lp llp pllc ulc")

var generic = words("the and of shop store services service works center centre group")

// words are the words of a text, those in the plural as in the singular.
func words(s string) map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(s) {
		if len(w) > 3 && !strings.HasSuffix(w, "ss") {
			w = strings.TrimSuffix(w, "s")
		}
		m[w] = true
	}
	return m
}

// nameLikeness is the share of two names' words that they have in common, with
// generic words counting a quarter and legal forms nothing.
func nameLikeness(a, b string) float64 {
	weigh := func(w string) float64 {
		switch {
		case legalForms[w]:
			return 0
		case generic[w]:
			return 0.25
		}
		return 1
	}
	inA, inB := words(address.Fold(a)), words(address.Fold(b))
	var both, all float64
	for w := range inA {
		all += weigh(w)
		if inB[w] {
			both += weigh(w)
		}
	}
	for w := range inB {
		if !inA[w] {
			all += weigh(w)
		}
	}
	if all == 0 {
		return 0
	}
	return both / all
}

func names(a, b Business) (evidence, bool) {
	if a.Name == "" || b.Name == "" {
		return evidence{}, false
	}
	best := evidence{3, nameLikeness(a.Name, b.Name), ""}
	switch {
	case best.agrees == 1:
		best.reason = fmt.Sprintf("The name is the same, “%s”.", b.Name)
	case best.agrees >= 0.5:
		best.reason = fmt.Sprintf("The name is much the same: “%s” and “%s”.", a.Name, b.Name)
	default:
		best.reason = fmt.Sprintf("The name is another: “%s”, not “%s”.", b.Name, a.Name)
	}
	if like := nameLikeness(a.LegalName, b.Name); like > best.agrees {
		best = evidence{3, like, fmt.Sprintf("It goes by the legal name, “%s”.", b.Name)}
	}
	for _, former := range a.Former {
		if like := nameLikeness(former, b.Name); like > best.agrees {
			best = evidence{3, like, fmt.Sprintf("It goes by a former name, “%s”.", b.Name)}
		}
	}
	return best, true
}

func places(a, b Business) (evidence, bool) {
	c := address.Compare(a.Address, b.Address)
	if c.Street == address.NotSaid {
		switch c.Locality {
		case address.NotSaid:
			return evidence{}, false
		case address.Different:
			return evidence{1.5, 0, fmt.Sprintf("It is in another town, %s.", b.Address.Locality)}, true
		}
		return evidence{1, 1, fmt.Sprintf("It is in the same town, %s, and shows no street.", b.Address.Locality)}, true
	}
	switch whole := c.Whole(a.Address, b.Address); {
	case whole == address.Exact || whole == address.Spelled:
		return evidence{3, 1, fmt.Sprintf("The address is the same, %s.", b.Address.Line())}, true
	case c.Street == address.Different && c.Locality == address.Different:
		return evidence{3, 0, fmt.Sprintf("It is in another town, %s.", b.Address.Locality)}, true
	case c.Street == address.Different:
		return evidence{3, 0.2, fmt.Sprintf("It is in the same town at another address, %s.", b.Address.Line())}, true
	case c.Unit == address.Different:
		return evidence{3, 0.5, fmt.Sprintf("It is in the same building, in another unit: %s.", b.Address.Line())}, true
	case c.Unit == address.NotSaid && c.Locality != address.Different && c.PostalCode != address.Different:
		return evidence{3, 0.8, fmt.Sprintf("It is in the same building; only one of the two names a unit: %s.", b.Address.Line())}, true
	}
	return evidence{3, 0.3, fmt.Sprintf("The street is the same, but not the town or postal code: %s.", b.Address.Line())}, true
}

func phones(a, b Business) (evidence, bool) {
	if len(a.Phones) == 0 || len(b.Phones) == 0 {
		return evidence{}, false
	}
	for _, p := range a.Phones {
		for _, q := range b.Phones {
			if p == q {
				return evidence{2, 1, fmt.Sprintf("The phone is the same, %s.", contact.National(p))}, true
			}
		}
	}
	return evidence{1, 0, fmt.Sprintf("The phone is another, %s.", contact.National(b.Phones[0]))}, true
}

func sites(a, b Business) (evidence, bool) {
	hostA, pathA := site(a.Website)
	hostB, pathB := site(b.Website)
	switch {
	case hostA == "" || hostB == "":
		return evidence{}, false
	case hostA != hostB:
		return evidence{1, 0, fmt.Sprintf("The website is another, %s.", hostB)}, true
	case pathA == pathB:
		return evidence{1.5, 1, fmt.Sprintf("The website is the same, %s%s.", hostB, pathB)}, true
	}
	return evidence{1, 0.7, fmt.Sprintf("The website is on the same host, %s.", hostB)}, true
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
		return evidence{1, 1, fmt.Sprintf("The pin is %.0f m from ours.", m)}, true
	case m <= 1500:
		return evidence{1, 0.5, fmt.Sprintf("The pin is %.0f m from ours.", m)}, true
	}
	return evidence{1, 0, fmt.Sprintf("The pin is %.1f km from ours.", m/1000)}, true
}
