package record

import (
	"encoding/json"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
)

// Change is one fact that differs between two records, as people read it.
type Change struct {
	Path   string // address.postal_code
	Title  string // Postal code
	Before string // empty: nothing was said
	After  string
}

// facts are a record's facts by path, in the order in which people read them.
// A group such as the pin is one fact.
var facts = []struct{ path, title string }{
	{
		"label",
		"Label",
	},
	{"store_code", "Store code"},
	{"name", "Trading name"},
	{"legal_name", "Legal name"},
	{"former_names", "Former names"},
	{"former_addresses", "Former addresses"},
	{"kind", "Kind of location"},
	{"state", "State"},
	{"opened", "Opened"},
	{
		"address.street",
		"Street",
	},
	{"address.unit", "Unit"},
	{"address.locality", "Town"},
	{"address.region", "Region"},
	{"address.postal_code", "Postal code"},
	{"address.country", "Country"},
	{
		"mailing.contact",
		"Name on the envelope",
	},
	{"mailing.address", "Mailing address"},
	{"pin", "Pin"},
	{"phones", "Phones"},
	{"email", "Email"},
	{"website", "Website"},
	{"directions", "Directions"},
	{"parking", "Parking"},
	{"category", "Category"},
	{"other_categories", "Other categories"},
	{"attributes", "Attributes"},
	{
		"words.tagline",
		"Tagline",
	},
	{"words.short", "Short description"},
	{"words.medium", "Description"},
	{"words.long", "Long description"},
	{"words.story", "Story"},
	{"words.keywords", "Keywords"},
	{"words.specialities", "Specialities"},
	{"hours", "Hours"},
	{"zone", "Time zone"},
	{"area", "Service area"},
	{
		"links.booking",
		"Booking link",
	},
	{"links.ordering", "Ordering link"},
	{"links.quote", "Quote link"},
	{"links.menu", "Menu link"},
	{"links.gift_card", "Gift card link"},
	{"links.app", "App link"},
	{
		"socials",
		"Social profiles",
	},
	{"videos", "Videos"},
	{"tags", "Campaign tags"},
	{"payments", "Payments"},
	{"licences", "Licences"},
	{"team", "Team"},
	{"offerings", "Offerings"},
	{
		"company.registration",
		"Registration number",
	},
	{"company.size", "Company size"},
	{"company.kind", "Kind of company"},
	{"company.industry", "Industry"},
	{"company.founded", "Founded"},
	{"company.domains", "Domains"},
	{"own", "Facts of its own"},
}

// title is the name of the fact at a path; the path where there is none.
func title(path string) string {
	for _, f := range facts {
		if f.path == path {
			return f.title
		}
	}
	return path
}

// tree is a record as its JSON has it.
func tree(r Record) map[string]any {
	b, err := json.Marshal(r)
	if err != nil {
		panic(err) // a record is plain data
	}
	var out map[string]any
	if err := json.Unmarshal(b, &out); err != nil {
		panic(err)
	}
	return out
}

// at is the value at a path, and the group that it stands in.
func at(t map[string]any, path string) (group map[string]any, key string) {
	if head, rest, nested := strings.Cut(path, "."); nested {
		group, _ = t[head].(map[string]any)
		return group, rest
	}
	return t, path
}

// Changes lists the facts in which two records differ.
func Changes(before, after Record) []Change {
	var out []Change
	a, b := tree(before), tree(after)
	for _, f := range facts {
		inA, key := at(a, f.path)
		inB, _ := at(b, f.path)
		if !reflect.DeepEqual(inA[key], inB[key]) {
			out = append(out, Change{f.path, f.title, said(f.path, inA[key]), said(f.path, inB[key])})
		}
	}
	return out
}

// said writes a fact of a record's JSON for people.
func said(path string, v any) string {
	if list, ok := v.([]any); ok && path == "own" {
		titles := make([]string, 0, len(list))
		for _, p := range list {
			titles = append(titles, title(fmt.Sprint(p)))
		}
		return strings.Join(titles, ", ")
	}
	return words(v)
}

// shown are the parts of a group that people read, in their order.
var shown = []string{
	"title",
	"name",
	"role",
	"number",
	"authority",
	"price",
	"per",
	"about",
	"kind",
	"until",
	"to",
	"e164",
	"street",
	"unit",
	"locality",
	"region",
	"postal_code",
	"country",
	"minutes",
	"towns",
	"without",
	"items",
	"url",
	"email",
	"phone",
	"on",
	"medium",
	"campaign",
	"latitude",
	"longitude",
}

// words writes a value of a record's JSON for people.
func words(v any) string {
	switch v := v.(type) {
	case nil:
		return ""
	case string:
		return v
	case float64:
		return fmt.Sprintf("%g", v)
	case bool:
		if v {
			return "yes"
		}
		return "no"
	case []any:
		parts := make([]string, 0, len(v))
		for _, e := range v {
			parts = append(parts, words(e))
		}
		return strings.Join(parts, ", ")
	case map[string]any:
		var parts []string
		if _, town := v["by_hand"]; town {
			return words(v["name"])
		}
		for _, key := range shown {
			if s := words(v[key]); s != "" {
				parts = append(parts, s)
			}
		}
		if parts == nil { // attributes
			for _, key := range slices.Sorted(maps.Keys(v)) {
				parts = append(parts, strings.ReplaceAll(key, "_", " ")+": "+words(v[key]))
			}
		}
		if abilities := abilities(v); abilities != "" {
			return strings.Join(parts, ", ") + " (" + abilities + ")"
		}
		return strings.Join(parts, ", ")
	}
	return fmt.Sprint(v)
}

func abilities(v map[string]any) string {
	var can []string
	for _, what := range []string{"voice", "text"} {
		if v[what] == true {
			can = append(can, what)
		}
	}
	return strings.Join(can, ", ")
}

// Revert takes a change back: each fact that differs between before and after
// becomes what it was, unless it was changed again since. The titles of those
// that stay are returned.
func Revert(now, before, after Record) (Record, []string) {
	var left []string
	a, b, n := tree(before), tree(after), tree(now)
	for _, f := range facts {
		inA, key := at(a, f.path)
		inB, _ := at(b, f.path)
		inN, _ := at(n, f.path)
		switch {
		case reflect.DeepEqual(inA[key], inB[key]):
		case reflect.DeepEqual(inN[key], inB[key]):
			inN[key] = inA[key]
		default:
			left = append(left, f.title)
		}
	}
	return fromTree(n), slices.Clip(left)
}
