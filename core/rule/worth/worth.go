// Package worth tells which directories pay for a location: what each adds to the
// weight by which people can find it, for how much work, and where it stops paying.
package worth

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"uvent/core/fact/category"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
)

// Stop is the per cent of all weight below which one more directory does not pay.
const Stop = 2.0

// Choice is one directory as it pays for a location.
type Choice struct {
	Directory string
	Not       string   // why the location cannot be listed; all else but Directory is then empty
	Gain      float64  // weight that it adds: its own as far as it fits the trade, and that of those it feeds
	Minutes   int      // of work until it is listed, about
	Adds      float64  // per cent of the weight that can be had
	Share     float64  // the same with all before it
	Pays      bool     // it adds Stop or more
	FedBy     string   // the id of the directory through which it comes by itself; empty for none
	Why       []string // the reckoning, in sentences
}

// fits says how much of a directory's weight counts, by how well it knows the trade.
const (
	exact    = 1.0
	nearest  = 0.8
	fallback = 0.6
	noPlace  = 0.4
)

// begun is about how many minutes it takes to list a location, without what is missing.
var begun = map[rulebook.Worked]int{
	rulebook.Connected: 10, rulebook.Suggestions: 20, rulebook.ByHand: 25, rulebook.Written: 15, rulebook.File: 5,
}

// Rank orders the directories for a location, those that pay most for their work
// first; those that do not pay follow, then those it comes to by itself, then those
// that cannot list it. fits are the location's, one for each book.
func Rank(s *fit.Subject, books []rulebook.Rulebook, fits []fit.Fit) []Choice {
	out := make([]Choice, len(books))
	for i := range books {
		b := &books[i]
		c := Choice{Directory: b.ID, Not: fits[i].Not}
		if c.Not == "" {
			c.weigh(s, b)
		}
		out[i] = c
	}
	fed := map[string]float64{} // by supplier
	for i := range books {
		b, c := &books[i], &out[i]
		if c.Not != "" || b.Worked != rulebook.Fed {
			continue
		}
		for _, copying := range b.Copies {
			if at := slices.IndexFunc(books, func(o rulebook.Rulebook) bool { return o.ID == copying.From }); at >= 0 && out[at].Not == "" {
				c.FedBy = copying.From
				fed[copying.From] += c.Gain
				out[at].Why = append(out[at].Why, fmt.Sprintf("It feeds %s, which adds %.0f.", b.Name, c.Gain))
				c.Why = append(c.Why, fmt.Sprintf("It takes everything from %s; nothing is to be done for it.", books[at].Name))
			}
		}
	}
	total := 0.0
	for i := range out {
		if c := &out[i]; c.Not == "" && c.FedBy == "" && books[i].Worked == rulebook.Fed {
			*c = Choice{Directory: c.Directory, Not: books[i].Name + " takes everything from others, and none of those lists this location."}
		}
		total += out[i].Gain
	}
	for i := range out {
		c := &out[i]
		if c.Not != "" {
			continue
		}
		c.Gain += fed[c.Directory]
		c.work(&books[i], fits[i])
		if total > 0 && c.FedBy == "" {
			c.Adds = 100 * c.Gain / total
		}
		c.Pays = c.Adds >= Stop
	}
	slices.SortStableFunc(out, func(a, b Choice) int {
		return cmp.Or(cmp.Compare(a.rank(), b.rank()), cmp.Compare(b.Gain*float64(a.Minutes), a.Gain*float64(b.Minutes)), cmp.Compare(a.Directory, b.Directory))
	})
	share := 0.0
	for i := range out {
		if out[i].Not == "" {
			share += out[i].Adds
			out[i].Share = share
		}
	}
	return out
}

func (c Choice) rank() int {
	switch {
	case c.Not != "":
		return 3
	case c.FedBy != "":
		return 2
	case !c.Pays:
		return 1
	}
	return 0
}

// weigh reckons what a directory's own weight adds.
func (c *Choice) weigh(s *fit.Subject, b *rulebook.Rulebook) {
	part, why := exact, fmt.Sprintf("Weight %d.", b.Weight)
	if id := s.Record.Category; id != "" {
		name := category.Name(id)
		switch f := b.Categories.Category(id); {
		case f.Theirs == "":
			part, why = noPlace, fmt.Sprintf("Weight %d, of which %.0f%% counts: it has no place for %s.", b.Weight, 100*noPlace, name)
		case f.Fallback:
			part, why = fallback, fmt.Sprintf("Weight %d, of which %.0f%% counts: %s goes under %s.", b.Weight, 100*fallback, name, f.Theirs)
		case !f.Exact:
			part, why = nearest, fmt.Sprintf("Weight %d, of which %.0f%% counts: %s is only near to %s.", b.Weight, 100*nearest, f.Theirs, name)
		}
	}
	c.Gain, c.Why = part*float64(b.Weight), []string{why}
}

// work reckons how long it takes until the location is listed.
func (c *Choice) work(b *rulebook.Rulebook, f fit.Fit) {
	if c.FedBy != "" {
		return
	}
	c.Minutes = begun[b.Worked]
	why := fmt.Sprintf("%s: about %d minutes", strings.ToUpper(b.Worked.Words()[:1])+b.Worked.Words()[1:], c.Minutes)
	missing, titles := 0, []string{}
	for _, i := range f.Blocks() {
		missing += i.Minutes
		titles = append(titles, strings.ToLower(i.Title))
	}
	if missing > 0 {
		c.Minutes += missing
		why += fmt.Sprintf(", and %d for what is missing: %s", missing, strings.Join(titles, ", "))
	}
	c.Why = append(c.Why, why+".")
}
