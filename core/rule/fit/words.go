package fit

import (
	"slices"
	"strings"

	"uvent/core/fact/prose"
	"uvent/core/record/record"
	"uvent/core/rule/rulebook"
)

// words gives one of a record's own texts, cut to the directory's limit. Where the
// directory has no field for the towns of a service area, they are named at the end of
// the longest text that it takes.
func (c composer) words(which string) {
	rule := c.book.Texts[slices.IndexFunc(c.book.Texts, func(t rulebook.Prose) bool { return t.Text == which })]
	c.v.From = "Words, " + textNames[which]
	text := c.Subject.words(which)
	if _, own := c.owns(c.book.ID, c.v.Key); own && chars(text) <= rule.MostCharacters {
		c.give(text, "texts", map[string]any{which: text}) // as it was written
		return
	}
	most := rule.MostCharacters
	ending, named := "", 0
	if c.namesTowns(rule) {
		ending, named = c.towns(most * 2 / 5)
	}
	if ending != "" {
		most -= chars(ending) + 1
	}
	out, cut := prose.Cut(text, most)
	switch {
	case cut && out == "":
		c.lose("the " + strings.ToLower(rule.Label))
		c.tell("No word of the %s fits into its %d characters.", strings.ToLower(rule.Label), most)
	case cut:
		c.cut(rule.Label, chars(text), out)
	}
	if ending != "" {
		out = strings.TrimSpace(out + " " + ending)
		c.say("It has no field for the service area; the towns are named at the end.")
	}
	if towns := c.Record.Area.Towns; c.namesTowns(rule) && named < len(towns) {
		for _, t := range towns[named:] {
			c.lose(t.Name)
		}
		c.tell("%s of the service area’s %d towns.", counted(len(towns)-named, "is not named", "are not named"), len(towns))
	}
	c.give(out, "texts", map[string]any{which: out})
}

// namesTowns reports whether a text is the one to name the towns in.
func (c composer) namesTowns(rule rulebook.Prose) bool {
	if c.book.Areas.Most > 0 || c.Record.Kind == record.Premises || rule.Text == "tagline" {
		return false
	}
	for _, t := range c.book.Texts {
		if t.MostCharacters > rule.MostCharacters && t.Text != "tagline" {
			return false
		}
	}
	return true
}

// towns is a sentence that names as many towns as go into so many characters, the
// largest first, and how many; empty where none does, or where there are none.
func (c composer) towns(most int) (out string, named int) {
	var names []string
	for _, t := range c.Record.Area.Towns {
		names = append(names, t.Name)
		s := "Serving " + strings.Join(names, ", ") + "."
		if len(names) > 1 {
			s = "Serving " + strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1] + "."
		}
		if chars(s) > most {
			break
		}
		out, named = s, len(names)
	}
	return out, named
}

// cut notes that a text goes shortened.
func (c composer) cut(label string, from int, out string) {
	c.lose("what follows “" + lastWords(out) + "”")
	c.tell("The %s is cut from %d characters to %d, after “%s”.", strings.ToLower(label), from, chars(out), lastWords(out))
}

// lastWords are a text's last few words.
func lastWords(text string) string {
	words := strings.Fields(text)
	return strings.Join(words[max(0, len(words)-4):], " ")
}
