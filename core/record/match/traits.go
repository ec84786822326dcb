package match

import (
	"slices"

	"uvent/core/fact/address"
)

// traits are what two businesses can be held against each other by at little cost, before they are compared
// in full.
type traits struct {
	number, street, town, postal string
	phones                       []string
	host, path                   string
	words                        []string // of all its names, cut to their first letters
	moved, pinned                bool
}

// cut is how many letters of a word are looked at: a slip stands further on, mostly.
const cut = 3

func traitsOf(b Business) traits {
	t := traits{town: address.Spell(b.Address.Locality), postal: b.Address.PostalCode, phones: b.Phones, moved: len(b.Before) > 0, pinned: b.Pin != nil}
	t.number, t.street, _ = address.Parts(b.Address)
	t.host, t.path = site(b.Website)
	for _, name := range append([]string{b.Name, b.LegalName}, b.Former...) {
		for _, w := range nameWords(name) {
			if w = w[:min(cut, len(w))]; !slices.Contains(t.words, w) {
				t.words = append(t.words, w)
			}
		}
	}
	return t
}

// most is the most that Compare's evidence can come to, and never less: below 0 the two are not even
// probably the same.
func (t traits) most(o traits) float64 {
	sum := prior
	if len(t.words) == 0 || len(o.words) == 0 || slices.ContainsFunc(t.words, func(w string) bool { return slices.Contains(o.words, w) }) {
		sum += 2.2
	}
	if t.pinned && o.pinned {
		sum += 0.6
	}
	switch {
	case t.moved || o.moved:
		sum += 2.8
	case t.street == "" && t.number == "" || o.street == "" && o.number == "":
		sum += 0.4
	case t.number == o.number:
		sum += 2.8
	case t.street == o.street && len(t.number) == len(o.number) && address.OneSlip(t.number, o.number):
		sum += 1.6
	default:
		sum -= 1.2
	}
	if len(t.phones) > 0 && len(o.phones) > 0 {
		sum += mostPhones(t.phones, o.phones)
	}
	switch {
	case t.host == "" || o.host == "":
	case t.host != o.host:
		sum--
	case t.path != o.path:
		sum += 0.8
	default:
		sum += 2.4
	}
	return sum
}

func mostPhones(a, b []string) float64 {
	most := -0.7
	for _, p := range a {
		for _, q := range b {
			switch {
			case p == q:
				return 2.6
			case oneSlip(p, q):
				most = 1.4
			}
		}
	}
	return most
}
