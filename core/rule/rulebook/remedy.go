package rulebook

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/santhosh-tekuri/jsonschema/v6/kind"
	"golang.org/x/text/language"
	"golang.org/x/text/message"
)

var english = message.NewPrinter(language.English)

// shapes are what patterns of the schema ask for, by a valid example.
var shapes = map[string]string{
	"^[a-z][a-z0-9-]*$":      "lower-case letters, digits and hyphens, such as ferry-pages",
	"^[A-Z]{2}$":             "two capitals, such as US (ISO 3166-1)",
	"^[A-Z0-9]{1,3}$":        "one to three capitals or digits, such as WA (ISO 3166-2)",
	"^(https?://|outside:/)": "an address such as https://pierbook.example/api",
	"^[^@ ]+@[^@ ]+$":        "an email such as listings@pierbook.example",
	"^([a-z_]+|text\\.[a-z]+|photos\\.[a-z_]+)$": "a field such as name, text.medium, areas or photos.logo",
}

// mostNamed is how many keys are named where none of them is near to what was written.
const mostNamed = 16

// remedies tells what is wrong with a value and what to do, once for each mistake.
func remedies(e *jsonschema.ValidationError) []Problem {
	path := strings.Join(e.InstanceLocation, ".")
	one := func(format string, a ...any) []Problem {
		return []Problem{{Path: path, Message: fmt.Sprintf(format, a...)}}
	}
	switch k := e.ErrorKind.(type) {
	case *kind.Required:
		var out []Problem
		for _, key := range k.Missing {
			out = append(out, Problem{Path: path, Message: fmt.Sprintf("%q is missing; add it%s", key, example(key))})
		}
		return out
	case *kind.AdditionalProperties:
		var out []Problem
		for _, key := range k.Properties {
			keys := known(e.SchemaURL)
			m := fmt.Sprintf("%q is not known here; take it out", key)
			if len(keys) <= mostNamed {
				m = fmt.Sprintf("%q is not known here; what may stand here is %s", key, strings.Join(slices.Sorted(slices.Values(keys)), ", "))
			}
			if near := nearest(key, keys); near != "" {
				m = fmt.Sprintf("%q is not known here; did you mean %q?", key, near)
			}
			out = append(out, Problem{Path: join(path, key), Message: m})
		}
		return out
	case *kind.Enum:
		words := make([]string, len(k.Want))
		for i, w := range k.Want {
			words[i] = fmt.Sprint(w)
		}
		m := fmt.Sprintf("%v is not known here; write one of %s", quoted(k.Got), strings.Join(words, ", "))
		if near := nearest(fmt.Sprint(k.Got), words); near != "" {
			m = fmt.Sprintf("%v is not known here; did you mean %q? It is one of %s", quoted(k.Got), near, strings.Join(words, ", "))
		}
		return one("%s", m)
	case *kind.Const:
		return one("%v stands where %v is wanted", quoted(k.Got), quoted(k.Want))
	case *kind.Type:
		return one("%s stands where %s is wanted", article(k.Got), article(strings.Join(k.Want, " or ")))
	case *kind.Pattern:
		if shape, ok := shapes[k.Want]; ok {
			return one("%q does not fit; write %s", k.Got, shape)
		}
	case *kind.Minimum:
		return one("%s is too small; write %s or more", k.Got.RatString(), k.Want.RatString())
	case *kind.Maximum:
		return one("%s is too large; write %s or less", k.Got.RatString(), k.Want.RatString())
	case *kind.ExclusiveMinimum:
		return one("%s is too small; write more than %s", k.Got.RatString(), k.Want.RatString())
	case *kind.MinItems:
		return one("the list is empty; name at least %d, or take the key out", k.Want)
	case *kind.MinProperties:
		return one("nothing stands under it; name at least %d, or take the key out", k.Want)
	case *kind.MinLength:
		return one("the text is empty; write something, or take the key out")
	case *kind.MaxLength:
		return one("the text has %d characters; write %d at most", k.Got, k.Want)
	case *kind.UniqueItems:
		return []Problem{{Path: join(path, fmt.Sprint(k.Duplicates[1])), Message: "it stands twice in the list; take one out"}}
	case *kind.OneOf:
		return one("give how long it works once: works_days or works_minutes, not both")
	}
	return one("%s", e.ErrorKind.LocalizedString(english))
}

// example shows what a key that must be there looks like.
func example(key string) string {
	shown := map[string]string{
		"calendar": "{country: US, zone: America/Los_Angeles}", "connector": "{url: https://pierbook.example/api}", "listing": "{kinds: [premises, both]}",
		"hours": "{sittings_per_day: 2, past_midnight: false}", "categories": "{most: 1, map: {bakery: Bakeries}}", "window": "{min: 1, max: 3, unit: business_days}",
		"publishing": "{window: {min: 1, max: 3, unit: business_days}, look_every_hours: 24}", "code": "{digits: 6, works_days: 30, tries: 3}",
		"crop": "{width: 600, height: 400}", "least": "{width: 300, height: 200}", "worked": "by_hand", "page": "https://pierbook.example/form",
		"staff": "listings@pierbook.example", "review": "{window: {min: 2, max: 5, unit: business_days}}", "works_days": "30",
	}
	if shown[key] == "" {
		return ""
	}
	return fmt.Sprintf(", such as %s: %s", key, shown[key])
}

func quoted(v any) string {
	if s, ok := v.(string); ok {
		return fmt.Sprintf("%q", s)
	}
	return fmt.Sprint(v)
}

func article(what string) string {
	named := map[string]string{
		"object":  "a group of keys",
		"array":   "a list",
		"string":  "a text",
		"integer": "a whole number",
		"number":  "a number",
		"boolean": "true or false",
		"null":    "nothing",
	}
	if n, ok := named[what]; ok {
		return n
	}
	return what
}

// known lists the keys that the schema has at a place.
func known(schemaURL string) []string {
	_, pointer, _ := strings.Cut(schemaURL, "#")
	at, _ := schemaDoc.(map[string]any)
	for _, part := range strings.Split(strings.Trim(pointer, "/"), "/") {
		if part == "" {
			continue
		}
		next, ok := at[part].(map[string]any)
		if !ok {
			return nil
		}
		at = next
	}
	properties, _ := at["properties"].(map[string]any)
	return slices.Sorted(maps.Keys(properties))
}

// nearest is the word that a slip of the pen most likely meant: one that a letter or
// two turn into it; empty where none is that near.
func nearest(word string, words []string) string {
	best, near := "", 3
	for _, w := range words {
		if d := steps([]rune(word), []rune(w)); d < near && d < len(w)/2+1 {
			best, near = w, d
		}
	}
	return best
}

// steps counts the letters that are to be put in, taken out or changed to make one
// word the other (Levenshtein, 1966).
func steps(a, b []rune) int {
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i, x := range a {
		before := row[0]
		row[0] = i + 1
		for j, y := range b {
			cost := before
			if x != y {
				cost++
			}
			before = row[j+1]
			row[j+1] = min(cost, row[j]+1, row[j+1]+1)
		}
	}
	return row[len(b)]
}
