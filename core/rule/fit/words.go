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
	c.v.From, c.v.Says = "Words, "+textNames[which], nil
	text := c.Subject.words(which)
	most := rule.MostCharacters
	ending := ""
	if c.namesTowns(rule) {
		ending = c.towns(most * 2 / 5)
	}
	if ending != "" {
		most -= chars(ending) + 1
	}
	out, cut := prose.Cut(text, most)
	switch {
	case cut && out == "":
		c.say("No word of the %s fits into its %d characters.", strings.ToLower(rule.Label), most)
	case cut:
		c.say("The %s is cut from %d characters to %d, after “%s”.", strings.ToLower(rule.Label), chars(text), chars(out), lastWords(out))
	}
	if ending != "" {
		out = strings.TrimSpace(out + " " + ending)
		c.say("It has no field for the service area; the towns are named at the end.")
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
// largest first; empty where none does, or where there are none.
func (c composer) towns(most int) string {
	var names []string
	out := ""
	for _, t := range c.Record.Area.Towns {
		names = append(names, t.Name)
		s := "Serving " + strings.Join(names, ", ") + "."
		if len(names) > 1 {
			s = "Serving " + strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1] + "."
		}
		if chars(s) > most {
			break
		}
		out = s
	}
	return out
}

// lastWords are a text's last few words.
func lastWords(text string) string {
	words := strings.Fields(text)
	return strings.Join(words[max(0, len(words)-4):], " ")
}
