// Package address compares postal addresses by their parts, with abbreviations
// spelled out and the suite apart from the street.
package address

import (
	"slices"
	"strings"
	"unicode"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
)

// Address is a postal address in schema.org's parts.
type Address struct {
	Street     string `json:"street"`      // streetAddress without the unit: 18 Tern Street
	Unit       string `json:"unit"`        // suite, unit or floor: Suite B
	Locality   string `json:"locality"`    // town
	Region     string `json:"region"`      // ISO 3166-2 without the country: WA
	PostalCode string `json:"postal_code"` // 98990
	Country    string `json:"country"`     // ISO 3166-1 alpha-2: US
}

// Empty reports whether nothing is given.
func (a Address) Empty() bool { return a == Address{} }

// Line writes the address on one line: "18 Tern Street, Suite B, Minnow Bay, WA 98990".
func (a Address) Line() string {
	var parts []string
	for _, p := range []string{a.Street, a.Unit, a.Locality, strings.TrimSpace(a.Region + " " + a.PostalCode)} {
		if p != "" {
			parts = append(parts, p)
		}
	}
	return strings.Join(parts, ", ")
}

// spelled are abbreviations in street names and units, from the United States
// Postal Service's Publication 28, appendices B and C, as far as towns of ours
// use them.
var spelled = map[string]string{
	"st": "street", "str": "street", "ave": "avenue", "av": "avenue", "rd": "road", "blvd": "boulevard", "dr": "drive", "ln": "lane",
	"ct": "court", "pl": "place", "sq": "square", "hwy": "highway", "pkwy": "parkway", "ter": "terrace", "terr": "terrace", "trl": "trail",
	"cir": "circle", "aly": "alley", "xing": "crossing", "wy": "way", "pt": "point", "hbr": "harbor", "hts": "heights", "lndg": "landing",
	"n": "north", "s": "south", "e": "east", "w": "west", "ne": "northeast", "nw": "northwest", "se": "southeast", "sw": "southwest",
	"mt": "mount", "ft": "fort", "ste": "suite", "apt": "apartment", "fl": "floor", "bldg": "building", "rm": "room", "no": "", "#": "unit",
	"1st": "first", "2nd": "second", "3rd": "third", "4th": "fourth", "5th": "fifth",
}

var unitWords = []string{"suite", "unit", "apartment", "floor", "building", "room"}

var folding = strings.NewReplacer("'", "", "’", "", "&", " and ", "#", " # ")

// Fold makes a text comparable: lower case, no accents, words of letters and
// digits with single spaces.
func Fold(s string) string {
	if strings.ContainsFunc(s, func(r rune) bool { return r > unicode.MaxASCII }) {
		s, _, _ = transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), s)
	}
	s = folding.Replace(strings.ToLower(s))
	return strings.Join(strings.FieldsFunc(s, func(r rune) bool {
		return r != '#' && !unicode.IsLetter(r) && !unicode.IsDigit(r)
	}), " ")
}

// Spell folds a street or unit and spells its abbreviations out.
func Spell(s string) string {
	var words []string
	for _, w := range strings.Fields(Fold(s)) {
		if full, ok := spelled[w]; ok {
			w = full
		}
		if w != "" {
			words = append(words, w)
		}
	}
	return strings.Join(words, " ")
}

// Split takes a unit off the end of a street line: "18 Tern St #4" is
// "18 tern street" and "4". Both are spelled out.
func Split(street string) (line, unit string) {
	words := strings.Fields(Spell(street))
	for i := 1; i < len(words)-1; i++ {
		if slices.Contains(unitWords, words[i]) {
			return strings.Join(words[:i], " "), strings.Join(words[i+1:], " ")
		}
	}
	return strings.Join(words, " "), ""
}

func unitNumber(unit string) string {
	words := strings.Fields(Spell(unit))
	for len(words) > 1 && slices.Contains(unitWords, words[0]) {
		words = words[1:]
	}
	return strings.Join(words, " ")
}

// Comparison is how two addresses relate, part by part. A part that one side
// does not give is not different.
type Comparison struct {
	Street, Unit, Locality, Region, PostalCode Same
}

// Same is how two spellings of a part relate.
type Same uint8

const (
	NotSaid   Same = iota // missing on one side at least
	Exact                 // letter by letter
	Spelled               // once abbreviations and case are spelled out
	Different             // no
)

// Compare holds two addresses against each other.
func Compare(a, b Address) Comparison {
	lineA, unitA := Split(a.Street)
	lineB, unitB := Split(b.Street)
	if a.Unit != "" {
		unitA = unitNumber(a.Unit)
	}
	if b.Unit != "" {
		unitB = unitNumber(b.Unit)
	}
	c := Comparison{
		Street:     same(a.Street, b.Street, lineA, lineB),
		Unit:       same(a.Unit, b.Unit, unitA, unitB),
		Locality:   same(a.Locality, b.Locality, Spell(a.Locality), Spell(b.Locality)),
		Region:     same(a.Region, b.Region, Fold(a.Region), Fold(b.Region)),
		PostalCode: same(a.PostalCode, b.PostalCode, postal(a.PostalCode), postal(b.PostalCode)),
	}
	return c
}

// postal drops spaces and the four further digits of a ZIP+4.
func postal(code string) string {
	code = strings.ReplaceAll(Fold(code), " ", "")
	if len(code) == 9 && strings.Trim(code, "0123456789") == "" {
		code = code[:5]
	}
	return code
}

func same(rawA, rawB, a, b string) Same {
	switch {
	case a == "" || b == "":
		return NotSaid
	case rawA == rawB:
		return Exact
	case a == b:
		return Spelled
	}
	return Different
}

// Whole is the verdict on the address as one fact: different when any part is,
// or when only one side names a unit.
func (c Comparison) Whole(a, b Address) Same {
	worst := Exact
	for _, s := range []Same{c.Street, c.Unit, c.Locality, c.Region, c.PostalCode} {
		worst = max(worst, s)
	}
	if worst == Exact && a != b {
		worst = Spelled
	}
	if c.Street == NotSaid {
		return NotSaid
	}
	if worst != Different && c.Unit == NotSaid && (units(a) != units(b)) {
		return Different
	}
	return worst
}

func units(a Address) bool {
	_, unit := Split(a.Street)
	return a.Unit != "" || unit != ""
}
