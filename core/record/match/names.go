package match

import (
	"fmt"
	"slices"
	"strings"

	"uvent/core/fact/address"
	"uvent/core/fact/category"
)

// legalForms say nothing about which business is meant.
var legalForms = set("llc inc incorporated ltd limited corp corporation co company plc lp llp pllc ulc")

// common are words that many businesses have in their names, beside those of trades.
var common = set(`the and of at on in shop store service services works center centre group house home homes family general local city town
	north south east west upper lower old new first main street bay harbor harbour port pier quay island valley hill river lake
	express plus pro quality best express premier custom professional solutions associates partners brothers bros sons son daughters and`)

func set(words string) map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(words) {
		m[singular(w)] = true
	}
	return m
}

// trades are the words by which businesses say what they do, each with the groups of
// our categories in which it stands.
var trades = func() map[string]map[string]bool {
	m := map[string]map[string]bool{}
	for _, c := range category.All() {
		for _, text := range append([]string{c.Name}, c.Words...) {
			for _, w := range strings.Fields(address.Fold(text)) {
				if w = singular(w); len(w) < 3 || common[w] {
					continue
				}
				if m[w] == nil {
					m[w] = map[string]bool{}
				}
				m[w][c.Group] = true
			}
		}
	}
	return m
}()

// abbreviated are short forms in names, spelled out.
var abbreviated = map[string]string{
	"ctr":       "center",
	"cntr":      "center",
	"centre":    "center",
	"svc":       "service",
	"svcs":      "service",
	"serv":      "service",
	"mkt":       "market",
	"mfg":       "manufacturing",
	"vet":       "veterinary",
	"rest":      "restaurant",
	"assoc":     "associates",
	"bros":      "brothers",
	"intl":      "international",
	"natl":      "national",
	"hosp":      "hospital",
	"dept":      "department",
	"harbour":   "harbor",
	"colour":    "color",
	"jewellery": "jewelry",
	"tyre":      "tire",
}

// singular is a word with the plural's s taken off.
func singular(w string) string {
	if len(w) > 3 && !strings.HasSuffix(w, "ss") {
		return strings.TrimSuffix(w, "s")
	}
	return w
}

// nameWords are the words of a name that count, each in the singular and spelled out.
func nameWords(name string) (out []string) {
	for _, w := range strings.Fields(address.Fold(name)) {
		if full, ok := abbreviated[w]; ok {
			w = full
		}
		if w = singular(w); !legalForms[w] {
			out = append(out, w)
		}
	}
	return out
}

// weigh says how much a word tells of which business is meant, by how many share it:
// what everybody is called, and the town and the street where they are, least.
type weigh func(word string) float64

func weigher(a, b Business) weigh {
	town := map[string]bool{}
	for _, b := range []Business{a, b} {
		_, street, _ := address.Parts(b.Address)
		for _, w := range strings.Fields(address.Fold(b.Address.Locality) + " " + street) {
			town[singular(w)] = true
		}
	}
	return func(w string) float64 {
		switch {
		case town[w]:
			return 0.12
		case common[w], len(w) < 2:
			return 0.2
		case trades[w] != nil:
			return 0.35
		}
		return 1
	}
}

// likeness is the share of two names' words, by what they tell, that they have in
// common. A word that differs by one slip counts nearly whole, and two that one of the
// names writes as one count as that. Names that speak of different trades are less alike.
func (w weigh) likeness(a, b string) float64 {
	inA, inB := nameWords(a), nameWords(b)
	inA, inB = joined(inA, inB), joined(inB, inA)
	left := append([]string(nil), inB...)
	var both, all float64
	for _, x := range inA {
		at, how := -1, 0.0
		for i, y := range left {
			if like := wordLikeness(x, y); like > how {
				at, how = i, like
			}
		}
		if at < 0 {
			all += w(x)
			continue
		}
		weight := max(w(x), w(left[at]))
		both += how * weight
		all += weight
		left = append(left[:at], left[at+1:]...)
	}
	for _, y := range left {
		all += w(y)
	}
	if all == 0 {
		return 0
	}
	like := both / all
	if apart(inA, inB) {
		like *= 0.6
	}
	return like
}

