package address

import (
	"regexp"
	"slices"
	"strings"
	"unicode"
)

// postal is how a country writes its postal codes; tells: no other country's look so.
type postalForm struct {
	country string
	form    *regexp.Regexp
	tells   bool
	before  bool // the code stands before the town
}

// postals are in the order in which they are tried. Forms are those of the Universal Postal Union's
// addressing guides.
var postals = []postalForm{
	{"CA", regexp.MustCompile(`(?i)\b[ABCEGHJ-NPRSTVXY]\d[A-Z][ -]?\d[A-Z]\d\b`), true, false},
	{"GB", regexp.MustCompile(`(?i)\b(GIR ?0AA|[A-Z]{1,2}\d[A-Z\d]? ?\d[A-Z]{2})\b`), true, false},
	{"IE", regexp.MustCompile(`(?i)\b([AC-FHKNPRTV-Y]\d{2}|D6W) ?[0-9AC-FHKNPRTV-Y]{4}\b`), true, false},
	{"NL", regexp.MustCompile(`\b[1-9]\d{3} ?[A-Z]{2}\b`), true, true},
	{"US", regexp.MustCompile(`\b\d{5}(-\d{4})?\b`), false, false},
	{"AU", regexp.MustCompile(`\b\d{4}\b`), false, false},
	{"NZ", regexp.MustCompile(`\b\d{4}\b`), false, false},
	{"PT", regexp.MustCompile(`\b\d{4}-\d{3}\b`), false, true},
	{"SE", regexp.MustCompile(`\b\d{3} ?\d{2}\b`), false, true},
	{"PL", regexp.MustCompile(`\b\d{2}-\d{3}\b`), false, true},
}

// anywhere is the form of those that no line above is about: four or five digits before the town.
var anywhere = postalForm{"", regexp.MustCompile(`\b(?:[A-Z]{1,2}-)?\d{4,5}\b`), false, true}

// NumberFirst reports whether a country writes the house's number before its street.
func NumberFirst(country string) bool {
	return slices.Contains([]string{"", "US", "CA", "GB", "IE", "AU", "NZ", "FR", "LU", "ZA", "IN", "SG"}, country)
}

// Read takes a whole address in one text apart: lines, or parts between commas, from the street to the
// country. country is where it is when it does not say so itself; it may be empty. It is ok when it has
// a street, or a house's name, and a town. What cannot be told apart is left with the street, never lost.
func Read(text, country string) (a Address, ok bool) {
	parts := strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ';' || r == '\n' || r == '|' || r == '•' })
	for i := range parts {
		parts[i] = strings.Join(strings.Fields(parts[i]), " ")
	}
	parts = slices.DeleteFunc(parts, func(p string) bool { return p == "" })
	if len(parts) < 2 {
		return Address{}, false
	}
	a.Country = country
	if last := parts[len(parts)-1]; len(parts) > 2 || !strings.ContainsFunc(last, unicode.IsDigit) {
		if code, named := Country(last); named && !regionToo(country, parts, last) {
			a.Country, parts = code, parts[:len(parts)-1]
		}
	}
	if len(parts) < 2 {
		return Address{}, false
	}
	parts = a.takePostal(parts)
	parts = a.takeRegion(parts)
	if a.Locality == "" && len(parts) > 1 {
		a.Locality, parts = parts[len(parts)-1], parts[:len(parts)-1]
	}
	a.Street = parts[0]
	for i, p := range parts[1:] {
		switch word := strings.Fields(Spell(p)); {
		case a.Unit == "" && len(word) > 0 && slices.Contains(unitWords, word[0]):
			a.Unit = p
		case i == 0 && !strings.ContainsFunc(parts[0], unicode.IsDigit) && strings.ContainsFunc(p, unicode.IsDigit):
			a.Unit, a.Street = parts[0], p // The Old Mill, 4 Corn Street
		default:
			a.Street += ", " + p
		}
	}
	return a, a.Street != "" && a.Locality != ""
}

// regionToo reports whether the last part, that could be a country's code, is a region's: CA after a town
// of the United States.
func regionToo(country string, parts []string, last string) bool {
	if len(last) != 2 {
		return false
	}
	if country != "" {
		_, region := Region(country, last)
		return region
	}
	_, state := Region("US", last)
	before := parts[len(parts)-2]
	_, province := Region("CA", before)
	return state && !province && !postals[0].form.MatchString(before)
}

// takePostal takes the postal code, and what stands in one part with it: the region before, or the town
// before or behind.
func (a *Address) takePostal(parts []string) []string {
	for i := len(parts) - 1; i > 0; i-- {
		for _, p := range append(postals, anywhere) {
			at := p.form.FindStringIndex(parts[i])
			if at == nil || !p.of(a.Country) {
				continue
			}
			before, code, behind := strings.TrimSpace(parts[i][:at[0]]), parts[i][at[0]:at[1]], strings.TrimSpace(parts[i][at[1]:])
			if p.before && before != "" || !p.before && behind != "" {
				continue
			}
			if p.country == "US" && a.Country == "" {
				words := strings.Fields(before)
				if len(words) == 0 {
					continue
				}
				if _, state := Region("US", words[len(words)-1]); !state {
					continue
				}
				a.Country = "US"
			}
			if p.tells && a.Country == "" {
				a.Country = p.country
			}
			a.PostalCode = strings.ToUpper(code)
			rest := before + behind
			if p.before {
				a.Locality = rest
				return slices.Delete(parts, i, i+1)
			}
			if rest == "" {
				return slices.Delete(parts, i, i+1)
			}
			parts[i] = rest
			return parts
		}
	}
	return parts
}

// of reports whether codes of a country look so; for one that is not known, whether the code tells it, alone or
// beside a state.
func (p postalForm) of(country string) bool {
	if country == "" {
		return p.tells || p.country == "US"
	}
	return p.country == country || p.country == "" && !isOurs(country)
}

// isOurs reports whether a country has a line of its own among the postal codes.
func isOurs(country string) bool {
	return slices.ContainsFunc(postals, func(p postalForm) bool { return p.country == country })
}

// takeRegion takes the region off the end: as a part of its own, or as the last word or words behind the
// town.
func (a *Address) takeRegion(parts []string) []string {
	countries := []string{a.Country}
	if a.Country == "" {
		countries = []string{"US", "CA", "AU"}
	}
	for _, country := range countries {
		last := parts[len(parts)-1]
		if code, ok := Region(country, last); ok && len(parts) > 2 && (a.Country != "" || len(last) > 1) {
			a.Region, a.Country = code, country
			return parts[:len(parts)-1]
		}
		words := strings.Fields(last)
		for n := min(3, len(words)-1); n > 0; n-- {
			text := strings.Join(words[len(words)-n:], " ")
			if code, ok := Region(country, text); ok && (n > 1 || strings.ToUpper(text) == text || len(text) > 3) {
				a.Region, a.Country = code, country
				parts[len(parts)-1] = strings.Join(words[:len(words)-n], " ")
				return parts
			}
		}
	}
	return parts
}
