package category

import (
	_ "embed"
	"slices"
	"strings"
	"sync"

	"uvent/core/fact/address"
)

//go:embed elsewhere.txt
var elsewhere string

// Found is a category that a text may name. Sure means that the text is its name, in the plural perhaps, or
// what the trade is called in another language.
type Found struct {
	Category
	Sure bool
}

// names are the texts that name a category: surely, and by another word for it.
var names = sync.OnceValues(func() (sure, words map[string]Category) {
	sure, words = map[string]Category{}, map[string]Category{}
	for _, c := range all {
		sure[stem(c.Name)] = c
	}
	for line := range strings.Lines(elsewhere) {
		id, list, ok := strings.Cut(strings.TrimSpace(line), ": ")
		c, known := byID[id]
		if !ok || id[0] == '#' || !known {
			continue
		}
		for _, w := range strings.Split(list, ", ") {
			if _, taken := sure[stem(w)]; !taken {
				sure[stem(w)] = c
			}
		}
	}
	for _, c := range all {
		for _, w := range c.Words {
			if _, taken := words[stem(w)]; !taken {
				words[stem(w)] = c
			}
		}
	}
	return sure, words
})

// trades are words for a place to buy, which say nothing of the trade.
var trades = []string{"shop", "store", "service", "services", "company", "business", "ltd", "llc", "the", "and", "local", "studio", "center", "centre"}

// stem folds a text: no case, accents and marks, no plural, "store" as "shop".
func stem(s string) string {
	words := strings.Fields(address.Fold(s))
	for i, w := range words {
		switch {
		case w == "store" || w == "stores":
			w = "shop"
		case w == "centre":
			w = "center"
		case len(w) > 4 && strings.HasSuffix(w, "ies"):
			w = strings.TrimSuffix(w, "ies") + "y"
		case len(w) > 3 && !strings.HasSuffix(w, "ss"):
			w = strings.TrimSuffix(w, "s")
		}
		words[i] = w
	}
	return strings.Join(words, " ")
}

// Nearest is the category that a text names best, if any does: by its id or name, by the trade's name in
// German, French or Spanish, by another word for it, or by the telling words that it shares.
func Nearest(text string) (Found, bool) {
	if c, ok := Find(text); ok {
		return Found{c, true}, true
	}
	sure, words := names()
	want := stem(text)
	if c, ok := sure[want]; ok && want != "" {
		return Found{c, true}, true
	}
	if c, ok := words[want]; ok {
		return Found{c, alone(want, c)}, true
	}
	for _, c := range all { // Book shop, Antiques, Tyre shop
		if bare := bareOf(want); bare != "" && bare == bareOf(stem(c.Name)) {
			return Found{c, true}, true
		}
	}
	best, most := Category{}, 0.0
	for _, c := range all {
		if s := likeness(want, c); s > most {
			best, most = c, s
		}
	}
	return Found{best, false}, most >= 0.5
}

// alone reports whether no other category's names begin as a text does: coffee may be a roaster's, and an
// emergency vet is a vet all the same.
func alone(want string, only Category) bool {
	first, _, _ := strings.Cut(want, " ")
	for _, c := range all {
		for _, name := range append([]string{c.Name}, c.Words...) {
			if begins, _, _ := strings.Cut(stem(name), " "); begins == first && c.ID != only.ID {
				return false
			}
		}
	}
	return true
}

// bareOf is a text's words without those that say nothing of a trade, written as one, in one spelling.
func bareOf(want string) string {
	one := strings.NewReplacer("tyre", "tire", "jewell", "jewel", "theatre", "theater", "colour", "color", "grey", "gray")
	return one.Replace(strings.TrimSuffix(strings.Join(telling(want), ""), "shop"))
}

// likeness is the share of telling words that a text and a category have in common, 0 to 1: those of the
// name, or else of one other word for it.
func likeness(want string, c Category) float64 {
	asked := telling(want)
	best := 0.0
	for i, name := range append([]string{c.Name}, c.Words...) {
		have, shared := telling(stem(name)), 0
		for _, w := range have {
			if slices.ContainsFunc(asked, func(a string) bool { return a == w || min(len(a), len(w)) >= 6 && address.OneSlip(a, w) }) {
				shared++
			}
		}
		if len(have) == 0 || len(asked) == 0 {
			continue
		}
		s := float64(shared) / float64(max(len(have), len(asked)))
		if i > 0 {
			s *= 0.95 // its own name tells more
		}
		best = max(best, s)
	}
	return best
}

func telling(text string) (out []string) {
	for _, w := range strings.Fields(text) {
		if len(w) > 2 && !slices.Contains(trades, w) {
			out = append(out, w)
		}
	}
	return out
}