// joined writes two words of a as one where b does.
func joined(a, b []string) (out []string) {
	for i := 0; i < len(a); i++ {
		if i+1 < len(a) && slices.Contains(b, a[i]+a[i+1]) {
			out = append(out, a[i]+a[i+1])
			i++
			continue
		}
		out = append(out, a[i])
	}
	return out
}

// wordLikeness is 1 for the same word, less for one that differs by a slip, and 0 for
// others.
func wordLikeness(x, y string) float64 {
	switch {
	case x == y:
		return 1
	case min(len(x), len(y)) >= 5 && address.OneSlip(x, y):
		return 0.85
	case len(x) >= 4 && strings.HasPrefix(y, x), len(y) >= 4 && strings.HasPrefix(x, y):
		return 0.7
	}
	return 0
}

// apart reports whether two names speak of different trades.
func apart(a, b []string) bool {
	of := func(words []string) map[string]bool {
		m := map[string]bool{}
		for _, w := range words {
			for g := range trades[w] {
				m[g] = true
			}
		}
		return m
	}
	inA, inB := of(a), of(b)
	for g := range inA {
		if inB[g] {
			return false
		}
	}
	return len(inA) > 0 && len(inB) > 0
}

// otherTrade reports whether both names say a trade, and neither says a word of the other's.
func otherTrade(a, b string) bool {
	said := func(name string) (out []string) {
		for _, w := range nameWords(name) {
			if trades[w] != nil {
				out = append(out, w)
			}
		}
		return out
	}
	inA, inB := said(a), said(b)
	return len(inA) > 0 && len(inB) > 0 && !slices.ContainsFunc(inA, func(w string) bool { return slices.Contains(inB, w) })
}

// names compares what both are called, or were.
func names(a, b Business, w weigh) (evidence, bool) {
	if a.Name == "" || b.Name == "" {
		return evidence{}, false
	}
	like := w.likeness(a.Name, b.Name)
	var reason string
	switch {
	case like == 1:
		reason = fmt.Sprintf("The name is the same, “%s”.", b.Name)
	case like >= 0.5:
		reason = fmt.Sprintf("The name is much the same: “%s” and “%s”.", a.Name, b.Name)
	default:
		reason = fmt.Sprintf("The name is another: “%s”, not “%s”.", b.Name, a.Name)
	}
	for _, other := range []struct {
		mine, theirs, says string
		most               float64
	}{{a.LegalName, b.Name, "It goes by the legal name, “%s”.", 1}, {a.Name, b.LegalName, "Its legal name is our name, “%s”.", 1}, {a.LegalName, b.LegalName,
		"The legal name is the same, “%s”.", 0.6}} {
		// One firm may have shops of several names.
		if l := min(other.most, w.likeness(other.mine, other.theirs)); l > like && l >= 0.5 {
			like, reason = l, fmt.Sprintf(other.says, other.theirs)
		}
	}
	for _, former := range a.Former {
		if l := w.likeness(former, b.Name); l > like {
			like, reason = l, fmt.Sprintf("It goes by a former name, “%s”.", b.Name)
		}
	}
	for _, former := range b.Former {
		if l := w.likeness(a.Name, former); l > like {
			like, reason = l, fmt.Sprintf("Its former name is our name, “%s”.", former)
		}
	}
	own := w.likeness(a.Name, b.Name)
	trade := own < 0.95 && apart(nameWords(a.Name), nameWords(b.Name)) || own < 0.55 && otherTrade(a.Name, b.Name)
	return evidence{weight: nameWeight(like), reason: reason, trade: trade}, true
}

// LikeNames reports whether two names are much the same.
func LikeNames(a, b string) bool { return weigher(Business{}, Business{}).likeness(a, b) >= 0.5 }

// nameWeight turns how alike two names are into evidence.
func nameWeight(like float64) float64 {
	switch {
	case like >= 0.95:
		return 2.2
	case like >= 0.7:
		return 1.5
	case like >= 0.5:
		return 0.6
	case like >= 0.3:
		return -0.8
	}
	return -3.4
}
