package rulebook

import (
	"fmt"
	"maps"
	"slices"
	"time"

	"uvent/core/fact/calendar"
	"uvent/core/fact/category"
)

// check finds what a schema cannot say.
func (r Rulebook) check() []Problem {
	c := checker{}
	c.calendar(r.Calendar)
	c.listing(r.Listing)
	c.taken(r)
	c.methods(r)
	c.layout(r)
	c.reads(r)
	c.window("publishing.window", r.Publishing.Window)
	if r.Review.Reviewed() {
		c.window("review.window", r.Review.Window)
	}
	if r.Appeal.How != "" {
		c.window("appeal.window", r.Appeal.Window)
	}
	for i, e := range r.Edits {
		c.fields(fmt.Sprintf("edits.%d.facts", i), e.Facts, r)
		if e.Window.Unit != "" {
			c.window(fmt.Sprintf("edits.%d.window", i), e.Window)
		}
	}
	for _, t := range []struct {
		path string
		by   TurnBy
	}{{"for_a_time", r.Closing.ForATime.By}, {"for_good", r.Closing.ForGood.By}, {"moved", r.Closing.Moved.By}} {
		if (t.by == ByMark || t.by == ByView) && r.Connector.URL == "" {
			c.add("closing."+t.path+".by", "only a program can do that, and the directory has no connector; write words")
		}
	}
	for i, m := range r.Methods {
		path := fmt.Sprintf("verification.%d", i)
		switch {
		case m.Method == Card && m.Charge.Amount == 0:
			c.add(path, "say in charge what a card is charged, such as {amount: 1, currency: USD}: nobody pays without knowing")
		case m.Method != Card && m.Charge.Amount > 0:
			c.add(path+".charge", "only a card is charged; take it out, or make the method card")
		}
	}
	c.evidence("appeal", r.Appeal.Evidence, r.Appeal.Papers, r.Appeal.Chance, r)
	c.evidence("access", r.Access.Evidence, r.Access.Papers, r.Access.Decided, r)
	c.evidence("suggesting", r.Suggesting.Evidence, nil, r.Suggesting.Chance, r)
	for i, k := range r.Risks {
		if slices.IndexFunc(r.Risks, func(o Risk) bool { return o.Cause == k.Cause }) < i {
			c.add(fmt.Sprintf("risks.%d.cause", i), "%q stands twice; say all of it in one place", k.Cause)
		}
	}
	for i, o := range r.Copies {
		path := fmt.Sprintf("copies.%d", i)
		c.window(path+".window", o.Window)
		if o.From == r.ID {
			c.add(path+".from", "%s cannot copy from itself; name another directory", r.Name)
		}
		if slices.IndexFunc(r.Copies, func(p Copying) bool { return p.From == o.From }) < i {
			c.add(path+".from", "%q stands twice; say all of it in one place", o.From)
		}
		c.fields(path+".carries", o.Carries, r)
		c.fields(path+".omits", o.Omits, r)
	}
	for i, cl := range r.Account.Classes {
		if i > 0 && cl.From <= r.Account.Classes[i-1].From {
			c.add(
				fmt.Sprintf("account.classes.%d.from_locations", i),
				"%d does not come after %d; write the classes by the number of locations, fewest first",
				cl.From,
				r.Account.Classes[i-1].From,
			)
		}
	}
	return c.out
}

type checker struct{ out []Problem }

func (c *checker) add(path, format string, a ...any) {
	c.out = append(c.out, Problem{Path: path, Message: fmt.Sprintf(format, a...)})
}

func (c *checker) window(path string, w calendar.Rule) {
	if err := w.Check(); err != nil {
		c.add(path, "%v", err)
	}
}

func (c *checker) calendar(cal Calendar) {
	if !calendar.Known(cal.Country) {
		c.add("calendar.country", "the public holidays of %s are not known here; name a country whose are, such as US or CA", cal.Country)
	}
	if _, err := time.LoadLocation(cal.Zone); err != nil || cal.Zone == "Local" {
		c.add("calendar.zone", "%q is no time zone; write it as America/Los_Angeles", cal.Zone)
	}
}

func (c *checker) listing(l Listing) {
	for i, t := range l.Trades {
		if _, known := category.Find(t); !known && category.GroupName(t) == "" {
			c.add(fmt.Sprintf("listing.trades.%d", i), "%q is neither a group nor a category in our list; see Categories in a record", t)
		}
	}
	for i, k := range l.HideAddress {
		if !slices.Contains(l.Kinds, k) {
			c.add(fmt.Sprintf("listing.hide_address.%d", i), "%s is not among the kinds that are listed; add it to kinds, or take it out here", k)
		}
	}
}

