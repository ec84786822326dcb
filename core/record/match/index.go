package match

import (
	"cmp"
	"slices"
	"strings"

	"uvent/core/fact/address"
)

// Index finds, among many businesses, those that may be a given one without comparing
// with each: by what they share (blocking). It is safe for concurrent reading.
type Index struct {
	all    []Business
	traits []traits
	rows   map[string][]int32 // by what is shared
}

// mostShared is how many businesses may share something before it tells too little to
// look at all of them.
const mostShared = 400

// NewIndex prepares a search among businesses.
func NewIndex(all []Business) *Index {
	x := &Index{all, make([]traits, len(all)), make(map[string][]int32, 6*len(all))}
	for i, b := range all {
		x.traits[i] = traitsOf(b)
		for _, key := range keys(b) {
			x.rows[key] = append(x.rows[key], int32(i))
		}
	}
	return x
}

// Found is a business that may be the one that is looked for.
type Found struct {
	At int // in the list that the index was made of
	Result
}

// Find compares a business with all that share something with it, and returns those that
// are the same or probably so, the likeliest first.
func (x *Index) Find(b Business) []Found {
	var out []Found
	mine := traitsOf(b)
	for _, i := range x.near(b) {
		if mine.most(x.traits[i]) < 0 {
			continue
		}
		if r := Compare(b, x.all[i]); r.Verdict == SameBusiness || r.Verdict == Probably {
			out = append(out, Found{int(i), r})
		}
	}
	slices.SortFunc(out, func(a, b Found) int { return cmp.Or(cmp.Compare(b.Score, a.Score), a.At-b.At) })
	return out
}

// near are those that share something.
func (x *Index) near(b Business) []int32 {
	seen := map[int32]bool{}
	var out []int32
	for _, key := range keys(b) {
		rows := x.rows[key]
		if len(rows) > mostShared {
			continue
		}
		for _, i := range rows {
			if !seen[i] {
				seen[i] = true
				out = append(out, i)
			}
		}
	}
	return out
}

// keys are what two descriptions of one business are likely to share: a phone, also one
// with digits that changed places; the site's page, or its host in the town; the house; a
// word of the name that tells something, in the town, and two of them anywhere.
func keys(b Business) (out []string) {
	add := func(parts ...string) {
		if !slices.Contains(parts, "") {
			out = append(out, strings.Join(parts, "\x00"))
		}
	}
	town := address.Spell(b.Address.Locality)
	for _, p := range b.Phones {
		add("p", p)
		digits := []byte(p)
		slices.Sort(digits)
		add("d", town, string(digits))
	}
	if host, path := site(b.Website); host != "" {
		add("s", host, path)
		add("h", host, town)
	}
	number, street, _ := address.Parts(b.Address)
	add("a", number, street)
	add("t", town, street)
	w := weigher(b, b)
	var telling []string
	for _, name := range append([]string{b.Name, b.LegalName}, b.Former...) {
		for _, word := range nameWords(name) {
			if w(word) > 0.3 && !slices.Contains(telling, word) {
				telling = append(telling, word)
			}
		}
	}
	slices.Sort(telling)
	for i, word := range telling {
		add("n", town, word)
		add("f", town, word[:min(4, len(word))]) // and one with a slip further on
		for _, other := range telling[i+1:] {
			add("w", word, other)
		}
	}
	return out
}