// taken checks what the directory takes, and the order of its form.
func (c *checker) taken(r Rulebook) {
	twice := func(path string, i int, first int, what string) {
		if first < i {
			c.add(path, "%q stands twice; take one out", what)
		}
	}
	for i, f := range r.Facts {
		k, _ := FindKey(f.Fact)
		if f.MostCharacters > 0 && !k.TakesCharacters() {
			c.add(fmt.Sprintf("facts.%d.most_characters", i), "%s has no length that could be kept within; take it out", f.Fact)
		}
		if f.Most > 0 && !k.TakesMost() {
			c.add(fmt.Sprintf("facts.%d.most", i), "%s", noParts(f.Fact))
		}
		twice(fmt.Sprintf("facts.%d.fact", i), i, slices.IndexFunc(r.Facts, func(g Fact) bool { return g.Fact == f.Fact }), f.Fact)
	}
	for i, t := range r.Texts {
		twice(fmt.Sprintf("texts.%d.text", i), i, slices.IndexFunc(r.Texts, func(u Prose) bool { return u.Text == t.Text }), t.Text)
	}
	for i, p := range r.Photos {
		path := fmt.Sprintf("photos.%d", i)
		twice(path+".groups.0", i, slices.IndexFunc(r.Photos, func(q Photos) bool { return q.Key() == p.Key() }), p.Groups[0])
		twice(path+".label", i, slices.IndexFunc(r.Photos, func(q Photos) bool { return q.Label == p.Label }), p.Label)
		if p.With != "" && (p.With == p.Label || !slices.ContainsFunc(r.Photos, func(q Photos) bool { return q.Label == p.With })) {
			c.add(path+".with", "no other photos are labelled %q; name those that must come in the same go", p.With)
		}
	}
	for _, id := range slices.Sorted(maps.Keys(r.Categories.Map)) {
		if found, ok := category.Find(id); !ok || found.ID != id {
			c.add("categories.map."+id, "%q is not in our list of categories; see Categories in a record", id)
		}
	}
	for _, id := range slices.Sorted(maps.Keys(r.Attributes.Map)) {
		if !slices.ContainsFunc(category.AllAttributes(), func(a category.Attribute) bool { return a.ID == id }) {
			c.add("attributes.map."+id, "%q is not in our list of attributes; see Categories in a record", id)
		}
	}
	if _, taken := r.Takes("attributes"); !taken && len(r.Attributes.Map) > 0 {
		c.add("attributes", "attributes are mapped, and facts does not take them; add fact: attributes")
	}
	c.fields("form", r.Form, r)
}

// noParts says why a fact takes no most.
func noParts(fact string) string {
	if fact == "category" {
		return "say how many categories it takes under categories: most"
	}
	return fact + " is one, or goes as a whole; take most out"
}

// fields checks that each is a field that the directory has, and stands once.
func (c *checker) fields(path string, fields []string, r Rulebook) {
	have := r.Fields()
	for i, f := range fields {
		if !slices.Contains(have, f) {
			c.add(fmt.Sprintf("%s.%d", path, i), "%q is not among what it takes; take it in above, or out here", f)
		}
	}
}

func (c *checker) methods(r Rulebook) {
	for i, m := range r.Methods {
		path := fmt.Sprintf("verification.%d", i)
		if slices.IndexFunc(r.Methods, func(o Method) bool { return o.Method == m.Method }) < i {
			c.add(path+".method", "%q stands twice; say all of it in one place", m.Method)
		}
		if !m.AtOnce() {
			c.window(path+".window", m.Window)
		}
		switch sends := m.Method.SendsCode(); {
		case sends && m.Code.Digits == 0:
			c.add(path, "%q is missing; add it%s", "code", example("code"))
		case !sends && m.Code.Digits > 0:
			c.add(path+".code", "no code is sent by %s; take it out", m.Method)
		case sends && !m.AtOnce() && m.Code.WorksFrom != FromArrival && m.Code.Works() < time.Duration(m.Window.Max)*24*time.Hour:
			c.add(path+".code", "the code stops working before the window's last day; let it work longer, shorten the window, or say works_from: arrival")
		}
		if m.Method != Papers && len(m.Papers) > 0 {
			c.add(path+".papers", "papers are named for the method papers only; take them out")
		}
	}
}

// evidence checks what papers and pages are said to add to a chance: what is not taken, and what adds nothing, is none.
func (c *checker) evidence(path string, all []Evidence, papers []string, bare float64, r Rulebook) {
	for i, e := range all {
		path := fmt.Sprintf("%s.evidence.%d", path, i)
		if e.Paper != "" && !slices.Contains(papers, e.Paper) {
			c.add(path+".paper", "%q is not among the papers that it takes; add it to papers", e.Paper)
		}
		for j, cause := range e.Causes {
			if !slices.ContainsFunc(r.Risks, func(k Risk) bool { return k.Cause == cause }) {
				c.add(fmt.Sprintf("%s.causes.%d", path, j), "%q is none of the risks", cause)
			}
		}
		if e.Chance <= bare {
			c.add(path+".chance", "what makes it no likelier than %g is no evidence; leave it out", bare)
		}
	}
}
